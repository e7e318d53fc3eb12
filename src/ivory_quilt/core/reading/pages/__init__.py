"""Patterns that span pages: registration marks, where each page lies, outlines united."""
