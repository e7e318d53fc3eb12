"""Parametric shapes: pieces made from numbers, each with its reckoning."""
