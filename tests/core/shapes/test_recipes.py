"""Pieces that stay linked to the numbers they were made from."""

import pytest

from ivory_quilt.core.document.project import (
    Project,
    add_pieces,
    change_piece,
    fresh_group,
    remake_shape,
    remove_pieces,
    shape_pieces,
)
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.shapes.recipe import pieces_from

OTHER = Piece("plate", "Belly plate", rectangle(80.0, 40.0))


def with_shape(ident, group="g", **values):
    made = pieces_from(ident, values, group, material="eva", thickness=4.0)
    return add_pieces(Project("lamplighter", (OTHER,)), made)


def test_pieces_know_their_numbers_and_take_the_foam_of_the_shape():
    project = with_shape("cuff", thickness="8")
    (cuff,) = shape_pieces(project, "g")
    assert dict(cuff.recipe.values)["thickness"] == "8"
    assert dict(cuff.recipe.values)["height"] == "180"  # numbers not given are kept as well
    assert cuff.thickness == 8.0
    (disc,) = pieces_from("discs", {"diameters": "30"}, "d", material="eva", thickness=4.0)
    assert disc.thickness == 4.0  # a disc has no thickness of its own
    layers = pieces_from("layered-horn", {}, "h", material="eva", thickness=4.0)
    assert [p.thickness for p in layers] == [8, 8, 5, 5, 3]
    assert [p.hand for p in layers][1:] == [Hand.PAIR] * 4


def test_other_numbers_change_the_outline_and_nothing_that_the_maker_decided():
    project = with_shape("band", girth="300")
    (band,) = shape_pieces(project, "g")
    project = change_piece(project, band.id, name="Left cuff", hand=Hand.LEFT, count=3)
    changed = remake_shape(project, "g", {"girth": "400"})
    (after,) = shape_pieces(changed, "g")
    assert after.shape.width > band.shape.width + 99
    assert (after.id, after.name, after.hand, after.count) == (band.id, "Left cuff", Hand.LEFT, 3)
    assert changed.piece("plate") is project.piece("plate")


def test_a_count_follows_the_numbers_until_the_maker_sets_it():
    project = with_shape("dome", count="6")
    (gore,) = shape_pieces(remake_shape(project, "g", {"count": "8"}), "g")
    assert gore.count == 8
    (gore,) = shape_pieces(project, "g")
    project = change_piece(project, gore.id, count=12)  # two domes
    (gore,) = shape_pieces(remake_shape(project, "g", {"count": "8"}), "g")
    assert gore.count == 12


def test_pieces_come_and_go_with_the_numbers_in_their_place():
    project = with_shape("layered-horn", sides="6, 6")
    last = replace(OTHER, id="last")
    project = add_pieces(project, [last])
    more = remake_shape(project, "g", {"sides": "6, 6, 6"})
    assert [p.name for p in shape_pieces(more, "g")][-1] == "horn layer 3"
    assert [p.id for p in more.pieces] == ["plate", "g-1", "g-2", "g-3", "g-4", "last"]
    fewer = remake_shape(more, "g", {"sides": "6"})
    assert [p.id for p in fewer.pieces] == ["plate", "g-1", "g-2", "last"]


def test_a_piece_that_was_taken_out_comes_back_with_the_next_numbers():
    # The numbers say what the shape is; whoever wants one layer less says so there.
    project = remove_pieces(with_shape("layered-horn", sides="6, 6"), ["g-2"])
    again = remake_shape(project, "g", {"sides": "6, 6"})
    assert [p.recipe.index for p in shape_pieces(again, "g")] == [0, 1, 2]


def test_a_thickness_chosen_by_hand_stays_where_the_shape_has_none():
    project = with_shape("discs", diameters="40, 30")
    project = change_piece(project, "g-1", thickness=12.0)
    after = shape_pieces(remake_shape(project, "g", {"diameters": "50, 30"}), "g")
    assert [p.thickness for p in after] == [12.0, 4.0]
    assert after[0].shape.width == pytest.approx(50)


def test_numbers_that_make_no_sense_change_nothing():
    project = with_shape("band")
    with pytest.raises(InputError):
        remake_shape(project, "g", {"girth": "-3"})
    with pytest.raises(InputError, match="not in the project"):
        remake_shape(project, "no such", {})


def test_groups_are_told_apart():
    project = with_shape("band", group="band")
    assert fresh_group(project, "band") == "band-2"
    assert fresh_group(project, "cuff") == "cuff"
    both = add_pieces(project, pieces_from("band", {}, "band-2", material="eva", thickness=6.0))
    changed = remake_shape(both, "band-2", {"width": "99"})
    heights = [shape_pieces(changed, g)[0].shape.height for g in ("band", "band-2")]
    assert heights == [40.0, 99.0]
