"""What lies on a canvas: sheets of foam, and pieces or parts."""

import math
from functools import cache, lru_cache

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPainterPath, QPen
from PySide6.QtWidgets import QGraphicsItem, QStyleOptionGraphicsItem, QWidget

from ivory_quilt.core.geometry.shape import Point, Pose, Shape
from ivory_quilt.core.pattern.edges import mark_tick
from ivory_quilt.core.pattern.piece import Label, LineKind, PieceLine
from ivory_quilt.desk.canvas.paths import (
    label_place,
    line_path,
    placed_path,
    plain_path,
    pose_transform,
    shape_path,
)
from ivory_quilt.desk.theme.palette import Palette, piece_fill
from ivory_quilt.desk.theme.style import words

PLAIN = 0.7  # px per mm up to which outlines may be plainer
HAIR = 1.0  # px: lines as thin as this are drawn several times faster; for views of many parts
SKETCH = 0.045  # px per mm under which only outlines are drawn
HERE = Pose(0.0, 0.0)
_DASHES = {
    LineKind.SCORE: (6.0, 3.0),
    LineKind.FOLD: (10.0, 3.0, 2.0, 3.0),
    LineKind.UNDERCUT: (6.0, 2.0, 6.0, 2.0, 1.5, 2.0),
    LineKind.MARK: (1.5, 2.5),
    LineKind.CENTRE: (14.0, 3.0, 3.0, 3.0),
    LineKind.GRAIN: (),
    LineKind.OTHER: (2.0, 2.0),
}
_TOLD = (
    LineKind.MARK,
    LineKind.CENTRE,
    LineKind.GRAIN,
    LineKind.OTHER,
)  # nothing is cut along these


def line_pen(kind: LineKind, look: Palette, width: float = 1.4) -> QPen:
    """Return the pen of a line inside a piece; what is cut along has the colour of scoring."""
    name = "ink_soft" if kind in _TOLD else "score"
    return cosmetic(look.colour(name), width, _DASHES[kind])


def cosmetic(colour: QColor, width: float, dashes: tuple[float, ...] = ()) -> QPen:
    """Return a pen of `width` px at any zoom; not to be changed."""
    return _cosmetic(colour.rgba(), width, dashes)


@cache
def _cosmetic(rgba: int, width: float, dashes: tuple[float, ...]) -> QPen:
    pen = QPen(QColor.fromRgba(rgba), width)
    pen.setCosmetic(True)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    if dashes:
        pen.setDashPattern([d / width for d in dashes])
    return pen


def screen_text(
    painter: QPainter,
    at: QPointF,
    text: str,
    colour: QColor,
    room: float,
    *,
    size: int = 12,
    strong: bool = False,
    centred: bool = True,
    whole: bool = False,
    ground: QColor | None = None,
) -> bool:
    """Write `text` at a scene point in screen pixels, cut to `room` px; False when too narrow.

    `whole` words are not cut: half a number misleads. `ground` is laid under the words, so that
    lines do not run through them.
    """
    shown, width = _cut(text, math.floor(room), size, strong)
    if shown != text and (whole or len(shown) < 0.6 * len(text)):
        return False  # a stump of a word says nothing
    place = painter.worldTransform().map(at)
    painter.save()
    painter.resetTransform()
    painter.setFont(words(size, strong=strong))
    x = place.x() - width / 2 if centred else place.x()
    if ground is not None:
        painter.fillRect(QRectF(x - 2, place.y() - size / 2, width + 4, size + 2), ground)
    painter.setPen(colour)
    painter.drawText(QPointF(x, place.y() + _metrics(size, strong).ascent() / 2 - 1), shown)
    painter.restore()
    return True


@lru_cache(maxsize=4096)
def _cut(text: str, room: int, size: int, strong: bool) -> tuple[str, float]:
    """Return what of `text` is shown in `room` px, and how wide that is."""
    metrics = _metrics(size, strong)
    shown = metrics.elidedText(text, Qt.TextElideMode.ElideRight, room)
    return shown, metrics.horizontalAdvance(shown)


@cache
def _metrics(size: int, strong: bool) -> QFontMetricsF:
    return QFontMetricsF(words(size, strong=strong))


@lru_cache(maxsize=4096)
def broken_words(text: str, room: int, size: int = 12, *, strong: bool = False) -> tuple[str, ...]:
    """Return `text` in one line or two that fit `room` px, or nothing when it does not fit."""
    metrics = _metrics(size, strong)
    if metrics.horizontalAdvance(text) <= room:
        return (text,)
    parts = text.split(" ")
    best: tuple[float, list[str]] | None = None
    for k in range(1, len(parts)):
        lines = [" ".join(parts[:k]), " ".join(parts[k:])]
        width = max(metrics.horizontalAdvance(line) for line in lines)
        if width <= room and (best is None or width < best[0]):
            best = (width, lines)
    return tuple(best[1]) if best else ()


