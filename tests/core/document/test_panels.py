"""Panels on a base, darts in a bowl, thicknesses of other foam: edits that reach several pieces."""

import numpy as np
import pytest

from ivory_quilt.core.document.darts import DartsCut, darts_in, strained
from ivory_quilt.core.document.panels import PanelGrid, panels, with_panels
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.thickness import in_way
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.forming.dishing import dishing
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import Build, Form, FormKind, Given, Layer
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.thickness import ThicknessWay

BASE = Piece("b", "belly", rectangle(300.0, 100.0), material="tile", count=2, hand=Hand.PAIR)


def sizes(found):
    return [(round(p.shape.width, 6), round(p.shape.height, 6)) for p in found]


def test_panels_share_a_base_less_its_rim_and_the_channels():
    """300 mm, 10 of rim and channels of 6: thirds of 100, less rim or half a channel each side."""
    found = panels(BASE, PanelGrid(3, 1, channel=6.0, rim=10.0, thickness=2.0, material="eva"))
    assert sizes(found) == [(87.0, 80.0), (94.0, 80.0), (87.0, 80.0)]
    lefts = [p.shape.bounds[0] for p in found]
    assert lefts == pytest.approx([10.0, 103.0, 203.0])
    first = found[0]
    assert (first.id, first.name, first.count) == ("b-panel-1", "belly panel 1", 2)
    assert (first.thickness, first.material, first.hand) == (2.0, "eva", Hand.PAIR)
    assert (first.build.placing.base, first.build.placing.up) == ("b", pytest.approx(0.5))
    across = [p.build.placing.across for p in found]
    assert across == pytest.approx([53.5 / 300, 0.5, 246.5 / 300])


def test_a_panels_place_is_a_share_of_its_base_wherever_that_is_drawn():
    moved = replace(BASE, shape=Shape.make(BASE.shape.outer + np.array([400.0, -70.0])))
    found = panels(moved, PanelGrid(3, 1, channel=6.0, rim=10.0))
    across = [p.build.placing.across for p in found]
    assert across == pytest.approx([53.5 / 300, 0.5, 246.5 / 300])
    assert [p.build.placing.up for p in found] == pytest.approx([0.5] * 3)


def test_rows_of_panels_are_counted_from_the_foot():
    found = panels(BASE, PanelGrid(1, 2, channel=4.0, rim=0.0))
    assert sizes(found) == [(300.0, 48.0), (300.0, 48.0)]
    assert [p.build.placing.up for p in found] == pytest.approx([0.24, 0.76])
    assert [p.material for p in found] == ["tile", "tile"]


@pytest.mark.parametrize(("high", "left"), [(5.7, 0), (6.9, 3)])
def test_specks_are_no_panels(high, left):
    """Under 60 mm² nothing can be held or glued (our choice): here they are 10 mm wide."""
    thin = replace(BASE, shape=rectangle(30.0, high))
    grid = PanelGrid(3, 1, channel=0.0, rim=0.0)
    if not left:
        with pytest.raises(InputError, match="nothing is left"):
            panels(thin, grid)
        return
    assert len(panels(thin, grid)) == left


def test_usual_panels_are_three_across_with_an_even_channel():
    """From memory, no source: 4 mm of channel, 8 mm of rim, 4 mm foam."""
    found = panels(BASE, PanelGrid())
    assert sizes(found) == [(90.0, 84.0), (96.0, 84.0), (90.0, 84.0)]
    assert {p.thickness for p in found} == {4.0}
    assert len(with_panels(Project(pieces=(BASE,)), "b", PanelGrid()).pieces) == 4


@pytest.mark.parametrize(
    "wrong",
    [
        {"across": 0},
        {"across": 21},
        {"up": 0},
        {"up": 21},
        {"channel": -1},
        {"channel": 101},
        {"rim": -1},
        {"rim": 201},
    ],
)
def test_grids_that_make_no_sense_are_refused(wrong):
    with pytest.raises(InputError):
        PanelGrid(**wrong)


def test_grids_at_their_limits_are_taken():
    assert PanelGrid(20, 20, channel=100.0, rim=200.0).across == 20
    assert PanelGrid(1, 1, channel=0.0, rim=0.0).up == 1


BOWL = Piece(
    "w",
    "bowl",
    Shape.make(circle((0.0, 0.0), 110.0)),
    build=Build(form=Form(FormKind.DISHED, Given.RADIUS, 95.0)),
)


@pytest.mark.parametrize(("share", "answered"), [(0.80, False), (0.84, False), (0.86, True)])
def test_darts_need_take_up_most_of_what_is_too_much(share, answered):
    """Heat does the last of it (from memory, no source)."""
    verdict = dishing(100.0, 1.15, 0.05)
    assert verdict.count > 0
    cut = DartsCut(verdict.count, share * verdict.count * verdict.dart)
    assert cut.answer(verdict) == answered


def test_bowls_too_deep_for_heat_are_told_and_others_are_not():
    flat = replace(BOWL, id="f", build=Build(form=Form(FormKind.DISHED, Given.RADIUS, 900.0)))
    none = replace(BOWL, id="n", count=0)
    plain = Piece("p", "plate", rectangle(50, 50))
    project = Project(pieces=(BOWL, flat, none, plain))
    assert [p.id for p in strained(project, {})] == ["w"]
    assert strained(project, {"eva": FoamBook(dish_limit=80.0)}) == ()
    assert darts_in(project, "w") == DartsCut(0, 0)


def test_a_piece_is_made_of_other_foam_beneath_what_is_glued_on():
    own = Layer(2.0, "eva")
    piece = replace(BASE, thickness=10.0, build=Build(layers=(own,)))
    project = Project(pieces=(piece,))
    glued = in_way(project, "b", ThicknessWay((6.0, 4.0))).piece("b")
    assert glued.thickness == 6.0
    assert [(k.thickness, k.material) for k in glued.build.layers] == [(4.0, "tile"), (2.0, "eva")]
    split = in_way(project, "b", ThicknessWay((20.0,), 2)).piece("b")
    assert (split.thickness, split.build.split, split.build.layers) == (10.0, 2, (own,))
    other = in_way(project, "b", ThicknessWay((9.5,))).piece("b")
    assert (other.thickness, other.build.split, other.build.layers) == (9.5, 1, (own,))
