"""Works out why layouts are as they are and what they leave, a step between two events.

The engine finds what is left. All foams become known at once when it rests, and saying why takes
tens of milliseconds for each.
"""

from collections.abc import Iterator
from functools import partial
from typing import Any

from PySide6.QtCore import QObject, Signal

from ivory_quilt.core.nesting.leftover import Leftover
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.plan.plan import FoamPlan, Plan
from ivory_quilt.core.record import Struct
from ivory_quilt.desk.idle_tasks import IdleTasks
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.stations.lay.why import waste_lines, why


class Explained(Struct, frozen=True):
    """What is to be said of one foam's layout."""

    rooms: tuple[Leftover, ...]
    why: tuple[str, ...]
    waste: tuple[str, ...]


class Explaining(QObject):
    """What is to be said of every foam, as far as it is known yet."""

    found = Signal(object)
    """A foam whose layout is explained now."""

    def __init__(self, engine: LayoutEngine, parent: QObject | None = None) -> None:
        """Explain nothing yet; `engine` finds what is left."""
        super().__init__(parent)
        self._engine = engine
        self._asked: dict[Foam, FoamPlan] = {}
        self._known: dict[Foam, tuple[FoamPlan, Plan, Explained]] = {}
        self._turns = IdleTasks(parent=self)

    def ask(self, plan: Plan) -> None:
        """Explain every foam of `plan` that is not explained yet; what waited is dropped."""
        self._turns.halt()
        for foam in plan.foams:
            if foam.result is None or self.of(foam, plan) is not None:
                continue
            asked = self._asked.get(foam.foam)
            self._asked[foam.foam] = foam
            if asked is None or asked.result is not foam.result:
                self._engine.ask_leftovers(
                    foam.job, foam.result.placements, partial(self._left, foam, plan)
                )

    @property
    def waiting(self) -> bool:
        """Whether something is still to be explained."""
        return bool(self._asked) or self._turns.waiting

    def _left(self, asked: FoamPlan, plan: Plan, rooms: Any) -> None:
        foam = self._asked.get(asked.foam)
        if foam is None or foam.result is not asked.result:
            return  # halted, or another layout is asked about by now
        del self._asked[asked.foam]
        found = tuple(Leftover(sheet, copy, *box) for sheet, copy, box in rooms or ())
        self._turns.add(foam.foam, self._explain(foam, plan, found))

    def of(self, foam: FoamPlan, plan: Plan) -> Explained | None:
        """Return what is known of a foam's present layout."""
        if foam.foam not in self._known:
            return None
        told, then, explained = self._known[foam.foam]
        same = told.result is foam.result and told.parts == foam.parts and then.stock == plan.stock
        return explained if same else None

    def halt(self) -> None:
        """Explain no more: the table is not seen."""
        self._asked.clear()
        self._turns.halt()

    def _explain(self, foam: FoamPlan, plan: Plan, rooms: tuple[Leftover, ...]) -> Iterator[None]:
        waste = waste_lines(foam, rooms)
        yield
        explained = Explained(rooms, tuple(why(foam, plan)), tuple(waste))
        self._known[foam.foam] = (foam, plan, explained)
        yield
        self.found.emit(foam.foam)
