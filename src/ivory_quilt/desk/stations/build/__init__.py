"""The Build station: what heat, bevels and layers do to a flat piece."""
