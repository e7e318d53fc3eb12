"""Edits that reach several pieces: darts and gores, seams of another thickness, sizes, groups."""

import math

import numpy as np
import pytest

from ivory_quilt.core.document.darts import as_gores, darts_in, dish_verdict, with_darts
from ivory_quilt.core.document.project import (
    KeptLayout,
    Paper,
    Project,
    move_part,
    set_ease,
    set_gap,
    set_halves,
    set_paper,
    set_pins,
    set_rule,
)
from ivory_quilt.core.document.seam_book import (
    fit_of,
    join_edges,
    joined_by_thickness,
    joined_groups,
    put_seam,
    rename_edge,
    seam_changes,
    seam_name,
)
from ivory_quilt.core.document.sizing import SizeMethod, size_choices, sized
from ivory_quilt.core.document.wearers import add_wearer, put_study, remove_wearer
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.dishing import Remedy
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.measure.fit import Fit, KeyOf
from ivory_quilt.core.measure.study import Study
from ivory_quilt.core.measure.wearer import Measure
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.build import Build, Form, FormKind, Given
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Hand, Piece, TraceRule
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
from ivory_quilt.core.record import replace


def plate(ident, width=100.0, height=40.0, **more):
    return Piece(ident, f"plate {ident}", rectangle(width, height), **more)


def seam(one, edge, two, other):
    return Seam(EdgeRef(one, edge), EdgeRef(two, other))


# Bowls


def bowl(degrees, radius=110.0, **more):
    """A flat disc that is dished to a sphere on which its rim lies so far from the pole."""
    form = Form(
        FormKind.DISHED, Given.RADIUS, radius / (2 * math.sin(math.radians(degrees) / 2)) - 3
    )
    shape = Shape.make(circle((radius, radius), radius))
    return Piece("w", "bowl", shape, build=Build(form=form), thickness=6.0, **more)


def test_darts_reach_towards_the_middle_as_deep_as_they_are_needed():
    project = Project(pieces=(bowl(66.0),))
    verdict = dish_verdict(project.piece("w"), 0.5, 5.0)
    assert verdict.count >= 3
    made = with_darts(project, "w", verdict).piece("w")
    ring = np.vstack((made.shape.outer, made.shape.outer[:1]))
    away = np.hypot(*(made.shape.outer - 110.0).T)
    tips = np.sort(away)[: verdict.count]
    # All are equally deep, and the foam between them keeps the rim.
    assert np.ptp(tips) < 0.5
    share = (110.0 - tips.mean()) / 110.0
    assert share == pytest.approx(verdict.depth / max(verdict.depth, 110.0), abs=0.02)
    assert away.max() == pytest.approx(110.0, abs=0.05)
    lost = math.pi * 110.0**2 - made.shape.area
    triangles = verdict.count * verdict.dart * (110.0 - tips.mean()) / 2
    assert lost == pytest.approx(triangles, rel=0.05)
    assert len(ring) > verdict.count


def test_gores_are_those_of_the_bowl_they_replace():
    """From pole to rim R θ on the sphere of the inner face, the half width (π ÷ n) R sin θ."""
    project = Project(pieces=(bowl(80.0, count=2, hand=Hand.PAIR),))
    verdict = dish_verdict(project.piece("w"), 0.5, 12.0)
    made = as_gores(project, "w", verdict)
    assert sum(p.count for p in made.pieces) == 2 * verdict.count
    (gore,) = made.pieces
    assert (gore.name, gore.hand, gore.thickness) == ("bowl gore", Hand.PAIR, 6.0)
    numbers = dict(gore.recipe.values)
    angle = math.radians(verdict.reckoning.inputs["angle"])
    inside = verdict.reckoning.inputs["sphere_radius"] - 3
    assert float(numbers["diameter"]) == pytest.approx(2 * inside * math.sin(angle), abs=0.001)
    assert float(numbers["height"]) == pytest.approx(inside * (1 - math.cos(angle)), abs=0.001)
    assert numbers["count"] == str(verdict.count)


# Seams


def test_pieces_that_seams_hold_together_are_one_group():
    pieces = tuple(plate(i) for i in "abcdef")
    seams = (
        seam("b", "B", "c", "D"),
        seam("a", "B", "b", "D"),
        seam("e", "A", "e", "C"),
        seam("f", "A", "gone", "C"),
    )
    found = joined_groups(Project(pieces=pieces, seams=seams))
    assert [[p.id for p in group] for group in found] == [["a", "b", "c"], ["e"], ["f"], ["d"]]
    assert joined_groups(Project(pieces=pieces[:1])) == ((pieces[0],),)
    assert joined_groups(Project()) == ()


def test_ease_is_a_percentage_of_the_shorter_edge():
    project = Project(
        pieces=(plate("a"), plate("b", 103.0)), seams=(seam("a", "A", "b", "C"),), ease=4.0
    )
    assert fit_of(project, project.seams[0]).ease == pytest.approx(0.04)
    assert [fit_of(set_ease(project, e), project.seams[0]).verdict.value for e in (2.9, 3.1)] == [
        "does not fit",
        "ease it in",
    ]


