"""What the trade knows by heart; all common practice, no published source, unless named.

Similar figures: Euclid, Elements VI.4 (sides in proportion) and VI.19 (areas as their squares).
"""

import pytest

from ivory_quilt.core.calculators import reckon
from ivory_quilt.core.calculators.sizes import print_scale, proportion, scale_area
from ivory_quilt.core.document.project import Project, scale_pieces
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.piece import Hand, Piece
from tests.parts import parts_of


def test_the_proportion_rule():
    # Common practice: a forearm and hand of 330 mm, 55 px pictured; a plate of 100 px is 600 mm.
    answer = proportion(real=330, pictured_reference=55, pictured_piece=100)
    assert answer.results["length"] == pytest.approx(600)
    assert answer.steps[0].formula == "330 mm × 100 ÷ 55"


def test_a_printed_check_bar_gives_scale_and_correction():
    # Common practice: printed ÷ nominal is the true scale, its inverse corrects it.
    answer = print_scale(nominal=100, measured=98)
    assert answer.results["scale"] == pytest.approx(0.98)
    assert answer.results["correction"] == pytest.approx(100 / 98)
    assert answer.results["scale"] * answer.results["correction"] == pytest.approx(1)


def test_scaling_goes_by_the_square_for_areas():
    # Euclid VI.19; and on a real outline.
    assert scale_area(1.1, 1000).results["area"] == pytest.approx(1210)
    plate = Shape.make([(0, 0), (80, 0), (20, 40)])
    assert plate.scaled(1.1).area == pytest.approx(plate.area * 1.21)


def test_scaling_changes_outlines_and_marks_but_not_thickness():
    # Common practice: scaling changes neither foam thickness nor what depends on it.
    piece = Piece("a", "a", rectangle(100, 50), thickness=6.0, match_marks=((10.0, 0.0),))
    project = scale_pieces(Project(pieces=(piece,)), ["a"], 1.5)
    scaled = project.piece("a")
    assert scaled.thickness == 6.0
    assert scaled.match_marks == ((15.0, 0.0),)
    assert scaled.shape.area == pytest.approx(5000 * 2.25)


def test_left_and_right_are_mirrored_never_two_alike():
    # Common practice: the two hands of a shown piece are mirrored, never just rotated.
    left, right = parts_of(Piece("a", "a", Shape.make([(0, 0), (80, 0), (20, 40)]), hand=Hand.PAIR))
    from ivory_quilt.core.geometry.shape import Pose

    for angle in range(0, 360, 15):
        turned = right.shape.placed(Pose(0, 0, angle)).polygon
        x, y = left.shape.polygon.centroid.x, left.shape.polygon.centroid.y
        shift = Pose(x - turned.centroid.x, y - turned.centroid.y)
        moved = right.shape.placed(Pose(0, 0, angle)).placed(shift).polygon
        assert moved.symmetric_difference(left.shape.polygon).area > 50


def test_calculators_take_lengths_in_inches():
    answer = reckon("print-scale", {"nominal": "4in", "measured": "101.6 mm"})
    assert answer.results["scale"] == pytest.approx(1)
