"""Pieces whose outline is edited: edges, marks and lines go with it, and what does not is told."""

import math
from itertools import pairwise

import numpy as np
import pytest

from ivory_quilt.core.editing.node_edits import (
    arched,
    bent_span,
    inserted_node,
    moved_nodes,
    removed_nodes,
    smoothed,
)
from ivory_quilt.core.editing.outline_edit import (
    OutlineEdit,
    curves_of,
    edited_outline,
    lost_and_found,
    on_both_sides,
    refitted,
)
from ivory_quilt.core.editing.redraw import redrawn
from ivory_quilt.core.editing.reshape import mirrored_piece, scaled_piece
from ivory_quilt.core.editing.symmetry import Axis, axis_of, off_centre, symmetrised
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curve_path import CurveNode, CurvePath
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.outline import Outline
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.build import Profile, ProfileKind
from ivory_quilt.core.pattern.edges import edge_length, edge_of, edges_of
from ivory_quilt.core.pattern.piece import Label, LineKind, Piece, PieceLine
from ivory_quilt.core.record import replace
from ivory_quilt.demo.project import demo_project

PLATE = Piece("p", "plate", Shape.make([(0, 0), (100, 0), (100, 60), (0, 60)]))


def done(piece, edit, ring=0):
    return edited_outline(piece, OutlineEdit(ring, edit, edit.after))


def path_of(piece, ring=0):
    return curves_of(piece)[ring]


def corner_at(path, at):
    return next(k for k, n in enumerate(path.nodes) if math.dist(n.at, at) < 0.01)


def test_a_mark_and_a_lines_end_stay_where_they_are_on_their_edge():
    piece = replace(
        PLATE,
        match_marks=((100.0, 15.0), (40.0, 30.0)),
        lines=(PieceLine(LineKind.SCORE, np.array([(50.0, 0.0), (50.0, 60.0)])),),
    )
    path = path_of(piece)
    made = done(piece, moved_nodes(path, [corner_at(path, (100, 0))], (20, 0)))
    # A quarter of the way up the right edge, which leans now.
    assert made.match_marks == (pytest.approx((115, 15)), (40.0, 30.0))
    assert made.lines[0].points.tolist() == [pytest.approx([60, 0]), [50, 60]]
    assert [e.name for e in made.edges] == [e.name for e in edges_of(piece)]
    assert lost_and_found(piece, made) == ""


def test_a_corner_taken_out_makes_two_edges_one_and_that_is_said():
    piece = replace(PLATE, build=PLATE.build.with_profile("A", Profile(ProfileKind.IN, 45)))
    path = path_of(piece)
    made = done(piece, removed_nodes(path, [corner_at(path, (100, 0))]))
    assert [e.name for e in made.edges] == ["A", "C", "D"]
    assert edge_length(made, edge_of(made, "A")) == pytest.approx(math.hypot(100, 60))
    assert made.build.profile("A").kind is ProfileKind.IN
    assert lost_and_found(piece, made) == "Edge B is gone, A runs on over it."


def test_several_edges_that_go_are_told_together():
    path = path_of(PLATE)
    edit = redrawn(path, np.array([(20.0, 0.0), (120, -20), (120, 80), (20, 60)]), 0.5, 3.0)
    made = done(PLATE, edit)
    assert lost_and_found(PLATE, made).startswith("Edges B, C are gone, A runs on over them.")


def test_a_new_corner_parts_its_edge_and_both_keep_the_profile():
    bevel = Profile(ProfileKind.IN, 45)
    piece = replace(PLATE, build=PLATE.build.with_profile("B", bevel))
    edit, k = inserted_node(path_of(piece), corner_at(path_of(piece), (100, 0)) + 0.5)
    piece = done(piece, edit)
    made = done(piece, moved_nodes(path_of(piece), [k], (30, 0)))
    assert [e.name for e in made.edges] == ["A", "B", "E", "C", "D"]
    assert made.build.profile("E") == bevel
    assert lost_and_found(piece, made) == "A new corner begins edge E."


def test_smoothing_a_corner_keeps_both_edges():
    path = path_of(PLATE)
    made = done(PLATE, smoothed(path, [corner_at(path, (100, 60))]))
    assert [e.name for e in made.edges] == ["A", "B", "C", "D"]


def test_a_round_piece_gets_corners_where_it_gets_them():
    disc = Piece("d", "disc", Shape.make(circle((0, 0), 40)))
    made = done(disc, removed_nodes(path_of(disc), [0]))
    assert made.edges[0].name == "A"
    flat = done(disc, arched(path_of(disc), 1, 0.5))
    assert [e.name for e in flat.edges] == ["A", "B"]


