"""Drawings into pieces."""
