"""Many parts are painted by one item: each as it would paint itself, and only what is in sight."""

import numpy as np
import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtWidgets import QGraphicsScene

from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.pattern.piece import LineKind, PieceLine
from ivory_quilt.desk.canvas.foam_items import NEAR, FoamItem
from ivory_quilt.desk.canvas.foam_layer import WORTH, Batch, FoamLayer
from ivory_quilt.desk.canvas.view import RULER, Canvas, rehearse
from ivory_quilt.desk.theme.palette import LIGHT

WEDGE = Shape.make([(0, 0), (90, 0), (0, 60)])


def some_parts():
    line = PieceLine(LineKind.SCORE, np.array([[10.0, 10.0], [90.0, 10.0]]))
    parts = [
        FoamItem(rectangle(100, 60), 6.0, LIGHT, "plate", "left", (line,), Pose(5, 5, 90)),
        FoamItem(WEDGE, 10.0, LIGHT, "wedge", "", (), Pose(120, 10, 30)),
        FoamItem(rectangle(30, 30), 2.0, LIGHT, "", "", (), Pose(20, 130)),
    ]
    parts[0].pinned = True
    for item, x in zip(parts, (0.0, 40.0, 40.0), strict=True):
        item.setPos(x, -15.0)
    return parts


def picture(scene, scale=1.5, top=200):
    image = QImage(480, 400, QImage.Format.Format_RGB32)
    image.fill(QColor("white"))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(scale, scale)
    painter.translate(70, top)
    scene.render(painter, QRectF(-70, -200, 300, 240), QRectF(-70, -200, 300, 240))
    painter.end()
    return image


@pytest.fixture
def scene(qapp):
    """A scene whose parts a layer paints."""
    made = QGraphicsScene()
    made.layer = FoamLayer()
    made.addItem(made.layer)
    made.parts = some_parts()
    for item in made.parts:
        made.addItem(item)
        made.layer.take(item)
    return made


@pytest.fixture
def plain(qapp):
    """The same parts, each painting itself."""
    made = QGraphicsScene()
    made.parts = some_parts()
    for item in made.parts:
        made.addItem(item)
    return made


def test_a_layer_paints_what_the_parts_would_paint(scene, plain):
    blank = picture(QGraphicsScene())
    assert picture(plain) != blank
    assert picture(scene) == picture(plain)


@pytest.mark.parametrize(
    "change",
    [
        lambda item: item.setPos(60.0, -40.0),
        lambda item: item.set_pose(Pose(30, 90, 200)),
        lambda item: setattr(item, "clash", True),
        lambda item: setattr(item, "pinned", True),
        lambda item: item.setSelected(True),
        lambda item: item.setVisible(False),
    ],
)
def test_it_follows_whatever_becomes_of_them(scene, plain, change):
    picture(scene)
    for made in (scene, plain):
        change(made.parts[1])
    assert picture(scene) == picture(plain)


