"""Many parts are painted by one item: each as it would paint itself, and only what is in sight."""

import numpy as np
import pytest
from PySide6.QtCore import QCoreApplication, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtWidgets import QGraphicsScene

from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.pattern.piece import LineKind, PieceLine
from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.canvas.foam_layer import FoamLayer
from ivory_quilt.desk.canvas.view import RULER, Canvas
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


def picture(scene, scale=1.5):
    image = QImage(480, 400, QImage.Format.Format_RGB32)
    image.fill(QColor("white"))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(scale, scale)
    painter.translate(70, 200)
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


def test_a_chosen_part_is_painted_once_and_above_the_others(scene):
    wedge, plate = scene.parts[1], scene.parts[0]
    wedge.set_pose(plate.pose)
    wedge.setPos(plate.pos())
    scene.parts[0].setZValue(1.0)  # the layer paints it all the same, below what is chosen
    wedge.setSelected(True)
    drawn = []
    wedge.draw = lambda *args: drawn.append(args)
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
        item.draw = lambda *_, item=item: drawn.append(item)
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
