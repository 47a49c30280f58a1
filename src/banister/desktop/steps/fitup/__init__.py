"""The fit-up step: the batten and its readings."""
