"""Layers glued face to face: their lengths, wraps, covers, and thickness made of others."""
