"""Pictures of solids: a camera, and a painter that needs no graphics card."""
