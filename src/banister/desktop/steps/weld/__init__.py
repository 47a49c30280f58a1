"""The step weld."""
