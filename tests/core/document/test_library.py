"""Sets of pieces that the shop keeps: taken from a project, brought into another, sized."""

import pytest

from ivory_quilt.core.document.library import (
    LibrarySet,
    bring_in,
    library_set,
    match_of,
)
from ivory_quilt.core.document.project import Project, shape_pieces
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.wearer import Measure, Wearer
from ivory_quilt.core.pattern.build import Placing
from ivory_quilt.core.pattern.piece import Recipe
from ivory_quilt.core.record import replace
from ivory_quilt.demo.project import demo_project
from ivory_quilt.files.library_file import decode_set, encode_set

DEMO = demo_project()
SEAM = next(s for s in DEMO.seams if s.first.piece != s.second.piece)
PAIR = (SEAM.first.piece, SEAM.second.piece)
WEARER = DEMO.wearers[0]


def kept(ids=PAIR, **more):
    return library_set(DEMO, ids, "caps", tags=("Shoulder", " ", "shoulder"), wearer=WEARER, **more)


def test_a_set_holds_its_pieces_and_the_seams_between_them():
    made = kept()
    assert [p.id for p in made.pieces] == list(PAIR)
    assert SEAM in made.seams
    assert all({s.first.piece, s.second.piece} <= set(PAIR) for s in made.seams)
    assert made.tags == ("shoulder",)
    assert made.made_for == WEARER.measures
    assert kept(PAIR[:1]).seams == tuple(
        s for s in DEMO.seams if {s.first.piece, s.second.piece} == {PAIR[0]}
    )
    assert kept(taken=("set",)).id == "set-2"


def test_it_is_found_by_name_tag_and_piece():
    made = kept()
    assert made.found_by("")
    assert made.found_by("CAPS shoulder")
    assert made.found_by(made.pieces[0].name.split()[0])
    assert not made.found_by("caps knee")


def test_a_set_comes_into_another_project_with_its_seams():
    other, ids = bring_in(Project("other"), kept())
    assert ids == PAIR
    assert other.pieces == tuple(DEMO.piece(i) for i in PAIR)
    assert SEAM in other.seams
    twice, again = bring_in(other, kept(), 1.1)
    assert set(again).isdisjoint(ids)
    assert len(twice.seams) == 2 * len(other.seams)
    one, scaled = DEMO.piece(PAIR[0]), twice.piece(again[0])
    assert scaled.shape.area == pytest.approx(1.21 * one.shape.area)
    assert scaled.thickness == one.thickness
    with pytest.raises(InputError, match="scale"):
        bring_in(other, kept(), 0)


def test_shapes_and_placings_stay_with_their_own():
    base, top = DEMO.piece(PAIR[0]), DEMO.piece(PAIR[1])
    top = replace(top, build=replace(top.build, placing=Placing(base.id)))
    top = replace(top, recipe=Recipe("oval", (), "caps"))
    there = Project("there", (replace(base, recipe=Recipe("oval", (), "caps")),))
    made = LibrarySet("s", "s", (base, top))
    project, ids = bring_in(there, made)
    assert project.piece(ids[1]).build.placing.base == ids[0]
    assert len(shape_pieces(project, "caps")) == 1
    alone, (ident,) = bring_in(there, LibrarySet("s", "s", (top,)))
    assert alone.piece(ident).build.placing is None


def test_another_wearers_size_is_told_with_the_factor_that_meets_it():
    then = Wearer("a", "a", (Measure("chest", 1000), Measure("waist", 800), Measure("head", 560)))
    now = Wearer("b", "b", (Measure("chest", 900), Measure("waist", 760)))
    made = library_set(DEMO, PAIR, "caps", wearer=then)
    found = match_of(made, now)
    assert found.factor == pytest.approx((0.9 * 0.95) ** 0.5)
    assert not found.same
    assert found.sentence == "Made for another size: chest 1000 mm then, 900 mm now, 10 % smaller."
    back = match_of(library_set(DEMO, PAIR, "caps", wearer=now), then)
    assert back.factor == pytest.approx(1 / found.factor)
    assert match_of(made, then).sentence == "Made for somebody of this size."
    assert match_of(made, None).factor == 1
    assert match_of(library_set(DEMO, PAIR, "caps"), now).sentence == ""


def test_a_set_is_the_same_after_its_file():
    made = replace(kept(when="2026-12-01"), note="tight at the rim")
    assert decode_set(encode_set(made)) == made
    with pytest.raises(InputError):
        decode_set(b'{"format": "ivory-quilt/set", "version": 1}')
    with pytest.raises(InputError, match="newer"):
        decode_set(encode_set(made).replace(b'"version":1', b'"version":9'))


@pytest.mark.parametrize(
    ("change", "word"),
    [
        ({"name": ""}, "no name"),
        ({"pieces": ()}, "0 pieces"),
        ({"pieces": (DEMO.pieces[0],) * 2}, "twice"),
        ({"pieces": (DEMO.pieces[0],)}, "missing"),
    ],
)
def test_what_makes_no_sense_is_refused(change, word):
    made = replace(kept(), seams=(SEAM,))
    with pytest.raises(InputError, match=word):
        replace(made, **change)
