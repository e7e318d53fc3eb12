"""How many parts are cut beyond what the suit takes."""

from PySide6.QtWidgets import QCheckBox, QLineEdit, QWidget

from ivory_quilt.core.document.project import Project, set_spares
from ivory_quilt.core.pattern.spares import is_hard
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import counted, parse_scalar, show_number
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.widgets.basics import Complaint, column, label, row
from ivory_quilt.desk.widgets.fields import Taking, show_text


class SparesBox(QWidget):
    """A share of all parts alike, and one of what is hard to make."""

    def __init__(self, session: Session) -> None:
        """Decide for the project of `session`."""
        super().__init__()
        self._session = session
        self.percent = QLineEdit()
        self.percent.setFixedWidth(90)
        self.percent.setAccessibleName("spares, percent")
        self.percent.setToolTip("Of the parts alike, to the nearest whole: 5 % of 40 spikes are 2")
        self.percent.editingFinished.connect(self._take_percent)
        self.hard = QCheckBox("one of each hard piece")
        self.hard.setToolTip("Dished, coned, with mating bevels, blades or V cuts")
        self.hard.clicked.connect(lambda _: self._take_hard())
        self.note = label("", "note", wrap=True)
        self.error = Complaint()
        self._counted: tuple[Project, int] | None = None
        self.setLayout(
            column(
                row(label("Spares"), None, self.percent),
                row(None, self.hard),
                self.note,
                self.error,
                space=4,
            )
        )

    def fill(self) -> None:
        """Show what is decided, and what comes of it."""
        project, plan = self._session.project, self._session.plan
        show_text(self.percent, f"{show_number(project.spares.percent, 1)} %")
        self.hard.setChecked(project.spares.hard)
        count = sum(p.spares for f in plan.foams for p in f.parts)
        hard = self._hard_pieces(project)
        words = [counted(count, "spare") + " cut"] if count else []
        if not project.spares.hard and hard:
            words.append(f"{counted(hard, 'piece')} here {'is' if hard == 1 else 'are'} hard")
        self.note.setText(", ".join(words))
        self.note.setVisible(bool(words))

    def _hard_pieces(self, project: Project) -> int:
        """Return how many pieces are hard: counted once for each project, not for each layout."""
        if self._counted is None or self._counted[0] is not project:
            self._counted = (project, sum(1 for p in project.pieces if p.count and is_hard(p)))
        return self._counted[1]

    def _take_percent(self) -> None:
        text = self.percent.text().replace("%", "").strip() or "0"
        with Taking(self.error, self.percent):
            rule = replace(self._session.project.spares, percent=parse_scalar(text, where="spares"))
            self._session.edit("Spares", lambda p: set_spares(p, rule))

    def _take_hard(self) -> None:
        rule = replace(self._session.project.spares, hard=self.hard.isChecked())
        self._session.edit("Spares", lambda p: set_spares(p, rule))
