"""What is cut of each part, and when."""

import itertools

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.cutting.order import cutting_order
from ivory_quilt.core.cutting.sheet_strokes import strokes_of
from ivory_quilt.core.cutting.strokes import CutStep
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.pattern.part import BevelledEdge, Foam, Part
from ivory_quilt.core.pattern.piece import Hand, LineKind, PieceLine, Turn
from ivory_quilt.core.record import replace
from tests.effort import random_cases

IDLE = Pose(0, 0)
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
    edges = (
        BevelledEdge("A", 45.0, (0.0, 0.0), (30.0, 0.0)),
        BevelledEdge("B", 0.4, (30.0, 0.0), (30.0, 20.0)),
    )
    bevelled = part("b", rectangle(30, 20), bevels=edges)
    other = part(
        "c", rectangle(100, 50), bevels=(BevelledEdge("A", -30.0, (100.0, 50.0), (0.0, 50.0)),)
    )
    laid = [(bevelled, Pose(0, 0)), (square, Pose(50, 0)), (other, Pose(400, 0))]
    made = sorted(strokes_of(laid), key=lambda s: s.stage)
    told = [(s.part, s.stage.setting, round(s.length, 6)) for s in made]
    assert told == [(0, 0, 70), (2, 0, 200), (1, 0, 1000), (2, 30, 100), (0, 45, 30)]
    # What comes free last is what has its last edge cut last.
    order = cutting_order(strokes_of(laid))
    assert order.freed == (1, 2, 0)
    assert order.passes == ((0, 0), (2, 0), (1, 0), (2, 30), (0, 45))


def test_an_outline_bevelled_all_around_is_one_cut():
    edges = [((0.0, 0.0), (30.0, 0.0)), ((30.0, 0.0), (0.0, 20.0)), ((0.0, 20.0), (0.0, 0.0))]
    bevels = tuple(BevelledEdge(str(k), (-1) ** k * 45.0, *e) for k, e in enumerate(edges))
    (stroke,) = strokes_of([(part("a", Shape.make([a for a, _ in edges]), bevels=bevels), IDLE)])
    assert stroke.closed
    assert stroke.stage.setting == 45
    round_one = Shape.make(circle((0.0, 0.0), 50.0))
    place = tuple(round_one.outer[0].tolist())
    (stroke,) = strokes_of(
        [(part("b", round_one, bevels=(BevelledEdge("A", 30.0, place, place),)), IDLE)]
    )
    assert stroke.closed
    assert stroke.stage.setting == 30


@random_cases(40, 400)
@given(st.integers(0, 10**6))
def test_every_place_of_an_outline_is_cut_once_at_its_own_setting(seed):
    random = np.random.default_rng(seed)
    turns = np.cumsum(random.uniform(0.2, 1.0, 9))
    turns *= 2 * np.pi / (turns[-1] + 0.3)
    shape = Shape.make((80.0 * np.column_stack((np.cos(turns), np.sin(turns)))).tolist())
    corners = shape.outer
    settings = random.choice([0.0, 30.0, -30.0, 45.0], len(corners))
    bevels = tuple(
        BevelledEdge(str(k), a, tuple(corners[k]), tuple(corners[(k + 1) % len(corners)]))
        for k, a in enumerate(settings)
        if a
    )
    pose = Pose(*random.uniform(-100, 100, 2), random.uniform(0, 360), bool(random.integers(2)))
    made = strokes_of([(part("a", shape, bevels=bevels, far_bevels=bevels), pose)])
    assert sum(s.length for s in made) == pytest.approx(shape.outline_length)
    for k, angle in enumerate(settings):
        middle = pose.apply((corners[k] + corners[(k + 1) % len(corners)])[None] / 2)[0]
        here = [s for s in made if line_of(s).distance(shapely.Point(middle)) < 1e-6]
        assert [s.stage.setting for s in here] == [abs(angle)]


def line_of(stroke):
    return shapely.LinearRing(stroke.places) if stroke.closed else shapely.LineString(stroke.places)


def test_of_a_pair_and_of_layers_tacked_together_one_is_cut_right_after_the_other():
    left = replace(part("p/left", rectangle(80, 60)), hand=Hand.LEFT)
    right = replace(part("p/right", rectangle(80, 60)), hand=Hand.RIGHT)
    tacked = [replace(part(f"q+{k}", rectangle(70, 70)), together="q") for k in (1, 2)]
    others = [part(f"o{k}", rectangle(75, 60)) for k in range(6)]
    laid = [left, *others[:3], tacked[0], left, *others[3:], right, tacked[1], right]
    order = cutting_order(strokes_of([(p, Pose(100.0 * k, 0)) for k, p in enumerate(laid)]))
    places = {number: k for k, number in enumerate(order.freed)}
    pairs = [(0, 9), (5, 11), (4, 10)]
    assert [abs(places[a] - places[b]) for a, b in pairs] == [1, 1, 1]


def test_strips_of_a_size_come_one_after_the_other_along_the_straight_edge():
    strips = [part(f"s{k}", rectangle(200, 20)) for k in range(3)]
    mitred = part("m", Shape.make([(0, 0), (200, 0), (185, 20), (15, 20)]))
    bent = part("b", Shape.make([(0, 0), (100, 30), (200, 0), (200, 20), (100, 50), (0, 20)]))
    blocks = [part(f"o{k}", rectangle(60, 60)) for k in range(3)]
    laid = [strips[0], blocks[0], bent, strips[1], blocks[1], mitred, blocks[2], strips[2]]
    order = cutting_order(strokes_of([(p, Pose(0, 100.0 * k)) for k, p in enumerate(laid)]))
    assert sorted(order.freed[:4]) == [0, 3, 5, 7]


