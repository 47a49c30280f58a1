"""The step procedure."""
