"""The weld list in its window."""
