"""The Measure station: wearers, the body figure, the sheet, and the fit of a set of pieces."""

from collections.abc import Callable, Sequence
from datetime import date
from enum import StrEnum
from functools import partial
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.wearer import MeasureKind, spot
from ivory_quilt.core.sizing import Way
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import Station
from ivory_quilt.desk.stations.measure.figure import BodyFigure
from ivory_quilt.desk.stations.measure.picture import PicturePanel, PictureTable
from ivory_quilt.desk.stations.measure.presenter import (
    KEYS,
    TOGETHER,
    WAYS,
    MeasurePresenter,
)
from ivory_quilt.desk.stations.measure.sheet import WearerSheet
from ivory_quilt.desk.stations.measure.sizes import SizesPanel
from ivory_quilt.desk.stations.measure.study_presenter import StudyPresenter
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    choices,
    column,
    counter,
    label,
    narrow,
    row,
    scrolled,
)
from ivory_quilt.desk.widgets.empty import EmptyState
from ivory_quilt.desk.widgets.mode_bar import ModeBar
from ivory_quilt.desk.widgets.slip import SlipFigure
from ivory_quilt.desk.work import Elsewhere, at_once


class Mode(StrEnum):
    """Where the maker works."""

    BODY = "body"
    SIZES = "sizes"
    PICTURE = "picture"


MODES = (
    (Mode.BODY, "Body", "Wearers and their measures"),
    (Mode.SIZES, "Sizes", "Three sizes side by side, each with its foam and cost"),
    (Mode.PICTURE, "Picture", "Real sizes from a reference picture"),
)


