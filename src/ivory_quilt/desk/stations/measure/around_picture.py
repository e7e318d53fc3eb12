"""Parts laid one after the other as they go around, above the girth that they must reach."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QTransform
from PySide6.QtWidgets import QWidget

from ivory_quilt.core.measure.fit import KeyOf
from ivory_quilt.core.measure.parts_around import AroundSum
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.canvas.paths import shape_path, shape_rect
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.theme.palette import LIGHT, Palette, piece_fill
from ivory_quilt.desk.theme.style import figures

EDGE, BAR, GAP = 28, 26, 16  # px
MOST_TALL = 0.6  # of the room


class AroundPicture(QWidget):
    """The sum of a girth to look at: parts, overlaps, gaps, and what is missing."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.setMinimumHeight(220)
        self._total: AroundSum | None = None
        self._pieces: list[Piece] = []
        self._look: Palette = LIGHT

    def show_sum(self, total: AroundSum | None, pieces: list[Piece], look: Palette) -> None:
        """Draw the parts of `total`, whose pieces are given in their order."""
        self._total, self._pieces, self._look = total, pieces, look
        words = (
            "parts around a girth" if total is None else f"{show_number(total.have, 0)} mm of foam"
        )
        self.setAccessibleName(words)
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the parts in a row, the girth below them."""
        total, look = self._total, self._look
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if total is None or not self._pieces:
            return
        room = QRectF(self.rect()).adjusted(EDGE, GAP, -EDGE, -GAP)
        longest = max(total.needed, total.have, 1.0)
        tall = max(
            _across(p, part.key) for p, part in zip(self._pieces, total.around.parts, strict=True)
        )
        scale = min(room.width() / longest, MOST_TALL * room.height() / tall)
        start = room.center().x() - scale * longest / 2
        floor = room.top() + (room.height() - 3 * BAR) / 2 + scale * tall / 2
        self._paint_parts(painter, total, QPointF(start, floor), scale)
        top = floor + GAP
        painter.setFont(figures(13))
        for k, (value, words) in enumerate(
            ((total.have, "the parts"), (total.needed, "needed around"))
        ):
            y = top + k * (BAR + 6)
            box = QRectF(start, y, scale * value, BAR)
            painter.setPen(cosmetic(look.colour("ink"), 1.2))
            painter.setBrush(look.colour("linen" if k else "raised"))
            painter.drawRect(box)
            painter.setPen(look.colour("ink"))
            text = f"{words} {show_number(value, 1)} mm"
            painter.drawText(box.adjusted(8, 0, 300, 0), Qt.AlignmentFlag.AlignVCenter, text)
        off = abs(total.missing) * scale
        if off > 1 and not total.closes:
            left = start + scale * min(total.have, total.needed)
            y = top if total.missing > 0 else top + BAR + 6
            painter.setPen(cosmetic(look.colour("heat"), 2.0, (5.0, 3.0)))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(left, y, off, BAR))

    def _paint_parts(
        self, painter: QPainter, total: AroundSum, start: QPointF, scale: float
    ) -> None:
        """Paint each part as often as it goes around; joints share overlaps and gaps evenly."""
        look = self._look
        many = sum(p.times for p in total.around.parts)
        joint = (total.around.gaps - total.around.laps) / many
        x = start.x()
        for piece, part in zip(self._pieces, total.around.parts, strict=True):
            wide = total.lengths[self._pieces.index(piece)]
            box = shape_rect(piece.shape)
            for _ in range(part.times):
                place = QTransform()
                place.translate(x, start.y())
                place.scale(scale, scale)
                if part.key is KeyOf.HEIGHT:
                    place.rotate(90)
                    place.translate(-box.bottom(), -box.right())
                else:
                    place.translate(-box.left(), -box.bottom())
                painter.setPen(cosmetic(look.colour("ink"), 1.3))
                painter.setBrush(piece_fill(piece.thickness, look))
                painter.drawPath(place.map(shape_path(piece.shape)))
                x += scale * (wide + joint)


def _across(piece: Piece, key: KeyOf) -> float:
    """Return how far a part reaches up where its key dimension lies level, mm."""
    return piece.shape.width if key is KeyOf.HEIGHT else piece.shape.height
