"""Two layouts side by side at one scale: the one before, and the one now."""

from collections.abc import Callable

from PySide6.QtCore import QRectF
from PySide6.QtWidgets import QWidget

from ivory_quilt.core.nesting.job import LayJob, LayResult
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.plan.plan import Plan, derive
from ivory_quilt.core.plan.standing import Proposal
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import show_money
from ivory_quilt.desk.canvas.quilt import TITLE_SHARE, quilt
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.stations.lay.drawing import QuiltDrawing, spot_rect
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.widgets.basics import button, column, label, row

Known = dict[Foam, tuple[LayJob, LayResult]]


def plan_with(plan: Plan, known: Known) -> Plan:
    """Return the plan as it is with other layouts in place of those shown."""
    project = replace(plan.project, layouts=())
    proposals = {foam: Proposal(job, result) for foam, (job, result) in known.items()}
    return derive(project, plan.stock, proposals, plan)


class LayoutPicture(Canvas):
    """A layout to look at, not to touch."""

    def __init__(self, name: str) -> None:
        """Show nothing yet."""
        super().__init__()
        self.setAccessibleName(name)
        self.setInteractive(False)
        self.drawing = QuiltDrawing(self.scene(), lambda _: False)

    def show_plan(self, plan: Plan, look: Palette) -> None:
        """Draw all sheets of a plan."""
        self.set_look(look)
        laid = quilt(plan, self.aspect, 2 * TITLE_SHARE)  # half as wide, the words as large
        self.drawing.show(laid, look)
        self.drawing.finish()
        rect = QRectF()
        for spot in laid.sheets:
            rect = rect.united(spot_rect(spot, 160.0))
        self.fit(rect)


class ComparePage(QWidget):
    """The layout before a run beside the one after it; the maker takes one."""

    def __init__(self, take_before: Callable[[], object], take_now: Callable[[], object]) -> None:
        """Call back with the maker's choice."""
        super().__init__()
        self.before, self.now = LayoutPicture("layout before"), LayoutPicture("layout now")
        self.before_text, self.now_text = label("", "heading"), label("", "heading")
        self.back = button(
            "Use previous layout", take_before, tip="Go back to the layout before the run"
        )
        self.stay = button("Keep current", take_now, "main", "Go on with the layout as it is")
        left = column(row(self.before_text, None, self.back), self.before, space=4)
        right = column(row(self.now_text, None, self.stay), self.now, space=4)
        a, b = QWidget(), QWidget()
        a.setLayout(left)
        b.setLayout(right)
        self.setLayout(row(a, b))

    def fill(self, before: Plan, now: Plan, look: Palette) -> None:
        """Show both plans at one scale."""
        currency = now.stock.currency
        for plan, text, picture, word in (
            (before, self.before_text, self.before, "Before"),
            (now, self.now_text, self.now, "Now"),
        ):
            used = 100 * (1 - plan.ledger.waste_share)
            cost = show_money(plan.ledger.cost, currency)
            text.setText(f"{word}: {cost}, {used:.0f} % used")
            picture.show_plan(plan, look)
        scale = min(self.before.scale_now, self.now.scale_now)
        for picture in (self.before, self.now):
            picture.zoom(scale / picture.scale_now)
