"""The Build station, worked as a maker works it: typed into, clicked, pulled, looked at."""

from decimal import Decimal

import numpy as np
import pytest
from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtTest import QTest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.build import (
    CoverKind,
    Face,
    FormKind,
    Given,
    LayerSize,
    ProfileKind,
    TrimKind,
)
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Crease, LineKind, Piece, PieceLine
from ivory_quilt.core.pattern.seams import EdgeRef, Joint, Seam
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.section import Handle, HandleKind
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.demo.project import demo_project
from ivory_quilt.desk.stations.build.presenter import BuildMode
from ivory_quilt.desk.work import at_once


def plate(ident="a", width=300.0, **rest):
    return Piece(ident, f"plate {ident}", rectangle(width, 90), **rest)


@pytest.fixture
def window(make_desk):
    made = make_desk(fill=False).window
    made.building.background = at_once
    return made


@pytest.fixture
def build(window):
    """The station with two plates that are glued together at a seam."""
    seam = Seam(EdgeRef("a", "B"), EdgeRef("b", "D"))
    window.session.start(Project(pieces=(plate("a"), plate("b")), seams=(seam,)))
    window.go("build")
    station = window.building
    station.open("a")
    return station


def made(station):
    return station.presenter.piece


def pick(box, words):
    """Choose an entry of a box as a hand does."""
    index = box.findText(words)
    assert index >= 0, [box.itemText(k) for k in range(box.count())]
    box.setCurrentIndex(index)
    box.activated.emit(index)


def pull(section, handle, to):
    """Drag a handle of the section to a place in mm."""
    start, stop = section.at(*handle.at), section.at(*to)
    for kind, at, held in (
        (QEvent.Type.MouseButtonPress, start, Qt.MouseButton.LeftButton),
        (QEvent.Type.MouseMove, stop, Qt.MouseButton.LeftButton),
        (QEvent.Type.MouseButtonRelease, stop, Qt.MouseButton.NoButton),
    ):
        there = section.mapToGlobal(QPointF(at))
        event = QMouseEvent(
            kind,
            QPointF(at),
            there,
            Qt.MouseButton.LeftButton,
            held,
            Qt.KeyboardModifier.NoModifier,
        )
        {
            QEvent.Type.MouseButtonPress: section.mousePressEvent,
            QEvent.Type.MouseMove: section.mouseMoveEvent,
            QEvent.Type.MouseButtonRelease: section.mouseReleaseEvent,
        }[kind](event)


# Form


def test_a_form_is_typed_and_the_cut_grows(build):
    card = build.form_card
    pick(card.kind, "Rolled")
    pick(card.given, "angle around")
    card.value.type("180")
    form = made(build).build.form
    assert (form.kind, form.given, form.value) == (FormKind.ROLLED, Given.ANGLE, 180)
    cut = build.presenter.cuts[0]
    assert cut.outer.width == pytest.approx(300 + np.pi * 3)
    assert "+9.4 mm" in cut.changes[0].text
    pick(card.face, "outer face, look")
    assert build.presenter.cuts[0].outer.width == pytest.approx(300 - np.pi * 3)
    assert made(build).build.form.face is Face.OUTER
    assert not card.caution.isHidden()
    build.session.undo()
    assert made(build).build.form.face is Face.INNER


def test_numbers_are_said_another_way(build):
    card = build.form_card
    pick(card.kind, "Rolled")
    card.value.type("100")
    pick(card.given, "angle around")
    assert made(build).build.form.value == pytest.approx(np.degrees(3.0), abs=0.1)
    pick(card.given, "closed around a girth")
    assert made(build).build.form.value == pytest.approx(2 * np.pi * 100, rel=0.01)


def test_a_form_that_cannot_be_says_so_and_keeps_the_parts(build):
    card = build.form_card
    pick(card.kind, "Rolled")
    card.value.type("10")
    assert "around" in card.problem.text()
    assert build.session.plan.parts["a"][0].shape.width == 300
    card.value.type("much")
    assert card.error.text()
    assert made(build).build.form.value == 10


