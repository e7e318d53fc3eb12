"""The formed piece in space, drawn without a graphics card."""
