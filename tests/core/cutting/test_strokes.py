"""What is cut of each part, and when."""

from dataclasses import replace

import numpy as np

from ivory_quilt.core.cutting.strokes import CutStep, strokes_of
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.pattern.part import Foam, Part
from ivory_quilt.core.pattern.piece import Hand, LineKind, PieceLine, Turn

LINE = np.array([(10.0, 10.0), (90.0, 10.0)])


def part(name, shape, lines=(), **more):
    return Part(
        name,
        name,
        name,
        Hand.NONE,
        Foam(6.0, "eva"),
        shape,
        tuple(lines),
        (),
        1,
        mirrored=False,
        may_flip=True,
        turn=Turn.QUARTERS,
        **more,
    )


def stages(*laid):
    made = strokes_of(laid)
    return [(s.part, s.stage.step) for s in sorted(made, key=lambda s: s.stage)]


def test_scores_come_first_then_holes_then_small_parts_before_large():
    hole = ((40.0, 40.0), (60.0, 40.0), (60.0, 60.0))
    large = part(
        "a",
        Shape.make([(0, 0), (300, 0), (300, 200), (0, 200)], [hole]),
        [PieceLine(LineKind.SCORE, LINE)],
    )
    small = part("b", rectangle(30, 20))
    assert stages((large, Pose(0, 0)), (small, Pose(400, 0))) == [
        (0, CutStep.SCORE),
        (0, CutStep.INNER),
        (1, CutStep.OUTLINE),
        (0, CutStep.OUTLINE),
    ]


def test_a_blade_is_set_once_for_all_its_bevels():
    square = part("a", rectangle(300, 200))
    bevelled = part("b", rectangle(30, 20), knives=(("A", 45.0), ("B", 0.0)))
    other = part("c", rectangle(200, 100), knives=(("A", -30.0),))
    freed = stages((bevelled, Pose(0, 0)), (square, Pose(50, 0)), (other, Pose(400, 0)))
    assert [k for k, _ in freed] == [1, 2, 0]
    assert [s.stage.setting for s in strokes_of([(bevelled, Pose(0, 0))])] == [45]


def test_what_lies_in_a_hole_is_cut_before_the_hole():
    hole = ((50.0, 50.0), (250.0, 50.0), (250.0, 150.0), (50.0, 150.0))
    frame = part("a", Shape.make([(0, 0), (300, 0), (300, 200), (0, 200)], [hole]))
    inside = part("b", rectangle(60, 40))
    freed = stages((frame, Pose(0, 0)), (inside, Pose(100, 80)))
    assert freed == [(1, CutStep.OUTLINE), (0, CutStep.INNER), (0, CutStep.OUTLINE)]


def test_nothing_is_cut_along_folds_marks_and_the_other_face():
    kinds = [k for k in LineKind if k not in (LineKind.SCORE, LineKind.UNDERCUT)]
    lines = [PieceLine(k, LINE) for k in kinds]
    made = strokes_of([(part("a", rectangle(100, 50), lines), Pose(0, 0))])
    assert [s.stage.step for s in made] == [CutStep.OUTLINE]


def test_a_stroke_lies_where_the_part_lies_on_the_line_that_the_knife_follows():
    marked = rectangle(110, 60)
    one = replace(part("a", rectangle(100, 50)), marked=marked)
    pose = Pose(500.0, 20.0, 90.0, mirrored=True)
    (stroke,) = strokes_of([(one, pose)])
    assert stroke.closed
    assert abs(stroke.length - 340.0) < 1e-9
    assert np.allclose(stroke.places, marked.placed(pose).rings[0])
