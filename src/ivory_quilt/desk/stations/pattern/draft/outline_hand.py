"""The hand at an outline's nodes and curves: taken hold of, dragged, drawn."""

from functools import lru_cache

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPainterPath

from ivory_quilt.core.editing.snap import Snap
from ivory_quilt.core.geometry.curve_path import CurvePath
from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.desk.canvas.paths import scene_point
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.canvas.screen_words import screen_text
from ivory_quilt.desk.stations.pattern.draft.outline_choice import Grip, GripKind, is_open
from ivory_quilt.desk.stations.pattern.draft.outline_presenter import OutlinePresenter
from ivory_quilt.desk.theme.palette import Palette

SLIP = 3.0  # px that a hand may move and still have clicked
STEPS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1)}
STEPS[Qt.Key.Key_Down] = (0, -1)
NODE, CHOSEN, HANDLE = 5.0, 7.0, 4.0  # px
ROOM = 22  # px that a node's picture takes


class OutlineHand:
    """What the mouse does with the Outline tool."""

    def __init__(self, presenter: OutlinePresenter) -> None:
        """Work `presenter`."""
        self._presenter = presenter
        self._pressed: Point | None = None
        self._grip: Grip | None = None
        self._box: tuple[Point, Point] | None = None
        self.hover: Grip | None = None

    def press(self, hand: Point, reach: float, event: QMouseEvent) -> None:
        """Choose what lies there, to be dragged."""
        p = self._presenter
        more = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        self._pressed = hand
        self._grip = p.hit(hand, reach)
        if self._grip is None or self._grip.kind is not GripKind.HANDLE:
            p.choose(self._grip, more=more)

    def move(self, hand: Point, reach: float, event: QMouseEvent) -> Snap | None:
        """Drag what is held; return where it falls."""
        p = self._presenter
        if self._pressed is None:
            self.hover = p.hit(hand, reach)
            return None
        if p.grip is None and self._box is None:
            slip = SLIP * reach / REACH_PX
            if abs(hand[0] - self._pressed[0]) + abs(hand[1] - self._pressed[1]) < slip:
                return None
            if self._grip is not None:
                p.take(self._grip)
        if p.grip is None:
            self._box = (self._pressed, hand)
            return None
        free = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        return p.drag(hand, reach, free=free)

    def release(self) -> None:
        """Keep what was dragged.

        Raises:
            InputError: it makes no outline.
        """
        box, self._box = self._box, None
        self._pressed = self._grip = None
        if box is not None:
            (x0, y0), (x1, y1) = box
            self._presenter.choose_within((min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1)))
        self._presenter.finish()

    def double_click(self, hand: Point, reach: float) -> None:
        """Put a node on the outline there.

        Raises:
            InputError: there is one already.
        """
        grip = self._presenter.hit(hand, reach)
        if grip is not None and grip.kind is GripKind.SPAN:
            self._presenter.add_node(grip)

    def key(self, event: QKeyEvent) -> bool:
        """Nudge the chosen nodes, let go; return whether the key was one of these.

        Raises:
            InputError: a nudge makes no outline.
        """
        p = self._presenter
        if event.key() == Qt.Key.Key_Escape:
            if p.grip is None and not p.chosen and p.span is None:
                return False
            if p.grip is None:
                p.choose(None)
            self._pressed = self._grip = self._box = None
            p.let_go()
            return True
        step = STEPS.get(Qt.Key(event.key()))
        if step is None or not p.known_nodes():
            return False
        far = 1.0
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            far = 10.0
        elif event.modifiers() & Qt.KeyboardModifier.AltModifier:
            far = 0.1
        p.move_by(step[0] * far, step[1] * far)
        return True

    # Painting

    def paint(self, painter: QPainter, look: Palette, scale: float, top: QPointF) -> None:
        """Draw the curves as they are in the hand, with nodes and handles.

        What is wrong with them stands at `top`, a place of the scene.
        """
        p = self._presenter
        shown = p.shown()
        tone = look.colour("heat" if p.problem else "iris")
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(cosmetic(tone, 2.0))
        for path in shown:
            painter.drawPath(curve_path(path))
        self._paint_span(painter, look, shown)
        self._paint_handles(painter, look, scale, shown)
        self._paint_nodes(painter, look, scale, shown)
        hover = self.hover
        if hover is not None and p.grip is None:
            painter.setPen(cosmetic(look.colour("iris"), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(scene_point(hover.at), 10 / scale, 10 / scale)
        if self._box is not None:
            painter.setPen(cosmetic(look.colour("iris"), 1.2, (4.0, 3.0)))
            painter.drawRect(
                QRectF(scene_point(self._box[0]), scene_point(self._box[1])).normalized()
            )
        if p.problem and p.grip is not None:
            ground, words = look.colour("paper"), p.problem.split(" (")[0]
            screen_text(painter, top, f"Not kept: {words}", tone, 480, strong=True, ground=ground)

    def _paint_nodes(
        self, painter: QPainter, look: Palette, scale: float, shown: tuple[CurvePath, ...]
    ) -> None:
        """Put the nodes down, as large at any zoom."""
        p = self._presenter
        chosen = {(ring, p.shown_node((ring, k))) for ring, k in p.known_nodes()}
        paper, to_view = look.colour("paper").rgba(), painter.worldTransform()
        ink, iris = look.colour("ink").rgba(), look.colour("iris").rgba()
        ratio, half = painter.device().devicePixelRatioF(), QPointF(ROOM / 2, ROOM / 2)
        painter.save()
        painter.resetTransform()
        for ring, path in enumerate(shown):
            if not is_open(path, REACH_PX / scale):
                continue
            for k, node in enumerate(path.nodes):
                here = (ring, k) in chosen
                tone = iris if here else ink
                mark = _node(paper, tone, ratio, smooth=node.smooth, chosen=here)
                painter.drawImage(to_view.map(scene_point(node.at)) - half, mark)
        painter.restore()

    def _paint_span(self, painter: QPainter, look: Palette, shown: tuple[CurvePath, ...]) -> None:
        span = self._presenter.known_span()
        first = self._presenter.shown_node(span) if span is not None else None
        if span is None or first is None:
            return
        a, b, c, d = shown[span[0]].control(first)
        line = QPainterPath(scene_point(a))
        line.cubicTo(scene_point(b), scene_point(c), scene_point(d))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(cosmetic(look.colour("iris"), 5.0))
        painter.drawPath(line)

    def _paint_handles(
        self, painter: QPainter, look: Palette, scale: float, shown: tuple[CurvePath, ...]
    ) -> None:
        painter.setPen(cosmetic(look.colour("iris"), 1.2))
        painter.setBrush(look.colour("paper"))
        for ring, k in self._presenter.handles():
            now = self._presenter.shown_node((ring, k))
            if now is None:
                continue
            node = shown[ring].node(now)
            for handle in (node.before, node.after):
                if handle != node.at:
                    painter.drawLine(scene_point(node.at), scene_point(handle))
                    painter.drawEllipse(scene_point(handle), HANDLE / scale, HANDLE / scale)


REACH_PX = 9.0  # what `reach` is in px


def curve_path(path: CurvePath) -> QPainterPath:
    """Return a closed outline of curves as Qt draws it, in scene coordinates."""
    made = QPainterPath(scene_point(path.node(0).at))
    for k in range(len(path)):
        _, b, c, d = path.control(k)
        if path.is_straight(k):
            made.lineTo(scene_point(d))
        else:
            made.cubicTo(scene_point(b), scene_point(c), scene_point(d))
    made.closeSubpath()
    return made


@lru_cache(maxsize=64)
def _node(paper: int, ink: int, ratio: float, *, smooth: bool, chosen: bool) -> QImage:
    """Return a node: a ring where the outline goes on smoothly, a stitched cross at a corner.

    Painted once and then put down: hundreds are drawn in every frame of a drag.
    """
    side = round(ROOM * ratio)
    made = QImage(side, side, QImage.Format.Format_ARGB32_Premultiplied)
    made.setDevicePixelRatio(ratio)
    made.fill(Qt.GlobalColor.transparent)
    painter = QPainter(made)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    middle, size = QPointF(ROOM / 2, ROOM / 2), CHOSEN if chosen else NODE
    painter.setBrush(QColor.fromRgba(paper))
    colour = QColor.fromRgba(ink)
    painter.setPen(cosmetic(colour, 3.4 if chosen else 1.8) if smooth else Qt.PenStyle.NoPen)
    painter.drawEllipse(middle, size, size)
    if not smooth:
        painter.setPen(cosmetic(colour, 4.0 if chosen else 2.4))
        reach = size * 0.85
        for up in (-reach, reach):
            painter.drawLine(middle + QPointF(-reach, -up), middle + QPointF(reach, up))
    painter.end()
    return made
