"""Edges that must mate: bevels, grooves, blades."""