def screen_label(
    painter: QPainter,
    at: QPointF,
    name: str,
    note: str,
    colour: QColor,
    room: float,
    height: float,
    ground: QColor | None = None,
) -> None:
    """Write a name, and a note below it, about a scene point where they fit (room, height in px).

    The name breaks into two lines if it must; what does not fit is left to the tooltip.
    """
    broad = math.floor(room)
    lines = [(line, True) for line in broken_words(name, broad, strong=True)]
    if not lines:
        return
    if note:
        # The first wording that fits on one line.
        wordings = [broken_words(wording, broad) for wording in note.split("\n")]
        lines += [(w[0], False) for w in wordings if len(w) == 1][:1]
    step = 14.0
    if len(lines) > 2:  # outlines narrow away from their widest place
        height *= 0.8
    if len(lines) * step + 2 > height:
        lines = [entry for entry in lines if entry[1]]
    if len(lines) * step + 2 > height:
        return
    scale = painter.worldTransform().m11()
    for k, (line, strong) in enumerate(lines):
        y = (k - (len(lines) - 1) / 2) * step / scale
        place = at + QPointF(0, y)
        screen_text(painter, place, line, colour, room + 2, strong=strong, ground=ground)


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
        self.shape_mm, self._own_lines = shape, lines
        self._marks, self._words = ticks_path(shape, marks), labels
        self._own_run_out, self._run_out = QPainterPath(), QPainterPath()
        self._own_plain = plain_path(shape)  # made now: painting must not wait for it
        self._plain: QPainterPath | None = None
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
            self.update()  # what is painted may be kept as a picture

    @property
    def clash(self) -> bool:
        """Whether it is marked as in the way."""
        return self._clash

    @clash.setter
    def clash(self, value: bool) -> None:
        if value is not self._clash:
            self._clash = value
            self.update()

    def set_run_out(self, *faces: Shape) -> None:
        """Shade where a bevel runs out: what the outline covers and not all `faces` do."""
        path = shape_path(self.shape_mm)
        for face in faces:
            path = path.intersected(shape_path(face))
        self._own_run_out = shape_path(self.shape_mm).subtracted(path) if faces else QPainterPath()
        self.set_pose(self.pose)

    def set_pose(self, pose: Pose) -> None:
        """Put the foam elsewhere, relative to the item's place."""
        self.prepareGeometryChange()
        self.pose = pose
        self._path = placed_path(self.shape_mm, pose)
        self._plain = None
        move = pose_transform(pose)
        self._lines = [(k.kind, move.map(line_path(k))) for k in self._own_lines]
        self._run_out = move.map(self._own_run_out)
        self._label_at, self._room = label_place(self.shape_mm, pose)
        self._box = self._path.boundingRect()
        self._bounds = self._box.adjusted(-2, -2, 2, 2)

    def _path_for(self, scale: float) -> QPainterPath:
        """Return the outline, in fewer corners where they are less than a pixel apart."""
        if scale > PLAIN:
            return self._path
        if self._plain is None:
            self._plain = pose_transform(self.pose).map(self._own_plain)
        return self._plain

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
        self, painter: QPainter, option: QStyleOptionGraphicsItem, widget: QWidget | None = None
    ) -> None:
        """Paint the foam, its lines, its name."""
        look = self.look
        ink = look.colour("ink")
        fill = piece_fill(self.thickness, look)
        selected = self.isSelected()
        scale = painter.worldTransform().m11()
        near = scale > PLAIN
        painter.setBrush(fill)
        if self.clash:
            painter.setPen(cosmetic(look.colour("cut"), 3.0))
        elif selected:
            painter.setPen(cosmetic(look.colour("iris"), 3.0))
        else:
            painter.setPen(cosmetic(ink, 1.2 if near else HAIR))
        painter.drawPath(self._path_for(scale))
        if scale < SKETCH and not selected and not self.clash:
            return  # a part of a few pixels: lines and words would only be dirt
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
            painter.setPen(cosmetic(ink, 2.0))
            painter.drawPath(self._marks)
        for label in self._words:
            at = QPointF(label.at[0], -label.at[1])
            screen_text(painter, at, label.text, look.colour("ink_soft"), self._box.width() * scale)
        room = min(self._room * scale - 6, 220.0)
        height = self._box.height() * scale
        if self.name and height > 15 and room > 20:
            # Words are lifted off the lines they would cross; nothing else lies under them.
            ground = fill if self._lines else None
            at, high = self._label_at, height - 4
            screen_label(painter, at, self.name, self.note, ink, room, high, ground)
        if self.pinned:
            self._paint_pin(painter, scale)

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
