"""The fit of a set of pieces: one key dimension meets one measure, in one of several ways."""

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QLineEdit, QWidget

from ivory_quilt.core.document.sizing import SizeMethod
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.wearer import MeasureKind, spot
from ivory_quilt.core.units import counted, show_number
from ivory_quilt.desk.stations.measure.presenter import KEYS, TOGETHER, WAYS, MeasurePresenter
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    button,
    choices,
    column,
    counter,
    label,
    narrow,
    row,
)
from ivory_quilt.desk.widgets.fields import show_count
from ivory_quilt.desk.widgets.slip import SlipFigure


class FitPanel(QWidget):
    """One key dimension of the pattern meets one measure; the scale is for the whole set."""

    def __init__(
        self,
        presenter: MeasurePresenter,
        compare: Callable[[], None],
        changed: Callable[[], None],
    ) -> None:
        """Solve for `presenter`'s wearer and pieces.

        `compare` opens the sizes side by side, `changed` tells that others are wanted.
        """
        super().__init__()
        self._presenter, self._changed = presenter, changed
        self.measure = _box("must meet", partial(self._set, "measure"))
        self.piece = _box("key piece", partial(self._set, "piece"))
        self.key = choices(KEYS, partial(self._set, "key"))
        self.together = choices(TOGETHER, partial(self._set, "together"))
        self.way = choices(WAYS, partial(self._set, "way"))
        self.step = self._line("step", "3")
        self.seams = label("", "note", wrap=True)
        self.around = counter(1, 48, "pieces around")
        self.around.valueChanged.connect(partial(self._set, "around"))
        self.ease = self._line("ease", "10")
        self.beneath = self._line("worn beneath", "0")
        self.figure = SlipFigure("great")
        self.note = label("", "note", wrap=True)
        self.complaint = Complaint()
        self.apply = button("Scale", self._apply, "main")
        self.compare = button("Compare sizes", compare, tip="Three sizes, each with its cost")
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(5)
        rows: Sequence[tuple[str, QWidget]] = (
            ("Measure", self.measure),
            ("Key piece", self.piece),
            ("Its", self.key),
            ("Pieces around", self.around),
            ("Ease", self.ease),
            ("Worn beneath", self.beneath),
            ("Of", self.together),
            ("How", self.way),
            ("Compare ± %", self.step),
        )
        self.names: dict[str, QLabel] = {}
        for k, (text, field) in enumerate(rows):
            name = self.names[text] = QLabel(text)
            name.setBuddy(field)
            field.setAccessibleName(text)
            grid.addWidget(name, k, 0, Qt.AlignmentFlag.AlignVCenter)
            grid.addWidget(field, k, 1)
        grid.setColumnStretch(1, 1)
        heading = label("Fit a pattern", "heading")
        heading.setToolTip("One piece that must meet the body decides the scale of its whole set.")
        self.setLayout(
            column(
                heading,
                grid,
                self.complaint,
                self.figure,
                self.note,
                self.seams,
                row(self.apply, self.compare, None),
                space=10,
            )
        )

    def _line(self, name: str, text: str) -> QLineEdit:
        field = QLineEdit(text)
        field.setAccessibleName(name)
        key = "beneath" if name == "worn beneath" else name
        field.textEdited.connect(partial(self._set, key))
        return field

    def _set(self, name: str, value: object) -> None:
        self._presenter.change(**{name: value})
        self._solve()
        self._changed()

    def show_step(self, *, shown: bool) -> None:
        """Show how far apart the sizes are that are compared, or hide it."""
        self.step.setVisible(shown)
        self.names["Compare ± %"].setVisible(shown)
        self.compare.setVisible(not shown)

    def fill(self) -> None:
        """Offer the measures and pieces that are there."""
        p = self._presenter
        said = p.choices
        for box, options, value in (
            (self.key, KEYS, said.key),
            (self.together, TOGETHER, said.together),
            (self.way, WAYS, said.way),
        ):
            box.setCurrentIndex([o for o, _ in options].index(value))
        show_count(self.around, said.around)
        _refill(
            self.measure,
            [(m.spot, _measure_words(m.spot, m.value)) for m in p.measured],
            p.measure.spot if p.measure else "",
        )
        pieces = [(q.id, q.name) for q in p.session.project.pieces]
        _refill(self.piece, pieces, p.key_piece.id if p.key_piece else "")
        for field, text in ((self.ease, p.choices.ease), (self.beneath, p.choices.beneath)):
            if not field.hasFocus() and field.text() != text:
                field.setText(text)
        self._solve()

    def _solve(self) -> None:
        p = self._presenter
        try:
            fit = p.fit()
            error = ""
        except InputError as problem:
            fit, error = None, str(problem)
        self.complaint.setText(error)
        self.apply.setEnabled(fit is not None and abs(fit.scale - 1) > 1e-6)
        self.compare.setEnabled(fit is not None)
        self.seams.setVisible(fit is not None)
        self.figure.setVisible(fit is not None)
        if fit is None:
            self.note.setText("" if error else self._wanting())
            self.apply.setText("Scale")
            return
        give = f" ± {show_number(100 * fit.uncertainty, 1)}" if fit.uncertainty else ""
        self.figure.show_figure(f"{show_number(100 * fit.scale, 1)}{give} %", fit.reckon)
        total = fit.now * fit.around
        self.note.setText(
            f"The pattern has {show_number(total, 1)} mm, it needs {show_number(fit.needed, 1)} mm."
        )
        self._say_way()

    def _say_way(self) -> None:
        """Say what the chosen way does, to pieces and to seams."""
        p = self._presenter
        try:
            made = p.sized()
        except InputError as problem:
            self.complaint.setText(str(problem))
            self.apply.setEnabled(False)
            self.seams.setText("")
            return
        if made is None:
            return
        alone = p.choices.way is SizeMethod.STRIP
        count = 1 if alone else len(p.together())
        word = {
            SizeMethod.SCALE: "Scale",
            SizeMethod.STRETCH: "Stretch",
            SizeMethod.OFFSET: "Offset",
            SizeMethod.STRIP: "Widen",
        }[p.choices.way]
        self.apply.setText(f"{word} {counted(count, 'piece')}")
        what = (
            ""
            if p.choices.way is SizeMethod.SCALE
            else f"{made.words[:1].upper()}{made.words[1:]}. "
        )
        self.seams.setText(f"{what}{made.seam_words()} Foam thickness stays.")

    def _wanting(self) -> str:
        """Return what the maker does next, so that there is a fit."""
        if not self._presenter.session.project.pieces:
            return "Import a pattern at the Pattern station first."
        if not self._presenter.measured:
            return "Type a measure on the sheet first."
        return "Choose a measure, and the piece that must meet it."

    def _apply(self) -> None:
        try:
            self._presenter.apply()
        except InputError as error:
            self.complaint.setText(str(error))


def _measure_words(spot_id: str, value: float) -> str:
    place = spot(spot_id)
    around = "around " if place.kind is MeasureKind.GIRTH else ""
    return f"{around}{place.title.lower()}, {show_number(value, 1)} mm"


def _box(name: str, run: Callable[[Any], None]) -> QComboBox:
    box = QComboBox()
    box.setAccessibleName(name)
    narrow(box)
    box.setPlaceholderText("choose …")
    box.activated.connect(lambda k: run(box.itemData(k)))
    return box


def _refill(box: QComboBox, options: list[tuple[str, str]], chosen: str) -> None:
    box.clear()
    for value, words in options:
        box.addItem(words, value)
    box.setCurrentIndex(box.findData(chosen))
    box.setEnabled(bool(options))
