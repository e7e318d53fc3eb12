"""One folder a station, in the order of work."""
