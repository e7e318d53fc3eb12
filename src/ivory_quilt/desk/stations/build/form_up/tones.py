"""The tones of strain: from crushed to stretched, with a key in words and figures."""

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from ivory_quilt.core.formup.skin import BANDS
from ivory_quilt.desk.theme.palette import LIGHT, Palette, mix, tone
from ivory_quilt.desk.theme.style import figures

STRENGTHS = (0.9, 0.62, 0.34)
HIGH, WORDS = 14, 16


def band_colours(look: Palette) -> tuple[QColor, ...]:
    """Return the colour of each band, crushed most first, and of what is masked."""
    calm = mix(look.colour("paper"), look.colour("ink_soft"), 0.5 if look.dark else 0.16)
    crushed = [mix(calm, look.colour("score"), s) for s in STRENGTHS]
    stretched = [mix(calm, look.colour("heat"), s) for s in reversed(STRENGTHS)]
    masked = mix(look.colour("paper"), look.colour("ink_soft"), 0.25 if look.dark else 0.45)
    return (*crushed, calm, *stretched, masked)


def suit_colours(thick: tuple[float, ...], look: Palette) -> tuple[QColor, ...]:
    """Return the tone of each foam, as on sheets; 0 stands for the wearer's body."""
    paper = look.colour("paper")
    body = mix(paper, look.colour("ink_soft"), 0.3 if look.dark else 0.1)
    share = 0.8 if look.dark else 0.75
    return tuple(mix(paper, tone(t), share) if t else body for t in thick)


class BandKey(QWidget):
    """The key: a strip of all bands with the strain between them."""

    def __init__(self) -> None:
        """Show the bands."""
        super().__init__()
        self.look: Palette = LIGHT
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        limits = ", ".join(f"{100 * b:+.1f}" for b in BANDS)
        self.setAccessibleName(f"key: bands of strain part at {limits} percent")
        self.setToolTip("From crushed at the left to stretched at the right, percent")

    def sizeHint(self) -> QSize:
        """One strip and its figures."""
        return QSize(240, HIGH + WORDS)

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the strip."""
        painter = QPainter(self)
        colours = band_colours(self.look)[: len(BANDS) + 1]
        wide = self.width() / len(colours)
        for k, colour in enumerate(colours):
            painter.fillRect(QRectF(k * wide, 0, wide, HIGH), colour)
        painter.setPen(self.look.colour("ink"))
        painter.setFont(figures(11))
        for k, limit in enumerate(BANDS):
            box = QRectF((k + 1) * wide - 24, HIGH, 48, WORDS)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, f"{100 * limit:+.3g}")