@pytest.mark.parametrize(("wider", "told"), [(0.04, False), (0.06, True), (-3.0, True)])
def test_seams_that_another_thickness_changes_are_told(wider, told):
    project = Project(
        pieces=(plate("a"), plate("b"), plate("c")),
        seams=(seam("a", "A", "b", "C"), seam("b", "A", "c", "C")),
    )
    cut = {p.id: p for p in project.pieces}
    other = cut | {"a": plate("a", 100.0 + wider)}
    found = joined_by_thickness(project, "a", cut, other)
    assert [s for s, _, _ in found] == [project.seams[0]] * told
    assert all(was.difference - now.difference == pytest.approx(wider) for _, was, now in found)
    assert joined_by_thickness(project, "c", cut, other) == ()
    third = cut | {"c": plate("c", 101.0)}
    assert [s for s, _, _ in joined_by_thickness(project, "c", cut, third)] == [project.seams[1]]
    assert joined_by_thickness(project, "a", cut, {}) == ()


def test_an_edit_tells_of_seams_whose_edges_it_changed():
    project = Project(pieces=(plate("a"), plate("b")), seams=(seam("a", "A", "b", "C"),))
    longer = replace(project, pieces=(plate("a", 100.02), plate("b", 100.02)))
    (change,) = seam_changes(project, longer)
    assert (change.before.first, change.after.first) == pytest.approx((100.0, 100.02))
    assert seam_changes(project, replace(project, pieces=(plate("a", 100.004), plate("b")))) == ()
    assert seam_changes(project, replace(project, seams=())) == ()
    (gone,) = seam_changes(project, replace(project, pieces=(plate("b"),)))
    assert gone.after is None
    assert gone.sentence == "an edge is gone"


def test_a_seam_is_put_in_anothers_place_and_named():
    first, second = seam("a", "A", "b", "C"), seam("a", "B", "b", "D")
    project = Project(pieces=(plate("a"), plate("b")), seams=(first, second))
    turned = replace(second, turned=True)
    assert put_seam(project, second, turned).seams == (first, turned)
    assert "plate a" in seam_name(project, first)
    assert "plate b" in seam_name(project, first)


# Sizes


def needed(now, wanted):
    return Fit(Measure("shoe", wanted), now)


@pytest.mark.parametrize(("wide", "side", "sign"), [(106.4, "outside", 1), (93.6, "inside", -1)])
def test_an_offset_says_its_side(wide, side, sign):
    project = Project(pieces=(plate("a"),))
    made = sized(project, ["a"], "a", KeyOf.WIDTH, needed(100.0, wide), SizeMethod.OFFSET)
    assert made.words == f"3.2 mm {side} the line all around"
    assert made.amount == pytest.approx(3.2 * sign, abs=0.01)


@pytest.mark.parametrize(("key", "direction"), [(KeyOf.WIDTH, "across"), (KeyOf.HEIGHT, "upwards")])
def test_a_stretch_says_its_direction(key, direction):
    project = Project(pieces=(plate("a", 100.0, 100.0),))
    made = sized(project, ["a"], "a", key, needed(100.0, 104.56), SizeMethod.STRETCH)
    assert made.words == f"stretched {direction} to 104.6 %"
    assert made.amount == pytest.approx(104.56)


def test_a_scale_says_a_tenth_of_a_percent():
    project = Project(pieces=(plate("a"),))
    made = sized(project, ["a"], "a", KeyOf.WIDTH, needed(100.0, 103.26), SizeMethod.SCALE)
    assert made.words == "scaled to 103.3 %"
    assert made.amount == pytest.approx(103.26)
    assert size_choices(needed(100.0, 110.0), 0.02) == pytest.approx((1.078, 1.1, 1.122))


def test_a_strip_is_let_into_what_is_too_small_only():
    project = Project(pieces=(plate("a"),))
    made = sized(project, ["a"], "a", KeyOf.WIDTH, needed(100.0, 100.8), SizeMethod.STRIP)
    assert made.project.piece("a").shape.width == pytest.approx(100.8)
    for smaller in (100.0, 90.0):
        with pytest.raises(InputError, match="large enough"):
            sized(project, ["a"], "a", KeyOf.WIDTH, needed(100.0, smaller), SizeMethod.STRIP)
    for way in (SizeMethod.STRIP, SizeMethod.STRETCH):
        with pytest.raises(InputError, match="no direction"):
            sized(project, ["a"], "a", KeyOf.OUTLINE, needed(280.0, 290.0), way)


# The project


def test_choices_of_the_project_are_kept_and_checked():
    project = Project()
    assert set_gap(project, 3.5).gap == 3.5
    assert set_paper(project, Paper.A3).paper is Paper.A3
    assert set_halves(project, halves=True).halves
    assert set_rule(project, TraceRule(pen=1.0)).rule.pen == 1.0
    for wrong in (-0.1, float("nan")):
        with pytest.raises(InputError):
            set_gap(project, wrong)
    with pytest.raises(InputError):
        set_ease(project, -1.0)


