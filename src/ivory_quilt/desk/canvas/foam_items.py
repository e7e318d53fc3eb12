"""Pieces and parts of foam as they lie on a canvas."""

import math
from typing import Any, Protocol

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from ivory_quilt.core.geometry.shape import Point, Pose, Shape
from ivory_quilt.core.pattern.edges import mark_tick
from ivory_quilt.core.pattern.piece import Label, LineKind, PieceLine
from ivory_quilt.desk.canvas.paths import (
    label_place,
    line_path,
    placed_path,
    plain_paths,
    pose_transform,
    shape_path,
)
from ivory_quilt.desk.canvas.pens import HAIR, cosmetic, draw_outline, line_pen
from ivory_quilt.desk.canvas.screen_words import (
    LabelLines,
    label_box,
    label_choices,
    screen_label,
    screen_text,
)
from ivory_quilt.desk.theme.palette import Palette, piece_fill

NEAR = 2.8  # px per mm from which on few parts are in sight and all is drawn as finely as it goes
PLAINER = ((0.2, 1.2), (0.35, 0.7), (0.6, 0.4), (1.0, 0.24), (1.7, 0.14), (NEAR, 0.09))
"""Up to a scale, px per mm: by how much outlines may be plainer, mm: about a quarter of a pixel."""
SKETCH = 0.045  # px per mm under which only outlines are drawn
LOWEST, NARROWEST = 15.0, 26.0  # px: smaller parts have no name on them
HERE = Pose(0.0, 0.0)


def level_of(scale: float) -> int | None:
    """Return which of the plainer outlines a view shows, None for the outline itself."""
    return next((k for k, (most, _) in enumerate(PLAINER) if scale <= most), None)


def body_pen(scale: float) -> float:
    """Return the width of outlines, px."""
    return 1.2 if scale > NEAR else HAIR


class ItemPainter(Protocol):
    """What paints many foam items at once."""

    def renew(self, ground: QRectF) -> None:
        """Paint a place of the scene anew."""


