"""Draft: one piece, opened to draw on it and to cut it."""
