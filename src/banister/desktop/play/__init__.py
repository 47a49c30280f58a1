"""A section to play with, and what is reckoned first."""
