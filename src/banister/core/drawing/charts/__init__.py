"""Charts as display lists: what is drawn of a plan, its heat and the shift, in pixels of the place it is made for."""
