"""Measures of wearers, and patterns sized to them."""
