"""At the joint: the page that is read from two metres, and what stands behind it."""
