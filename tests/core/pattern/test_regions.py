"""Where tones are on pieces, and how much they cover, against hand sums."""

import math

import numpy as np
import pytest

from ivory_quilt.core.document.benchwork import set_paint
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.seam_book import rename_edge
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.paint import CoatKind, PaintArea, typed_coats, with_edge_renamed
from ivory_quilt.core.pattern.piece import Hand, LineKind, Piece, PieceLine
from ivory_quilt.core.pattern.region import RegionKind, typed_region
from ivory_quilt.core.pattern.region_shapes import (
    line_names,
    region_on,
    share_on,
    with_name_kept,
)
from ivory_quilt.core.plan.painting import coated, covered, unpainted
from ivory_quilt.core.record import replace
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
    one = replace(GREEN, on=RegionKind.EDGE, of="A", width=12)
    assert region_on(PLATE, one.region).area == pytest.approx(200 * 12)
    every = replace(GREEN, on=RegionKind.EDGE, width=10)
    assert region_on(PLATE, every.region).area == pytest.approx(200 * 100 - 180 * 80)
    disc = Piece("d", "disc", Shape.make(circle((0, 0), 50)))
    assert region_on(disc, every.region).area == pytest.approx(math.pi * (50**2 - 40**2), rel=2e-3)


def test_inside_a_line_and_a_stripe_along_one():
    inside = replace(GREEN, on=RegionKind.LINE, of="1")
    assert region_on(PLATE, inside.region).area == pytest.approx(math.pi * 400, rel=2e-3)
    stripe = replace(GREEN, on=RegionKind.LINE, of="2", width=6)
    assert region_on(PLATE, stripe.region).area == pytest.approx(160 * 6)
    # An open line encloses nothing, a line or edge that is not there neither.
    for area in (
        replace(inside, of="2"),
        replace(inside, of="9"),
        replace(GREEN, on=RegionKind.EDGE, of="Z", width=5),
    ):
        assert share_on(PLATE, area) == 0
    assert share_on(PLATE, replace(GREEN, pieces=("other",))) == 0
    assert share_on(PLATE, replace(GREEN, share=0.3)) == 0.3


def test_what_regions_cover_on_all_parts_of_two_suits():
    pair = replace(PLATE, hand=Hand.PAIR, count=3)
    project = Project("p", (pair,), paint=(GREEN,))
    strip = replace(GREEN, id="s", on=RegionKind.EDGE, of="A", width=12, share=0.5)
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
    made = typed_region(text)
    assert made.words == shown
    assert typed_region(made.words) == made
    assert GREEN.at(made).region == made


@pytest.mark.parametrize(
    "text", ["edge", "edge A", "edges", "line", "line A", "rim 5 mm", "line 2 wide"]
)
def test_a_region_that_says_nothing_is_refused(text):
    with pytest.raises(InputError, match="region"):
        typed_region(text)


@pytest.mark.parametrize(
    "change",
    [
        {"colour": "green"},
        {"on": RegionKind.LINE, "of": ""},
        {"on": RegionKind.EDGE, "width": 0.0},
        {"width": -1.0},
        {"left": -1.0},
        {"kinds": (CoatKind.WASH,)},
    ],
)
def test_what_makes_no_sense_is_refused(change):
    with pytest.raises(InputError, match="deep green"):
        replace(GREEN, **change)


def test_a_scheme_is_kept_in_the_file():
    paint = (
        replace(GREEN, mix="3 green, 1 black", left=40),
        PaintArea("b", "gold", on=RegionKind.EDGE, of="A", width=6, colour="#b8913a"),
    )
    project = Project("p", (PLATE,), paint=paint)
    assert decode_project(encode_project(project)).paint == paint


def test_a_line_that_was_named_is_found_when_one_before_it_goes():
    region = typed_region("line 2 6 mm")
    kept = with_name_kept(PLATE, region)
    assert line_names(kept) == ("1", "2")
    fewer = replace(kept, lines=kept.lines[1:])
    assert line_names(fewer) == ("2",)
    assert region_on(fewer, region).area == pytest.approx(160 * 6)
    # A new line has a number that nothing has yet.
    more = replace(kept, lines=(kept.lines[1], PLATE.lines[0], PLATE.lines[0]))
    assert line_names(more) == ("2", "3", "4")
    assert with_name_kept(kept, region) is kept
    assert PieceLine(LineKind.MARK, RING) != PieceLine(LineKind.MARK, RING, name="2")


def test_paint_keeps_its_line_and_its_edge_when_others_change():
    stripe = replace(GREEN, id="s").at(typed_region("line 2 6 mm"))
    strip = replace(GREEN, id="t", pieces=("p", "q")).at(typed_region("edge A 12 mm"))
    project = Project("p", (PLATE, replace(PLATE, id="q")))
    painted = set_paint(project, (stripe, strip))
    assert [k.name for k in painted.piece("p").lines] == ["", "2"]
    named = rename_edge(painted, "p", "A", "hem")
    assert [(a.id, a.pieces, a.of) for a in named.paint] == [
        ("s", (), "2"),
        ("t", ("q",), "A"),
        ("t-2", ("p",), "hem"),
    ]
    assert with_edge_renamed((stripe,), "p", "2", "3") == (stripe,)


@pytest.mark.parametrize(
    ("text", "many", "shown"),
    [
        ("2", 2, "2"),
        ("3 brushed", 3, "3"),
        ("2 sprayed, 1 wash", 3, "2 sprayed, 1 wash"),
        ("1 Dry brushed", 1, "1 dry-brushed"),
        ("1 wash, 1 glaze, 1 wash", 3, "1 wash, 1 glaze, 1 wash"),
    ],
)
def test_coats_are_typed_and_shown(text, many, shown):
    made = typed_coats(GREEN, text)
    assert (made.coats, made.coat_words) == (many, shown)
    assert len(made.coat_kinds) == many


@pytest.mark.parametrize("text", ["", "0", "two", "2 rolled", "9", "5 wash, 5 glaze"])
def test_coats_that_are_none_are_refused(text):
    with pytest.raises(InputError, match="deep green"):
        typed_coats(GREEN, text)


def test_a_wash_takes_less_paint_than_a_coat_that_covers():
    project = Project("p", (PLATE,), paint=(GREEN,))
    area = PLATE.shape.area / 1e6
    assert coated(project, 1) == pytest.approx(2 * area)
    washed = replace(project, paint=(typed_coats(GREEN, "2 sprayed, 1 wash"),))
    assert coated(washed, 2) == pytest.approx(2 * 2.4 * area)
