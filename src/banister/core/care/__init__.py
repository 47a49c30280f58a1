"""Rods as things: how many to take, how they are kept dry, when somebody walks to the oven."""
