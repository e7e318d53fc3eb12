"""The seam map: which edges are glued together, and whether they agree."""