def many_parts():
    """Two sheets of small parts: frames with something inside them, and wedges."""
    frame = Shape.make(rectangle(30, 30).outer, [rectangle(20, 20).outer + 5])
    wedge = Shape.make([(0, 0), (30, 0), (8, 20)])
    made = []
    for k in range(4 * WORTH):
        x, y = 34 * (k // 4 % 4), 64 * (k // 16)
        shape, pose = (
            (frame, Pose(x, y)),
            (rectangle(12, 12), Pose(x + 9, y + 9)),
            (wedge, Pose(x + 31, y + 40, 10, mirrored=True)),
            (rectangle(7, 7), Pose(x, y + 34)),
        )[k % 4]
        item = FoamItem(shape, 10.0 if k % 4 == 3 else 6.0, LIGHT, f"p{k}", "", (), pose)
        item.setPos(-60.0 if k // 4 % 2 else -60.5, -15.0)
        made.append(item)
    return made


@pytest.fixture
def crowd(qapp):
    """Two scenes of many parts: painted by a layer, and each painting itself."""
    scenes = QGraphicsScene(), QGraphicsScene()
    scenes[0].layer = FoamLayer()
    scenes[0].addItem(scenes[0].layer)
    for made in scenes:
        made.parts = many_parts()
        for item in made.parts:
            made.addItem(item)
    for item in scenes[0].parts:
        scenes[0].layer.take(item)
    return scenes


def differ(one, other):
    """Return by how much two pictures differ most, in 255ths of a colour."""
    bits = [np.frombuffer(p.constBits(), dtype=np.uint8).astype(int) for p in (one, other)]
    return int(np.abs(bits[0] - bits[1]).max())


@pytest.mark.parametrize("scale", [0.3, 0.8, 2.0, 3.5])
def test_outlines_of_one_tone_are_one_path_that_looks_the_same(crowd, scale, monkeypatch):
    together, apart = crowd
    drawn = []
    monkeypatch.setattr(Batch, "draw", lambda *a, real=Batch.draw: (drawn.append(a), real(*a)))
    blank = picture(QGraphicsScene(), scale, 90)
    assert differ(picture(apart, scale, 90), blank) > 90
    # Where smooth edges of two parts share a pixel, the order that they are blended in rounds.
    assert differ(picture(together, scale, 90), picture(apart, scale, 90)) <= 4
    assert len(drawn) == (2 if scale < NEAR else 0)  # of the tone with enough parts on each sheet
    for change in (
        lambda item: item.setPos(100.0, -15.0),
        lambda item: setattr(item, "clash", True),
        lambda item: setattr(item, "clash", False),
        lambda item: item.setVisible(False),
        lambda item: item.setSelected(True),
        lambda item: item.set_pose(Pose(20, 10, 20)),  # while it is chosen
        lambda item: item.setSelected(False),
    ):
        for made in crowd:
            change(made.parts[4])
        assert differ(picture(together, scale, 90), picture(apart, scale, 90)) <= 4


def test_parts_that_overlap_do_not_look_like_a_hole(crowd):
    together, _ = crowd
    plate, wedge = together.parts[1], together.parts[2]
    wedge.name = ""
    alone = picture(together, 2.0, 90)
    wedge.set_pose(Pose(plate.pose.x - 3, plate.pose.y + 3))
    both = picture(together, 2.0, 90)
    middle = plate.mapToScene(plate.boundingRect().center())
    x, y = round(2.0 * (middle.x() + 70)), round(2.0 * (middle.y() + 90))
    assert wedge.contains(wedge.mapFromScene(middle))
    assert both.pixelColor(x, y) == alone.pixelColor(x, y) == QColor.fromRgba(plate.fill)


def test_where_few_of_many_are_in_sight_only_they_are_painted(crowd, qtbot, monkeypatch):
    drawn = []
    monkeypatch.setattr(Batch, "draw", lambda *_: drawn.append(None))
    monkeypatch.setattr(FoamItem, "draw_body", lambda item, *_: drawn.append(item))
    canvas = Canvas()
    qtbot.addWidget(canvas)
    canvas.setScene(crowd[0])
    canvas.resize(140, 140)
    canvas.show()
    qtbot.waitExposed(canvas)
    drawn.clear()
    part = crowd[0].parts[0]
    canvas.fit(part.ground)
    canvas.zoom(2.4 / canvas.scale_now)
    canvas.centerOn(part.ground.topLeft())
    drawn.clear()
    canvas.viewport().update()
    QCoreApplication.processEvents()
    assert part in drawn
    assert None not in drawn
    assert len(drawn) < len(crowd[0].parts) / 2


def test_a_chosen_part_is_painted_once_and_above_the_others(scene):
    wedge, plate = scene.parts[1], scene.parts[0]
    wedge.set_pose(plate.pose)
    wedge.setPos(*plate.at)
    scene.parts[0].setZValue(1.0)  # the layer paints it all the same, below what is chosen
    wedge.setSelected(True)
    drawn = []
    wedge.draw_body = lambda *args: drawn.append(args)
    picture(scene)
    assert len(drawn) == 1
    wedge.setSelected(False)
    picture(scene)
    assert len(drawn) == 2


def test_a_part_that_is_given_back_is_painted_no_longer(scene):
    blank = picture(QGraphicsScene())
    for item in scene.parts:
        scene.layer.drop(item)
        scene.removeItem(item)
        assert item.layer is None
    assert picture(scene) == blank


def test_hands_take_parts_and_never_the_layer(scene):
    at = scene.parts[1].mapToScene(scene.parts[1].shape().boundingRect().center())
    assert scene.items(at) == [scene.parts[1]]
    assert scene.items(QPointF(-500, -500)) == []
    everything = scene.items(QRectF(-70, -200, 400, 240))
    assert set(everything) == set(scene.parts)


def test_a_rehearsal_paints_once_and_leaves_nothing_behind(qapp, monkeypatch):
    painted = []
    real = Canvas.drawForeground
    monkeypatch.setattr(Canvas, "drawForeground", lambda *a: (painted.append(a[0]), real(*a)))
    before = set(qapp.allWidgets())
    rehearse()
    assert len(painted) >= 1
    painted.clear()
    qapp.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    assert set(qapp.allWidgets()) == before


def test_many_that_move_are_renewed_once_and_where_they_went(scene, plain, monkeypatch):
    picture(scene)
    renewed = []
    real = FoamLayer.update
    monkeypatch.setattr(FoamLayer, "update", lambda *a: (renewed.append(a), real(*a)))
    with scene.layer.together():
        for item in scene.parts:
            item.setPos(150.0, 20.0)
            item.set_pose(Pose(60, 20, 45))
    assert len(renewed) == 1
    for item in plain.parts:
        item.setPos(150.0, 20.0)
        item.set_pose(Pose(60, 20, 45))
    assert all(scene.layer.boundingRect().contains(item.ground) for item in scene.parts)
    assert picture(scene) == picture(plain)


def test_after_a_scroll_only_edges_and_rulers_are_painted(scene, qtbot):
    canvas = Canvas()
    qtbot.addWidget(canvas)
    for item in (scene.layer, *scene.parts):
        canvas.scene().addItem(item)
    canvas.resize(600, 400)
    canvas.show()
    qtbot.waitExposed(canvas)
    canvas.fit(QRectF(-100, -250, 600, 400))
    QCoreApplication.processEvents()
    drawn = []
    for item in scene.parts:
        item.draw_body = lambda *_, item=item: drawn.append(item)
    bar = canvas.horizontalScrollBar()
    bar.setValue(bar.value() + 3)
    QCoreApplication.processEvents()
    assert drawn == []  # all lie in the middle, which is carried along
    view = canvas.viewport()
    whole = view.width() * view.height() / canvas.scale_now**2
    assert sum(p.width() * p.height() for p in canvas.exposed) < 0.25 * whole
    up = canvas.verticalScrollBar()
    up.setValue(up.value() - 7)
    QCoreApplication.processEvents()
    top = canvas.mapToScene(view.width() // 2, RULER + 6)
    assert any(place.contains(top) for place in canvas.exposed)  # where the ruler was carried to
    canvas.zoom(1.1)
    QCoreApplication.processEvents()
    assert set(drawn) == set(scene.parts)
    assert view.testAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
