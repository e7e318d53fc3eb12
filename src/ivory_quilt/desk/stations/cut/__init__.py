"""Cut: the papers for the bench."""
