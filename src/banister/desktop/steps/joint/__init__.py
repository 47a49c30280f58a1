"""The step joint."""
