"""Plans the bench for the ledger while hands and engine rest."""

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject

from ivory_quilt.desk.event_turns import Later
from ivory_quilt.desk.laying import Laying
from ivory_quilt.desk.session import Session

if TYPE_CHECKING:
    from ivory_quilt.desk.stations.bench.presenter import BenchPlanner

BENCH_AFTER = 2500  # ms: the ledger's day follows once hands rest
MOST_QUIETLY = 1000  # parts: the bench of more is planned when it is looked at


class QuietBench(QObject):
    """Keeps the ledger's day true to what is cut."""

    def __init__(
        self,
        session: Session,
        laying: Laying,
        show: Callable[[str, str, str], None],
        in_front: Callable[[], bool],
        parent: QObject,
    ) -> None:
        """Plan anew after each change, and `show` day and evenings in words.

        `in_front` says whether the maker looks at the bench.
        """
        super().__init__(parent)
        self._session, self._laying = session, laying
        self._show, self._in_front = show, in_front
        self._later = Later(self._plan, BENCH_AFTER, self)
        session.changed.connect(self._later.soon)

    @cached_property
    def planner(self) -> "BenchPlanner":
        """Plans the bench; made when it is first needed."""
        from ivory_quilt.desk.stations.bench.presenter import BenchPlanner

        made = BenchPlanner(self._session)
        made.changed.connect(self._tell)
        return made

    def close(self) -> None:
        """End planning: the desk closes."""
        self._session.changed.disconnect(self._later.soon)
        self._later.stop()
        if "planner" in vars(self):
            self.planner.close()

    def _tell(self) -> None:
        self._show(*self.planner.words())

    def _plan(self) -> None:
        plan, shown = self._session.plan, self._in_front()
        if self._laying.busy or plan.unlaid:
            self._later.soon()
        elif shown or plan.ledger.parts <= MOST_QUIETLY:
            self.planner.plan(quick=not shown)
