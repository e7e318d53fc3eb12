"""Form-up: flat pieces, seams, folds and bends solved into the shape that the foam will take."""
