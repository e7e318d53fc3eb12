"""Simulated stand-ins for outside devices, for the demo, for tests and for practice."""
