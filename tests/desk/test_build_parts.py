"""Parts of Build's screen on their own: fields, edge bars, the solid, the section, the strain."""

import numpy as np
import pytest
from PySide6.QtCore import QPoint, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QWheelEvent
from PySide6.QtTest import QTest

from ivory_quilt.core.forming.forms import own_place, shaping_of
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import Build, Form, FormKind, Given, Layer, Profile, ProfileKind
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.rendering.camera import Camera
from ivory_quilt.core.stacks.cut import CutContext
from ivory_quilt.core.stacks.form_section import form_section
from ivory_quilt.core.stacks.layering import cuts_of
from ivory_quilt.core.stacks.section import Section
from ivory_quilt.core.stacks.solid import solid_of
from ivory_quilt.core.stock.foam_stock import MaterialKind
from ivory_quilt.core.units import show_weight
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.solid.view import SolidView
from ivory_quilt.desk.stations.build.flat import FlatTable
from ivory_quilt.desk.stations.build.section_view import SectionView
from ivory_quilt.desk.theme.palette import DARK, LIGHT
from ivory_quilt.desk.widgets.edgebar import EdgeBar, paint_bar, pixels_per_mm
from ivory_quilt.desk.widgets.fields import EntryField, number_in, tick, with_field
from tests.desk.conftest import let_run


def pixels(widget):
    image = widget.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
    seen = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), -1, 4)
    return seen[..., :3].astype(int).copy()


def plate(**build):
    return Piece("p", "plate", rectangle(200, 80), build=Build(**build))


# Fields


def test_a_field_tells_only_what_a_hand_has_typed(qtbot):
    told = []
    field = EntryField("radius", told.append)
    qtbot.addWidget(field)
    field.show_value(12.5)
    assert field.text() == "12.5 mm"
    field._typed()
    assert told == []  # shown, not typed
    field.type("14 mm")
    assert told == ["14 mm"]
    field.show_value(14, "°")
    assert field.text() == "14°"


def test_a_field_keeps_what_is_being_typed(qtbot, monkeypatch):
    field = EntryField("radius", lambda _: None)
    qtbot.addWidget(field)
    field.show_value(10)
    monkeypatch.setattr(field, "hasFocus", lambda: True)  # offscreen, no window is in front
    field.selectAll()
    QTest.keyClicks(field, "77")
    field.show_value(10)
    assert field.text() == "77"


def test_ticks_and_numbers(qtbot):
    told = []
    box = tick("closed", told.append)
    qtbot.addWidget(box)
    box.click()
    box.click()
    assert told == [True, False]
    assert number_in(" 45 ° ") == "45"
    assert number_in("12 %") == "12"
    assert with_field(Layer(4.0), "thickness", 6.0).thickness == 6.0
    assert (show_weight(412.4), show_weight(1180)) == ("412 g", "1.2 kg")


# Edge bars


@pytest.mark.parametrize("kind", list(MaterialKind))
def test_every_kind_of_material_has_a_bar_of_its_own(qtbot, kind):
    image = QImage(60, 60, QImage.Format.Format_RGB32)
    image.fill(QColor("white"))
    painter = QPainter(image)
    paint_bar(painter, QRectF(5, 5, 50, 50), 6.0, QColor("black"), kind=kind)
    painter.end()
    drawn = image.constBits().tobytes()
    others = []
    for other in MaterialKind:
        if other is kind:
            continue
        again = QImage(60, 60, QImage.Format.Format_RGB32)
        again.fill(QColor("white"))
        painter = QPainter(again)
        paint_bar(painter, QRectF(5, 5, 50, 50), 6.0, QColor("black"), kind=other)
        painter.end()
        others.append(again.constBits().tobytes())
    assert drawn not in others


def test_thin_materials_are_seen_by_their_lines(qtbot):
    foam, cloth = EdgeBar(1.0), EdgeBar(1.0, kind=MaterialKind.CLOTH)
    for bar in (foam, cloth):
        qtbot.addWidget(bar)
    assert cloth.height() > foam.height()
    assert EdgeBar(10.0).height() == round(10 * pixels_per_mm()) + 2


# The solid


@pytest.fixture
def engine(qapp, engine_service):
    made = LayoutEngine(engine_service)
    yield made
    made.close()


def rests(view):
    assert let_run(lambda: view.rests, 20), "no picture"


