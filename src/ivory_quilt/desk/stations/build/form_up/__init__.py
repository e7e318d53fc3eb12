"""Form-up: a group of pieces, joined by its seams, in the shape that the foam will take."""
