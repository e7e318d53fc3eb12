"""Sewing in Build: ticked, typed and laid."""

import pytest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.build import CoverKind
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.sewing import EdgeFinish
from ivory_quilt.desk.work import at_once


@pytest.fixture
def build(make_desk):
    window = make_desk().window
    window.building.background = at_once
    apron = Piece("p", "apron", rectangle(200, 100), material="cloth", thickness=1.0)
    foam = Piece("q", "core", rectangle(200, 100), thickness=20.0)
    window.session.start(Project(pieces=(apron, foam)))
    window.go("build")
    window.building.open("p")
    window.building.act("build-edges")
    return window.building


def sewing(build):
    return build.session.project.piece("p").build.sewing


def test_cloth_is_given_allowances_hems_darts_and_stretch(build):
    box = build.edge_card.sewing
    assert box.isVisible()
    assert not box.body.isVisible()
    box.on.click()
    assert box.body.isVisible()
    box.allowance.type("12")
    assert build.presenter.cuts[0].outer.area == pytest.approx(224 * 124)
    box.finish.show_value(EdgeFinish.HEM)
    box._set_finish(EdgeFinish.HEM)
    box.wide.type("30")
    assert sewing(build).outside("A") == 30.0
    box.add_dart.click()
    assert "180" in box.length.text()
    box._dart(0, "depth", "300")
    assert "shallower" in build.edge_card.error.text()
    box._dart(0, "width", "24")
    assert sewing(build).darts[0].width == 24.0
    box._drop_dart(0)
    assert sewing(build).darts == ()
    box.across.type("60 %")
    assert "gives" in box.gives.text()
    box.across.type("10")
    assert box.gives.text() == ""
    box.on.click()
    assert sewing(build) is None
    build.session.undo()
    assert sewing(build).across == 10.0


def test_foam_has_no_sewing_but_a_case_may_go_over_it(build):
    build.open("q")
    assert not build.edge_card.sewing.isVisible()
    build.act("build-stack")
    card = build.stack_card
    card.cover.show_value(CoverKind.SEWN)
    card._cover(CoverKind.SEWN)
    assert card.ease_line.isVisible()
    assert card.margin_line.words.text() == "Seam allowance"
    card.ease.type("1.5")
    card.margin.type("8")
    front = next(c for c in build.presenter.cuts if c.suffix == "+sewn front")
    assert front.outer.width == pytest.approx(200 + 2 * (0.5 + 1.5) + 2 * 8)
