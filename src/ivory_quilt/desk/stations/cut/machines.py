"""Cut sheets for machines: in which format, and for a knife plotter how its blade works."""

from collections.abc import Callable

from PySide6.QtWidgets import QWidget

from ivory_quilt.core.cutting.knife_plotter import USUAL_PLOTTER, KnifePlotter
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.units import parse_length, parse_scalar
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.widgets.basics import Complaint, button, choices, column, label, row
from ivory_quilt.desk.widgets.fields import EntryField, Taking, said, tick, with_field
from ivory_quilt.files.sheet_files import SheetFormat

WORDS = {
    SheetFormat.SVG: "Actual size (mm), cut and score on layers, parts in cutting order.",
    SheetFormat.DXF: "R2010, mm; layers cut, score, undercut, mark, label; parts in cutting order.",
    SheetFormat.HPGL: "For a knife plotter; that its blade trails is corrected for.",
    SheetFormat.GEOJSON: "Outlines with their parts' names, in mm, for other programs.",
    SheetFormat.G_CODE: "For a knife plotter; that its blade trails is corrected for.",
}
LENGTHS = (
    ("offset", "Blade offset", "From the swivel's axis to the blade's tip; it is on its holder"),
    ("overcut", "Overcut", "How far an outline is cut past where it began, so that it comes free"),
    ("thickest", "Cuts foam up to", "Thicker sheets are left out, and told"),
    ("length", "Reach along", "Along the sheet's length"),
    ("width", "Reach across", "Larger sheets are left out, and told"),
)


class MachineBox(QWidget):
    """Choose a format and the plotter's numbers; the shop remembers the plotter."""

    def __init__(
        self, session: Session, write: Callable[[], object], try_out: Callable[[], object]
    ) -> None:
        """Keep the plotter in the shop of `session`; the two buttons write and try the sheets."""
        super().__init__()
        self._session = session
        formats = [(k, k.value) for k in SheetFormat]
        self.kind = choices(formats, lambda _: self.fill())
        self.kind.setAccessibleName("format of the cut sheets")
        self.save = button("Cut sheets for machines …", write)
        self.note = label("", "note", wrap=True)
        self.error = Complaint()
        self.fields: dict[str, EntryField] = {}
        lines = []
        for name, words, tip in LENGTHS:
            field = EntryField(words.lower(), lambda text, name=name: self._length(name, text))  # type: ignore[misc]
            field.setToolTip(tip)
            self.fields[name] = field
            lines.append(said(words, field))
        self.speed = EntryField("cutting speed", self._speed, "mm/s")
        self.marks = tick(
            "Draw marks with a pen first",
            self._draw_marks,
            "Match marks, folds, and what a hand cuts at an angle; the machine asks for the pen",
        )
        self.try_out = button(
            "Try it",
            try_out,
            tip="Cut all sheets on the simulated plotter: how true, and how long it takes",
        )
        self.tried = label("", "note", wrap=True)
        self.machine = QWidget()
        self.machine.setLayout(
            column(
                *lines,
                said("Cutting speed", self.speed),
                self.marks,
                self.error,
                row(self.try_out, None),
                self.tried,
                space=6,
            )
        )
        self.setLayout(
            column(row(self.save), row(label("as"), self.kind), self.note, self.machine, space=8)
        )

    @property
    def plotter(self) -> KnifePlotter:
        """The shop's plotter."""
        try:
            return self._session.store.plotter() or USUAL_PLOTTER
        except InputError as error:  # locked for a moment
            self.error.setText(str(error))
            return USUAL_PLOTTER

    def fill(self) -> None:
        """Show what the shop knows."""
        kind = self.kind.value
        self.note.setText(WORDS[kind])
        self.machine.setVisible(kind.language is not None)
        if kind.language is None:
            return
        plotter = self.plotter
        for name, field in self.fields.items():
            field.show_value(getattr(plotter, name))
        self.speed.show_value(plotter.speed)
        self.marks.setChecked(plotter.marks)

    def tell(self, words: str) -> None:
        """Say what a trial came to."""
        self.tried.setText(words)

    def _change(self, name: str, value: object) -> None:
        changed = with_field(self.plotter, name, value)
        if self._session.try_shop(lambda: self._session.store.put_plotter(changed)):
            self.tried.setText("")
            self.fill()

    def _length(self, name: str, text: str) -> bool:
        field = self.fields[name]
        with Taking(self.error, field) as taken:
            self._change(name, parse_length(text, where=field.accessibleName()))
        return bool(taken)

    def _speed(self, text: str) -> bool:
        with Taking(self.error, self.speed) as taken:
            plain = text.replace("mm/s", "")
            self._change("speed", parse_scalar(plain, where="cutting speed"))
        return bool(taken)

    def _draw_marks(self, on: bool) -> None:  # noqa: FBT001 - Qt hands it over so
        self._change("marks", on)
