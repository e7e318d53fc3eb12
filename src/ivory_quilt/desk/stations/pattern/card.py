"""The card of the Pattern station: what the maker decides about the selected pieces."""

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QLabel,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.units import counted, parse_length, show_thickness
from ivory_quilt.desk.stations.pattern.presenter import (
    FACES,
    HANDS,
    TURNS,
    WANTS,
    PatternPresenter,
    facts,
)
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    choices,
    clear,
    column,
    counter,
    label,
    narrow,
    row,
)
from ivory_quilt.desk.widgets.edgebar import EdgeBar
from ivory_quilt.desk.widgets.fields import Taking, regard, show_count, show_text

COMMON = (2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 12.7)  # common practice, no source


class PieceCard(QWidget):
    """Fields for one piece, or for several at once (a mixed field is blank)."""

    def __init__(
        self,
        presenter: PatternPresenter,
        numbers: Callable[[], None],
        draft: Callable[[], None],
        build: Callable[[], None],
    ) -> None:
        """Edit what `presenter` has selected.

        `numbers` opens those a shape was made from, `draft` the piece itself, `build` its making.
        """
        super().__init__()
        self.numbers = button("Edit numbers …", numbers, tip="Made from numbers, still linked")
        self.draft = button("Draft", draft, tip="Draw on it, cut it open (Ctrl+E)")
        self.build = button("Open in Build", build, tip="Its form, edges and stack (Ctrl+Shift+D)")
        self._presenter = presenter
        self._filling = False
        self.title = label("", "title", wrap=True)
        self.name = QLineEdit()
        self.name.editingFinished.connect(self._rename)
        self.material = QComboBox()
        narrow(self.material)
        self.thickness = QComboBox()
        narrow(self.thickness)
        self.thickness.setEditable(True)
        typed = self._typed = QLineEdit()
        typed.setAccessibleName("thickness")
        self.thickness.setLineEdit(typed)
        self.thickness.activated.connect(lambda _: self._thickness())
        typed.editingFinished.connect(self._thickness)
        self.bar = EdgeBar()
        self.count = counter(0, 2000, "how many")
        self.count.valueChanged.connect(lambda n: self._set("How many", count=n))
        self.count_note = label("", "note", wrap=True)
        self.hand = choices(HANDS, lambda v: self._set("Hand", hand=v))
        self.drawn = choices(
            ((Hand.LEFT, "left"), (Hand.RIGHT, "right")), lambda v: self._set("Drawn", drawn_hand=v)
        )
        self.face = choices(FACES, lambda v: self._set("Face up", face=v))
        self.turn = choices(TURNS, lambda v: self._set("Turning", turn=v))
        self.spares = counter(-1, 2000, "spares of each hand")
        self.spares.setToolTip("Cut beyond what the suit takes; the project's rule is set in Lay")
        self.spares.valueChanged.connect(
            lambda n: self._set("Spares", spares=n if n >= 0 else None)
        )
        self.wanted = choices(WANTS, lambda v: self._set("When foam is short", wanted=v))
        self.wanted.setToolTip("Which pieces are laid when the foam does not take them all")
        self.material.activated.connect(
            lambda k: self._set("Material", material=self.material.itemData(k))
        )
        self.measured, self.real = QLineEdit(), QLineEdit()
        self.measured.setPlaceholderText("now, e.g. 98 mm")
        self.real.setPlaceholderText("should be, e.g. 100 mm")
        self.scale_error = Complaint()
        self.error = Complaint()
        self.facts = QVBoxLayout()
        self.drawn_label = QLabel("Drawn is the")
        self.setLayout(self._build())

    def _build(self) -> QVBoxLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(10)
        rows: Sequence[tuple[QLabel, QWidget]] = (
            (QLabel("Name"), self.name),
            (QLabel("Foam"), self.material),
            (QLabel("Thickness"), self.thickness),
            (QLabel("How many"), self.count),
            (QLabel("Hand"), self.hand),
            (self.drawn_label, self.drawn),
            (QLabel("Face up"), self.face),
            (QLabel("May rotate"), self.turn),
            (QLabel("Spares"), self.spares),
            (QLabel("When short"), self.wanted),
        )
        for k, (text, field) in enumerate(rows):
            text.setBuddy(field)
            field.setAccessibleName(text.text())
            grid.addWidget(text, k, 0, Qt.AlignmentFlag.AlignVCenter)
            grid.addWidget(field, k, 1)
        grid.setColumnStretch(1, 1)
        scale = column(
            label("Actual size", "heading"),
            label("Measure one length on the piece and say what it should be.", "note", wrap=True),
            row(self.measured, self.real),
            row(button("Scale", self._scale, tip="Scale the selected pieces together"), None),
            self.scale_error,
        )
        copies = button("Duplicate", self._presenter.copy, "quiet", "Add a copy (Ctrl+D)")
        mirror = button("Mirror", self._presenter.mirror, "quiet", "The other hand (Ctrl+Shift+M)")
        tip = "At its fold, or its longest straight edge (Ctrl+Shift+U)"
        self.unfold = button("Unfold", self.do_unfold, "quiet", tip)
        delete = button("Delete", self._presenter.delete, "quiet", "Delete the piece (Delete)")
        return column(
            self.title,
            row(self.bar, self.count_note, None),
            row(self.draft, self.build, None),
            row(self.numbers, None),
            grid,
            self.error,
            Stitch(),
            self.facts,
            Stitch(),
            scale,
            Stitch(),
            row(copies, mirror, None),
            row(self.unfold, delete, None),
            None,
            space=12,
            edge=16,
        )

    # Filling

    def fill(self, pieces: list[Piece], materials: list[tuple[str, str]]) -> None:
        """Show `pieces`; fields in which they differ stay blank."""
        self._filling = True
        regard(self, " ".join(p.id for p in pieces))
        one = pieces[0] if len(pieces) == 1 else None
        self.title.setText(one.name if one else f"{len(pieces)} pieces")
        show_text(self.name, one.name if one else "")
        self.name.setEnabled(one is not None)
        self.name.setPlaceholderText("" if one else "several names")
        box = self.material
        if [(box.itemData(k), box.itemText(k)) for k in range(box.count())] != materials:
            box.clear()
            for ident, name in materials:
                box.addItem(name, ident)
        _choose(self.material, _common(pieces, "material"))
        self._fill_thickness(_common(pieces, "thickness"))
        count = _common(pieces, "count")
        blank = "" if count is not None else " "
        if self.count.specialValueText() != blank:  # setting it shows the value anew
            self.count.setSpecialValueText(blank)
        show_count(self.count, count if count is not None else 0)
        _choose(self.hand, _common(pieces, "hand"))
        _choose(self.drawn, _common(pieces, "drawn_hand"))
        _choose(self.face, _common(pieces, "face"))
        _choose(self.turn, _common(pieces, "turn"))
        spares = {p.spares for p in pieces}
        blank = "by the project's rule" if len(spares) == 1 else " "
        if self.spares.specialValueText() != blank:
            self.spares.setSpecialValueText(blank)
        only = spares.pop() if len(spares) == 1 else None
        show_count(self.spares, -1 if only is None else only)
        _choose(self.wanted, _common(pieces, "wanted"))
        pair = any(p.hand is Hand.PAIR for p in pieces)
        self.drawn.setVisible(pair)
        self.drawn_label.setVisible(pair)
        cut = sum(p.cut_count for p in pieces)
        mirrored = ": left and its mirror, right" if pair and one else ""
        self.count_note.setText(f"{counted(cut, 'cut part')}{mirrored}")
        clear(self.facts)
        for key, value in facts(one) if one else ():
            text = label(value, "mono" if key in ("size", "area", "outline") else "", wrap=True)
            note = label(key, "note")
            note.setFixedWidth(56)
            self.facts.addLayout(row(note, text))
        made = {p.recipe.group for p in pieces if p.recipe is not None}
        self.numbers.setVisible(len(made) == 1 and all(p.recipe is not None for p in pieces))
        self.draft.setVisible(one is not None)
        self.unfold.setEnabled(self._presenter.can_unfold())
        self._filling = False

    def _fill_thickness(self, value: float | None) -> None:
        if self._typed.isModified():
            return
        self.thickness.clear()
        for mm in sorted({*COMMON, *([value] if value is not None else [])}):
            self.thickness.addItem(show_thickness(mm), mm)
        if value is None:
            self.thickness.setCurrentIndex(-1)
            self.thickness.setEditText("")
            self.bar.hide()
        else:
            _choose(self.thickness, value)
            self.bar.set_thickness(value)
            self.bar.show()

    # Changes

    def do_unfold(self) -> None:
        """Unfold what is chosen, or say why not."""
        with Taking(self.error):
            self._presenter.unfold()

    def _set(self, what: str, *fields: QLineEdit, **changes: Any) -> None:
        if not self._filling:
            with Taking(self.error, *fields):
                self._presenter.change(what, **changes)

    def _rename(self) -> None:
        pieces = self._presenter.pieces
        text = self.name.text().strip()
        if self._filling or len(pieces) != 1:
            return
        if text == pieces[0].name:
            self.name.setModified(False)
            return
        self._set("Name", self.name, name=text)

    def _thickness(self) -> None:
        if self._filling or not self.thickness.currentText().strip():
            return
        with Taking(self.error, self._typed):
            value = parse_length(self.thickness.currentText(), where="thickness")
            self._presenter.change("Thickness", thickness=value)

    def _scale(self) -> None:
        with Taking(self.scale_error) as taken:
            self._presenter.scale_to(self.measured.text(), self.real.text())
        if taken:
            self.measured.clear()
            self.real.clear()


def _choose(box: QComboBox, value: Any) -> None:
    index = (
        -1
        if value is None
        else next((k for k in range(box.count()) if box.itemData(k) == value), -1)
    )
    box.setCurrentIndex(index)


def _common(pieces: list[Piece], field: str) -> Any:
    values = {getattr(p, field) for p in pieces}
    return values.pop() if len(values) == 1 else None
