"""Cutting: what a knife does on a sheet, and in which order."""
