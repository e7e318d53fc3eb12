"""The part in hand by itself, as large as there is room, the way it lies on the sheet."""

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QTransform
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.pattern.piece import PieceLine
from ivory_quilt.core.stock.spent_sheet import CutPart
from ivory_quilt.desk.canvas.paths import line_path, placed_path, run_path
from ivory_quilt.desk.canvas.pens import cosmetic, line_pen
from ivory_quilt.desk.theme.palette import LIGHT, Palette, piece_fill

HEIGHT, LEAST, EDGE = 190, 40, 6  # px


class PartPicture(QWidget):
    """A drawing of one part with its lines."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.look: Palette = LIGHT
        self._part: CutPart | None = None
        self._lines: tuple[PieceLine, ...] = ()
        self._cuts: tuple[Array, ...] = ()
        self._thickness = 0.0
        # Words come first: it gives way where they need the room.
        self.setMinimumHeight(LEAST)
        self.setMaximumHeight(HEIGHT)
        policy = QSizePolicy.Policy
        self.setSizePolicy(policy.Expanding, policy.Expanding)

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(HEIGHT, LEAST)

    def show_part(
        self,
        part: CutPart,
        lines: tuple[PieceLine, ...],
        cuts: tuple[Array, ...],
        thickness: float,
    ) -> None:
        """Draw a part of foam so thick, mm; `cuts`: where it is cut now, none: all around."""
        self._part, self._lines, self._cuts, self._thickness = part, lines, cuts, thickness
        self.setAccessibleName(f"{part.label}, as it lies on the sheet")
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint it as large as it fits."""
        part = self._part
        if part is None:
            return
        path = placed_path(part.shape, part.pose)
        box = path.boundingRect()
        room = QRectF(self.rect()).adjusted(EDGE, EDGE, -EDGE, -EDGE)
        scale = min(room.width() / box.width(), room.height() / box.height())
        move = QTransform.fromTranslate(room.center().x(), room.center().y())
        move.scale(scale, scale)
        move.translate(-box.center().x(), -box.center().y())
        with QPainter(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setTransform(move)
            strong = cosmetic(self.look.colour("cut"), 3.0)
            painter.setPen(cosmetic(self.look.colour("ink_soft"), 1.2) if self._cuts else strong)
            painter.setBrush(piece_fill(self._thickness, self.look))
            painter.drawPath(path)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for line in self._lines:
                painter.setPen(line_pen(line.kind, self.look, 2.4))
                painter.drawPath(line_path(line.placed(part.pose)))
            painter.setPen(strong)
            for cut in self._cuts:
                painter.drawPath(run_path(cut))