def test_what_lies_in_a_hole_is_cut_before_the_hole():
    hole = ((50.0, 50.0), (250.0, 50.0), (250.0, 150.0), (50.0, 150.0))
    frame = part("a", Shape.make([(0, 0), (300, 0), (300, 200), (0, 200)], [hole]))
    inside = part("b", rectangle(60, 40))
    freed = stages((frame, Pose(0, 0)), (inside, Pose(100, 80)))
    assert freed == [(1, CutStep.OUTLINE), (0, CutStep.INNER), (0, CutStep.OUTLINE)]


def test_a_part_laid_the_other_way_round_is_cut_along_its_other_face():
    """Seen from there, what leans out leans in, or the wrong hand is cut."""
    up = BevelledEdge("A", 45.0, (0.0, -6.0), (100.0, -6.0))
    down = BevelledEdge("A", -45.0, (0.0, 0.0), (100.0, 0.0))
    large, small = rectangle(100, 66), rectangle(100, 60)
    one = part(
        "a",
        large.placed(Pose(0, -6)),
        marked=large.placed(Pose(0, -6)),
        far=small,
        bevels=(up,),
        far_bevels=(down,),
    )
    for pose, height in ((Pose(0, 0), 66), (Pose(0, 0, 0, mirrored=True), 60)):
        made = strokes_of([(one, pose)])
        angled = next(s for s in made if s.stage.setting == 45)
        assert angled.length == pytest.approx(100)
        assert np.ptp(np.vstack([s.places for s in made])[:, 1]) == pytest.approx(height)


@random_cases(20, 150)
@given(st.integers(0, 10**6))
def test_foam_is_held_as_long_as_it_is_cut(seed):
    """Holes before their part, what lies in a hole before the hole, small before large."""
    random = np.random.default_rng(seed)
    laid, inside = [], {}
    for k in range(int(random.integers(2, 7))):
        wide, high = random.uniform(60, 400, 2)
        at = (500.0 * k, 0.0)
        if random.random() < 0.5:
            hole = [(10, 10), (wide - 10, 10), (wide - 10, high - 10), (10, high - 10)]
            frame = part(f"f{k}", Shape.make(rectangle(wide, high).outer.tolist(), [hole]))
            laid.append((frame, Pose(*at)))
            if random.random() < 0.7:
                inside[len(laid)] = len(laid) - 1
                small = part(f"s{k}", rectangle(wide - 30, high - 30))
                laid.append((small, Pose(at[0] + 15, at[1] + 15)))
        else:
            edge = BevelledEdge("A", float(random.choice([0, 45])), (0.0, 0.0), (wide, 0.0))
            laid.append((part(f"p{k}", rectangle(wide, high), bevels=(edge,)), Pose(*at)))
    cuts = [c.stroke for c in cutting_order(strokes_of(laid)).cuts]
    first = {}
    for k, stroke in enumerate(cuts):
        first.setdefault((stroke.part, stroke.stage.step), k)
    last = {(s.part, s.stage.step): k for k, s in enumerate(cuts)}
    for number in range(len(laid)):
        hole = last.get((number, CutStep.INNER), -1)
        assert hole < first[number, CutStep.OUTLINE]
    for number, frame in inside.items():
        assert last[number, CutStep.OUTLINE] < first[frame, CutStep.INNER]
    outlines = [s for s in cuts if s.stage.step is CutStep.OUTLINE and not s.stage.outside]
    areas = [(s.stage.setting, laid[s.part][0].shape.area) for s in outlines]
    for (setting, area), (later, other) in itertools.combinations(areas, 2):
        assert (setting, area) < (later, 4.0 * other)


def test_nothing_is_cut_along_folds_marks_and_the_other_face():
    cut = (LineKind.SCORE, LineKind.UNDERCUT, LineKind.SLIT)
    kinds = [k for k in LineKind if k not in cut]
    lines = [PieceLine(k, LINE) for k in kinds]
    made = strokes_of([(part("a", rectangle(100, 50), lines), Pose(0, 0))])
    assert [s.stage.step for s in made] == [CutStep.OUTLINE]


def test_a_slit_goes_through_before_its_part_comes_free():
    made = strokes_of(
        [(part("a", rectangle(100, 50), [PieceLine(LineKind.SLIT, LINE)]), Pose(0, 0))]
    )
    slit, outline = sorted(made, key=lambda s: s.stage)
    assert (slit.stage.step, slit.stage.through, slit.closed) == (CutStep.INNER, True, False)
    assert outline.stage.step is CutStep.OUTLINE
    assert np.array_equal(slit.places, LINE)


def test_a_stroke_lies_where_the_part_lies_on_the_line_that_the_knife_follows():
    marked = rectangle(110, 60)
    one = replace(part("a", rectangle(100, 50)), far=marked)
    pose = Pose(500.0, 20.0, 90.0, mirrored=True)
    (stroke,) = strokes_of([(one, pose)])
    assert stroke.closed
    assert abs(stroke.length - 340.0) < 1e-9
    assert np.allclose(stroke.places, marked.placed(pose).rings[0])
