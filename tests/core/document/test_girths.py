"""Unlike parts around one girth: the sum, what is missing, and how it is spread."""

import math

import pytest

from ivory_quilt.core.document.girths import (
    around_sum,
    closed,
    drop_around,
    fresh_around_id,
    part_length,
    put_around,
    times_of,
)
from ivory_quilt.core.document.project import Project, remove_pieces
from ivory_quilt.core.document.seam_book import part_piece, unite_pieces
from ivory_quilt.core.document.wearers import remove_wearer
from ivory_quilt.core.editing.surgery import CutLine
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.measure.fit import KeyOf
from ivory_quilt.core.measure.parts_around import AroundPart, GrowBy, PartsAround, Spread
from ivory_quilt.core.measure.wearer import Measure, Wearer
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.review.review import review
from ivory_quilt.core.shapes.rounds import arc
from ivory_quilt.files.project_file import decode_project, encode_project

PIECES = (
    Piece("front", "front", rectangle(300, 200), thickness=6),
    Piece("back", "back", rectangle(250, 180), thickness=6),
    Piece("side", "side", rectangle(60, 90), thickness=2, hand=Hand.PAIR),
)
AROUND = PartsAround(
    "belly",
    "belly",
    "w",
    "waist",
    (AroundPart("front"), AroundPart("back"), AroundPart("side", KeyOf.HEIGHT, 2, takes=False)),
    laps=40,
    gaps=16,
    ease=20,
    beneath=3,
)
PROJECT = Project(
    "p",
    PIECES,
    wearers=(Wearer("w", "Night lamplighter", (Measure("waist", 780, 4),)),),
    girths=(AROUND,),
)


def test_the_sum_by_hand():
    total = around_sum(PROJECT, AROUND)
    assert total.foam == 300 + 250 + 2 * 90
    assert total.have == 730 - 40 + 16
    mean = (550 * 6 + 180 * 2) / 730
    assert total.needed == pytest.approx(780 + 20 + 2 * math.pi * (3 + mean / 2))
    assert total.missing == pytest.approx(total.needed - 706)
    assert total.reckon({"front": "front"}).figure("missing") == pytest.approx(total.missing)
    assert not total.closes


@pytest.mark.parametrize("spread", Spread)
@pytest.mark.parametrize("by", GrowBy)
def test_what_is_missing_is_spread_over_those_that_take_it(spread, by):
    around = replace(AROUND, spread=spread, by=by)
    short = around_sum(PROJECT, around).missing
    made, _ = closed(PROJECT, around)
    after = around_sum(made, around)
    # More of the way lies in thick foam now, so a little is needed again.
    assert abs(after.missing) < 0.01 * short
    assert after.closes
    front, back = made.piece("front").shape.width - 300, made.piece("back").shape.width - 250
    assert made.piece("side") == PROJECT.piece("side")
    assert front / back == pytest.approx(300 / 250 if spread is Spread.BY_LENGTH else 1, rel=1e-3)
    assert made.piece("front").shape.height == pytest.approx(200)


def test_parts_that_are_too_long_are_shortened_but_not_by_a_strip():
    small = replace(PROJECT, wearers=(Wearer("w", "x", (Measure("waist", 560),)),))
    made, _ = closed(small, AROUND)
    assert made.piece("front").shape.width < 300
    with pytest.raises(InputError, match="no strip"):
        closed(small, replace(AROUND, by=GrowBy.STRIP))
    tiny = replace(PROJECT, wearers=(Wearer("w", "x", (Measure("waist", 60),)),))
    with pytest.raises(InputError, match="would be"):
        closed(tiny, AROUND)


def test_a_curved_band_goes_around_by_the_length_of_its_edge():
    low, high = arc(400, 2.0, 1.1), arc(340, 1.1, 2.0)
    band = Piece("band", "band", Shape.make([*low.tolist(), *high.tolist()]))
    names = {e: part_length(band, AroundPart("band", edge=e)) for e in ("A", "B", "C", "D")}
    long = max(names, key=names.get)
    assert names[long] == pytest.approx(400 * 0.9, abs=0.05)
    part = AroundPart("band", KeyOf.WIDTH, 1, edge=long)
    around = replace(AROUND, parts=(part,), laps=0, gaps=350, by=GrowBy.STRETCH)
    project = replace(PROJECT, pieces=(*PIECES, band))
    short = around_sum(project, around).missing
    for by in GrowBy:
        made, _ = closed(project, replace(around, by=by))
        assert part_length(made.piece("band"), part) - names[long] == pytest.approx(short, abs=0.02)
    gone = replace(part, edge="Z")
    assert part_length(band, gone) == band.shape.width


def test_nobody_takes_it():
    around = replace(AROUND, parts=tuple(replace(p, takes=False) for p in AROUND.parts))
    with pytest.raises(InputError, match="no part takes"):
        closed(PROJECT, around)
    unmeasured = replace(PROJECT, wearers=(Wearer("w", "x"),))
    assert around_sum(unmeasured, AROUND) is None
    with pytest.raises(InputError, match="not measured"):
        closed(unmeasured, AROUND)


@pytest.mark.parametrize(
    ("change", "word"),
    [
        ({"laps": -1.0}, "overlaps"),
        ({"name": " "}, "no name"),
        ({"spot": "height"}, "no girth"),
        ({"parts": (AroundPart("front"), AroundPart("front"))}, "twice"),
    ],
)
def test_what_makes_no_sense_is_refused(change, word):
    with pytest.raises(InputError, match=word):
        replace(AROUND, **change)
    with pytest.raises(InputError, match="go around"):
        AroundPart("front", times=0)


def test_pieces_and_wearers_that_go_take_their_part_along():
    left = remove_pieces(PROJECT, ["side"])
    assert [p.piece for p in left.girths[0].parts] == ["front", "back"]
    assert remove_wearer(PROJECT, "w").girths == ()
    assert drop_around(PROJECT, "belly").girths == ()
    assert fresh_around_id(replace(PROJECT, girths=(replace(AROUND, id="girth"),))) == "girth-2"
    with pytest.raises(InputError, match="'none'"):
        put_around(PROJECT, replace(AROUND, parts=(AroundPart("none"),)))
    assert times_of(PROJECT.piece("side"), "waist") == 2
    assert times_of(PROJECT.piece("side"), "calf") == 1


def test_a_part_that_is_cut_in_two_goes_around_as_both():
    cut = part_piece(PROJECT, "front", CutLine((120, -5), (120, 205)))
    assert around_sum(cut, cut.girths[0]).foam == pytest.approx(730)
    whole = unite_pieces(cut, cut.seams[-1])
    assert around_sum(whole, whole.girths[0]).foam == pytest.approx(730)
    across = part_piece(PROJECT, "front", CutLine((-5, 90), (305, 90)))
    assert around_sum(across, across.girths[0]).foam == pytest.approx(730)


def test_the_review_finds_a_girth_that_does_not_close_and_mends_it():
    (found,) = [f for f in review(PROJECT) if f.code == "girth"]
    assert "too short together" in found.message
    mended = found.apply(PROJECT)
    assert [f for f in review(mended) if f.code == "girth"] == []


def test_a_girth_is_kept_in_the_file():
    assert decode_project(encode_project(PROJECT)).girths == PROJECT.girths
