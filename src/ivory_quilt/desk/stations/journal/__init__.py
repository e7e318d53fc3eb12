"""The Journal station: what happened, and what is learned from it."""
