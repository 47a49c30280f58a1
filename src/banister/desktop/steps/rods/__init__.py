"""The step rods."""
