"""The planner: layers by dynamic programming, beads by placement, four answers side by side."""
