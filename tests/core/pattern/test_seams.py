"""Seams: lengths, marks and verdicts; proposals; the book of a project."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.project import Project, remove_pieces, scale_pieces
from ivory_quilt.core.document.seam_book import (
    fit_of,
    join_edges,
    joined_groups,
    open_seam,
    seam_book,
    seam_changes,
    seam_name,
)
from ivory_quilt.core.editing.proposals import propose_seams
from ivory_quilt.core.editing.reshape import mirrored_piece
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.edges import edge_length, edge_of, edges_of, marks_on
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.pattern.seams import (
    EdgeRef,
    Seam,
    SeamVerdict,
    marks_evenly,
    marks_locally,
    seam_fit,
)
from ivory_quilt.core.record import replace
from ivory_quilt.core.shapes.book import maker


def plate(ident, width, height=40.0, **more):
    return Piece(ident, ident, rectangle(width, height), **more)


def seam(a="a", b="b", first="A", second="C", turned=False):
    return Seam(EdgeRef(a, first), EdgeRef(b, second), turned)


@pytest.mark.parametrize(
    ("longer", "verdict"),
    [
        (100.0, SeamVerdict.SITS),
        (100.5, SeamVerdict.SITS),
        (101.9, SeamVerdict.EASE),
        (102.1, SeamVerdict.NO),
        (98.2, SeamVerdict.EASE),
        (97.9, SeamVerdict.NO),
    ],
)
def test_the_verdict_is_by_the_shorter_edge(longer, verdict):
    """Common practice, no source: up to about 2 % can be eased in."""
    fit = seam_fit(plate("a", 100), plate("b", longer), seam())
    assert fit.verdict is verdict
    assert fit.difference == pytest.approx(longer - 100)
    assert fit.percent == pytest.approx(100 * (longer - 100) / min(longer, 100))


def test_marks_land_where_the_other_edge_has_them():
    # Edge A runs left to right at the foot, edge C right to left at the top: side by side they
    # run against each other, so the second is walked from its stop.
    a = plate("a", 100, match_marks=((30, 0), (80, 0)))
    b = plate("b", 102, match_marks=((30.6, 40), (84.6, 40)))
    fit = seam_fit(a, b, seam())
    assert [(round(k.at, 6), round(k.lands, 6), round(k.meets, 6)) for k in fit.landings] == [
        (30, 30.6, 30.6),
        (80, 81.6, 84.6),
    ]
    assert fit.marks_off == pytest.approx(3)
    assert not fit.marks_meet
    assert np.allclose(fit.sections(), [(30, 30.6), (50, 54), (20, 17.4)])
    reckoning = fit.reckon()
    assert reckoning.results["difference"] == pytest.approx(2)
    assert "ease" in reckoning.source


def test_a_mark_without_its_other_is_told():
    a = plate("a", 100, match_marks=((30, 0), (60, 0)))
    b = plate("b", 100, match_marks=((61, 40),))
    fit = seam_fit(a, b, seam())
    assert [k.meets for k in fit.landings] == [None, 61]
    assert not fit.marks_meet
    lonely = seam_fit(plate("a", 100), b, seam())
    assert lonely.lonely == (61,)


def test_an_edge_meets_its_other_hand_mark_on_mark():
    piece = plate("a", 100, hand=Hand.PAIR, match_marks=((20, 0), (70, 0)))
    fit = seam_fit(piece, piece, seam("a", "a", "A", "A"))
    assert fit.verdict is SeamVerdict.SITS
    assert fit.marks_meet
    # Two pieces drawn from opposite faces run the same way as well.
    other = mirrored_piece(replace(piece, id="b"))
    turned = seam_fit(piece, other, seam("a", "b", "A", "A", turned=True))
    assert not turned.marks_meet
    straight = seam_fit(piece, other, seam("a", "b", "A", "A"))
    assert straight.marks_meet


@given(st.integers(1, 12), st.floats(60, 200), st.floats(0.97, 1.03))
def test_even_marks_meet_and_spread_the_ease(count, width, factor):
    a, b = marks_evenly(plate("a", width), plate("b", width * factor), seam(), count)
    fit = seam_fit(a, b, seam())
    assert len(fit.landings) == count
    assert fit.marks_off < 1e-6
    for one, other in fit.sections():
        assert other / one == pytest.approx(factor)
    # A second time they take the place of the first.
    again, _ = marks_evenly(a, b, seam(), 2)
    assert len(again.match_marks) == 2


def test_local_marks_hold_all_the_ease_between_them():
    a, b = marks_locally(plate("a", 100), plate("b", 104), seam(), 0.3, 0.6)
    assert np.allclose(seam_fit(a, b, seam()).sections(), [(30, 30), (30, 34), (40, 40)])
    with pytest.raises(InputError, match="two shares"):
        marks_locally(a, b, seam(), 0.6, 0.3)
    with pytest.raises(InputError, match="1 to 40"):
        marks_evenly(a, b, seam(), 0)


def test_marks_of_a_piece_joined_to_itself_go_on_both_edges():
    cuff = plate("a", 300, 120)
    own = seam("a", "a", "B", "D")
    made, same = marks_evenly(cuff, cuff, own, 2)
    assert made == same
    assert [len(marks_on(made, edge_of(made, e))) for e in "BD"] == [2, 2]
    assert seam_fit(made, made, own).marks_meet


# Proposals


def test_gores_of_a_cap_are_proposed_as_mirror_images():
    gores = maker("dome").made({"count": "6", "diameter": "240"}).pieces
    one = Piece("g", "gore", gores[0].shape, count=6)
    found = propose_seams([one])
    assert found
    assert found[0].fit.verdict is SeamVerdict.SITS
    assert "mirror" in found[0].reason


def test_two_halves_of_a_wavy_cut_are_proposed_first():
    x = np.linspace(0, 200, 81)
    wave = np.column_stack((x, 60 + 12 * np.sin(x / 25)))
    low = Piece("low", "plate low", Shape.make([(0, 0), (200, 0), *wave[::-1].tolist()]))
    high = Piece("high", "plate high", Shape.make([*wave.tolist(), (200, 140), (0, 140)]))
    other = plate("other", 77, 55)
    found = propose_seams([low, high, other])
    assert all(p.score < found[0].score for p in found[1:])  # straight edges say less
    refs = {found[0].seam.first.piece, found[0].seam.second.piece}
    assert refs == {"low", "high"}
    assert "lie against each other" in found[0].reason
    known = propose_seams([low, high], [found[0].seam])
    assert found[0].seam not in [p.seam for p in known]


def test_left_and_right_are_not_proposed_to_each_other():
    x = np.linspace(0, 200, 81)
    wave = np.column_stack((x, 60 + 12 * np.sin(x / 25)))
    low = Piece("l", "p low", Shape.make([(0, 0), (200, 0), *wave[::-1].tolist()]), hand=Hand.LEFT)
    high = Piece("h", "p high", Shape.make([*wave.tolist(), (200, 140), (0, 140)]), hand=Hand.RIGHT)
    assert propose_seams([low, high]) == ()


# The book


def project():
    return Project(pieces=(plate("a", 100), plate("b", 101.5), plate("c", 70)))


def test_the_book_follows_the_pieces():
    joined = join_edges(project(), seam())
    assert [e.fit.verdict for e in seam_book(joined)] == [SeamVerdict.EASE]
    assert joined.piece("a").edges == edges_of(project().piece("a"))
    assert seam_name(joined, seam()) == "a A to b C"
    with pytest.raises(InputError, match="in a seam already"):
        join_edges(joined, seam("a", "c"))
    with pytest.raises(InputError, match="no edge 'X'"):
        join_edges(project(), seam("a", "b", "X"))
    assert joined_groups(joined) == (joined.pieces[:2], joined.pieces[2:])
    assert open_seam(joined, seam()).seams == ()
    assert remove_pieces(joined, ["b"]).seams == ()


def test_an_edit_says_what_it_does_to_seams():
    joined = join_edges(project(), seam())
    both = scale_pieces(joined, ["a", "b"], 1.1)
    change = seam_changes(joined, both)[0]
    assert change.after.verdict is SeamVerdict.EASE
    assert change.sentence == "still can be eased, 1.6 mm apart"
    alone = scale_pieces(joined, ["b"], 1.1)
    assert seam_changes(joined, alone)[0].sentence == (
        "can be eased now, then does not fit: 11.7 mm apart"
    )
    assert seam_changes(joined, scale_pieces(joined, ["c"], 2)) == ()


def test_a_seam_whose_edge_is_gone_has_no_fit():
    joined = join_edges(project(), seam())
    lost = replace(joined, pieces=tuple(replace(p, edges=p.edges[1:]) for p in joined.pieces))
    assert fit_of(lost, seam()) is None
    assert [e.fit for e in seam_book(lost)] == [None]


def test_lengths_are_along_the_curve():
    """Half a circle of radius 50 against a straight edge of π · 50."""
    angle = np.linspace(0, math.pi, 200)
    bow = Piece("a", "a", Shape.make(np.column_stack((50 * np.cos(angle), 50 * np.sin(angle)))))
    curved = next(e for e in edges_of(bow) if edge_length(bow, e) > 120)
    straight = plate("b", math.pi * 50)
    fit = seam_fit(bow, straight, Seam(EdgeRef("a", curved.name), EdgeRef("b", "A")))
    assert fit.percent == pytest.approx(0, abs=0.02)
