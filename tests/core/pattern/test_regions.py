"""Where tones are on pieces, and how much they cover, against hand sums."""

import math
from dataclasses import replace

import numpy as np
import pytest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.paint import PaintArea, PaintOn
from ivory_quilt.core.pattern.painted import region_on, region_words, share_on, typed_region
from ivory_quilt.core.pattern.piece import Hand, LineKind, Piece, PieceLine
from ivory_quilt.core.plan.painting import covered, unpainted
from ivory_quilt.files.project_file import decode_project, encode_project

RING = circle((100, 50), 20)
PLATE = Piece(
    "p",
    "plate",
    rectangle(200, 100),
    lines=(
        PieceLine(LineKind.SCORE, np.vstack((RING, RING[:1]))),
        PieceLine(LineKind.MARK, np.array([(20.0, 10.0), (180.0, 10.0)])),
    ),
)
GREEN = PaintArea("g", "deep green", colour="#2f5d3a")


def test_a_strip_along_one_edge_and_along_all():
    one = replace(GREEN, on=PaintOn.EDGE, of="A", width=12)
    assert region_on(PLATE, one).area == pytest.approx(200 * 12)
    every = replace(GREEN, on=PaintOn.EDGE, width=10)
    assert region_on(PLATE, every).area == pytest.approx(200 * 100 - 180 * 80)
    disc = Piece("d", "disc", Shape.make(circle((0, 0), 50)))
    assert region_on(disc, every).area == pytest.approx(math.pi * (50**2 - 40**2), rel=2e-3)


def test_inside_a_line_and_a_stripe_along_one():
    inside = replace(GREEN, on=PaintOn.LINE, of="1")
    assert region_on(PLATE, inside).area == pytest.approx(math.pi * 400, rel=2e-3)
    stripe = replace(GREEN, on=PaintOn.LINE, of="2", width=6)
    assert region_on(PLATE, stripe).area == pytest.approx(160 * 6)
    # An open line encloses nothing, a line or edge that is not there neither.
    for area in (
        replace(inside, of="2"),
        replace(inside, of="9"),
        replace(GREEN, on=PaintOn.EDGE, of="Z", width=5),
    ):
        assert share_on(PLATE, area) == 0
    assert share_on(PLATE, replace(GREEN, pieces=("other",))) == 0
    assert share_on(PLATE, replace(GREEN, share=0.3)) == 0.3


def test_what_regions_cover_on_all_parts_of_two_suits():
    pair = replace(PLATE, hand=Hand.PAIR, count=3)
    project = Project("p", (pair,), paint=(GREEN,))
    strip = replace(GREEN, id="s", on=PaintOn.EDGE, of="A", width=12, share=0.5)
    # Six parts, two suits, half of a strip of 200 by 12 mm.
    assert covered(project, strip, ["p"], 2) == pytest.approx(2 * 6 * 0.5 * 2400 / 1e6)
    assert covered(project, GREEN, ["p"], 1) == pytest.approx(6 * 20000 / 1e6)
    assert unpainted((strip,), ["p"]) == ("p",)
    assert unpainted((strip, GREEN), ["p"]) == ()
    assert (strip.partial, GREEN.partial) == (True, False)


@pytest.mark.parametrize(
    ("text", "shown"),
    [
        ("whole", "whole"),
        ("", "whole"),
        ("Edge A 12mm", "edge A 12 mm"),
        ("edge dart 1a 1/4 in", "edge dart 1a 6.35 mm"),
        ("edges 0.8 cm", "edges 8 mm"),
        ("line 2", "line 2"),
        ("line 2 10 mm", "line 2 10 mm"),
    ],
)
def test_a_region_is_typed_and_shown(text, shown):
    made = typed_region(GREEN, text)
    assert region_words(made) == shown
    assert typed_region(made, region_words(made)) == made


@pytest.mark.parametrize(
    "text", ["edge", "edge A", "edges", "line", "line A", "rim 5 mm", "line 2 wide"]
)
def test_a_region_that_says_nothing_is_refused(text):
    with pytest.raises(InputError, match="deep green"):
        typed_region(GREEN, text)


@pytest.mark.parametrize(
    "change",
    [
        {"colour": "green"},
        {"on": PaintOn.LINE, "of": "A"},
        {"on": PaintOn.EDGE, "width": 0.0},
        {"width": -1.0},
        {"left": -1.0},
    ],
)
def test_what_makes_no_sense_is_refused(change):
    with pytest.raises(InputError, match="deep green"):
        replace(GREEN, **change)


def test_a_scheme_is_kept_in_the_file():
    paint = (
        replace(GREEN, mix="3 green, 1 black", left=40),
        PaintArea("b", "gold", on=PaintOn.EDGE, of="A", width=6, colour="#b8913a"),
    )
    project = Project("p", (PLATE,), paint=paint)
    assert decode_project(encode_project(project)).paint == paint
