"""A pair on a piece in the middle: which edge the other hand meets, before and after parting."""

import numpy as np
import pytest

from ivory_quilt.core.document.assembling import assembly_of
from ivory_quilt.core.document.other_hand import mirror_edge
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.seam_book import join_edges, part_piece
from ivory_quilt.core.editing.surgery import CutLine
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.edges import edge_line, edge_of, edges_of, with_corner
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam


def crown():
    """A strip over the head, its long edges drawn alike left and right."""
    return Piece(
        "c", "crown", Shape.make([(-40, 0), (40, 0), (62, 150), (40, 300), (-40, 300), (-62, 150)])
    )


def helmet():
    """The crown with a pair of sides along its long edges, which have no corner at half."""
    whole = Shape.make(
        [
            (-40, 0),
            (40, 0),
            *((40 + 22 * np.sin(t), 300 * t / np.pi) for t in TURNS),
            (40, 300),
            (-40, 300),
            *((-40 - 22 * np.sin(t), 300 * t / np.pi) for t in TURNS[::-1]),
        ]
    )
    middle = Piece("c", "crown", whole)
    side = Piece("s", "side", Shape.make([(0, 0), (150, -130), (300, 0)]), hand=Hand.PAIR)
    long = [e.name for e in edges_of(middle) if abs(_span(middle, e.name)) > 250]
    top = next(e.name for e in edges_of(side) if abs(_across(side, e.name)) > 250)
    project = Project(pieces=(middle, side))
    return join_edges(project, Seam(EdgeRef("c", long[0]), EdgeRef("s", top))), long


TURNS = [np.pi * k / 20 for k in range(1, 20)]


def _span(piece, name):
    line = edge_line(piece, edge_of(piece, name))
    return float(line[-1, 1] - line[0, 1])


def _across(piece, name):
    line = edge_line(piece, edge_of(piece, name))
    return float(line[-1, 0] - line[0, 0])


@pytest.mark.parametrize("at", [150.0, 110.0, 75.0])
def test_where_a_pair_is_parted_the_piece_in_the_middle_is_parted_on_both_sides(at):
    project, _ = helmet()
    made = part_piece(project, "s", CutLine((at, 20.0), (at, -200.0)))
    group = assembly_of(made, "c", 12.0)
    assert group.notes == ()
    names = [p.id for p in group.assembly.panels]
    assert len(names) == 5
    assert sum("other hand" in n for n in names) == 2
    # Two seams along each side of the crown, one within each hand.
    assert len(group.assembly.seams) == 6
    parted = made.piece("c")
    joined = [r.edge for s in made.seams for r in (s.first, s.second) if r.piece == "c"]
    for name in joined:
        others = {("c", n) for n in joined}
        mirror = mirror_edge(parted, name, [], others)
        here, there = (
            sorted(edge_line(parted, edge_of(parted, n))[[0, -1], 1]) for n in (name, mirror.edge)
        )
        assert there == pytest.approx(here, abs=0.5)


def test_of_two_halves_that_are_as_long_the_one_across_is_the_mirror_image():
    piece = crown()
    for corner in ((62, 150), (-62, 150)):
        if corner not in {e.start for e in edges_of(piece)}:
            piece = with_corner(piece, corner)
    right = [e for e in edges_of(piece) if min(edge_line(piece, e)[:, 0]) > 30]
    assert len(right) == 2
    for edge in right:
        taken = {("c", e.name) for e in right}
        found = mirror_edge(piece, edge.name, [], taken)
        mine, its = (edge_line(piece, e) for e in (edge, edge_of(piece, found.edge)))
        assert its.mean(0) == pytest.approx(mine.mean(0) * (-1, 1))


def test_an_edge_of_another_length_is_no_mirror_image():
    piece = Piece("c", "crown", Shape.make([(0, 0), (60, 0), (60, 200), (0, 150)]))
    right = next(e.name for e in edges_of(piece) if edge_line(piece, e)[:, 0].min() > 50)
    assert mirror_edge(piece, right, [], {("c", right)}) is None
