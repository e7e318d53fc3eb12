"""What a maker does to a piece."""
