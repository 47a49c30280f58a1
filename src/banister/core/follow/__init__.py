"""The plan follows what was welded: facts from the journal, the welder's own factor, the rest planned from the real surface."""
