"""One judge: everything that is held against a limit."""
