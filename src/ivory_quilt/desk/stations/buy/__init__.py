"""Buy: what foam the project needs."""
