"""Finish in Build, worked as a maker works it."""

import numpy as np
import pytest
from PySide6.QtGui import QColor

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.piece import LineKind, Piece, PieceLine
from ivory_quilt.core.pattern.region import RegionKind
from ivory_quilt.core.pattern.surface import SurfaceKind, WorkFace
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.solid import FOAM, solid_of
from ivory_quilt.desk.solid.view import painted_colours
from ivory_quilt.desk.stations.build.presenter import BuildMode
from ivory_quilt.desk.work import at_once
from tests.desk.conftest import let_run

LINES = (
    PieceLine(LineKind.MARK, np.array([(20.0, 50.0), (180.0, 50.0)])),
    PieceLine(LineKind.MARK, np.vstack((circle((100, 50), 20), circle((100, 50), 20)[:1]))),
)


@pytest.fixture
def build(make_desk):
    window = make_desk(fill=False).window
    window.building.background = at_once
    one = Piece("p", "plate", rectangle(200, 100), lines=LINES)
    window.session.start(Project(pieces=(one, replace(one, id="q", name="other"))))
    window.go("build")
    window.building.open("p")
    window.building.act("build-finish")
    return window.building


def works(build, ident="p"):
    return build.session.project.piece(ident).build.works


def add(build, kind, where):
    card = build.finish_card
    card.kind.show_value(kind)
    card._fill_places()
    card.place.setCurrentIndex(card.place.findText(where))
    card.add.click()


def typed(table, r, c, text):
    table.item(r, c).setText(text)


def test_works_are_added_changed_and_taken_out(build):
    card, table = build.finish_card, build.finish_pane.works
    assert build.presenter.mode is BuildMode.FINISH
    add(build, SurfaceKind.CARVE, "along line 1")
    add(build, SurfaceKind.CLAY, "along edge A")
    assert [w.kind for w in works(build)] == [SurfaceKind.CARVE, SurfaceKind.CLAY]
    assert card.title.text().startswith("Clay")
    typed(table, 0, 3, "3mm")
    typed(table, 1, 2, "inner")
    assert works(build)[0].depth == 3.0
    assert works(build)[1].face is WorkFace.INNER
    table.setCurrentCell(0, 0)
    assert card.title.text().startswith("Carve")
    assert card.left.text() == "3 mm"
    card.deep.type("5.5")
    assert "leave 1.5 mm" in card.thin.text()
    typed(table, 0, 1, "line 9 3 mm")
    assert "no foam at line 9" in build.finish_pane.error.text()
    assert works(build)[0].region.of == "1"
    typed(table, 0, 0, "polish")
    assert "burn, carve" in build.finish_pane.error.text()
    card.remove.click()
    assert [w.kind for w in works(build)] == [SurfaceKind.CLAY]
    build.session.undo()
    assert len(works(build)) == 2


def test_only_lines_are_offered_for_what_follows_one(build):
    card = build.finish_card
    card.kind.show_value(SurfaceKind.BURN)
    card._fill_places()
    offered = [card.place.itemText(k) for k in range(card.place.count())]
    assert offered == ["along line 1", "along line 2"]
    card.kind.show_value(LineKind.SLIT)
    card.add.click()
    assert build.session.project.piece("p").lines[0].kind is LineKind.SLIT


def test_a_click_takes_what_lies_there_in_hand(build):
    add(build, SurfaceKind.TEXTURE, "all of it")
    add(build, SurfaceKind.CARVE, "along line 1")
    build.flat.clicked.emit(30.0, 90.0)
    assert build.presenter.finish.chosen == 0
    build.flat.clicked.emit(30.0, 52.0)
    assert build.presenter.finish.chosen == 1
    assert build.section.section is not None
    shown = build.flat._finish
    assert shown.hand is not None
    assert shown.works == ()  # what covers all of a face is not drawn over the rest


def test_grits_material_and_words_are_typed(build):
    card = build.finish_card
    add(build, SurfaceKind.SAND, "all of it")
    for field, text in ((card.grits, "80 120"),):
        field.setText(text)
        field.setModified(True)
        field.editingFinished.emit()
    assert works(build)[0].grits == (80, 120)
    card.grits.setText("rough")
    card.grits.setModified(True)
    card.grits.editingFinished.emit()
    assert "such as" in card.error.text()
    add(build, SurfaceKind.FOIL, "inside line 2")
    card.material.setText("copper foil")
    card.material.setModified(True)
    card.material.editingFinished.emit()
    card.margin.type("4")
    assert (works(build)[1].material, works(build)[1].margin) == ("copper foil", 4.0)


def test_tones_are_given_shown_and_passed_on(build):
    pane = build.finish_pane
    pane.show_list("colour")
    tones = pane.tones
    typed(tones, 0, 0, "deep green")
    typed(tones, 0, 3, "#2f5d3a")
    typed(tones, 1, 0, "old gold")
    typed(tones, 1, 1, "edges 10 mm")
    typed(tones, 1, 2, "2 sprayed, 1 wash")
    typed(tones, 1, 3, "#b8913a")
    found = build.session.project.paint
    assert [(a.tone, a.pieces, a.coats, a.on) for a in found] == [
        ("deep green", ("p",), 2, RegionKind.WHOLE),
        ("old gold", ("p",), 3, RegionKind.EDGE),
    ]
    piece, context, areas = build.solid._wanted
    solid = solid_of(piece, context, tuple(a.region for a in areas))
    assert set(solid.toned) == {FOAM, 0, 1}
    assert let_run(lambda: build.solid.shows, 20)
    colours = build.solid._colours(build.look)
    assert colours == painted_colours(solid, ("#2f5d3a", "#b8913a"), build.look)
    assert QColor("#b8913a") in colours
    # Of the outer face, 180 × 80 mm stay green; the edges are green as well.
    corners = solid.corners
    sizes = (
        np.linalg.norm(
            np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1
        )
        / 2
    )
    numbers = np.array(solid.toned)[solid.layer]
    assert sizes[numbers == 1].sum() == pytest.approx(200 * 100 - 180 * 80, rel=1e-6)
    assert sizes[numbers == 0].sum() == pytest.approx(180 * 80 + 600 * 6, rel=1e-6)
    build.session.selected = ("p", "q")
    build.refresh()
    build.finish_card.give.click()
    assert {a.pieces for a in build.session.project.paint} == {("p", "q")}
    typed(tones, 0, 0, "")
    assert [a.pieces for a in build.session.project.paint] == [("q",), ("p", "q")]


def test_works_of_a_group_are_done_to_all(build):
    build.open("p", ("p", "q"))
    add(build, SurfaceKind.TEXTURE, "along all edges")
    assert len(works(build)) == len(works(build, "q")) == 1
