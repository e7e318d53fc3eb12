"""Works out why layouts are as they are and what they leave, a step between two events.

Every foam takes tens of milliseconds, and all foams become known at once when the engine rests.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.plan.plan import FoamPlan, Plan
from ivory_quilt.desk.idle_tasks import IdleTasks
from ivory_quilt.desk.stations.lay.why import left_on, waste_lines, why

if TYPE_CHECKING:
    from ivory_quilt.core.nesting.leftovers import Leftover


@dataclass(frozen=True)
class Explained:
    """What is to be said of one foam's layout."""

    rooms: "tuple[Leftover, ...]"
    why: tuple[str, ...]
    waste: tuple[str, ...]


class Explaining(QObject):
    """What is to be said of every foam, as far as it is known yet."""

    found = Signal(object)
    """A foam whose layout is explained now."""

    def __init__(self, parent: QObject | None = None) -> None:
        """Explain nothing yet."""
        super().__init__(parent)
        self._known: dict[Foam, tuple[FoamPlan, Plan, Explained]] = {}
        self._turns = IdleTasks(parent=self)

    def ask(self, plan: Plan) -> None:
        """Explain every foam of `plan` that is not explained yet; what waited is dropped."""
        self._turns.halt()
        for foam in plan.foams:
            if foam.result is not None and self.of(foam, plan) is None:
                self._turns.add(foam.foam, self._explain(foam, plan))

    def of(self, foam: FoamPlan, plan: Plan) -> Explained | None:
        """Return what is known of a foam's present layout."""
        if foam.foam not in self._known:
            return None
        told, then, explained = self._known[foam.foam]
        same = told.result is foam.result and told.parts == foam.parts and then.stock == plan.stock
        return explained if same else None

    def halt(self) -> None:
        """Explain no more: the table is not seen."""
        self._turns.halt()

    def finish(self) -> None:
        """Explain at once all that still waits."""
        self._turns.finish()

    def _explain(self, foam: FoamPlan, plan: Plan) -> Iterator[None]:
        rooms = left_on(foam)
        yield
        waste = waste_lines(foam, rooms)
        yield
        explained = Explained(rooms, tuple(why(foam, plan)), tuple(waste))
        self._known[foam.foam] = (foam, plan, explained)
        yield
        self.found.emit(foam.foam)