def test_what_is_left_outside_is_said():
    piece = replace(
        PLATE,
        labels=(Label("this way up", (90.0, 10.0)),),
        lines=(PieceLine(LineKind.MARK, np.array([(80.0, 10.0), (95.0, 20.0)])),),
    )
    path = path_of(piece)
    made = done(piece, moved_nodes(path, [corner_at(path, (100, 0))], (-60, 0)))
    told = lost_and_found(piece, made)
    assert "the text “this way up”" in told
    assert "mark line 1" in told


def test_sides_that_nobody_touched_keep_every_point():
    piece = next(p for p in demo_project().pieces if p.id == "collar-front")
    path = path_of(piece)
    k = max(range(len(path)), key=lambda k: math.dist(path.node(k).at, path.node(k + 1).at))
    made = done(piece, bent_span(path, k, 0.5, path.place(k + 0.5)))
    beside = {tuple(p) for j in (k - 1, k, k + 1) for p in path.span(j).tolist()}
    kept = {tuple(p) for p in made.shape.outer.tolist()}
    lost = {tuple(p) for p in piece.shape.outer.tolist()} - kept
    line = Outline(np.array(sorted(beside)))
    assert len(kept & {tuple(p) for p in piece.shape.outer.tolist()}) > 40
    assert line.ring.shape[1] == 2
    ends = sorted(path.locate(p)[0] for p in lost)
    assert all(k - 1 <= at <= k + 2 for at in ends)


def test_curves_are_found_again_after_an_edit_and_follow_a_move_or_scale():
    path = path_of(PLATE)
    made = done(PLATE, arched(path, 1, 12))
    assert curves_of(made) == made.curves
    for other in (scaled_piece(made, 1.5), mirrored_piece(made)):
        assert curves_of(other) == other.curves
        assert sum(n.smooth for n in other.curves[0].nodes) == sum(
            n.smooth for n in made.curves[0].nodes
        )


def test_curves_that_no_longer_run_along_the_outline_are_fitted_anew():
    stale = replace(PLATE, curves=(path_of(scaled_piece(PLATE, 1.1)),))
    assert curves_of(stale)[0].ring().tolist() == PLATE.shape.outer.tolist()


def test_what_crosses_itself_is_refused():
    path = path_of(PLATE)
    with pytest.raises(InputError, match="crosses itself"):
        done(PLATE, moved_nodes(path, [corner_at(path, (100, 0))], (-50, 70)))
    with pytest.raises(InputError, match="inside out"):
        done(
            replace(PLATE, shape=Shape.make([(0, 0), (50, 0), (25, 40)])),
            moved_nodes(
                CurvePath(tuple(CurveNode.corner(p) for p in ((0, 0), (50, 0), (25, 40)))),
                [2],
                (0, -90),
            ),
        )


def test_fewer_nodes_within_a_distance():
    rng = np.random.default_rng(3)
    ring = circle((0, 0), 60)
    rough = ring * (1 + rng.normal(0, 0.002, len(ring)))[:, None]
    piece = Piece("r", "rough", Shape.make(rough))
    made = refitted(piece, 0.6)
    assert len(made.curves[0]) < 12
    assert made.shape.polygon.boundary.hausdorff_distance(piece.shape.polygon.boundary) < 0.9
    with pytest.raises(InputError, match="within"):
        refitted(piece, 50)


# Both sides alike


def symmetric_piece():
    ring = [(0, 0), (80, 0), (100, 40), (40, 90), (-20, 40)]
    holes = [circle((10, 30), 6), circle((70, 30), 6), circle((40, 60), 5)]
    return Piece("s", "shield", Shape.make(ring, holes))


def test_the_axis_is_found_or_drawn():
    piece = symmetric_piece()
    assert axis_of(piece) == Axis((40.0, 45.0), (0.0, 1.0))
    odd = replace(piece, shape=Shape.make([(0, 0), (80, 0), (70, 50), (3, 20)]))
    assert axis_of(odd) is None
    line = PieceLine(LineKind.CENTRE, np.array([(5.0, 0.0), (5.0, 50.0)]))
    assert axis_of(replace(odd, lines=(line,))).side((0.0, 10.0)) == pytest.approx(5)


@pytest.mark.parametrize("ring", [0, 1, 3])
def test_the_other_side_follows_an_edit(ring):
    piece = replace(symmetric_piece(), match_marks=((90.0, 20.0), (-10.0, 20.0)))
    axis = axis_of(piece)
    path = path_of(piece, ring)
    k = max(range(len(path)), key=lambda k: -axis.side(path.node(k).at))
    edit = moved_nodes(path, [k], (7, 5))
    made = edited_outline(piece, on_both_sides(piece, ring, edit, axis, path.node(k).at))
    for one in made.shape.rings:
        image = Shape.make(axis.mirror_image(one))
        away = [
            image.polygon.boundary.hausdorff_distance(Shape.make(r).polygon.boundary)
            for r in made.shape.rings
        ]
        assert min(away) < 0.01
    one, other = made.match_marks
    assert axis.reflected(one) == pytest.approx(other, abs=1e-6)
    assert made.shape != piece.shape