def test_the_solid_is_turned_by_keys_and_wheel_and_put_back(qtbot, engine):
    view = SolidView(engine)
    qtbot.addWidget(view)
    view.resize(240, 200)
    view.show()
    view.show_solid(solid_of(plate(), CutContext()), LIGHT)
    assert not view.shows
    rests(view)
    first = pixels(view)
    QTest.keyClick(view, Qt.Key.Key_Right)
    QTest.keyClick(view, Qt.Key.Key_Up)
    assert (view.camera.turn, view.camera.tilt) == (-18, -32)
    rests(view)
    assert (pixels(view) != first).any()
    wheel = QWheelEvent(
        QPointF(100, 90),
        QPointF(100, 90),
        QPoint(),
        QPoint(0, 240),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    view.wheelEvent(wheel)
    QTest.keyClick(view, Qt.Key.Key_Plus)
    assert view.camera.near > 1.5
    QTest.mouseDClick(view, Qt.MouseButton.LeftButton)
    assert view.camera == Camera()
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=QPoint(60, 60))
    QTest.mouseMove(view, QPoint(100, 60))
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=QPoint(100, 60))
    assert view.camera.turn != Camera().turn
    view.set_look(DARK)
    rests(view)
    assert pixels(view).mean() < first.mean()


def test_without_a_solid_the_words_stand_there(qtbot, engine):
    view = SolidView(engine)
    qtbot.addWidget(view)
    view.resize(240, 160)
    view.show_nothing(LIGHT)
    bare = pixels(view)
    view.show_nothing(LIGHT, "it would go 616° around")
    assert (pixels(view) != bare).any()
    assert not view.shows


def test_a_camera_never_turns_over_and_keeps_its_axes_square():
    camera = Camera().turned(500, 400)
    assert camera.tilt == 89
    assert -180 <= camera.turn < 180
    assert camera.axes @ camera.axes.T == pytest.approx(np.eye(3))
    assert Camera().zoomed(1e9).near == 12


# The section


def test_a_section_says_its_scale(qtbot):
    view = SectionView()
    qtbot.addWidget(view)
    view.resize(900, 250)
    small = form_section(Piece("p", "p", rectangle(60, 30)), CutContext())
    view.show_section(small, LIGHT, "small")
    assert view.scale_words == "actual size"
    view.show_section(small, LIGHT, "small", enlarge=True)
    assert view.scale_words == "2 times actual size"
    large = form_section(Piece("p", "p", rectangle(900, 300)), CutContext())
    view.show_section(large, LIGHT, "large")
    assert view.scale_words.startswith("1 : ")
    a, b = view.at(0, 0), view.at(100, 0)
    share = (b.x() - a.x()) / 100 / pixels_per_mm()
    assert share == pytest.approx(1 / float(view.scale_words.removeprefix("1 : ")))
    assert view._back(view.at(12.0, -7.0)) == pytest.approx((12.0, -7.0))
    view.show_section(Section(()), LIGHT, "nothing")
    pixels(view)


# The flat piece


def test_strain_and_the_other_face_are_drawn_over_the_piece(qtbot):
    table = FlatTable()
    qtbot.addWidget(table)
    table.resize(420, 320)
    table.set_look(LIGHT)
    disc = Piece(
        "d",
        "d",
        Shape.make(circle((0, 0), 70)),
        thickness=4.0,
        build=Build(form=Form(FormKind.DISHED, Given.HEIGHT, 45)),
    )
    table.show_cuts(disc, cuts_of(disc), LIGHT, edge="", layers=False)
    table.show()
    before = pixels(table)
    dome, place = shaping_of(disc), own_place(disc, 0.5)
    table.show_strain(dome, place, 0.12)
    strained = pixels(table)
    changed = np.abs(strained - before).sum(axis=2) > 12
    middle = changed[
        changed.shape[0] // 2 - 4 : changed.shape[0] // 2 + 4,
        changed.shape[1] // 2 - 4 : changed.shape[1] // 2 + 4,
    ]
    assert changed.any()
    assert not middle.any()  # nothing is strained at the pole
    table.show_strain(None, place, 0.12)
    assert (pixels(table) == before).all()
    bevelled = plate().build.with_profile("A", Profile(ProfileKind.IN, 60))
    piece = Piece("p", "p", rectangle(200, 80), build=bevelled)
    table.show_cuts(piece, cuts_of(piece), LIGHT, edge="A", layers=False)
    assert len(table._other_face) == 1
