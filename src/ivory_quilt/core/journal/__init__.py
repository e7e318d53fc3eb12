"""What really happened; rates and limits learned from it."""
