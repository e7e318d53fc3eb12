"""What if: other ways to the same suit, each ordered, side by side."""

import time
from collections.abc import Callable
from decimal import Decimal
from functools import partial

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtWidgets import QFrame, QGridLayout, QWidget

from ivory_quilt.core.document.project import Project, keep_layout
from ivory_quilt.core.errors import InputError, QuiltError, Stopped
from ivory_quilt.core.plan.effort import bench_minutes
from ivory_quilt.core.plan.ordering import days_of, lacking_bars, layouts_of, order_job
from ivory_quilt.core.plan.plan import Plan, derive
from ivory_quilt.core.plan.what_if import WhatIf, what_ifs
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.buy_job import BuyResult
from ivory_quilt.core.stock.buying import Buying
from ivory_quilt.core.units import Currency, show_area, show_money, show_weight
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.buy.ordering import Ordering
from ivory_quilt.desk.stations.buy.size_curve import SizeCurve, SizePrice
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.widgets.basics import button, clear, column, label, row, set_tone
from ivory_quilt.desk.work import TaskRunner

SECONDS = 1.6  # for each way
ACROSS = 3


class Answered(Struct, frozen=True):
    """What one way comes to; `problem` where it cannot be."""

    way: WhatIf | None
    result: BuyResult | None
    plan: Plan | None
    problem: str = ""


class WhatIfs(QObject):
    """Orders each way of the present plan, one after the other."""

    changed = Signal()
    _found = Signal(int, int, object)

    def __init__(self, session: Session, engine: LayoutEngine, ordering: Ordering) -> None:
        """Ask about `session`'s project, laying with `engine`.

        The plan as it is has been ordered by `ordering`; what that found out is known here.
        """
        super().__init__()
        self.session, self._engine, self._ordering = session, engine, ordering
        self._tasks: TaskRunner | None = None
        self._plan: Plan | None = None
        self._number = 0
        self.ways: tuple[WhatIf | None, ...] = ()
        self.answers: dict[int, Answered] = {}
        self.running = False
        self._found.connect(self._take, Qt.ConnectionType.QueuedConnection)

    def ask(self) -> None:
        """Order all ways of the present plan, and the plan as it is, unless that is done."""
        plan, base = self.session.plan, self._ordering
        if plan is self._plan or base.running or not base.fits_plan or base.result is None:
            return
        self._number += 1
        self._plan, self.running = plan, True
        self.answers = {0: Answered(None, base.result, plan)}
        self.ways = (None, *what_ifs(plan))
        if self._tasks is None:
            self._tasks = TaskRunner(self)
        self._tasks.run(partial(self._run, self._number, plan, self.ways, base.search), self._ended)
        self.changed.emit()

    def close(self) -> None:
        """End everything: the desk closes."""
        self._number += 1
        if self._tasks is not None:
            self._tasks.close()

    def adopt(self, place: int) -> bool:
        """Change the plan to one of the ways; return whether that changed anything."""
        found = self.answers[place]
        if found.way is None or found.plan is None or found.result is None:
            return False
        way, layouts = found.way, layouts_of(found.plan, found.result)

        def change(project: Project) -> Project:
            project = way.project(project)
            for layout in layouts:
                project = keep_layout(project, layout)
            return project

        return self.session.edit(f"What if: {way.title}", change)

    def _run(
        self, number: int, plan: Plan, ways: tuple[WhatIf | None, ...], known: Buying | None
    ) -> int:
        def wanted() -> bool:
            return number == self._number

        for place, way in enumerate(ways):
            if way is None:
                continue
            if not wanted():
                break
            try:
                answer = self._answer(plan, way, known, wanted)
            except Stopped:
                break
            except QuiltError as error:
                answer = Answered(way, None, None, str(error))
            self._found.emit(number, place, answer)
        return number

    def _answer(
        self, plan: Plan, way: WhatIf, known: Buying | None, wanted: Callable[[], bool]
    ) -> Answered:
        other = derive(way.project(plan.project), way.stock(plan.stock), None, plan)
        buying = Buying(
            order_job(other),
            self._engine.order_layer(wanted),
            time.monotonic,
            going=wanted,
            earlier=known,
            rule=plan.stock.keep,
        )
        result = buying.run(SECONDS)
        return Answered(way, result, other)

    def _take(self, number: int, place: int, answer: Answered) -> None:
        if number == self._number:
            self.answers[place] = answer
            self.changed.emit()

    def _ended(self, number: int | None, error: Exception | None) -> None:
        if number == self._number:
            self.running = False
            self.changed.emit()
        if error is not None and not isinstance(error, QuiltError):
            raise error


