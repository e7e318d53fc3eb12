"""The card of the Journal: tell what happened, in seconds."""

from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import (
    QCheckBox,
    QFileDialog,
    QLineEdit,
    QPlainTextEdit,
    QWidget,
)

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.journal.entry import UNITS, EntryKind
from ivory_quilt.core.journal.learning import ring_neutral
from ivory_quilt.core.plan.gluing import joints_of
from ivory_quilt.core.units import parse_scalar
from ivory_quilt.desk.stations.journal.presenter import JournalPresenter
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    button,
    choices,
    column,
    label,
    row,
)
from ivory_quilt.desk.widgets.fields import Taking

PICTURES = "Photos (*.jpg *.jpeg *.png *.webp)"
OF_FOAM = (EntryKind.NEUTRAL, EntryKind.DISH, EntryKind.THICKNESS, EntryKind.FOAM)
TRIED = (EntryKind.DISH, EntryKind.FIT, EntryKind.PACKED)
HINTS = {
    EntryKind.NEUTRAL: "strip, inside across, thickness (mm)",
    EntryKind.DISH: "strain, %",
    EntryKind.CEMENT: "mL that were used up for all joints",
    EntryKind.TONE: "parts: 3 bronze, 1 black",
}


class EntryCard(QWidget):
    """Fields of one entry."""

    told = Signal()

    def __init__(self, presenter: JournalPresenter) -> None:
        """Tell `presenter`."""
        super().__init__()
        self._p = presenter
        self.step = ""
        self.photos: tuple[Path, ...] = ()
        self.error = Complaint()
        kinds = [(k, k.value) for k in EntryKind if k is not EntryKind.TIME]
        self.kind = choices(kinds, self._kind_chosen, EntryKind.NOTE)
        self.kind.setAccessibleName("what it is about")
        self.piece = QLineEdit()
        self.piece.setPlaceholderText("piece, or the whole suit")
        self.piece.setAccessibleName("piece that it is about")
        self.value = QLineEdit()
        self.value.setAccessibleName("how much")
        self.unit = label("", "note")
        self.well = QCheckBox("it went well")
        self.well.setChecked(True)
        self.words = QPlainTextEdit()
        self.words.setPlaceholderText("What happened, in your words")
        self.words.setAccessibleName("what happened")
        self.words.setMaximumHeight(140)
        self.photo_note = label("", "note", wrap=True)
        add = button("Photos …", self.ask_photos, "quiet", "Copied beside the project")
        tell = button("Tell the journal", self.tell, "main")
        self.setLayout(
            column(
                label("Tell", "title"),
                self.kind,
                self.piece,
                self.value,
                self.unit,
                self.well,
                self.words,
                row(add, None),
                self.photo_note,
                tell,
                self.error,
                None,
                space=10,
                edge=16,
            )
        )
        self._kind_chosen(EntryKind.NOTE)

    def begin(self, kind: EntryKind, *, piece: str = "", step: str = "", words: str = "") -> None:
        """Bring an entry about something to the front."""
        self.kind.show_value(kind)
        self._kind_chosen(kind)
        names = {p.id: p.name for p in self._p.session.project.pieces}
        self.piece.setText(names.get(piece, piece))
        self.words.setPlainText(words)
        self.step = step
        if kind in (EntryKind.SPOILED, EntryKind.CUT):
            self.value.setText("1")
        self.words.setFocus()

    def _kind_chosen(self, kind: EntryKind) -> None:
        unit = HINTS.get(kind) or UNITS.get(kind, "")
        self.unit.setText(unit)
        self.value.setPlaceholderText(unit)
        self.value.setVisible(kind in UNITS)
        self.unit.setVisible(bool(unit))
        self.well.setVisible(kind in TRIED)

    def ask_photos(self) -> None:
        """Ask for photos."""
        names, _ = QFileDialog.getOpenFileNames(self, "Photos", "", PICTURES)
        self.take_photos(tuple(map(Path, names)))

    def take_photos(self, photos: tuple[Path, ...]) -> None:
        """Take photos into the entry that is written."""
        self.photos = (*self.photos, *photos)
        self.photo_note.setText(", ".join(p.name for p in self.photos))

    def tell(self) -> None:
        """Write the entry."""
        with Taking(self.error, self.piece, self.value):
            kind: EntryKind = self.kind.value
            piece = self._piece_id()
            about, planned = "", 0.0
            if kind in OF_FOAM:
                about = self._material(piece)
            if kind is EntryKind.CEMENT:
                planned = self._glued()
            self._p.tell(
                kind,
                self.words.toPlainText(),
                piece=piece,
                step=self.step,
                about=about,
                value=self._value(kind),
                planned=planned,
                went_well=self.well.isChecked() or kind not in TRIED,
                photos=self.photos,
            )
            self.photos, self.step = (), ""
            self.photo_note.setText("")
            self.words.clear()
            self.value.clear()
            self.piece.clear()
            self.well.setChecked(True)
            self.told.emit()

    def _value(self, kind: EntryKind) -> float:
        text = self.value.text().strip()
        if kind is EntryKind.NEUTRAL:
            figures = text.replace(";", " ").split()
            if len(figures) != 3:
                expected = "three figures: strip, inside across, thickness (mm)"
                raise InputError("ring", f"'{text}'", expected)
            strip, inside, thick = (parse_scalar(f, where="ring") for f in figures)
            return ring_neutral(strip, inside, thick)
        if kind not in UNITS or not text:
            return 0.0
        return parse_scalar(text, where=kind.value)

    def _piece_id(self) -> str:
        text = self.piece.text()
        if not text.strip():
            return ""
        project, expected = self._p.session.project, "a piece's name, or nothing"
        return project.piece_named(text, "piece", expected).id

    def _material(self, piece: str) -> str:
        project = self._p.session.project
        if piece:
            return project.piece(piece).material
        materials = [p.material for p in project.pieces]
        return max(set(materials), key=materials.count) if materials else "eva"

    def _glued(self) -> float:
        """Return the faces that the plan's joints have, m²: what cement was used for."""
        from ivory_quilt.core.plan.consuming import amounts_of

        plan = self._p.session.plan
        return amounts_of(plan).glued / 1e6 if joints_of(plan, plan.project.bench) else 0.0
