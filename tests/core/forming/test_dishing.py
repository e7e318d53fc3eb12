"""Bowls by heat, darts or gores: where one gives way to the next (from memory, no source)."""

import math

import numpy as np
import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook, density_of
from ivory_quilt.core.forming.dishing import Remedy, dishing, gore_strain
from ivory_quilt.core.forming.forms import in_other_words, own_place, shaping_of
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import Build, Form, FormKind, Given
from ivory_quilt.core.pattern.piece import Piece


def excess(angle, limit):
    """The share of a flat rim that a sphere's rim, squeezed by heat, leaves over."""
    return 1 - math.sin(angle) / (angle * (1 - limit))


@pytest.mark.parametrize(("degrees", "limit"), [(64.0, 0.10), (66.0, 0.05), (70.0, 0.07)])
def test_a_dart_takes_up_no_more_than_7_hundredths_of_the_rim(degrees, limit):
    angle = math.radians(degrees)
    verdict = dishing(100.0, angle, limit)
    assert verdict.remedy is Remedy.DARTS
    rim = 2 * math.pi * 100.0 * angle
    assert verdict.count == max(2, math.ceil(excess(angle, limit) / 0.07))
    assert verdict.dart * verdict.count == pytest.approx(excess(angle, limit) * rim)
    assert verdict.dart <= 0.07 * rim + 1e-9


def test_darts_at_their_least_are_two():
    verdict = dishing(100.0, math.radians(58.0), 0.125)
    assert (verdict.remedy, verdict.count) == (Remedy.DARTS, 2)
    assert verdict.dart >= 1.0


@pytest.mark.parametrize(("limit", "gores"), [(0.005, False), (-0.12, True)])
def test_darts_that_would_take_a_third_of_the_rim_are_gores(limit, gores):
    """At 74° the rim is a quarter too long for its blank, and heat takes away from that or adds."""
    angle = math.radians(74.0)
    assert 0.231 < excess(angle, 0.005) < 0.3 < excess(angle, -0.12) < 0.39
    assert (dishing(100.0, angle, limit).remedy is Remedy.GORES) == gores


@pytest.mark.parametrize(("degrees", "remedy"), [(72.0, Remedy.DARTS), (78.0, Remedy.GORES)])
def test_past_75_degrees_gores_are_cut(degrees, remedy):
    assert dishing(100.0, math.radians(degrees), 0.12).remedy is remedy


@pytest.mark.parametrize(("limit", "count"), [(0.12, 5), (0.05, 7), (0.03, 10), (0.001, 12)])
def test_as_many_gores_as_the_foam_needs_and_no_more_than_twelve(limit, count):
    angle = math.radians(88.0)
    verdict = dishing(100.0, angle, limit)
    assert verdict.count == count
    enough = [n for n in range(3, 60) if gore_strain(angle, n) <= limit]
    assert verdict.count == min(enough[0], 12)
    words = verdict.sentence
    assert words.startswith(f"Needs {count} gores")


def test_the_verdict_says_what_to_do():
    flat = dishing(100.0, math.radians(30.0), 0.12)
    assert flat.remedy is Remedy.HEAT
    assert "dart" not in flat.sentence
    assert "gore" not in flat.sentence
    darts = dishing(100.0, math.radians(66.0), 0.05)
    assert darts.sentence.startswith(f"Goes with {darts.count} darts of {darts.dart:.0f} mm")
    assert flat.sentence.endswith("3.5 % at the rim, the foam gives 12 %.")
    assert darts.sentence.endswith("19.2 % at the rim, the foam gives 5 %.")


@pytest.mark.parametrize("limit", [0.05, 0.10])
def test_darts_reach_to_where_heat_alone_does(limit):
    """The meridian stretches by 1 ÷ cos(θ ÷ 2) − 1: within 2 acos(1 ÷ (1 + limit)) heat does."""
    angle = math.radians(66.0)
    verdict = dishing(100.0, angle, limit)
    within = 2 * math.acos(1 / (1 + limit))
    assert verdict.depth == pytest.approx(100 * (angle - within), abs=0.35)


def test_foam_that_gives_nothing_is_darted_to_its_pole():
    verdict = dishing(100.0, math.radians(60.0), 1e-9)
    assert verdict.depth == pytest.approx(100 * math.radians(60.0), abs=0.5)