class WayCard(QFrame):
    """One way: its order, and how it differs from the plan as it is."""

    def __init__(self, way: WhatIf | None, adopt: Callable[[], object]) -> None:
        """Call `adopt` when the maker wants it."""
        super().__init__()
        self.setObjectName("Bar")
        title = way.title if way is not None else "as it is"
        self.title = label(title, "heading", wrap=True)
        self.total = label("…", "figure")
        self.change = label("ordering", "note")
        self.facts = label("", "note", wrap=True)
        self.loss = label(way.loss if way is not None else "", "note", wrap=True)
        self.adopt = button("Adopt", adopt, tip="Change the plan so; can be undone")
        self.adopt.setAccessibleName(f"adopt {title}")
        if way is None:
            self.adopt.hide()
        self.adopt.setEnabled(False)
        foot = row(self.adopt, None)
        self.setLayout(
            column(
                self.title,
                self.total,
                self.change,
                self.facts,
                self.loss,
                None,
                foot,
                space=4,
                edge=12,
            )
        )

    def fill(self, found: Answered, base: Answered | None, session: Session) -> None:
        """Show what the way comes to."""
        if found.result is None or found.plan is None:
            self.total.setText("–")
            self.change.setText(found.problem)
            set_tone(self.change, "cut")
            return
        result, money = found.result, session.stock.currency
        self.total.setText(show_money(result.total, money))
        self.adopt.setEnabled(not result.unplaced)
        self.facts.setText(_facts(found))
        if result.unplaced:
            self.change.setText(f"{result.unplaced} parts fit nothing that is sold")
            set_tone(self.change, "cut")
        elif found.way is None or base is None or base.result is None:
            self.change.setText("with shipping")
        else:
            self._difference(result.total - base.result.total, money)

    def _difference(self, more: Decimal, money: Currency) -> None:
        if not more:
            self.change.setText("costs the same")
            return
        sign, tone = ("+", "heat") if more > 0 else ("−", "good")
        self.change.setText(f"{sign}{show_money(abs(more), money)}")
        set_tone(self.change, tone)


def _facts(found: Answered) -> str:
    assert found.result is not None
    assert found.plan is not None
    result, plan = found.result, found.plan
    days = days_of(result, plan.stock)
    sheets = sum(x.packs * x.offer.pack for x in result.lines)
    facts = [
        f"{sheets} to buy" if sheets else "nothing to buy",
        f"{show_area(result.scrap)} scrap, {show_area(result.kept)} kept",
        f"suit {show_weight(plan.weight)}",
    ]
    if days:
        facts.append(f"there in {days} days")
    lacking = ", ".join(section.name for section, _ in lacking_bars(plan))
    if lacking:
        facts.append(f"without {lacking}: not sold so")
    facts.append(f"{_bench(found) / 60:.1f} h at the bench")
    return " · ".join(facts)


def _bench(found: Answered) -> float:
    """Return the hands-on minutes that a way's plan takes: its seams and layers are in it."""
    assert found.plan is not None
    return bench_minutes(found.plan).figure("minutes")


class WhatIfPanel(QWidget):
    """All ways side by side."""

    def __init__(self, asked: WhatIfs) -> None:
        """Show what `asked` finds."""
        super().__init__()
        self._asked = asked
        self._ways: tuple[WhatIf | None, ...] = ()
        self.cards: dict[int, WayCard] = {}
        self.grid = QGridLayout()
        self.grid.setSpacing(12)
        text = "Other ways to the same suit: each is laid and ordered, shipping included."
        self.sizes = SizeCurve()
        self.sizes.hide()
        self.sizes_head = label("Cost by size", "heading")
        self.sizes_head.hide()
        self.look: Palette = LIGHT
        self.setLayout(
            column(label(text, wrap=True), self.grid, self.sizes_head, self.sizes, None, space=12)
        )
        asked.changed.connect(self.fill)

    def fill(self) -> None:
        """Show the ways as far as they are known."""
        if self._asked.ways is not self._ways:
            self._ways = self._asked.ways
            clear(self.grid)
            self.cards = {
                k: WayCard(way, partial(self._adopt, k))
                for k, way in enumerate(self._ways)
                if way is None or not way.size
            }
            for place, card in enumerate(self.cards.values()):
                self.grid.addWidget(card, place // ACROSS, place % ACROSS)
        answers, session = self._asked.answers, self._asked.session
        for k, card in self.cards.items():
            if k in answers:
                card.fill(answers[k], answers.get(0), session)
        prices = [
            SizePrice(a.way.size if a.way is not None else 1.0, a.result.total, a.result.bound)
            for a in answers.values()
            if a.result is not None and (a.way is None or a.way.size)
        ]
        self.sizes.show_prices(prices, session.stock.currency, self.look)
        self.sizes_head.setVisible(len(prices) > 1)

    def _adopt(self, place: int) -> None:
        session = self._asked.session
        try:
            done = self._asked.adopt(place)
        except InputError as error:
            session.tell(str(error), "cut")
            return
        if done:
            session.tell("Adopted: undo takes it back.", "good")
