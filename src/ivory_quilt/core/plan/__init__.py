"""Everything derived from the project and the shop's stock."""
