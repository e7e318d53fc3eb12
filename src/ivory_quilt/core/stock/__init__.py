"""Foam to lay on and to buy."""
