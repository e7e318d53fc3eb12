"""The lists beside the section in Finish: works on the faces, and tones."""

from collections.abc import Callable

from PySide6.QtCore import QSignalBlocker
from PySide6.QtGui import QColor, qGray
from PySide6.QtWidgets import QStackedWidget, QWidget

from ivory_quilt.core.pattern.paint import PaintArea, typed_coats
from ivory_quilt.core.pattern.region import typed_region
from ivory_quilt.core.pattern.surface import SurfaceKind, SurfaceWork, WorkFace
from ivory_quilt.core.plan.surfacing import work_figure
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import show_length, show_number, shown_digits, typed_length
from ivory_quilt.desk.stations.build.finish_work import FinishWork
from ivory_quilt.desk.theme.palette import LIGHT
from ivory_quilt.desk.widgets.basics import Complaint, column
from ivory_quilt.desk.widgets.fields import typed_word, yes_or_no
from ivory_quilt.desk.widgets.mode_bar import ModeBar
from ivory_quilt.desk.widgets.record_table import Column, RecordTable
from ivory_quilt.desk.widgets.tone_cells import tone_before_glue, tone_face, tone_region

SURFACE, COLOUR = "surface", "colour"
LISTS = (
    (SURFACE, "Surface", "Lines, textures, clay, hollows and sanding on the faces"),
    (COLOUR, "Colour", "Tones of this piece, in the order in which they are painted"),
)
MIDDLE_GREY = 118  # of 255: on what is lighter, ink is read more easily than paper
TONE = 3  # the column of a tone's colour
Row = tuple[int, SurfaceWork]


class FinishPane(QWidget):
    """Two lists, one at a time."""

    def __init__(self, finish: FinishWork, changed: Callable[[], None]) -> None:
        """List what `finish` knows; call `changed` when something else is in hand."""
        super().__init__()
        self._finish, self._changed = finish, changed
        self.shown = SURFACE
        self.error = Complaint()
        self.bar = ModeBar(LISTS, self.show_list)
        self.works: RecordTable[Row] = RecordTable(
            "works on the faces",
            (
                Column("Work", lambda r: r[1].kind.value, _put(_kind)),
                Column("Where", lambda r: r[1].region.words, _put(_where)),
                Column("Face", lambda r: r[1].face.value, _put(_face)),
                Column("Depth", lambda r: _length(r[1].depth), _put(_depth)),
                Column("Comes to", self._figure),
                Column("Min", self._minutes),
            ),
            lambda: tuple(enumerate(finish.works)),
            self._put_work,
            self.error.setText,
            remove=lambda r: self._done(lambda: finish.remove(r[0])),
        )
        self.works.currentCellChanged.connect(self._choose)
        self.tones: RecordTable[PaintArea] = RecordTable(
            "tones of the piece",
            (
                Column("Tone", lambda a: a.tone, lambda a, t: replace(a, tone=t.strip())),
                Column("Region", lambda a: a.region.words, tone_region),
                Column("Coats", lambda a: a.coat_words, typed_coats),
                Column("Colour", lambda a: a.colour, lambda a, t: replace(a, colour=t.strip())),
                Column("First", lambda a: yes_or_no(on=a.before_glue), tone_before_glue),
                Column("Face", lambda a: a.face.value, tone_face),
                Column("cm²", lambda a: show_number(finish.covered(a) / 100, 1)),
            ),
            finish.tones,
            lambda a: self._done(lambda: finish.put_tone(a)),
            self.error.setText,
            remove=lambda a: self._done(lambda: finish.remove_tone(a)),
            fresh=finish.fresh_tone,
        )
        self.stack = QStackedWidget()
        self.stack.addWidget(self.works)
        self.stack.addWidget(self.tones)
        self.setLayout(column(self.bar, self.error, self.stack, space=4, edge=0))
        self.setMinimumWidth(590)

    def show_list(self, which: str) -> None:
        """Bring one of the lists to the front."""
        self.shown = which
        self._changed()

    def fill(self) -> None:
        """Show both lists as they are now."""
        self.bar.show_mode(self.shown, [SURFACE, COLOUR])
        self.stack.setCurrentIndex(int(self.shown == COLOUR))
        self.error.setVisible(bool(self.error.text()))
        with QSignalBlocker(self.works):
            self.works.fill()
            if self._finish.work is not None and self._finish.chosen is not None:
                self.works.setCurrentCell(self._finish.chosen, max(0, self.works.currentColumn()))
        self.tones.fill()
        with QSignalBlocker(self.tones):
            for r, area in enumerate(self._finish.tones()):
                self._show_colour(r, area.colour)

    def _show_colour(self, row: int, colour: str) -> None:
        """Let a tone's cell have its colour, its words in ink or paper, whichever is read."""
        cell = self.tones.item(row, TONE)
        if cell is not None and colour:
            cell.setBackground(QColor(colour))
            light = qGray(QColor(colour).rgb()) > MIDDLE_GREY
            cell.setForeground(QColor(LIGHT.ink if light else LIGHT.paper))

    def _done(self, work: Callable[[], object]) -> None:
        work()
        self._changed()

    def _choose(self, row: int, _column: int, _old_row: int, _old_column: int) -> None:
        if 0 <= row < len(self._finish.works) and row != self._finish.chosen:
            self._finish.chosen = row
            self._changed()

    def _put_work(self, row: Row) -> None:
        self._done(lambda: self._finish.put(*row))

    def _figure(self, row: Row) -> str:
        piece = self._finish.piece
        return work_figure(piece, row[1]) if piece is not None else ""

    def _minutes(self, row: Row) -> str:
        return show_number(self._finish.reckoned(row[1]).figure("minutes"), 0)


def _length(value: float) -> str:
    return show_length(value, digits=shown_digits()) if value else ""


def _put(
    take: Callable[[SurfaceWork, str], SurfaceWork],
) -> Callable[[Row, str], Row]:
    """Let a taker of works take rows."""
    return lambda row, text: (row[0], take(row[1], text))


def _kind(work: SurfaceWork, text: str) -> SurfaceWork:
    return replace(work, kind=typed_word(SurfaceKind, "work", text))


def _face(work: SurfaceWork, text: str) -> SurfaceWork:
    return replace(work, face=typed_word(WorkFace, "face", text))


def _where(work: SurfaceWork, text: str) -> SurfaceWork:
    return replace(work, region=typed_region(text, f"{work.kind.value}, where"))


def _depth(work: SurfaceWork, text: str) -> SurfaceWork:
    return replace(work, depth=typed_length(text, where="depth") if text.strip() else 0.0)
