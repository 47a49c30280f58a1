"""One-line faults that tests must catch."""