class FoamItem(QGraphicsItem):
    """A piece or part of foam in its tone, with its lines and its name."""

    def __init__(
        self,
        shape: Shape,
        thickness: float,
        palette: Palette,
        name: str = "",
        note: str = "",
        lines: tuple[PieceLine, ...] = (),
        pose: Pose = HERE,
        marks: tuple[Point, ...] = (),
        labels: tuple[Label, ...] = (),
    ) -> None:
        """Draw `shape` with its `lines` as `pose` puts them, relative to the item's place.

        Match marks and words are drawn as they stand on the piece; only a piece that lies as it
        was drawn has them.
        """
        super().__init__()
        self.look = palette
        self.name, self.note = name, note
        self.thickness = thickness
        self._pinned = self._clash = False
        self._fill = piece_fill(thickness, palette)
        self._pen = {pen: cosmetic(palette.colour("ink"), pen) for pen in (HAIR, 1.2)}
        self.chosen = False
        """Whether it is selected: it paints itself then, if another item does it else."""
        self.at = (0.0, 0.0)
        """Where its place is in the scene."""
        self.ground = QRectF()
        """The box that it takes in the scene."""
        self._layer: ItemPainter | None = None
        self.shape_mm, self._own_lines = shape, lines
        self._marks, self._words = ticks_path(shape, marks), labels
        self._own_run_out, self._run_out = QPainterPath(), QPainterPath()
        # Made now: painting must not wait for them.
        self._own_plain = plain_paths(shape, tuple(by for _, by in PLAINER[::-1]))[::-1]
        self._plain: list[QPainterPath | None] = [None] * len(PLAINER)
        self.set_pose(pose)
        self.setFlag(QGraphicsItem.GraphicsItemFlag.ItemIsSelectable)
        self.setAcceptHoverEvents(True)
        self.setToolTip("\n".join(x for x in (name, note.split("\n")[0]) if x))

    @property
    def pinned(self) -> bool:
        """Whether it is marked as pinned."""
        return self._pinned

    @pinned.setter
    def pinned(self, value: bool) -> None:
        if value is not self._pinned:
            self._pinned = value
            self._paint_anew()

    @property
    def clash(self) -> bool:
        """Whether it is marked as in the way."""
        return self._clash

    @clash.setter
    def clash(self, value: bool) -> None:
        if value is not self._clash:
            self._clash = value
            self._paint_anew()

    @property
    def layer(self) -> "ItemPainter | None":
        """What paints it while it is not chosen; None where it always paints itself."""
        return self._layer

    @layer.setter
    def layer(self, layer: "ItemPainter | None") -> None:
        self._layer = layer
        nothing = QGraphicsItem.GraphicsItemFlag.ItemHasNoContents
        self.setFlag(nothing, layer is not None and not self.chosen)

    def _paint_anew(self) -> None:
        self.update()
        if self._layer is not None:
            self._layer.renew(self.ground)

    def itemChange(self, change: QGraphicsItem.GraphicsItemChange, value: Any) -> Any:
        """Take note of whether it is chosen and shown."""
        kinds = QGraphicsItem.GraphicsItemChange
        if change is kinds.ItemSelectedHasChanged:
            self.chosen = bool(value)
            self.layer = self._layer
            self._paint_anew()
        elif change is kinds.ItemVisibleHasChanged:
            self._paint_anew()
        return super().itemChange(change, value)

    def setPos(self, x: float, y: float) -> None:  # type: ignore[override]
        """Put it elsewhere; told here, not by Qt, which would ask before and after."""
        super().setPos(x, y)
        self._lies_elsewhere()

    def _lies_elsewhere(self) -> None:
        before, place = self.ground, self.pos()
        self.at = (place.x(), place.y())
        self.ground = self._bounds.translated(place)
        if self._layer is not None and not self.chosen:
            self._layer.renew(before)
            self._layer.renew(self.ground)

    def set_run_out(self, *faces: Shape) -> None:
        """Shade where a bevel runs out: what the outline covers and not all `faces` do."""
        path = shape_path(self.shape_mm)
        for face in faces:
            path = path.intersected(shape_path(face))
        self._own_run_out = shape_path(self.shape_mm).subtracted(path) if faces else QPainterPath()
        self._run_out = pose_transform(self.pose).map(self._own_run_out)
        self._paint_anew()

    def set_pose(self, pose: Pose) -> None:
        """Put the foam elsewhere, relative to the item's place."""
        self.prepareGeometryChange()
        self.pose = pose
        self._path = placed_path(self.shape_mm, pose)
        self._plain = [None] * len(PLAINER)
        move = pose_transform(pose)
        self._lines = [(k.kind, move.map(line_path(k))) for k in self._own_lines]
        self._run_out = move.map(self._own_run_out)
        self._label_at, self._room = label_place(self.shape_mm, pose)
        self._box = self._path.boundingRect()
        height, room = max(self._box.height(), 1e-9), max(self._room, 1e-9)
        self._labelled: tuple[float, LabelLines] | None = None
        self._words_from = max(LOWEST / height, NARROWEST / room)
        self._bounds = self._box.adjusted(-2, -2, 2, 2)
        self._lies_elsewhere()

    def plain(self, level: int | None) -> QPainterPath:
        """Return the outline in fewer corners, less than a pixel apart in views of that level."""
        if level is None:
            return self._path
        plain = self._plain[level]
        if plain is None:
            plain = self._plain[level] = pose_transform(self.pose).map(self._own_plain[level])
        return plain

    @property
    def outline(self) -> QPainterPath:
        """The outline as it lies, relative to the item's place."""
        return self._path

    def boundingRect(self) -> QRectF:
        """Return the outline's box with room for the pen."""
        return self._bounds

    def shape(self) -> QPainterPath:
        """Return where the item can be grasped: the outline, holes included."""
        path = QPainterPath()
        path.addPolygon(self._path.toFillPolygon())
        return path

    def paint(
        self, painter: QPainter, _option: QStyleOptionGraphicsItem, _widget: QWidget | None = None
    ) -> None:
        """Paint the foam, its lines, its name."""
        self.draw(painter, painter.worldTransform().m11())

    @property
    def fill(self) -> int:
        """The tone of the foam, as one number."""
        return self._fill.rgba()

    @property
    def alike(self) -> tuple[float, float, int] | None:
        """What is the same for parts whose outlines are drawn in one go; None if it stands out."""
        if self._clash or self.chosen or not self.isVisible():
            return None
        return (*self.at, self.fill)

    @property
    def more_from(self) -> float:
        """The scale, px per mm, from which on there is more to draw than the outline."""
        bare = not self._lines and self._run_out.isEmpty() and self._marks.isEmpty()
        if not bare or self._words or self._pinned:
            return SKETCH
        return max(SKETCH, self._words_from) if self.name else math.inf

    def draw(self, painter: QPainter, scale: float) -> None:
        """Paint it with a painter that stands at its place, at `scale` px per mm."""
        self.draw_body(painter, scale)
        # On a part of a few pixels lines and words would only be dirt.
        if scale >= SKETCH or self.chosen or self._clash:
            self.draw_more(painter, scale)

    def draw_body(self, painter: QPainter, scale: float) -> None:
        """Paint the foam with its outline."""
        pen = self._pen[body_pen(scale)]
        if self._clash or self.chosen:
            pen = cosmetic(self.look.colour("cut" if self._clash else "iris"), 3.0)
        draw_outline(painter, self.plain(level_of(scale)), self._fill, pen)

    def draw_more(self, painter: QPainter, scale: float) -> None:
        """Paint what is on the foam: run-out, lines, marks and words."""
        look, near = self.look, scale > NEAR
        if not self._run_out.isEmpty():
            painter.setPen(Qt.PenStyle.NoPen)
            shade = QColor(look.colour("heat"))
            shade.setAlphaF(0.34)
            painter.setBrush(shade)
            painter.drawPath(self._run_out)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for kind, path in self._lines:
            painter.setPen(line_pen(kind, look, 1.4 if near else HAIR))
            painter.drawPath(path)
            if kind is LineKind.GRAIN:
                painter.drawPath(arrow_head(path, 9 / scale))
        if not self._marks.isEmpty():
            painter.setPen(cosmetic(look.colour("ink"), 2.0))
            painter.drawPath(self._marks)
        for label in self._words:
            at = QPointF(label.at[0], -label.at[1])
            screen_text(painter, at, label.text, look.colour("ink_soft"), self._box.width() * scale)
        room = min(self._room * scale - 6, 220.0)
        height = self._box.height() * scale
        if self.name and scale > self._words_from:
            lines = self._label(scale, room, height - 4)
            ground = self.ground_of_words()
            screen_label(painter, self._label_at, lines, look.colour("ink"), ground)
        if self._pinned:
            self._paint_pin(painter, scale)

    def ground_of_words(self) -> QColor | None:
        """Return what the name stands on, None for the foam as it is.

        Words are lifted off the lines they would cross; nothing else lies under them.
        """
        return self._fill if self._lines else None

    def _label(self, scale: float, room: float, height: float) -> LabelLines:
        """Return the lines that lie on the foam at a scale, with no outline through them."""
        if self._labelled is None or self._labelled[0] != scale:
            lines: LabelLines = ()
            for choice in label_choices(self.name, self.note, room, height):
                box = label_box(choice)
                on_foam = QRectF(self._label_at + box.topLeft() / scale, box.size() / scale)
                if self._path.contains(on_foam):
                    lines = choice
                    break
            self._labelled = (scale, lines)
        return self._labelled[1]

    def _paint_pin(self, painter: QPainter, scale: float) -> None:
        """Mark a pinned part: a filled dot with a ring, at the label."""
        at = self._label_at + QPointF(0, -24 / scale)
        painter.setPen(cosmetic(self.look.colour("ink"), 1.6))
        painter.setBrush(self.look.colour("iris"))
        painter.drawEllipse(at, 4.5 / scale, 4.5 / scale)


def ticks_path(shape: Shape, marks: tuple[Point, ...]) -> QPainterPath:
    """Return match marks as ticks into the foam, those off the outline as small crosses."""
    path = QPainterPath()
    for mark in marks:
        tick = mark_tick(shape, mark)
        (x, y) = mark
        strokes = [tick] if tick else [((x - 3, y), (x + 3, y)), ((x, y - 3), (x, y + 3))]
        for a, b in strokes:
            path.moveTo(a[0], -a[1])
            path.lineTo(b[0], -b[1])
    return path


def arrow_head(line: QPainterPath, size: float) -> QPainterPath:
    """Return the head of an arrow along a line, `size` long."""
    tip = line.currentPosition()
    back = line.pointAtPercent(0.0) - tip
    length = math.hypot(back.x(), back.y()) or 1.0
    u = back / length
    side = QPointF(-u.y(), u.x())
    head = QPainterPath(tip + (u + side * 0.4) * size)
    head.lineTo(tip)
    head.lineTo(tip + (u - side * 0.4) * size)
    return head
