"""A section to play with: beads laid by hand on the real surface."""
