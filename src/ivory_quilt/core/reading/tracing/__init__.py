"""Tracing: from a picture of drawn outlines to outlines in millimetres."""
