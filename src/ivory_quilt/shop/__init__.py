"""The shop's own store, which outlives projects."""
