"""What helps at the worst place: each edit does what it says, and is formed up to less strain."""

import math

import numpy as np
import pytest

from ivory_quilt.core.document.assembling import assembly_of
from ivory_quilt.core.document.forming_up import group_form, set_group_form
from ivory_quilt.core.document.mending import MendKind, hurt, mends, redrawn
from ivory_quilt.core.document.project import Project, remove_pieces
from ivory_quilt.core.document.recutting import recut, stretched_along
from ivory_quilt.core.document.seam_book import add_dart, fit_of, join_edges, part_piece
from ivory_quilt.core.editing.surgery import CutLine
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import Sphere
from ivory_quilt.core.formup.choices import FormerKind, GroupForm, Worn
from ivory_quilt.core.formup.form import form
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.measure.body import BodyPart
from ivory_quilt.core.pattern.build import FormKind
from ivory_quilt.core.pattern.edges import edge_length, edge_of, edges_of
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam, SeamVerdict
from ivory_quilt.core.record import replace

BALL = Sphere(90.0)


def disc(radius=80.0, corners=48):
    turns = [2 * math.pi * k / corners for k in range(corners)]
    return Shape.make([(radius * math.cos(t), 0.9 * radius * math.sin(t)) for t in turns])


@pytest.fixture(scope="module")
def knee():
    """Return a disc, its group on a ball, and its shape pressed down everywhere."""
    project = Project(pieces=(Piece("k", "knee cup", disc(), thickness=5.0),))
    group = assembly_of(project, "k", 9.0, BALL)
    firm = replace(group.assembly, firmly=True)
    return project, group, form(group.assembly).shape, form(firm).cut_as_it_stands()


@pytest.fixture(scope="module")
def found(knee):
    project, group, _, firm = knee
    return {m.kind: m for m in mends(project, group, firm, (3.0, 4.0, 5.0, 8.0))}


def formed(mend, edge=9.0, former=BALL):
    group = assembly_of(mend.project, mend.piece, edge, former)
    if mend.again:
        firm = form(replace(group.assembly, firmly=True)).cut_as_it_stands()
        return formed(redrawn(mend, group, firm), edge, former)
    return form(group.assembly).shape


def test_all_that_makes_sense_for_a_disc_on_a_ball_is_proposed(found):
    assert set(found) == {
        MendKind.DART,
        MendKind.RECUT,
        MendKind.PARTED,
        MendKind.HEAT,
        MendKind.THINNER,
    }


def test_a_dart_has_the_width_that_the_rim_is_crushed_by(knee, found):
    project, _, _, _ = knee
    dart = found[MendKind.DART]
    piece = dart.project.pieces[0]
    before = project.pieces[0].shape
    # A rim of radius r on a ball of R is 2πR sin(r/R): shorter by some 2π r³/6R² all round.
    short = 2 * math.pi * (76 - 92.5 * math.sin(76 / 92.5))
    assert 0.25 * short < dart.amount < 1.2 * short
    assert before.outline_length > piece.shape.outline_length - 2 * 76
    assert len(dart.project.seams) == 1
    assert fit_of(dart.project, dart.project.seams[0]).verdict is SeamVerdict.SITS
    wider = dart.with_amount(dart.amount + 10)
    assert wider.project.pieces[0].shape.area < piece.shape.area
    assert f"{dart.amount + 10:.0f} mm" in wider.words
    assert dart.with_amount(1e6).amount == dart.high


@pytest.mark.parametrize("kind", [MendKind.DART, MendKind.PARTED, MendKind.HEAT])
def test_what_helps_a_disc_on_a_ball_brings_it_nearer(knee, found, kind):
    _, _, stands, _ = knee
    shape = formed(found[kind])
    assert shape.off < 0.75 * stands.off
    assert hurt(shape) < hurt(stands)


def test_thinner_foam_is_the_next_to_be_had_and_heat_dishes_the_piece(found):
    assert found[MendKind.THINNER].project.pieces[0].thickness == 4.0
    form_of = found[MendKind.HEAT].project.pieces[0].build.form
    assert form_of.kind is FormKind.DISHED
    assert form_of.value == pytest.approx(90.0, rel=0.1)


def test_a_parted_piece_gets_a_shaped_seam_whose_sides_are_as_long(found):
    mend = found[MendKind.PARTED]
    assert len(mend.project.pieces) == 2
    group = assembly_of(mend.project, mend.piece, 9.0, BALL)
    firm = form(replace(group.assembly, firmly=True)).cut_as_it_stands()
    made = redrawn(mend, group, firm).project
    fit = fit_of(made, made.seams[0])
    straight = fit_of(mend.project, mend.project.seams[0])
    # It runs over the ball: longer than the straight line that it was cut along.
    assert fit.first > 1.01 * straight.first
    assert abs(fit.percent) < 1.0


def test_nothing_is_proposed_for_what_does_not_strain():
    project = Project(pieces=(Piece("a", "plate", rectangle(120, 80)),))
    group = assembly_of(project, "a", 14.0)
    assert mends(project, group, form(group.assembly).cut_as_it_stands()) == ()


