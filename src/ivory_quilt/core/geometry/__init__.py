"""Outlines: areas, offsets, curves, transforms."""
