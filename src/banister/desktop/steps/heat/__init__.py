"""The step heat."""