def test_the_shorter_edge_of_a_seam_is_drawn_longer_and_pulls_less():
    long, short = Piece("a", "back", rectangle(212, 120)), Piece("b", "side", rectangle(200, 110))
    project = Project(pieces=(long, short))
    seam = Seam(EdgeRef("a", edges_of(long)[2].name), EdgeRef("b", edges_of(short)[0].name))
    project = join_edges(project, seam)
    group = assembly_of(project, "a", 14.0)
    shape = form(group.assembly).cut_as_it_stands()
    mend = next(m for m in mends(project, group, shape) if m.kind is MendKind.SEAM)
    assert mend.piece == "b"
    assert mend.amount == pytest.approx(12.0, abs=0.01)
    drawn = mend.project.piece("b")
    edge = edge_of(drawn, seam.second.edge)
    assert edge_length(drawn, edge) == pytest.approx(212, abs=0.3)
    before, after = (abs(s.seams[0].pull) for s in (shape, formed(mend, 14.0, None)))
    assert after < 0.5 * before


def test_a_piece_that_is_drawn_anew_keeps_its_edges_marks_and_lines(knee):
    _, group, _, firm = knee
    whole = Piece(
        "k", "knee cup", disc(), thickness=5.0, match_marks=((80.0, 0.0),), hand=Hand.PAIR
    )
    drawn = recut(whole, firm.panels[0], mirrored=group.assembly.panels[0].mirrored)
    assert [e.name for e in drawn.edges] == [e.name for e in edges_of(whole)]
    assert len(drawn.match_marks) == 1
    assert drawn.hand is Hand.PAIR
    half = recut(whole, firm.panels[0], 0.5, mirrored=False)
    gap = [np.abs(np.array(p.shape.bounds) - whole.shape.bounds).max() for p in (half, drawn)]
    assert 0 < gap[0] < gap[1]


# Seams of edges that are cut in two


def test_an_edge_that_is_parted_parts_the_edge_that_it_meets():
    a, b = Piece("a", "apron", rectangle(120, 60)), Piece("b", "belt", rectangle(120, 30))
    seam = Seam(EdgeRef("a", edges_of(a)[2].name), EdgeRef("b", edges_of(b)[0].name))
    project = join_edges(Project(pieces=(a, b)), seam)
    cut = part_piece(project, "a", CutLine((40, -5), (40, 65)))
    fits = [fit_of(cut, s) for s in cut.seams]
    assert sorted(round(f.first) for f in fits) == [40, 60, 80]
    assert all(f.verdict is SeamVerdict.SITS for f in fits)
    assert {s.second.piece for s in cut.seams[:2]} == {"b"}
    # They still lie side by side: nothing strains.
    group = assembly_of(cut, "a", 15.0)
    assert len(group.pieces) == 3
    assert form(group.assembly).strain.p99 < 1e-6


def test_a_dart_in_a_joined_edge_leaves_both_halves_joined():
    a, b = Piece("a", "apron", rectangle(120, 60)), Piece("b", "belt", rectangle(110, 30))
    seam = Seam(EdgeRef("a", edges_of(a)[2].name), EdgeRef("b", edges_of(b)[0].name))
    project = join_edges(Project(pieces=(a, b)), seam)
    made = add_dart(project, "a", (60.0, 60.0), (60.0, 25.0), 10.0)
    fits = [fit_of(made, s) for s in made.seams]
    assert len(fits) == 3
    assert all(f.verdict is SeamVerdict.SITS for f in fits)
    assert sorted(round(f.first) for f in fits) == [35, 55, 55]


# How a group is formed up


def test_how_a_group_is_formed_up_is_the_groups_and_outlives_its_pieces():
    a, b = Piece("a", "apron", rectangle(120, 60)), Piece("b", "belt", rectangle(120, 30))
    seam = Seam(EdgeRef("a", edges_of(a)[2].name), EdgeRef("b", edges_of(b)[0].name))
    project = join_edges(Project(pieces=(a, b)), seam)
    assert group_form(project, ("a", "b")) == GroupForm("a")
    ball = GroupForm("a", FormerKind.BALL, 70.0, worn=Worn(BodyPart.TORSO, 0.4, 30))
    project = set_group_form(project, ("a", "b"), ball)
    assert group_form(project, ("b",)) == GroupForm("b")
    assert group_form(project, ("a", "b")) == ball
    assert group_form(remove_pieces(project, ["a"]), ("b",)) == replace(ball, piece="b")
    assert remove_pieces(project, ["a", "b"]).forms == ()
    assert set_group_form(project, ("a", "b"), GroupForm("a")).forms == ()
    with pytest.raises(InputError, match="5 to 2000"):
        GroupForm("a", radius=1.0)
    with pytest.raises(InputError, match="height on the body"):
        Worn(BodyPart.HEAD, 3.0)


def test_a_piece_is_stretched_along_an_edge_until_that_is_as_long():
    piece = Piece("a", "crown", Shape.make([(0, 0), (200, 20), (190, 90), (0, 80)]), thickness=5.0)
    name = edges_of(piece)[0].name
    made = stretched_along(piece, name, 230.0)
    assert edge_length(made, edge_of(made, name)) == pytest.approx(230.0, abs=0.02)
    # Across the edge it stays as wide: the area grows as the edge does.
    before = edge_length(piece, edge_of(piece, name))
    assert made.shape.area / piece.shape.area == pytest.approx(230.0 / before, rel=1e-3)
    assert [e.name for e in made.edges] == [e.name for e in edges_of(piece)]
    round_ = Piece("b", "disc", disc(40.0), thickness=5.0)
    with pytest.raises(InputError, match="no direction"):
        stretched_along(round_, edges_of(round_)[0].name, 400.0)