def test_a_part_of_a_kept_layout_is_moved_alone():
    eva = Foam(6.0, "eva")
    one, two = (Placement("p", k, "s", 0, Pose(10.0 * k, 0.0)) for k in (0, 1))
    kept = KeptLayout(eva, (one, two))
    moved = replace(two, pose=Pose(50.0, 60.0))
    assert move_part(kept, moved).placements == (one, moved)
    pinned = set_pins(kept, [("p", 1)], pinned=True)
    assert pinned.pinned() == (two,)


def test_wearers_come_and_go():
    project = add_wearer(add_wearer(Project(), "Lin"), "Ola")
    first, second = project.wearers
    assert (first.name, second.name) == ("Lin", "Ola")
    assert first.id != second.id
    assert remove_wearer(project, first.id).wearers == (second,)


def test_darts_are_counted_among_other_seams():
    """Seams to other pieces, of one edge to itself, and of edges that are gone are no darts."""
    project = Project(pieces=(bowl(66.0), plate("a"), plate("b")))
    darted = with_darts(project, "w", dish_verdict(project.piece("w"), 0.5, 5.0))
    count = len(darted.seams)
    assert {s.first.edge for s in darted.seams} == {f"dart {k + 1}a" for k in range(count)}
    others = (seam("a", "A", "b", "C"), seam("w", "gone", "w", "A"), seam("w", "A", "w", "A"))
    mixed = replace(darted, seams=(*others, *darted.seams))
    verdict = dish_verdict(project.piece("w"), 0.5, 5.0)
    assert darts_in(mixed, "w").count == count
    assert darts_in(mixed, "w").width == pytest.approx(count * verdict.dart, rel=0.01)


def test_darts_stand_clear_of_corners():
    """On a square four darts stand in the middles of its sides, never in its corners."""
    square = Piece(
        "w",
        "bowl",
        rectangle(160.0, 160.0),
        build=Build(form=Form(FormKind.DISHED, Given.HEIGHT, 70.0)),
        thickness=6.0,
    )
    project = Project(pieces=(square,))
    verdict = replace(
        dish_verdict(square, 0.5, 5.0), remedy=Remedy.DARTS, count=4, dart=8.0, depth=400.0
    )
    made = with_darts(project, "w", verdict).piece("w").shape
    for corner in ((0.0, 0.0), (160.0, 0.0), (160.0, 160.0), (0.0, 160.0)):
        assert np.hypot(*(made.outer - corner).T).min() < 0.01
    # However deep they should be, a fifth of the way to the middle stays whole.
    assert np.hypot(*(made.outer - 80.0).T).min() == pytest.approx(0.2 * 80.0, abs=0.6)


def test_a_bowl_is_made_of_no_fewer_than_three_gores():
    project = Project(pieces=(bowl(80.0),))
    verdict = replace(dish_verdict(project.piece("w"), 0.5, 12.0), count=0)
    (gore,) = as_gores(project, "w", verdict).pieces
    assert gore.count == 3


def test_a_renamed_edge_keeps_its_seams():
    project = join_edges(Project(pieces=(plate("a"), plate("b"))), seam("a", "A", "b", "C"))
    project = join_edges(project, seam("a", "B", "b", "D"))
    named = rename_edge(project, "a", "A", " foot ")
    assert [s.first for s in named.seams] == [EdgeRef("a", "foot"), EdgeRef("a", "B")]
    assert [s.second for s in named.seams] == [EdgeRef("b", "C"), EdgeRef("b", "D")]


def test_what_becomes_of_seams_is_said_with_the_first_that_is_lost():
    pieces = (plate("a"), plate("b"), plate("c"), plate("d"))
    seams = (seam("a", "A", "b", "C"), seam("a", "C", "c", "A"), seam("a", "B", "d", "D"))
    project = Project(pieces=pieces, seams=seams)
    one = sized(project, ["a"], "a", KeyOf.WIDTH, needed(100.0, 112.0), SizeMethod.STRETCH)
    assert one.seam_words() == (
        "2 of 2 changed seams fit otherwise: sits now, then does not fit: 12 mm apart."
    )
    every = sized(project, "abcd", "a", KeyOf.WIDTH, needed(100.0, 112.0), SizeMethod.STRETCH)
    assert every.seam_words() == "All 2 seams changed in length still fit as before."
    none = sized(project, ["b"], "b", KeyOf.HEIGHT, needed(40.0, 44.0), SizeMethod.STRETCH)
    assert none.seam_words() == "No seam changes its length."


def test_a_picture_is_studied_once():
    first, second = Study("one.png"), Study("two.png")
    project = put_study(put_study(Project(), first), second)
    assert put_study(project, first).studies == (second, first)
