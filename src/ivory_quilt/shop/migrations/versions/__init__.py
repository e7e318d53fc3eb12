"""One module a revision, the oldest first."""
