"""The flat piece: what is cut, over the pattern line it comes from; edges are chosen here."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QImage, QMouseEvent, QPainter, QPainterPath

from ivory_quilt.core.edges.profiles import Knife, apart
from ivory_quilt.core.forming.dishing import largest_strain
from ivory_quilt.core.forming.dome import Dome
from ivory_quilt.core.forming.shaping import Place
from ivory_quilt.core.geometry.shape import Array, Shape, polygons_of
from ivory_quilt.core.pattern.edges import beside_middle, edge_line, edges_of
from ivory_quilt.core.pattern.piece import Label, Piece
from ivory_quilt.core.stacks.cut import Cut
from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.canvas.paths import shape_path
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.canvas.screen_words import label_box, screen_text
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.stations.build.finish_work import FinishShown
from ivory_quilt.desk.theme.palette import Palette

TAG = 17.0  # px
STRAIN_CELLS = 90


class FlatTable(Canvas):
    """One piece as it is cut."""

    clicked = Signal(float, float)
    """A place was clicked, mm."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.setAccessibleName("flat piece as it is cut, over its pattern line")
        self._piece: Piece | None = None
        self._cuts: tuple[Cut, ...] = ()
        self._edge = ""
        self._knives: dict[str, Knife] = {}
        self._shown: tuple[object, ...] = ()
        self._strain: tuple[QImage, QRectF] | None = None
        self._other_face: list[Array] = []
        self._finish: FinishShown | None = None
        self.limit = ""

    def show_cuts(
        self, piece: Piece, cuts: tuple[Cut, ...], look: Palette, *, edge: str, layers: bool
    ) -> None:
        """Draw the piece's cuts; `edge` is marked, `layers` shows those glued on as well."""
        self._edge, self._piece = edge, piece
        state = (piece, cuts, look, layers)
        if state == self._shown:
            self.viewport().update()
            return
        old = self._shown[0] if self._shown else None
        self._shown = state
        self._cuts = tuple(c for c in cuts if c.place is not None) if layers else cuts[:1]
        self._knives = {k.edge: k for k in cuts[0].knives} if cuts else {}
        self._other_face = apart(cuts[0].inner, cuts[0].outer) if cuts else []
        self.scene().clear()
        for k, cut in enumerate(self._cuts):
            own = cut.piece if not k else None
            item = FoamItem(
                cut.outer,
                cut.piece.thickness,
                look,
                "",
                "",
                own.lines if own else (),
                marks=own.match_marks if own else (),
                labels=self._words(cut) if own else (),
            )
            item.setFlag(item.GraphicsItemFlag.ItemIsSelectable, enabled=False)
            item.setToolTip("")
            self.scene().addItem(item)
        known = (old.id, old.shape.bounds) if isinstance(old, Piece) else None
        if known != (piece.id, piece.shape.bounds):
            self.fit()
        else:
            self.refit()

    @staticmethod
    def _words(cut: Cut) -> tuple[Label, ...]:
        """Return the words on a cut, but for those that tags and Finish say already."""
        told = tuple(f"{knife.edge}: " for knife in cut.knives)
        told += tuple(w.words for w in cut.piece.build.works)
        return tuple(k for k in cut.piece.labels if not (told and k.text.startswith(told)))

    def show_strain(self, dome: Dome | None, place: Place, limit: float) -> None:
        """Lay the picture of strain over the piece; None takes it away."""
        self._strain = None
        if dome is not None and self._cuts:
            self._strain = _strain_picture(
                self._cuts[0].outer, dome, place, limit, self.look.colour("heat")
            )
        self.viewport().update()

    def show_finish(self, finish: FinishShown | None) -> None:
        """Lay tones and works over the piece; None takes them away."""
        self._finish = finish
        self.viewport().update()

    def content(self) -> QRectF:
        """Return the box of cut and pattern, with room for the edges' letters."""
        box = self.scene().itemsBoundingRect()
        shapes = [self._piece.shape] if self._piece is not None else []
        for shape in [*shapes, *(c.footprint for c in self._cuts)]:
            box = box.united(shape_path(shape).boundingRect())
        edge = 0.08 * max(box.width(), box.height(), 1.0)
        return box.adjusted(-edge, -edge, edge, edge)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose the edge under the pointer."""
        super().mousePressEvent(event)
        if event.button() == Qt.MouseButton.LeftButton and self._panning is None:
            at = self.mapToScene(event.position().toPoint())
            self.clicked.emit(at.x(), -at.y())

    def drawForeground(self, painter: QPainter, rect: QRectF | object) -> None:
        """Draw strain, the pattern line, the other face, and the edges; then the rulers."""
        if self._piece is not None and self._shown:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._paint_strain(painter)
            if self._finish is not None:
                self._paint_finish(painter, self._finish)
            self._paint_outlines(painter)
            self._paint_edges(painter)
        super().drawForeground(painter, rect)

    def _paint_strain(self, painter: QPainter) -> None:
        if self._strain is not None:
            image, box = self._strain
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.save()
            painter.setClipPath(shape_path(self._cuts[0].outer))
            painter.drawImage(box, image)
            painter.restore()

    def _paint_finish(self, painter: QPainter, finish: FinishShown) -> None:
        """Paint tones, then the outlines of works over them, and the one in hand hatched."""
        for region, tone in finish.tones:
            for polygon in polygons_of(region):
                painter.fillPath(shape_path(Shape.from_polygon(polygon)), QColor(tone))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        paper = self.look.colour("paper")
        hatch = QBrush(self.look.colour("iris"), Qt.BrushStyle.BDiagPattern)
        # As fine on the screen at any zoom.
        hatch.setTransform(painter.worldTransform().inverted()[0])
        hand = () if finish.hand is None else (finish.hand,)
        for region in (*finish.works, *hand):
            chosen = region is finish.hand
            for polygon in polygons_of(region):
                path = shape_path(Shape.from_polygon(polygon))
                if chosen:
                    painter.fillPath(path, hatch)
                # Lines are seen on any tone: dark on light.
                name = "iris" if chosen else "heat"
                for colour, wide in ((paper, 4.0), (self.look.colour(name), 2.0)):
                    painter.setPen(cosmetic(colour, wide))
                    painter.drawPath(path)

    def _paint_outlines(self, painter: QPainter) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        assert self._piece is not None
        painter.setPen(cosmetic(self.look.colour("ink_soft"), 1.3, (4.0, 3.0)))
        painter.drawPath(shape_path(Shape.make(self._piece.shape.outer)))
        painter.setPen(cosmetic(self.look.colour("cut"), 1.4))
        for line in self._other_face:
            painter.drawPolyline([QPointF(x, -y) for x, y in line.tolist()])

    def _paint_edges(self, painter: QPainter) -> None:
        if not self._cuts:
            return
        flat = self._cuts[0].piece
        taken: list[QRectF] = []
        for edge in edges_of(flat):
            line = edge_line(flat, edge)
            chosen = edge.name == self._edge
            if chosen:
                path = QPainterPath(QPointF(line[0][0], -line[0][1]))
                for x, y in line[1:].tolist():
                    path.lineTo(x, -y)
                painter.setPen(cosmetic(self.look.colour("iris"), 4.0))
                painter.drawPath(path)
            knife = self._knives.get(edge.name)
            text = edge.name
            if knife is not None and knife.angle:
                text = f"{edge.name} {abs(knife.angle):.0f}° {'out' if knife.angle > 0 else 'in'}"
            elif knife is not None and knife.blade:
                text = f"{edge.name} blade"
            near, far = (beside_middle(line, d / self.scale_now) for d in (0.0, TAG))
            # Words stand clear of the foam whatever side of it they are on.
            level = abs(far[0] - near[0]) * self.scale_now / TAG
            away = (TAG + 3.4 * (len(text) - 1) * level) / self.scale_now
            # In a narrow dart both sides would say it at one place: the second says it inside.
            for side in (1, -1):
                x, y = beside_middle(line, side * away)
                middle = painter.worldTransform().map(QPointF(x, -y))
                box = label_box(((text, chosen),)).translated(middle)
                if not any(box.intersects(other) for other in taken):
                    break
            taken.append(box)
            colour = self.look.colour("iris" if chosen else "ink_soft")
            screen_text(
                painter,
                QPointF(x, -y),
                text,
                colour,
                140,
                strong=chosen,
                ground=self.look.colour("paper"),
            )


def _strain_picture(
    shape: Shape, dome: Dome, place: Place, limit: float, heat: QColor
) -> tuple[QImage, QRectF]:
    """Return a picture of the strain over a piece: clear at none, strong beyond the limit."""
    x0, y0, x1, y1 = shape.bounds
    step = max(x1 - x0, y1 - y0) / STRAIN_CELLS
    xs, ys = np.arange(x0, x1 + step, step), np.arange(y1, y0 - step, -step)
    grid = np.array(np.meshgrid(xs + step / 2, ys - step / 2)).reshape(2, -1).T
    strain = largest_strain(dome.turn(grid, place)).reshape(len(ys), len(xs))
    share = np.clip(strain / limit, 0, 1.6)
    # Five steps are read more surely than a smooth change; beyond the limit it is solid.
    level = np.where(share > 1, 1.0, np.floor(share * 5) / 5 * 0.62)
    rgba = np.zeros((*share.shape, 4), np.uint8)
    for k, value in enumerate((heat.blue(), heat.green(), heat.red())):
        rgba[..., k] = (value * level * 0.85).astype(np.uint8)
    rgba[..., 3] = (255 * level * 0.85).astype(np.uint8)
    image = QImage(
        rgba.data, len(xs), len(ys), 4 * len(xs), QImage.Format.Format_ARGB32_Premultiplied
    ).copy()
    return image, QRectF(x0, -y1, len(xs) * step, len(ys) * step)