def test_a_path_made_symmetric_is_so_and_its_side_stays():
    for piece in demo_project().pieces:
        axis = axis_of(piece)
        if axis is None:
            continue
        path = path_of(piece)
        made = symmetrised(path, axis, 1.0)
        shape = Shape.make(made.ring())
        assert off_centre(shape, axis) < 0.01
        assert {n.at for n in path.nodes if axis.side(n.at) > 1} <= {n.at for n in made.nodes}


def test_an_outline_that_meets_its_centre_line_more_often_is_refused():
    fork = [(0, 0), (60, 0), (60, 50), (45, 50), (30, 20), (15, 50), (0, 50)]
    piece = Piece("f", "fork", Shape.make(fork))
    with pytest.raises(InputError, match="meets it 4 times"):
        symmetrised(path_of(piece), Axis((0.0, 40.0), (1.0, 0.0)), 1.0)


# Redrawn by hand


def test_a_stroke_takes_the_place_of_the_stretch_beside_it():
    x = np.linspace(20, 80, 80)
    stroke = np.column_stack((x, 60 + 15 * np.sin((x - 20) / 60 * math.pi)))
    edit = redrawn(path_of(PLATE), stroke, 0.5, 3.0)
    made = done(PLATE, edit)
    rest = np.array([Outline(made.shape.outer).locate(tuple(p))[1] for p in stroke])
    assert rest.max() < 0.6
    assert made.shape.area == pytest.approx(6000 + 15 * 60 * 2 / math.pi, rel=0.01)
    assert len(made.curves[0]) < 12
    backwards = done(PLATE, redrawn(path_of(PLATE), stroke[::-1], 0.5, 3.0))
    assert backwards.shape.area == pytest.approx(made.shape.area, rel=0.002)


def test_a_stroke_over_a_corner_takes_it_away():
    t = np.linspace(0, math.pi / 2, 60)
    stroke = np.column_stack((60 + 40 * np.cos(t), 20 + 40 * np.sin(t)))
    made = done(PLATE, redrawn(path_of(PLATE), stroke, 0.4, 3.0))
    assert made.shape.area == pytest.approx(6000 - 40 * 40 * (1 - math.pi / 4), rel=0.003)
    assert [e.name for e in made.edges] == ["A", "B", "D"]
    # It runs on from the straight sides without a corner.
    ends = [n for n in made.curves[0].nodes if min(math.dist(n.at, p) for p in stroke[[0, -1]]) < 1]
    assert [n.smooth for n in ends] == [True, True]


def test_a_stroke_keeps_its_own_corners():
    stroke = np.array([(20, 60), (35, 80), (50, 100), (65, 80), (80, 60)], dtype=float)
    dense = np.vstack([np.linspace(a, b, 20)[:-1] for a, b in pairwise(stroke)])
    made = done(PLATE, redrawn(path_of(PLATE), np.vstack((dense, stroke[-1:])), 0.5, 3.0))
    assert Outline(made.shape.outer).locate((50.0, 100.0))[1] < 0.5
    assert len(made.edges) >= 6


def test_a_stroke_that_crosses_the_outline_counts_between_its_crossings():
    y = np.linspace(-15, 45, 60)
    stroke = np.column_stack((y + 30, 75 - np.abs(np.linspace(-30, 30, 60)) * 1.0))
    made = done(PLATE, redrawn(path_of(PLATE), stroke, 0.5, 2.0))
    assert made.shape.bounds[3] == pytest.approx(75, abs=1.5)
    assert made.shape.area == pytest.approx(6000 + 15 * 15, rel=0.01)


def test_a_closed_stroke_draws_the_whole_outline():
    t = np.linspace(0, 2 * math.pi, 120)
    stroke = np.column_stack((50 + 50 * np.cos(t), 30 + 30 * np.sin(t)))
    made = done(PLATE, redrawn(path_of(PLATE), stroke, 0.5, 4.0))
    assert made.shape.area == pytest.approx(math.pi * 1500, rel=0.01)
    assert len(made.edges) == 1
    # Wherever it lies: it need not begin at the outline that goes.
    away = done(PLATE, redrawn(path_of(PLATE), stroke * 2 + 40, 0.5, 4.0))
    assert away.shape.area == pytest.approx(4 * math.pi * 1500, rel=0.01)


@pytest.mark.parametrize(
    ("stroke", "word"),
    [([(20, 60), (50, 200)], "ends"), ([(20, 90), (50, 90)], "begins"), ([(20, 60)] * 2, "short")],
)
def test_a_stroke_that_says_nothing_is_refused(stroke, word):
    with pytest.raises(InputError, match=word):
        redrawn(path_of(PLATE), np.array(stroke, dtype=float), 0.5, 3.0)
