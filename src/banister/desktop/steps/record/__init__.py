"""The step of the record."""