class MeasureStation(Station):
    """Who will wear it, and patterns sized to them."""

    ident = "measure"
    word = "Measure"

    def __init__(self, session: Session) -> None:
        """Show the wearers of `session`."""
        super().__init__(session)
        self.presenter = MeasurePresenter(session)
        self.today: Callable[[], date] = date.today
        self.figure = BodyFigure()
        self.figure.chosen.connect(self._choose)
        self.sheet = WearerSheet(self.presenter, lambda: self.today())
        self.sheet.chosen.connect(self._in_hand)
        self.how = label("", "note", wrap=True)
        self.how.setMinimumHeight(34)
        self.body = centre = QWidget()
        layout = QHBoxLayout(centre)
        layout.setContentsMargins(8, 8, 0, 0)
        left = QVBoxLayout()
        left.addWidget(self.figure, 1)
        left.addWidget(self.how)
        left.setContentsMargins(8, 4, 8, 8)
        layout.addLayout(left, 2)
        layout.addWidget(scrolled(self.sheet), 3)
        self.study = StudyPresenter(self.presenter)
        self.picture = PictureTable(self.study)
        self.picture_panel = PicturePanel(self.study, self.refresh)
        self.picture.changed.connect(self.picture_panel.fill)
        self.elsewhere: Elsewhere = at_once
        self.sizes = SizesPanel(
            session, self.presenter, lambda: self.elsewhere, partial(self.go_to, Mode.BODY)
        )
        self.mode = Mode.BODY
        self.modes = ModeBar(MODES, self.go_to)
        self.stack = QStackedWidget()
        self.no_picture = EmptyState(
            "measure",
            "Open a picture of the armour as it is worn: lines over it become real sizes.",
            "Open a picture …",
            lambda: self.picture_panel.open.click(),
        )
        for page in (centre, self.sizes, self.picture, self.no_picture):
            self.stack.addWidget(page)
        self.fit = FitPanel(self.presenter, partial(self.go_to, Mode.SIZES), self._fit_changed)
        self.wearers = QComboBox()
        self.wearers.setAccessibleName("wearer")
        self.wearers.activated.connect(self._show_wearer)
        self.name = QLineEdit()
        self.name.setPlaceholderText("name of a wearer")
        self.name.setAccessibleName("name of the wearer")
        self.name.returnPressed.connect(self.add)
        self.complaint = Complaint()
        self.rename = button("Rename", self._rename, "quiet", "Give this wearer the name typed")
        self.remove = button("Remove", self._remove, "quiet", "Take this wearer out")
        self.who = QWidget()
        self.who.setLayout(
            column(
                label("Who will wear it", "title"),
                row(self.wearers, self.remove),
                row(
                    self.name, button("Add", self.add, tip="Add a wearer of this name"), self.rename
                ),
                self.complaint,
                Stitch(),
                space=10,
            )
        )
        card = QWidget()
        card.setLayout(column(self.who, self.fit, self.picture_panel, None, space=12, edge=16))
        middle = QWidget()
        middle.setLayout(column(self.modes, self.stack, space=0))
        self.lay_out(middle, card)
        for name, mode in (("body", Mode.BODY), ("sizes", Mode.SIZES), ("picture", Mode.PICTURE)):
            self.offer(name, partial(self.go_to, mode))
        session.opened.connect(self._opened)

    def _opened(self) -> None:
        self.presenter.forget()
        self.sheet.forget()
        self.study.forget()
        self.mode = Mode.BODY
        self._stale = True

    def go_to(self, mode: Mode) -> None:
        """Go to the body, the sizes side by side, or the reference picture."""
        self.mode = mode
        self.refresh()
        self.picked.emit()

    def _fit_changed(self) -> None:
        if self.mode is Mode.SIZES:
            self.sizes.refresh(self.look)

    # Showing

    def refresh(self) -> None:
        """Show the wearer in sight."""
        wearer = self.presenter.wearer
        self.wearers.clear()
        for known in self.presenter.wearers:
            self.wearers.addItem(known.name, known.id)
        if wearer is not None:
            self.wearers.setCurrentIndex(self.wearers.findData(wearer.id))
        self.wearers.setVisible(wearer is not None)
        self.remove.setEnabled(wearer is not None)
        self.rename.setEnabled(wearer is not None)
        self.sheet.fill(wearer)
        self._show_figure()
        self.fit.fill()
        self.modes.show_mode(self.mode, list(Mode))
        self.no_picture.set_look(self.look)
        picture = self.picture if self.study.study is not None else self.no_picture
        pages = {Mode.BODY: self.body, Mode.SIZES: self.sizes, Mode.PICTURE: picture}
        self.stack.setCurrentWidget(pages[self.mode])
        drawing = self.mode is Mode.PICTURE
        self.canvas = self.picture if drawing else None
        self.who.setVisible(self.mode is Mode.BODY)
        self.fit.setVisible(not drawing)
        self.fit.show_step(self.mode is Mode.SIZES)
        self.picture_panel.setVisible(drawing)
        if drawing:
            self.study.reload()
            self.picture.set_look(self.look)
            self.picture.show_picture(self.look)
            self.picture_panel.fill()
        elif self.mode is Mode.SIZES:
            self.sizes.refresh(self.look)

    def _show_figure(self) -> None:
        held = self.presenter.spot
        measured = frozenset(m.spot for m in self.presenter.measured)
        self.figure.show_state(self.look, held, measured)
        if held:
            self.how.setText(f"{spot(held).title}: {spot(held).how}")
        elif self.presenter.wearer is None:
            self.how.setText("Add a wearer on the card; then type what the tape says.")
        else:
            self.how.setText("Click a line on the figure, or a field: the tape lies there.")

    # Doing

    def _choose(self, spot_id: str) -> None:
        self._in_hand(spot_id)
        self.sheet.show_spot(spot_id)

    def _in_hand(self, spot_id: str) -> None:
        self.presenter.spot = spot_id
        self._show_figure()

    def _show_wearer(self, index: int) -> None:
        self.presenter.wearer_id = str(self.wearers.itemData(index))
        self.sheet.forget()
        self.refresh()

    def add(self) -> None:
        """Add a wearer of the name that is typed."""
        self._try(partial(self.presenter.add, self.name.text()))

    def _rename(self) -> None:
        self._try(partial(self.presenter.rename, self.name.text()))

    def _try(self, change: Callable[[], None]) -> None:
        try:
            change()
        except InputError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        self.name.clear()
        self.sheet.forget()
        self.refresh()

    def _remove(self) -> None:
        self.sheet.forget()
        self.presenter.remove()


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
            ("Measure", self.measure), ("Key piece", self.piece), ("Its", self.key),
            ("Pieces around", self.around), ("Ease", self.ease), ("Worn beneath", self.beneath),
            ("Of", self.together), ("How", self.way), ("Compare ± %", self.step),
        )  # fmt: skip
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
                grid, self.complaint, self.figure, self.note, self.seams,
                row(self.apply, self.compare, None), space=10,
            )
        )  # fmt: skip

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

    def show_step(self, shown: bool) -> None:
        """Show how far apart the sizes are that are compared, or hide it."""
        self.step.setVisible(shown)
        self.names["Compare ± %"].setVisible(shown)
        self.compare.setVisible(not shown)

    def fill(self) -> None:
        """Offer the measures and pieces that are there."""
        p = self._presenter
        said = p.choices
        for box, options, value in (
            (self.key, KEYS, said.key), (self.together, TOGETHER, said.together),
            (self.way, WAYS, said.way),
        ):  # fmt: skip
            box.setCurrentIndex([o for o, _ in options].index(value))
        self.around.setValue(said.around)
        _refill(self.measure, [(m.spot, _measure_words(m.spot, m.value)) for m in p.measured],
                p.measure.spot if p.measure else "")  # fmt: skip
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
        alone = p.choices.way is Way.STRIP
        count = 1 if alone else len(p.together())
        word = {Way.SCALE: "Scale", Way.STRETCH: "Stretch", Way.OFFSET: "Offset",
                Way.STRIP: "Widen"}[p.choices.way]  # fmt: skip
        self.apply.setText(f"{word} {count} piece{'s' if count != 1 else ''}")
        what = "" if p.choices.way is Way.SCALE else f"{made.words[:1].upper()}{made.words[1:]}. "
        self.seams.setText(f"{what}{made.seam_words()} Foam thickness stays.")

    def _wanting(self) -> str:
        """Return what the maker does next, so that there is a fit."""
        if not self._presenter.session.project.pieces:
            return "Bring in a pattern at the Pattern station first."
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
