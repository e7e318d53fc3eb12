"""The card for a scan or photo: say how large it is, see what is found, bring it in."""

from collections.abc import Callable
from functools import partial

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QImage,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPolygonF,
    QTransform,
)
from PySide6.QtWidgets import (
    QFrame,
    QLabel,
    QLineEdit,
    QSizePolicy,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from ivory_quilt.core.reading.found import Reading
from ivory_quilt.core.reading.tracing.picture import LoadedPicture
from ivory_quilt.core.units import counted
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.imports.picture import (
    INK_WORDS,
    SCALE_WORDS,
    SHEETS,
    TICK_WORDS,
    PictureImport,
    ScaleBy,
)
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.widgets.basics import Complaint, button, choices, column, label, row, set_tone
from ivory_quilt.desk.work import Background

PREVIEW = 250  # px
PAUSE = 350  # ms after the last change before tracing again
OWN = "another size"


class TracePreview(QWidget):
    """The picture with the outlines that were found; a drag lays a line over something known."""

    measured = Signal(float, float, float, float)
    """A line was laid: column and row of both its ends, in the picture's pixels."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.setFixedHeight(PREVIEW)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("picture with the outlines found")
        self.look = LIGHT
        self._image = QImage()
        self._size = (1, 1)
        self._outlines = QPainterPath()
        self._line: tuple[QPointF, QPointF] | None = None
        self._dragging = False
        self.measures = False

    def _room(self) -> QTransform:
        """Return how the picture's pixels lie in the preview."""
        scale = min(self.width() / self._size[0], self.height() / self._size[1])
        left = (self.width() - self._size[0] * scale) / 2
        top = (self.height() - self._size[1] * scale) / 2
        return QTransform(scale, 0, 0, scale, left, top)

    def _pixel(self, event: QMouseEvent) -> QPointF:
        back, _ = self._room().inverted()
        return back.map(event.position())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Begin a line, where one is wanted."""
        if self.measures:
            self._dragging = True
            self._line = (self._pixel(event), self._pixel(event))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Draw the line on."""
        if self._dragging and self._line is not None:
            self._line = (self._line[0], self._pixel(event))
            self.update()

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        """End the line and tell of it."""
        if self._dragging and self._line is not None:
            self._dragging = False
            a, b = self._line
            self.measured.emit(a.x(), a.y(), b.x(), b.y())

    def show_picture(self, picture: LoadedPicture) -> None:
        """Show a picture, small."""
        grey = picture.grey
        step = max(1, max(grey.shape) // 900)
        small = np.ascontiguousarray(grey[::step, ::step])
        height, width = small.shape
        image = QImage(small.data, width, height, width, QImage.Format.Format_Grayscale8)
        self._image = image.copy()
        self._size = (grey.shape[1], grey.shape[0])
        self.update()

    def show_found(self, reading: Reading | None, look: Palette) -> None:
        """Draw outlines over the picture, by the places they were traced at."""
        self.look = look
        path = QPainterPath()
        for ring in reading.drawn_at if reading is not None else ():
            path.addPolygon(QPolygonF([QPointF(x, y) for x, y in ring.tolist()]))
            path.closeSubpath()
        self._outlines = path
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the picture as large as it goes, and the outlines in the colour of cutting."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        if self._image.isNull():
            return
        move = self._room()
        painter.drawImage(move.mapRect(QRectF(0, 0, *self._size)), self._image)
        painter.setPen(cosmetic(self.look.colour("cut"), 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(move.map(self._outlines))
        if self._line is not None and self.measures:
            a, b = move.map(self._line[0]), move.map(self._line[1])
            painter.setPen(cosmetic(self.look.colour("iris"), 2.4))
            painter.drawLine(a, b)
            painter.drawEllipse(a, 4, 4)
            painter.drawEllipse(b, 4, 4)


class TraceCard(QFrame):
    """One picture's questions and what was found."""

    def __init__(
        self,
        found: PictureImport,
        look: Palette,
        trace: Background,
        bring_in: Callable[[PictureImport], None],
        leave: Callable[[PictureImport], None],
    ) -> None:
        """Ask about `found`; `trace` runs a tracing elsewhere."""
        super().__init__()
        self.setObjectName("Bar")
        set_tone(self, "heat")
        self.found, self._look, self._trace = found, look, trace
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._run)
        self.preview = TracePreview()
        self.preview.show_picture(found.picture)
        self.summary = label("", "note", wrap=True)
        self.error = Complaint()
        said = found.choices
        self.scale_by = choices(SCALE_WORDS, partial(self._set, "scale_by"), said.scale_by)
        sheets = [(n, f"{n}, {w:g} × {h:g} mm") for n, (w, h) in SHEETS] + [(OWN, OWN)]
        self.sheet = choices(sheets, partial(self._set, "sheet"), said.sheet)
        self.own_sheet = _line("size of the sheet", "450 x 300 mm", partial(self._set, "own_sheet"))
        self.dpi = _line("resolution", "300", partial(self._set, "dpi"))
        self.dpi.setText(found.choices.dpi)
        self.pixels = _line("length in the picture", "pixels", partial(self._set, "pixels"))
        self.real = _line("real length", "e.g. 100 mm", partial(self._set, "real"))
        self.preview.measured.connect(self._measured)
        self.known_note = label("", "note", wrap=True)
        self.ticks = choices(TICK_WORDS, self._count_ticks)
        self.ticks.setAccessibleName("ticks of the ruler or bar")
        self.ink = choices(INK_WORDS, partial(self._set, "ink"), said.ink)
        self.level = QSlider(Qt.Orientation.Horizontal)
        self.level.setRange(0, 95)
        self.level.setValue(found.choices.level)
        self.level.setAccessibleName("threshold")
        self.level.valueChanged.connect(partial(self._set, "level"))
        self.level_note = label("", "note")
        self.dpi_row, self.known_row = QWidget(), QWidget()
        self.dpi_row.setLayout(row(self.dpi, QLabel("pixels per inch")))
        self.known_row.setLayout(row(self.pixels, QLabel("="), self.real))
        self.take = button("Import", lambda: bring_in(found), "main")
        self.setLayout(self._build(leave))
        self._fill()
        self._run()

    def _build(self, leave: Callable[[PictureImport], None]) -> QVBoxLayout:
        return column(
            label(f"Trace {self.found.file}", "heading", wrap=True),
            self.preview,
            self.summary,
            self.error,
            label("How large is it?", "note"),
            self.scale_by,
            self.sheet,
            self.own_sheet,
            self.dpi_row,
            self.known_row,
            self.known_note,
            self.ticks,
            label("The outline is", "note"),
            self.ink,
            row(label("Threshold", "note"), None, self.level_note),
            self.level,
            row(self.take, button("Dismiss", lambda: leave(self.found), "quiet"), None),
            edge=12,
        )

    def set_look(self, look: Palette) -> None:
        """Take another theme."""
        self._look = look
        self.preview.show_found(self.found.reading, look)

    def _set(self, name: str, value: object) -> None:
        self.found.change(**{name: value})
        self._fill()
        self._timer.start(PAUSE)

    def _fill(self) -> None:
        said, found = self.found.choices, self.found
        self.sheet.setVisible(said.scale_by is ScaleBy.SHEET)
        self.own_sheet.setVisible(said.scale_by is ScaleBy.SHEET and said.sheet == OWN)
        self.dpi_row.setVisible(said.scale_by is ScaleBy.DPI)
        knows = said.scale_by is ScaleBy.KNOWN
        self.known_row.setVisible(knows)
        self.known_note.setVisible(knows)
        self.ticks.setVisible(knows)
        self.preview.measures = knows
        self.known_note.setText(found.known_words())
        self.level_note.setText(f"{said.level} %" if said.level else "found by itself")
        self.summary.setText(found.summary())
        self.error.setText(found.error)
        count = len(found.pieces)
        self.take.setText(f"Import {counted(count, 'piece')}" if count else "Import")
        self.take.setEnabled(bool(count) and not found.busy and not found.error)
        self.preview.show_found(found.reading, self._look)

    def _measured(self, x0: float, y0: float, x1: float, y1: float) -> None:
        """Take a line laid over the preview as the known length; count ticks along it if said."""
        self.found.lay_known((x0, y0), (x1, y1))
        self.pixels.setText(self.found.choices.pixels)
        self.real.setText(self.found.choices.real)
        self._fill()
        self._timer.start(PAUSE)

    def _count_ticks(self, each: float) -> None:
        self.found.count_ticks(each)
        self.pixels.setText(self.found.choices.pixels)
        self.real.setText(self.found.choices.real)
        self._fill()
        self._timer.start(PAUSE)

    def _run(self) -> None:
        self.found.wanted += 1
        self.found.busy = True
        self._fill()
        self._trace(self.found.trace, partial(self._have, self.found.wanted))

    def _have(self, asked: int, reading: Reading | None, error: Exception | None) -> None:
        if asked != self.found.wanted:
            return
        self.found.busy = False
        self.found.reading = reading
        self.found.error = str(error) if error is not None else ""
        self._fill()


def _line(name: str, hint: str, run: Callable[[str], None]) -> QLineEdit:
    made = QLineEdit()
    made.setAccessibleName(name)
    made.setPlaceholderText(hint)
    made.textEdited.connect(run)
    return made
