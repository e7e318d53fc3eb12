"""Figures the project promises, measured on this machine: `./quilt bench`."""
