"""The layout engine: jobs, placement, search, bounds and the exact check."""
