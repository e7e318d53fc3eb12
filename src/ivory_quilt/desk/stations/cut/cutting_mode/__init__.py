"""Cutting mode: one sheet under the knife, part by part."""
