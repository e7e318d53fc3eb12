"""Ivory Quilt plans foam armour: from flat pattern pieces to cut sheets, with the foam to buy."""

__version__ = "0.1.0"
