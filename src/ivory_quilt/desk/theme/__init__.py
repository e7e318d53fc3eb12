"""Paper, thread, ink: the look, in one place."""
