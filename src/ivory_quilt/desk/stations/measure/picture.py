"""Reference picture: lines over a reference picture, and the real sizes they mean."""

import math
from collections.abc import Callable
from functools import partial
from pathlib import Path

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QImage, QMouseEvent, QPainter, QPixmap
from PySide6.QtWidgets import QFileDialog, QLineEdit, QVBoxLayout, QWidget

from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.core.measure.study import Pictured
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.canvas.screen_words import screen_text
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.stations.measure.study_presenter import StudyPresenter
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.widgets.basics import Complaint, Stitch, button, clear, column, label, row
from ivory_quilt.desk.widgets.fields import Taking, show_text
from ivory_quilt.desk.widgets.slip import SlipFigure

REACH = 12.0  # px within which a line's end is taken hold of
SHORTEST = 4.0  # px; a shorter drag is a slip of the hand


class PictureTable(Canvas):
    """A reference picture; a drag lays a line over it, its ends can be moved."""

    changed = Signal()

    def __init__(self, presenter: StudyPresenter) -> None:
        """Lay lines for `presenter`."""
        super().__init__()
        self.setAccessibleName("reference picture")
        self.ruler_word = "px"
        self._presenter = presenter
        self._start: Point | None = None
        self._stop: Point | None = None
        self._held: tuple[str, int] | None = None
        self._shown: object = None

    def show_picture(self, _look: Palette) -> None:
        """Show the study's picture; without it, only the lines."""
        grey = self._presenter.grey
        if grey is not self._shown:
            self._shown = grey
            self.scene().clear()
            if grey is not None:
                flat = np.ascontiguousarray(grey)
                height, width = flat.shape
                image = QImage(flat.data, width, height, width, QImage.Format.Format_Grayscale8)
                self.scene().addPixmap(QPixmap.fromImage(image.copy()))
            self.fit()
        self.viewport().update()

    def content(self) -> QRectF:
        """Return the picture's box, or that of the lines."""
        box = self.scene().itemsBoundingRect()
        for line in self._presenter.all_lines():
            box = box.united(QRectF(QPointF(*line.start), QPointF(*line.stop)).normalized())
        return box

    def _at(self, event: QMouseEvent) -> Point:
        place = self.mapToScene(event.position().toPoint())
        return (place.x(), place.y())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold of a line's end, or begin a line."""
        super().mousePressEvent(event)
        if event.button() != Qt.MouseButton.LeftButton or self._panning is not None:
            return
        if self._presenter.study is None:
            return
        at = self._at(event)
        self._held = self._presenter.end_at(at, REACH / self.scale_now)
        if self._held is None:
            self._start = self._stop = at

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Carry the end, or draw the line on."""
        super().mouseMoveEvent(event)
        if self._held is not None:
            self._presenter.carry(*self._held, self._at(event))
            self.changed.emit()
        elif self._start is not None:
            self._stop = self._at(event)
        self.viewport().update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """End the line."""
        super().mouseReleaseEvent(event)
        if self._held is not None:
            self._held = None
            self._presenter.let_go()
        elif self._start is not None and self._stop is not None:
            far = math.dist(self._start, self._stop) * self.scale_now >= SHORTEST
            if far:
                self._presenter.lay(self._start, self._stop)
        self._start = self._stop = None
        self.changed.emit()
        self.viewport().update()

    def drawForeground(self, painter: QPainter, rect: QRectF | object) -> None:
        """Draw the lines with what they mean."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p, look = self._presenter, self.look
        if p.known is not None:
            self._line(painter, p.known, "heat", p.known_words())
        for line in p.lines:
            self._line(painter, line, "iris", f"{line.name}: {p.size_words(line)}")
        if self._start is not None and self._stop is not None:
            painter.setPen(cosmetic(look.colour("iris"), 2.4))
            painter.drawLine(QPointF(*self._start), QPointF(*self._stop))
        super().drawForeground(painter, rect)

    def _line(self, painter: QPainter, line: Pictured, tone: str, text: str) -> None:
        look, scale = self.look, self.scale_now
        a, b = QPointF(*line.start), QPointF(*line.stop)
        dashes = (8.0, 3.0) if tone == "heat" else ()
        for width, colour in ((5.0, "raised"), (2.4, tone)):
            painter.setPen(cosmetic(look.colour(colour), width, dashes if width < 4 else ()))
            painter.drawLine(a, b)
        painter.setBrush(look.colour("raised"))
        painter.setPen(cosmetic(look.colour(tone), 2.0))
        for end in (a, b):
            painter.drawEllipse(end, 5 / scale, 5 / scale)
        middle = (a + b) / 2 + QPointF(10 / scale, -10 / scale)
        screen_text(
            painter,
            middle,
            text,
            look.colour("ink"),
            320,
            strong=True,
            centred=False,
            ground=look.colour("raised"),
        )


