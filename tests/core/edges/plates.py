"""The plate that tests of edges cut."""

from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.build import Build, EdgeProfile
from ivory_quilt.core.pattern.piece import Piece


def plate(ident="a", thickness=6.0, **edges):
    """A plate of 100 × 60 mm, its edges' profiles by their names."""
    said = tuple(EdgeProfile(e, p) for e, p in edges.items())
    return Piece(ident, ident, rectangle(100, 60), thickness=thickness, build=Build(edges=said))
