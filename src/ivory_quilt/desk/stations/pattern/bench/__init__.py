"""The piece bench: one piece, opened to draw on it and to cut it."""
