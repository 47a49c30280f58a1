"""What is welded: steel, its composition and what follows from it."""
