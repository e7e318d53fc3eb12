"""Lay: pieces on sheets."""
