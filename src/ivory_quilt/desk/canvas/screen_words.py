"""Words on a canvas, as large on the screen at any zoom, where there is room for them."""

import math
from functools import cache, lru_cache

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter

from ivory_quilt.desk.theme.style import words


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


def _cut(text: str, room: int, size: int, strong: bool) -> tuple[str, float]:
    """Return what of `text` is shown in `room` px, and how wide that is."""
    width = _width(text, size, strong)
    if width <= room:
        return text, width
    shown = _metrics(size, strong).elidedText(text, Qt.TextElideMode.ElideRight, room)
    return shown, _width(shown, size, strong)


@lru_cache(maxsize=4096)
def _width(text: str, size: int, strong: bool) -> float:
    """Return how wide a text is, px: to measure it takes as long as to draw it."""
    return _metrics(size, strong).horizontalAdvance(text)


@cache
def _metrics(size: int, strong: bool) -> QFontMetricsF:
    return QFontMetricsF(words(size, strong=strong))


@lru_cache(maxsize=4096)
def broken_words(text: str, room: int, size: int = 12, *, strong: bool = False) -> tuple[str, ...]:
    """Return `text` in one line or two that fit `room` px, or nothing when it does not fit."""
    if _width(text, size, strong) <= room:
        return (text,)
    parts = text.split(" ")
    best: tuple[float, list[str]] | None = None
    for k in range(1, len(parts)):
        lines = [" ".join(parts[:k]), " ".join(parts[k:])]
        width = max(_width(line, size, strong) for line in lines)
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
