"""Small pictures of the sheets that a foam takes, all at one scale."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from ivory_quilt.desk.canvas.paths import placed_path, shape_path
from ivory_quilt.desk.canvas.quilt import SheetSpot
from ivory_quilt.desk.theme.palette import Palette, foam_fill, mix, tone
from ivory_quilt.desk.theme.style import words

SCALE = 0.105  # px per mm, the same for every picture so that sizes can be compared
SPACE, FOOT = 14.0, 18.0


class SheetPictures(QWidget):
    """The sheets of one foam side by side, with their parts, wrapped to the width."""

    def __init__(self, spots: list[SheetSpot], look: Palette) -> None:
        """Show `spots`."""
        super().__init__()
        self._spots, self._look = spots, look
        self._places: list[QPointF] = []
        self._place(620)
        names = ", ".join(s.title for s in spots)
        self.setAccessibleName(f"pictures of {names}")

    def _place(self, width: float) -> None:
        self._places = []
        x, y, row, widest = 0.0, 0.0, 0.0, 0.0
        for spot in self._spots:
            w, h = max(78.0, spot.shape.width * SCALE), spot.shape.height * SCALE + FOOT
            if x > 0 and x + w > width:
                x, y, row = 0.0, y + row + SPACE, 0.0
            self._places.append(QPointF(x, y))
            x, row = x + w + SPACE, max(row, h)
            widest = max(widest, x)
        self._size = QSize(round(widest), round(y + row + 4))
        self.setMinimumHeight(self._size.height())

    def sizeHint(self) -> QSize:
        """As large as the sheets at this scale."""
        return self._size

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint sheets and parts."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look = self._look
        for spot, place in zip(self._spots, self._places, strict=True):
            x0, _, _, y1 = spot.shape.bounds
            painter.save()
            painter.translate(place)
            painter.scale(SCALE, SCALE)
            painter.translate(-x0, y1)
            thickness = spot.foam.foam.thickness
            pen = QPen(look.colour("ink_soft"), 1.2)
            pen.setCosmetic(True)
            if not spot.owned:
                pen.setColor(look.colour("ink"))
                pen.setWidthF(2.0)
            painter.setPen(pen)
            painter.setBrush(foam_fill(thickness, look, 0.22))
            painter.drawPath(shape_path(spot.shape))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(mix(look.colour("paper"), tone(thickness), 0.75))
            assert spot.foam.result is not None
            for p in spot.foam.result.placements:
                if (p.sheet, p.sheet_copy) == spot.key:
                    painter.drawPath(placed_path(spot.foam.part(p.piece).shape, p.pose))
            painter.restore()
            painter.setPen(look.colour("ink_soft"))
            painter.setFont(words(12))
            foot = place.y() + spot.shape.height * SCALE + 2
            text = f"{'shelf' if spot.owned else 'buy'} · {100 * spot.use.density:.0f} %"
            painter.drawText(QRectF(place.x(), foot, 140, 16), Qt.AlignmentFlag.AlignLeft, text)
