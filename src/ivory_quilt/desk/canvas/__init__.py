"""The drawing surface shared by the stations."""