def test_a_flat_piece_that_is_sealed_shrinks_too(build):
    found = build.session.stock.material("eva")
    book = replace(found.book, shrink_along=2.0, shrink_across=2.0)
    build.session.store.put_material(replace(found, book=book))
    build.session.reload_stock()
    assert build.presenter.cuts[0].outer.width == pytest.approx(300)
    build.form_card.sealed.click()
    assert build.presenter.cuts[0].outer.width == pytest.approx(300 / 0.98)
    assert not build.form_card.caution.isHidden()


def test_the_section_is_pulled_with_the_mouse(build):
    pick(build.form_card.kind, "Rolled")
    build.form_card.value.type("200")
    section = build.section
    (handle,) = section.section.handles
    pull(section, handle, (handle.at[0] - 40, handle.at[1] - 40))
    assert 60 < made(build).build.form.value < 160
    assert build.session.undo_label.startswith("Form")
    before = made(build).build.form.value
    section.setFocus()
    QTest.keyClick(section, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    assert made(build).build.form.value < before


def test_fold_lines_bend(window, build):
    line = PieceLine(LineKind.FOLD, np.array([[150.0, 0.0], [150.0, 90.0]]))
    window.session.start(Project(pieces=(plate(lines=(line,)),)))
    build.open("a")
    pick(build.form_card.kind, "Bent along lines")
    fields = build.form_card.findChildren(type(build.form_card.value))
    angle = next(f for f in fields if f.accessibleName() == "angle of fold 1")
    angle.type("90°")
    assert made(build).lines[0].crease.angle == 90
    assert build.presenter.cuts[0].outer.width == pytest.approx(300 + np.pi / 2 * 3, abs=1e-3)
    (handle,) = build.section.section.handles
    pull(build.section, handle, (0.0, 60.0))
    assert made(build).lines[0].crease.angle != 90


def test_a_deep_bowl_gets_its_darts(window, build):
    window.session.start(Project(pieces=(Piece("p", "bowl", rectangle(140, 140)),)))
    build.open("p")
    pick(build.form_card.kind, "Dished")
    build.form_card.value.type("52")
    card = build.form_card
    assert "darts" in card.verdict.text()
    assert build.flat._strain is not None
    card.mend.click()
    darts = build.presenter.verdict()[1].count
    assert darts >= 2
    assert len(window.session.project.seams) == darts
    card.value.type("10")
    assert "Goes by heat" in card.verdict.text()


def test_the_book_is_learned_from_strips(build):
    book = build.book
    book._toggle()
    book.before.setText("100, 100, 100, 100")
    book.after.setText("98, 97.9, 98.1, 98")
    book._reckon()
    assert "differs" in book.result.text()
    book.use.click()
    assert build.session.stock.material("eva").book.shrink_along == pytest.approx(2.0, abs=0.01)
    assert len(build.session.store.coupons()) == 1
    book.fields["density"].type("0.2 g/cm³")
    assert build.session.stock.material("eva").book.density == 0.2
    book.sheet_length.setText("1000")
    book.sheet_width.setText("500")
    book.grams.setText("360 g")
    book._weigh()
    assert build.session.stock.material("eva").book.density == pytest.approx(0.12)
    book.radius.setText("30")
    book.flat_length.setText(f"{np.pi / 2 * (30 + 0.4 * 6):.4f}")
    book._neutral()
    assert build.session.stock.material("eva").book.neutral == pytest.approx(0.4)
    book.fields["dish_limit"].type("900")
    assert "dish limit" in book.error.text()


# Edges


def test_an_edge_is_clicked_bevelled_and_pulled(build):
    build.go_to(BuildMode.EDGES)
    build.flat.clicked.emit(150.0, 2.0)
    assert build.presenter.edges.chosen_edge == "A"
    pick(build.edge_card.kind, "Bevel in")
    build.edge_card.angle.type("30")
    assert build.presenter.cuts[0].outer.height == pytest.approx(90 - 6 * np.tan(np.radians(30)))
    build.edge_card.table.type("45")
    assert made(build).build.profile("A").angle == 45
    (handle,) = build.section.section.handles
    pull(build.section, handle, (6.0, 6.0))
    assert made(build).build.profile("A").kind is ProfileKind.OUT
    assert made(build).build.profile("A").angle == 45
    build.edge_card.angle.type("89")
    assert "80°" in build.edge_card.error.text()


def test_both_edges_of_a_seam_meet(build):
    build.go_to(BuildMode.EDGES)
    build.presenter.edges.edge = "B"
    build.refresh()
    card = build.edge_card
    card.dihedral.type("120")
    assert "gape" in card.mate.text()
    card.meet.click()
    assert card.mate.text() == "Edges mate."
    assert build.presenter.edges.knife("B").angle == pytest.approx(30)
    assert len(build.section.section.bands) == 2
    card.ridge.click()
    assert build.presenter.edges.knife("B").angle == pytest.approx(45)
    pick(card.joint, "against the other's face")
    assert build.presenter.edges.seam().joint is Joint.BUTT


def test_an_undercut_is_said_and_pulled(window, build):
    line = PieceLine(LineKind.UNDERCUT, np.array([[150.0, 0.0], [150.0, 90.0]]))
    window.session.start(Project(pieces=(plate(lines=(line,)),)))
    build.open("a")
    build.go_to(BuildMode.EDGES)
    build.edge_card._put(0, Crease(90, skin=2.0))
    build.flat.clicked.emit(151.0, 45.0)
    wall = next(h for h in build.section.section.handles if h.kind is HandleKind.GROOVE_WALL)
    pull(build.section, wall, (2.0, 0.0))
    assert made(build).lines[0].crease.angle == pytest.approx(53, abs=1)
    foot = next(h for h in build.section.section.handles if h.kind is HandleKind.GROOVE_FOOT)
    pull(build.section, foot, (0.0, 5.0))
    assert made(build).lines[0].crease.skin == 1.0


@pytest.mark.parametrize(
    ("words", "kind"),
    [
        ("Blade, both faces", ProfileKind.BLADE),
        ("Rounded over", ProfileKind.ROUND),
        ("Lap", ProfileKind.LAP),
        ("To meet the neighbour", ProfileKind.MEET),
    ],
)
def test_every_profile_can_be_chosen(build, words, kind):
    build.go_to(BuildMode.EDGES)
    pick(build.edge_card.kind, words)
    assert made(build).build.profile(build.presenter.edges.chosen_edge).kind is kind
    assert build.section.section.bands


# Stack


def test_layers_are_glued_on_ordered_and_pulled(build):
    build.go_to(BuildMode.STACK)
    card = build.stack_card
    card.layers.add.click()
    card.layers.add.click()
    card.layers._layer(0, "thickness", 10.0)
    card.layers._layer(1, "size", LayerSize.INSET)
    card.layers._layer_by(1, "12 mm")
    assert [k.thickness for k in made(build).build.layers] == [10, 6]
    assert card.total.text() == "22 mm thick"
    handle = next(
        h for h in build.section.section.handles if h.same(Handle(HandleKind.INSET, (0, 0), "", 2))
    )
    pull(build.section, handle, (handle.at[0] - 8, handle.at[1]))
    assert made(build).build.layers[1].by == 20
    card.layers._sooner(1)
    assert [k.thickness for k in made(build).build.layers] == [6, 10]
    assert len(build.session.plan.parts["a"]) == 3
    card.layers._drop(0)
    assert len(made(build).build.layers) == 1


def test_wraps_covers_rods_and_trims(build):
    build.go_to(BuildMode.STACK)
    card = build.stack_card
    card.wrap.click()
    card.overhang.type("3")
    pick(card.cover, "cloth wrapped over")
    card.margin.type("12 mm")
    card.rod.type("8")
    card.trims.add.click()
    card.trims._trim(0, "kind", TrimKind.SQUARE)
    card.trims._trim_size(0, "12")
    own = made(build).build
    assert own.wrap.overhang == 3
    assert (own.cover.kind, own.cover.margin) == (CoverKind.CLOTH, 12)
    assert own.trims[0].size == 12
    assert card.trench.text() == "4 mm deep"
    names = [p.name for p in build.session.plan.parts["a"]]
    assert names == ["plate a", "plate a: edge wrap", "plate a: cloth front", "plate a: cloth back"]
    assert build.session.plan.lengths[0].length == pytest.approx(300)
    card.stretch.type("nonsense")
    assert card.error.text()


def test_a_piece_is_glued_onto_another_and_panels_cover_it(build):
    build.go_to(BuildMode.STACK)
    card = build.stack_card
    pick(card.placing.base, "plate b")
    card.placing.across.type("40 %")
    assert made(build).build.placing.across == pytest.approx(0.4)
    marks = build.session.plan.made["b"].cuts[0].piece.labels
    assert [m.text for m in marks] == ["cement here: plate a"]
    pick(card.placing.stands, "on edge A")
    assert made(build).build.placing.stands == "A"
    marks = build.session.plan.made["b"].cuts[0].piece.labels
    assert [m.text for m in marks] == ["plate a stands here"]
    build.open("b")
    card.placing.columns.setValue(2)
    card.placing.panels.click()
    assert len(build.session.project.pieces) == 4


def test_ways_to_a_thickness_stand_side_by_side(window, build):
    for t in (5.0, 6.0, 10.0):
        window.session.put_stock(
            sheet(f"S{t:g}", f"{t:g}", Foam(t, "eva"), (1000, 500), price=Decimal(int(t)))
        )
    build.go_to(BuildMode.FORM)
    build.ways.wanted.type("5 mm")
    ways = {c.way.words: c for c in build.ways.costs}
    assert {"5", "10 split in 2"} <= set(ways)
    assert ways["5"].minutes == 0 < ways["10 split in 2"].minutes
    assert all(c.ledger is not None for c in ways.values())
    build.ways._take(ways["10 split in 2"].way)
    assert (made(build).thickness, made(build).build.split) == (5, 2)
    assert build.session.plan.parts["a"][0].foam.thickness == 10


# The look


def test_a_group_is_worked_on_together(window, build):
    window.go("pattern")
    window.pattern.presenter.selected = ("a", "b")
    window.pattern.act("build")
    assert window.station is build
    pick(build.form_card.kind, "Rolled")
    assert {p.build.form.kind for p in window.session.project.pieces} == {FormKind.ROLLED}
    assert "2 pieces together" in build.subtitle.text()
    build.act("next-piece")
    assert build.presenter.piece_id == "b"


def test_an_empty_project_says_what_is_missing(window):
    window.session.start(Project())
    window.go("build")
    assert window.building.centre.currentIndex() == 1


@pytest.mark.parametrize(
    "ident",
    [
        "shin-cuff",
        "knee-cup",
        "wing-case",
        "horn-spine",
        "dorsal-ridge",
        "pole-blade",
        "shoulder-lame",
        "forearm-cuff",
        "crest-base",
    ],
)
def test_every_kind_of_making_is_shown(window, ident):
    window.session.start(demo_project())
    window.go("build")
    window.building.open(ident)
    for mode in (BuildMode.FORM, BuildMode.EDGES, BuildMode.STACK):
        window.building.go_to(mode)
        assert window.building.section.section is not None
    assert not window.building.presenter.problem
    assert shaping_of(window.building.presenter.piece) is not None
