"""Random joints, measured off their outlines."""
