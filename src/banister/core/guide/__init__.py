"""What a welder wants to know at the joint: where the rod points, how it is moved, what goes wrong in this pass."""