class PicturePanel(QWidget):
    """The card's part: what is known, and the list of sizes."""

    def __init__(self, presenter: StudyPresenter, changed: Callable[[], None]) -> None:
        """Work `presenter`; call `changed` when the picture must be drawn anew."""
        super().__init__()
        self._presenter, self._changed = presenter, changed
        self.ask_file: Callable[[], str] = self._ask_file
        self.title = label("Reference picture", "title")
        self.advice = label("", "note", wrap=True)
        self.open = button("Open a picture …", self._open)
        self._lines_shown: object = None
        self.known = QLineEdit()
        self.known.setAccessibleName("what is known")
        self.known.setPlaceholderText("e.g. forearm and hand")
        self.known.editingFinished.connect(self._say_known)
        self.real = QLineEdit()
        self.real.setAccessibleName("its real length")
        self.real.setPlaceholderText("e.g. 463 mm")
        self.real.editingFinished.connect(self._say_known)
        self.give = QLineEdit()
        self.give.setAccessibleName("give or take")
        self.give.setPlaceholderText("± 5 mm")
        self.give.editingFinished.connect(self._say_known)
        self.blur = QLineEdit()
        self.blur.setAccessibleName("ends of lines, give or take pixels")
        self.blur.setFixedWidth(64)
        self.blur.editingFinished.connect(self._say_blur)
        self.taken = QVBoxLayout()
        self.error = Complaint()
        self.sizes = QVBoxLayout()
        self.sizes.setSpacing(6)
        self.known_box = QWidget()
        self.known_box.setLayout(
            column(
                label("Known in the picture", "heading"),
                self.known,
                row(self.real, self.give),
                self.taken,
                row(label("Ends of lines ±"), self.blur, label("pixels"), None),
                space=6,
            )
        )
        self.setLayout(
            column(
                self.title,
                self.advice,
                row(self.open, None),
                self.error,
                self.known_box,
                Stitch(),
                label("Real sizes", "heading"),
                self.sizes,
                None,
                space=10,
            )
        )

    def fill(self) -> None:
        """Show the study."""
        p = self._presenter
        study = p.study
        self.advice.setText(p.advice())
        self.known_box.setVisible(study is not None)
        if study is not None:
            for field, text in (
                (self.known, p.known_name),
                (self.real, f"{show_number(study.real, 1)} mm" if study.real else ""),
                (self.give, f"± {show_number(study.uncertainty, 1)} mm"),
                (self.blur, show_number(study.blur, 1)),
            ):
                show_text(field, text)
        clear(self.taken)
        for measure in p.usual():
            words = f"{p.measure_words(measure)}"
            pick = button(words, partial(self._take, measure.spot), "quiet", "As it was measured")
            self.taken.addWidget(pick)
        state = [(line, p.size_words(line)) for line in p.lines]
        if state == self._lines_shown:
            return  # a name that is being typed stays
        self._lines_shown = state
        clear(self.sizes)
        for line in p.lines:
            name = QLineEdit(line.name)
            name.setAccessibleName(f"name of {line.name}")
            name.editingFinished.connect(partial(self._rename, line.name, name))
            figure = SlipFigure("mono")
            figure.show_figure(p.size_words(line), partial(p.reckon, line) if p.ready else None)
            drop = button("×", partial(self._drop, line.name), "quiet", "Delete line")
            drop.setFixedWidth(36)
            self.sizes.addLayout(row(name, drop))
            self.sizes.addWidget(figure)

    # Doing

    def _do(self, work: Callable[[], object], *fields: QLineEdit) -> None:
        with Taking(self.error, *fields) as taken:
            work()
        if taken:
            self._changed()

    def _open(self) -> None:
        if name := self.ask_file():
            self._do(partial(self._presenter.open, Path(name)))

    def _ask_file(self) -> str:
        name, _ = QFileDialog.getOpenFileName(
            self,
            "Open a reference picture",
            str(Path.home()),
            "Pictures (*.png *.jpg *.jpeg *.tif *.tiff)",
        )
        return name

    def _say_known(self) -> None:
        def work() -> None:
            self._presenter.say_known(self.known.text(), self.real.text(), self.give.text())

        if self.real.text().strip():
            self._do(work, self.known, self.real, self.give)

    def _say_blur(self) -> None:
        self._do(lambda: self._presenter.say_blur(self.blur.text()), self.blur)

    def _take(self, spot_id: str) -> None:
        self._do(lambda: self._presenter.take_measure(spot_id))

    def _rename(self, old: str, field: QLineEdit) -> None:
        if field.text().strip() != old:
            self._do(lambda: self._presenter.rename(old, field.text()), field)

    def _drop(self, name: str) -> None:
        self._do(lambda: self._presenter.drop(name))
