"""Practice: what drills measure, figures of rods and sessions, what shows over weeks, and the pacer."""
