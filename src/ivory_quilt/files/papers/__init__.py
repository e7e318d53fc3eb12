"""Papers for the bench: full-size templates and cut sheets, as PDF and SVG."""