def test_what_the_book_says_of_foam_that_nobody_has_tried():
    """From memory, no source: 100 kg/m³, bowls by heat to 12 %, bends as tight as it is thick."""
    book = FoamBook()
    assert book.density * 1e3 == pytest.approx(100.0)
    assert (book.dish_limit, book.tightest, book.neutral) == (12.0, 1.0, 0.5)
    assert (book.shrink_along, book.shrink_across, book.springback) == (0.0, 0.0, 0.0)


@pytest.mark.parametrize(
    ("name", "low", "high"),
    [
        ("neutral", 0.0, 1.0),
        ("shrink_along", -20.0, 60.0),
        ("shrink_across", -20.0, 60.0),
        ("density", 0.005, 3.0),
        ("dish_limit", 0.5, 80.0),
        ("tightest", 0.0, 50.0),
        ("springback", 0.0, 60.0),
    ],
)
def test_a_book_takes_what_foam_may_be_and_nothing_else(name, low, high):
    for value in (low, high, (low + high) / 2):
        assert getattr(FoamBook(**{name: value}), name) == value
    for value in (low - 0.0008, high + 0.02):
        with pytest.raises(InputError, match=name.replace("_", " ")):
            FoamBook(**{name: value})


def test_a_weighed_sheet_gives_its_density():
    """Mass ÷ volume: 1 m × 0.5 m × 6 mm is 3,000 cm³."""
    assert density_of(1000.0, 500.0, 6.0, 330.0) == pytest.approx(0.11)
    for wrong in ((0, 500, 6, 330), (1000, 0, 6, 330), (1000, 500, 0, 330), (1000, 500, 6, 0)):
        with pytest.raises(InputError):
            density_of(*map(float, wrong))


BAND = rectangle(300.0, 80.0)
BOWL = Shape.make(circle((0.0, 0.0), 50.0))


@pytest.mark.parametrize(
    ("form", "given", "wanted"),
    [
        (Form(FormKind.ROLLED, Given.RADIUS, 60.0), Given.GIRTH, (377.0, 0.0)),
        (Form(FormKind.ROLLED, Given.GIRTH, 377.0), Given.RADIUS, (60.0, 0.0)),
        (Form(FormKind.ROLLED, Given.RADIUS, 150.0), Given.ANGLE, (114.6, 0.0)),
        (Form(FormKind.ROLLED, Given.RADIUS, 40.0), Given.ANGLE, (360.0, 0.0)),
        (Form(FormKind.ROLLED, Given.ANGLE, 114.6), Given.RADIUS, (150.0, 0.0)),
        (Form(FormKind.CONE, Given.RADIUS, 50.0, 40.0), Given.GIRTH, (314.2, 251.3)),
        (Form(FormKind.CONE, Given.GIRTH, 314.2, 251.3), Given.RADIUS, (50.0, 40.0)),
        (Form(FormKind.DISHED, Given.RADIUS, 130.0), Given.HEIGHT, (10.0, 0.0)),
        (Form(FormKind.DISHED, Given.HEIGHT, 10.0), Given.RADIUS, (130.0, 0.0)),
        # Never less than a millimetre high; a bowl narrower than its pattern is half a ball.
        (Form(FormKind.DISHED, Given.RADIUS, 5000.0), Given.HEIGHT, (1.0, 0.0)),
        (Form(FormKind.DISHED, Given.RADIUS, 40.0), Given.HEIGHT, (40.0, 0.0)),
    ],
)
def test_a_form_given_another_way_keeps_its_size(form, given, wanted):
    """2πr; arc ÷ radius; sagitta: a bowl 100 mm across and 10 high has a radius of 130 mm."""
    shape = BOWL if form.kind is FormKind.DISHED else BAND
    assert in_other_words(form, given, shape) == pytest.approx(wanted, abs=0.06)


def test_a_place_of_the_blank_is_turned_as_far_as_its_ring_keeps_its_area():
    """On a sphere of radius R a ring of the blank at 2 R sin(θ ÷ 2) comes to θ from the pole."""
    piece = Piece("p", "bowl", BOWL, build=Build(form=Form(FormKind.DISHED, Given.RADIUS, 60.0)))
    shaping, place = shaping_of(piece), own_place(piece, 0.5)
    radius = shaping.sphere(place)
    places = np.array([[0.0, 0.0], [2 * radius * math.sin(math.radians(20)), 0.0]])
    assert shaping.turn(places, place) == pytest.approx([0.0, math.radians(40)])
