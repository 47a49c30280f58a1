"""The section: a surface, one bead laid on it, and what the result tells."""
