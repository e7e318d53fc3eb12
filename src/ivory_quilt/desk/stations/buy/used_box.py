"""What the project uses up: cement, coats, blades; how much, what is short, what is old."""

from datetime import date

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QWidget

from ivory_quilt.core.plan.consuming import uses_of
from ivory_quilt.core.stock.consumables import ConsumableKind, UsedUp
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.widgets.basics import Stitch, clear, column, label
from ivory_quilt.desk.widgets.slip import SlipFigure

CAUTION = (
    "Cement, sprays and dips: respirator with the right cartridge and real ventilation, no flame; "
    "the product's label decides."
)


class UsedBox(QWidget):
    """A line for each of the shop's consumables that the project needs."""

    def __init__(self, session: Session) -> None:
        """Show what `session`'s project uses up."""
        super().__init__()
        self._session = session
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(20)
        self.grid.setVerticalSpacing(4)
        self.grid.setColumnStretch(1, 1)
        title = label("Used up", "title")
        self.setLayout(
            column(Stitch(), title, self.grid, label(CAUTION, "note", "heat", wrap=True), space=8)
        )

    def fill(self) -> None:
        """Show the present project."""
        clear(self.grid)
        uses = uses_of(self._session.plan, date.today().isoformat())
        self.setVisible(bool(uses))
        for r, use in enumerate(uses):
            self._line(r, use)

    def _line(self, r: int, use: UsedUp) -> None:
        unit = use.what.unit
        figure = SlipFigure("mono")
        figure.show_figure(f"{show_number(use.need, 0)} {unit}", lambda: use.reckoning)
        self.grid.addWidget(figure, r, 0, Qt.AlignmentFlag.AlignRight)
        self.grid.addWidget(label(use.what.name), r, 1)
        self.grid.addWidget(label(f"rate {use.what.rate.value}", "note"), r, 2)
        text, tone = _standing(use)
        self.grid.addWidget(label(text, "note", tone), r, 3)


def _standing(use: UsedUp) -> tuple[str, str]:
    """Return what is to be done about it, in words and their tone."""
    what = use.what
    have = f"{show_number(what.left, 0)} {what.unit} at hand"
    if use.old:
        test = "try it on scrap" if what.kind is ConsumableKind.CEMENT else "it may be dead"
        return f"opened {what.opened}: {test}, or buy {use.packs}", "heat"
    if use.packs:
        return f"{have}: buy {use.packs}", "heat"
    return f"{have}: enough", "good"
