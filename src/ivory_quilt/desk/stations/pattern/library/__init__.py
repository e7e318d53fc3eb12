"""Library: sets of pieces that the shop keeps, brought into the project."""
