"""Versions of pieces: kept, taken back, noted, dropped; mock-ups in cheap foam."""

import pytest

from ivory_quilt.core.document.project import change_pieces, put_pieces, remove_pieces
from ivory_quilt.core.document.versions import (
    add_mock_ups,
    drop_version,
    keep_version,
    next_name,
    note_version,
    take_back,
    version_of,
    versions_of,
)
from ivory_quilt.core.editing.reshape import scaled_piece
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.build import PLAIN
from ivory_quilt.core.pattern.piece import Wanted
from ivory_quilt.core.pattern.version import PieceVersion
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.demo.project import demo_project
from ivory_quilt.files.project_file import decode_project, encode_project

DEMO = demo_project()
SET = ("collar-front", "collar-back")


def wider(project, factor=1.05):
    return put_pieces(project, [scaled_piece(project.piece(i), factor) for i in SET])


def test_a_version_is_taken_back_whole_or_piece_by_piece():
    kept = keep_version(DEMO, SET, "round 1", "2026-12-01")
    second = keep_version(wider(kept), SET, "round 2, wider")
    assert [v.name for v in versions_of(second, ["collar-front"])] == ["round 1", "round 2, wider"]
    back = take_back(second, second.versions[0].id)
    assert [back.piece(i) for i in SET] == [DEMO.piece(i) for i in SET]
    one = take_back(second, second.versions[0].id, ["collar-back"])
    assert one.piece("collar-back") == DEMO.piece("collar-back")
    assert one.piece("collar-front") == second.piece("collar-front")
    # There and back again: nothing is lost.
    again = take_back(back, second.versions[1].id)
    assert again.pieces == second.pieces


def test_what_the_plan_asks_for_stays_as_it_is_now():
    kept = keep_version(DEMO, SET, "round 1")
    more = change_pieces(wider(kept), SET, count=7, name="collar", wanted=Wanted.LAST)
    back = take_back(more, kept.versions[0].id).piece("collar-front")
    assert (back.count, back.name, back.wanted) == (7, "collar", Wanted.LAST)
    assert back.shape == DEMO.piece("collar-front").shape


def test_a_piece_that_is_gone_comes_back():
    kept = keep_version(DEMO, SET, "round 1")
    left = remove_pieces(kept, ["collar-front"])
    assert versions_of(left, ["collar-front"])
    assert take_back(left, kept.versions[0].id).piece("collar-front") == DEMO.piece("collar-front")


def test_names_notes_and_dropping():
    kept = keep_version(DEMO, SET, next_name(DEMO, SET))
    assert kept.versions[0].name == "round 1"
    assert next_name(kept, SET) == "round 2"
    assert next_name(kept, ["knee-cup"]) == "round 1"
    noted = note_version(kept, kept.versions[0].id, " too tight ")
    assert noted.versions[0].note == "too tight"
    assert drop_version(noted, noted.versions[0].id).versions == ()
    with pytest.raises(InputError, match="already"):
        keep_version(kept, SET, "round 1")
    with pytest.raises(InputError, match="no name"):
        keep_version(kept, SET, " ")
    with pytest.raises(InputError, match="not in the project"):
        version_of(kept, "other")
    with pytest.raises(InputError, match="none of these"):
        take_back(kept, kept.versions[0].id, ["knee-cup"])
    with pytest.raises(InputError, match="each piece once"):
        PieceVersion("v", "v", ())


def test_versions_are_kept_in_the_file():
    kept = note_version(keep_version(DEMO, SET, "round 1", "2026-12-01"), "version", "wide")
    again = decode_project(encode_project(kept))
    assert again.versions == kept.versions
    assert encode_project(again) == encode_project(kept)


def test_a_mock_up_is_a_plain_piece_of_cheap_foam_that_is_cut_first():
    made = add_mock_ups(DEMO, ["collar-front"], "eva", 2)
    piece = made.piece("collar-front-mock-up")
    assert (piece.thickness, piece.wanted, piece.build) == (2, Wanted.FIRST, PLAIN)
    assert piece.shape == DEMO.piece("collar-front").shape
    plan, before = derive(made, ShopStock()), derive(DEMO, ShopStock())
    assert plan.ledger.parts == before.ledger.parts + piece.cut_count
    kept = keep_version(made, SET, "round 1")  # versions themselves are not cut
    assert derive(kept, ShopStock()).ledger.parts == plan.ledger.parts
    twice = add_mock_ups(made, ["collar-front"], "eva", 2)
    assert twice.piece("collar-front-mock-up-2").name == "collar front mock-up"
