"""Where rods end: a place for every stop, clear of those in touching passes."""
