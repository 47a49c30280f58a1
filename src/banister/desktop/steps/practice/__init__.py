"""The step of practice: a trainee's own book, a session as rows of dots, the bench with its pacer."""
