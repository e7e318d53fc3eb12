"""Small widgets shared by the stations."""
