"""The cheapest order of what the project needs, looked for while the maker looks at Buy."""

import time
from functools import partial

from PySide6.QtCore import QObject, Qt, Signal

from ivory_quilt.core.document.cutting import sheets_arrived
from ivory_quilt.core.document.project import Project, keep_layout
from ivory_quilt.core.errors import InputError, QuiltError, Stopped
from ivory_quilt.core.plan.ordering import ShoppingLine, layouts_of, order_job, shopping_list
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.buy_job import BuyJob, BuyResult
from ivory_quilt.core.stock.buying import Buying
from ivory_quilt.core.stock.foam_stock import StockKind
from ivory_quilt.core.stock.keeping import KeepRule
from ivory_quilt.core.stock.past_order import OrderedLine, PastOrder, PriceChange, price_changes
from ivory_quilt.core.stock.purchase import BOUGHT, OWNED
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.work import TaskRunner

SECONDS = 12.0


class Ordering(QObject):
    """Looks for an order of the present plan; better ones are told as they are found."""

    changed = Signal()
    """There is a better order, or the search began or ended."""
    _found = Signal(object, object)

    def __init__(self, session: Session, engine: LayoutEngine) -> None:
        """Order for `session`, laying with `engine`."""
        super().__init__()
        self.session, self._engine = session, engine
        self._tasks: TaskRunner | None = None
        self._plan: Plan | None = None
        self.result: BuyResult | None = None
        self._past: tuple[PastOrder, ...] | None = None
        self.search: Buying | None = None
        """The last search that ended: what it found out of each foam is worth knowing."""
        self.running = False
        self.problem = ""
        self.seconds = SECONDS
        self._number = 0
        self._found.connect(self._better, Qt.ConnectionType.QueuedConnection)

    @property
    def fits_plan(self) -> bool:
        """Whether what is shown is of the present project and shop."""
        plan = self.session.plan
        return self._plan is not None and _same(self._plan, plan)

    def look(self) -> None:
        """Begin to look for an order of the present plan, unless that is known or under way."""
        plan = self.session.plan
        if self.fits_plan or not plan.foams:
            return
        self.stop()
        self._plan, self.result, self.problem, self._past = plan, None, "", None
        if all(f.standing is Standing.NO_STOCK for f in plan.foams):
            self.problem = "The shop has none of this foam: begin with the usual sizes"
            self.changed.emit()
            return
        try:
            job = order_job(plan)
        except InputError as error:
            self.problem = str(error)
            self.changed.emit()
            return
        self._number += 1
        self.running = True
        if self._tasks is None:
            self._tasks = TaskRunner(self)
        number = self._number
        self._tasks.run(
            partial(self._run, number, job, plan.stock.keep), partial(self._ended, number)
        )
        self.changed.emit()

    def stop(self) -> None:
        """Stop looking; what was found stays."""
        self._number += 1
        if self.running:
            self.running = False
            self.changed.emit()

    def close(self) -> None:
        """End everything: the desk closes."""
        self._number += 1
        if self._tasks is not None:
            self._tasks.close()

    def _run(self, number: int, job: BuyJob, rule: KeepRule) -> BuyResult | None:
        """Look, on the task's own thread."""

        def wanted() -> bool:
            return number == self._number

        buying = Buying(
            job,
            self._engine.order_layer(wanted),
            time.monotonic,
            going=wanted,
            better=lambda found: self._found.emit(number, found),
            rule=rule,
        )
        result = buying.run(self.seconds)
        self.search = buying
        return result

    def _better(self, number: int, found: BuyResult) -> None:
        if number == self._number:
            self.result = found
            self.changed.emit()

    def _ended(self, number: int, found: BuyResult | None, error: Exception | None) -> None:
        if error is not None and not isinstance(error, QuiltError):
            raise error
        if number != self._number:
            return
        self.running = False
        if found is not None:
            self.result = found
        elif error is not None and not isinstance(error, Stopped):
            self.problem = str(error)
        self.changed.emit()

    def lines(self) -> tuple[ShoppingLine, ...]:
        """Return the order as a list, by supplier."""
        if self.result is None:
            return ()
        return shopping_list(self.result, self.session.stock)

    def arrived(self, line: ShoppingLine) -> None:
        """Put what a line says on the shelf."""
        stock, session = self.session.stock, self.session
        item = stock.item(line.ident)
        bar = next((b for b in stock.bars if b.id == line.ident), None)

        def put() -> None:
            if item is not None:
                more = line.count if item.kind is not StockKind.ROLL else 1
                session.put_stock(replace(item, owned=item.owned + more))
            elif bar is not None:
                session.store.put_bar(replace(bar, owned=bar.owned + line.count))
                session.reload_stock()

        if session.try_shop(put):
            if item is not None and item.kind is not StockKind.ROLL:
                there = (BOUGHT + item.id, OWNED + item.id, item.owned, line.count)
                session.edit("Arrived", lambda p: sheets_arrived(p, item.foam, *there))
            session.tell(f"{line.name} is on the shelf.", "good")

    def as_ordered(self) -> tuple[OrderedLine, ...]:
        """Return the order's priced lines as they are kept and compared."""
        lines = [x for x in self.lines() if not x.unpriced]
        return tuple(OrderedLine(x.key, x.name, x.supplier, x.count, x.cost) for x in lines)

    def _past_orders(self) -> tuple[PastOrder, ...]:
        """Return the shop's past orders, read once for each search and after each order."""
        if self._past is None:
            try:
                self._past = self.session.store.past_orders()
            except InputError as error:
                self.session.tell(str(error), "cut")
                return ()
        return self._past

    def changes(self) -> dict[str, PriceChange]:
        """Return how prices changed since each line was ordered last, by the line's key."""
        return price_changes(self.as_ordered(), self._past_orders())

    def last_order(self) -> PastOrder | None:
        """Return this project's last order."""
        name = self.session.project.name
        mine = [o for o in self._past_orders() if o.project == name]
        return mine[-1] if mine else None

    def ordered(self, day: str) -> bool:
        """Keep the order as made on a day, to compare the next ones with."""
        if self.result is None or not self.fits_plan or not self.as_ordered():
            return False
        order = PastOrder(day, self.session.project.name, self.as_ordered(), self.result.shipping)
        done = self.session.try_shop(lambda: self.session.store.put_past_order(order))
        if done:
            self._past = None
            self.changed.emit()
        return done

    def adopt(self) -> bool:
        """Keep the order's layouts in place of the present ones; return whether that is new."""
        if self.result is None or self._plan is None or not self.fits_plan:
            return False
        layouts = layouts_of(self._plan, self.result)

        def keep(project: Project) -> Project:
            for layout in layouts:
                project = keep_layout(project, layout)
            return project

        plan = self._plan
        done = self.session.edit("Adopt order", keep)
        if done and _same(plan, self.session.plan):
            self._plan = self.session.plan
        return done


def _same(one: Plan, other: Plan) -> bool:
    """Return whether two plans need the same parts, from the same shop."""
    if one is other:
        return True
    return (
        one.stock == other.stock
        and one.lengths == other.lengths
        and one.project.gap == other.project.gap
        and [f.foam for f in one.foams] == [f.foam for f in other.foams]
        and all(
            len(a.parts) == len(b.parts)
            and all(x is y for x, y in zip(a.parts, b.parts, strict=True))
            for a, b in zip(one.foams, other.foams, strict=True)
        )
    )
