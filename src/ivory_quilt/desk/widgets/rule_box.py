"""The tracing and trimming rule of a piece or of the project."""

from collections.abc import Callable

from PySide6.QtWidgets import QGridLayout, QLineEdit, QWidget

from ivory_quilt.core.pattern.piece import CutSide, TraceRule
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import parse_length, show_number
from ivory_quilt.desk.widgets.basics import Complaint, choices, column, label
from ivory_quilt.desk.widgets.fields import Taking, show_text

SIDES = (
    (CutSide.INSIDE, "inside the line"),
    (CutSide.MIDDLE, "along its middle"),
    (CutSide.OUTSIDE, "outside the line"),
)


class RuleBox(QWidget):
    """Pen, the knife's side, and what is trimmed after gluing; for a piece or the project."""

    def __init__(self, changed: Callable[[TraceRule | None], None], common: str = "") -> None:
        """Tell `changed` of a rule; with `common`, a piece may also follow the project's (None)."""
        super().__init__()
        self._told = changed
        self._filling = False
        self._rule = TraceRule()
        self.whose = choices(
            ((False, common), (True, "Its own rule")), lambda own: self._own(own=own)
        )
        self.whose.setAccessibleName("whose rule")
        self.whose.setVisible(bool(common))
        self.pen = self._field("pen width", "0 mm")
        self.side = choices(SIDES, lambda side: self._tell(side=side))
        self.side.setAccessibleName("where the knife goes")
        self.trim = self._field("trimmed after gluing", "0 mm")
        self.error = Complaint()
        grid = QGridLayout()
        grid.setVerticalSpacing(6)
        for k, (text, field) in enumerate(
            (("Pen", self.pen), ("Cut", self.side), ("Oversize", self.trim))
        ):
            grid.addWidget(label(text), k, 0)
            grid.addWidget(field, k, 1)
        grid.setColumnStretch(1, 1)
        self.note = label("", "note", wrap=True)
        self.setLayout(column(self.whose, grid, self.error, self.note, space=6))

    def _field(self, name: str, hint: str) -> QLineEdit:
        field = QLineEdit()
        field.setAccessibleName(name)
        field.setPlaceholderText(hint)
        key = "pen" if name == "pen width" else "trim"
        field.editingFinished.connect(lambda: self._typed(key, field))
        return field

    def fill(self, rule: TraceRule | None, common: TraceRule) -> None:
        """Show a rule; `common` stands in where a piece has none."""
        self._filling = True
        self._rule = rule or common
        self.whose.setCurrentIndex(int(rule is not None))
        own = rule is not None or not self.whose.isVisibleTo(self)
        for field in (self.pen, self.side, self.trim):
            field.setEnabled(own)
        show_text(self.pen, f"{show_number(self._rule.pen, 2)} mm")
        show_text(self.trim, f"{show_number(self._rule.trim, 2)} mm")
        self.side.setCurrentIndex([s for s, _ in SIDES].index(self._rule.side))
        self.note.setText(rule_words(self._rule))
        self._filling = False

    def _own(self, *, own: bool) -> None:
        if not self._filling:
            self._told(self._rule if own else None)

    def _typed(self, key: str, field: QLineEdit) -> None:
        if self._filling:
            return
        with Taking(self.error, field):
            value = parse_length(field.text(), where=field.accessibleName())
            self._tell(**{key: value})

    def _tell(self, **said: object) -> None:
        rule = replace(self._rule, **said)  # type: ignore[arg-type]
        if not self._filling and rule != self._rule:
            self._told(rule)


def rule_words(rule: TraceRule) -> str:
    """Return what a rule does, in a sentence."""
    said = []
    if rule.growth:
        said.append(
            f"Templates are printed {show_number(rule.growth, 2)} mm smaller all around, "
            "so that the cut comes true."
        )
    elif rule.pen and rule.side is CutSide.INSIDE:
        said.append("Cut inside the pen's line: the piece comes as large as its template.")
    if rule.trim:
        said.append(f"Cut {show_number(rule.trim, 1)} mm outside the pattern line, trimmed later.")
    return " ".join(said) or "Templates are as large as the pieces."
