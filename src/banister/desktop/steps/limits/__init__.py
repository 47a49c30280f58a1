"""The step limits."""
