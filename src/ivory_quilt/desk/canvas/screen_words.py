"""Words on a canvas, as large on the screen at any zoom, where there is room for them."""

import math
from functools import cache, lru_cache

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QStaticText, QTransform

from ivory_quilt.desk.theme.style import words

SIZE, LINE = 12, 14.0  # px of the words of a label, and from one line of it to the next


def screen_text(
    painter: QPainter,
    at: QPointF,
    text: str,
    colour: QColor,
    room: float,
    *,
    size: int = SIZE,
    strong: bool = False,
    centred: bool = True,
    whole: bool = False,
    ground: QColor | None = None,
) -> bool:
    """Write `text` at a scene point in screen pixels, cut to `room` px; False when too narrow.

    `whole` words are not cut: half a number misleads. `ground` is laid under the words, so that
    lines do not run through them.
    """
    shown, width = _cut(text, math.floor(room), size, strong=strong)
    if shown != text and (whole or len(shown) < 0.6 * len(text)):
        return False  # a stump of a word says nothing
    place = painter.worldTransform().map(at)
    painter.save()
    painter.resetTransform()
    painter.setPen(colour)
    x = place.x() - width / 2 if centred else place.x()
    _write(painter, QPointF(x, place.y()), shown, width, size, strong=strong, ground=ground)
    painter.restore()
    return True


def _write(
    painter: QPainter,
    at: QPointF,
    text: str,
    width: float,
    size: int,
    *,
    strong: bool,
    ground: QColor | None,
) -> None:
    """Write one line from a point of the screen on, `width` px wide and that high in its middle."""
    if ground is not None:
        painter.fillRect(QRectF(at.x() - 2, at.y() - size / 2, width + 4, size + 2), ground)
    painter.setFont(words(size, strong=strong))
    top = at.y() - _metrics(size, strong=strong).ascent() / 2 - 1
    painter.drawStaticText(QPointF(at.x(), top), _laid_out(text, size, strong=strong))


@lru_cache(maxsize=4096)
def _laid_out(text: str, size: int, *, strong: bool) -> QStaticText:
    """Return a line as it is painted: to lay it out takes as long as to paint it."""
    laid = QStaticText(text)
    laid.setTextFormat(Qt.TextFormat.PlainText)
    laid.prepare(QTransform(), words(size, strong=strong))
    return laid


@lru_cache(maxsize=4096)
def _cut(text: str, room: int, size: int, *, strong: bool) -> tuple[str, float]:
    """Return what of `text` is shown in `room` px, and how wide that is."""
    width = _width(text, size, strong=strong)
    if width <= room:
        return text, width
    shown = _metrics(size, strong=strong).elidedText(text, Qt.TextElideMode.ElideRight, room)
    return shown, _width(shown, size, strong=strong)


@lru_cache(maxsize=4096)
def _width(text: str, size: int, *, strong: bool) -> float:
    """Return how wide a text is, px: to measure it takes as long as to draw it."""
    return _metrics(size, strong=strong).horizontalAdvance(text)


@cache
def _metrics(size: int, *, strong: bool) -> QFontMetricsF:
    return QFontMetricsF(words(size, strong=strong))


@lru_cache(maxsize=4096)
def broken_words(
    text: str, room: int, size: int = SIZE, *, strong: bool = False
) -> tuple[str, ...]:
    """Return `text` in one line or two that fit `room` px, or nothing when it does not fit."""
    if _width(text, size, strong=strong) <= room:
        return (text,)
    parts = text.split(" ")
    best: tuple[float, list[str]] | None = None
    for k in range(1, len(parts)):
        lines = [" ".join(parts[:k]), " ".join(parts[k:])]
        width = max(_width(line, size, strong=strong) for line in lines)
        if width <= room and (best is None or width < best[0]):
            best = (width, lines)
    return tuple(best[1]) if best else ()


LabelLines = tuple[tuple[str, bool], ...]
"""The lines of a label, and whether each is strong."""


def label_choices(name: str, note: str, room: float, height: float) -> tuple[LabelLines, ...]:
    """Return how a name with a note below it can stand in so much room, px, the best first.

    The name breaks into two lines if it must; what does not fit is left to the tooltip.
    """
    return _label_choices(name, note, math.floor(room), math.floor(height))


def label_box(lines: LabelLines) -> QRectF:
    """Return the box of a label about its middle, px."""
    width = max((_width(text, SIZE, strong=strong) for text, strong in lines), default=0.0)
    height = len(lines) * LINE - 4  # letters are lower than their line
    return QRectF(-width / 2, -height / 2, width, height)


def screen_label(
    painter: QPainter,
    at: QPointF,
    lines: LabelLines,
    colour: QColor,
    ground: QColor | None = None,
) -> None:
    """Write the lines of a label about a scene point."""
    if not lines:
        return
    place = painter.worldTransform().map(at)
    painter.save()
    painter.resetTransform()
    painter.setPen(colour)
    for k, (line, strong) in enumerate(lines):
        width, y = _width(line, SIZE, strong=strong), place.y() + (k - (len(lines) - 1) / 2) * LINE
        _write(
            painter,
            QPointF(place.x() - width / 2, y),
            line,
            width,
            SIZE,
            strong=strong,
            ground=ground,
        )
    painter.restore()


@lru_cache(maxsize=8192)
def _label_choices(name: str, note: str, room: int, height: int) -> tuple[LabelLines, ...]:
    names = [(line, True) for line in broken_words(name, room, strong=True)]
    if not names:
        return ()
    # The first wording of the note that fits on one line.
    wordings = [broken_words(wording, room) for wording in note.split("\n")] if note else []
    notes = [(w[0], False) for w in wordings if len(w) == 1][:1]
    found = []
    for some in ([*names, *notes], names) if notes else (names,):
        # Outlines narrow away from their widest place.
        within = 0.8 * height if len(some) > 1 else height
        if len(some) * LINE + 2 <= within:
            found.append(tuple(some))
    return tuple(found)
