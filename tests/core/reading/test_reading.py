import numpy as np
import pytest

from ivory_quilt.core.pattern.piece import Hand, LineKind
from ivory_quilt.core.reading.assembly import assemble
from ivory_quilt.core.reading.drawn import RawPath
from ivory_quilt.core.reading.naming import line_kind


def raw(points, closed=True, layer="", name=""):
    return RawPath(np.array(points, dtype=float), closed, layer, name)


def square(x=0.0, y=0.0, side=100.0):
    return [(x, y), (x + side, y), (x + side, y + side), (x, y + side)]


def codes(reading):
    return [p.code for p in reading.problems]


def test_outlines_nest_into_pieces_and_holes():
    reading = assemble([raw(square()), raw(square(10, 10, 50)), raw(square(20, 20, 10))])
    assert sorted(p.shape.area for p in reading.pieces) == [100, 10000 - 2500]
    assert codes(reading) == []


def test_a_small_opening_is_closed_and_reported():
    reading = assemble([raw([(0, 0), (50, 0), (50, 50), (0, 50), (0, 0.3)], closed=False)])
    assert len(reading.pieces) == 1
    (problem,) = reading.problems
    assert problem.code == "open-outline"
    assert problem.mended
    assert problem.mend == "closed 0.30 mm"


def test_a_large_opening_waits_for_the_maker():
    reading = assemble([raw([(0, 0), (50, 0), (50, 50), (0, 50), (0, 3)], closed=False)])
    assert reading.pieces == ()
    (problem,) = reading.problems
    assert problem.mend == "close it with a straight line of 3.0 mm"
    taken = reading.take(problem)
    assert taken.pieces[0].shape.area == pytest.approx(2500)
    assert taken.problems[0].mended


def test_an_open_line_inside_a_piece_may_become_a_score_line():
    reading = assemble([raw(square(), name="plate"), raw([(10, 10), (90, 90)], closed=False)])
    (problem,) = reading.problems
    assert problem.mend == "keep it as a score line of plate"
    (piece,) = reading.take(problem).pieces
    assert piece.lines[0].kind is LineKind.SCORE


def test_a_self_crossing_outline_is_left_out_and_can_be_parted():
    reading = assemble([raw([(0, 0), (50, 50), (50, 0), (0, 50)], name="bow")])
    (problem,) = reading.problems
    assert problem.code == "self-crossing"
    assert problem.where == pytest.approx((25, 25))
    assert len(reading.take(problem).pieces) == 2


def test_duplicates_and_tiny_outlines_are_reported():
    reading = assemble([raw(square()), raw(square(0.01)), raw(square(300, 0, 1))])
    assert sorted(codes(reading)) == ["duplicate-outline", "tiny-outline"]
    assert len(reading.pieces) == 1
    for problem in reading.problems:
        reading = reading.take(problem)
    assert len(reading.pieces) == 3


def test_outlines_drawn_across_each_other_are_reported():
    reading = assemble([raw(square(), name="a"), raw(square(50, 50), name="b")])
    assert codes(reading) == ["overlapping-outlines"]
    assert len(reading.pieces) == 2


@pytest.mark.parametrize(
    ("layer", "kind"),
    [
        ("Score lines", LineKind.SCORE),
        ("fold_line", LineKind.FOLD),
        ("marks", LineKind.MARK),
        ("guide", LineKind.MARK),
        ("cut", None),
        ("scored-cuts-archive", None),
        ("", None),
    ],
)
def test_layers_are_known_by_their_names(layer, kind):
    assert line_kind(layer) is kind


def test_lines_go_to_the_piece_they_lie_in():
    reading = assemble(
        [
            raw(square(), name="one"),
            raw(square(200), name="two"),
            raw([(210, 50), (290, 50)], False, "fold"),
            raw([(500, 0), (600, 0)], False, "fold"),
        ]
    )
    by_name = {p.name: p for p in reading.pieces}
    assert [k.kind for k in by_name["two"].lines] == [LineKind.FOLD]
    assert by_name["one"].lines == ()
    assert codes(reading) == ["stray-line"]


def test_names_come_from_the_shape_then_the_layer_then_a_number():
    reading = assemble(
        [
            raw(square(), name="left_cuff"),
            raw(square(200), layer="Belly", name="path4711"),
            raw(square(400), layer="Belly", name="rect-3"),
            raw(square(600), layer="layer1", name="path12"),
        ]
    )
    assert [p.name for p in reading.pieces] == ["left cuff", "Belly", "Belly 2", "Piece 1"]


def test_scaling_a_reading_scales_everything_in_it():
    reading = assemble([raw(square()), raw([(10, 10), (90, 10)], False)]).scaled(2.0)
    assert reading.pieces[0].shape.area == 40000
    assert reading.problems[0].where == (180, 20)
    line = reading.take(reading.problems[0]).pieces[0].lines[0]
    assert line.points.tolist() == [[20, 20], [180, 20]]


def test_a_found_piece_moves_to_its_own_corner():
    reading = assemble([raw(square(70, 30)), raw([(80, 40), (90, 40)], False, "score")], "a.svg")
    piece = reading.pieces[0].to_piece(thickness=4.0)
    assert piece.shape.bounds == (0, 0, 100, 100)
    assert piece.lines[0].points.tolist() == [[10, 10], [20, 10]]
    assert (piece.source.file, piece.thickness) == ("a.svg", 4.0)


def test_the_name_of_a_path_may_say_what_a_template_says():
    square = np.array([(0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (0.0, 100.0)])
    told = "forearm guard, cut 1 L 1 R 6mm"
    paths = [
        RawPath(square, closed=True, name=told),
        RawPath(square + np.array([200.0, 0.0]), closed=True, name="left wing"),
        RawPath(square + np.array([400.0, 0.0]), closed=True, name="path 6mm-2"),
    ]
    reading = assemble(paths, "x.svg")
    first, second, third = reading.pieces
    assert first.name == "forearm guard"
    assert (first.hints.thickness, first.hints.hand) == (6.0, Hand.PAIR)
    # A plain name stays a name.
    assert (second.name, bool(second.hints)) == ("left wing", False)
    assert third.hints.thickness == 6.0
    offered = [p for p in reading.problems if p.code == "text-hint"]
    assert [p.hints_of for p in offered] == [first.id, third.id]
