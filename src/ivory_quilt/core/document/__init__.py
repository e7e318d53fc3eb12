"""The project, and what edits do to several of its pieces."""
