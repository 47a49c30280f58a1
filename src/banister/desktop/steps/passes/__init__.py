"""The step passes."""
