"""The step sheet."""
