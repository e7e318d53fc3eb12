"""Plans the bench for the ledger while hands and engine rest."""

from collections.abc import Callable

from PySide6.QtCore import QObject

from ivory_quilt.desk.idle_tasks import Later
from ivory_quilt.desk.laying import Laying
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.bench.view import BenchStation
from ivory_quilt.desk.widgets.ledger import LedgerBar

BENCH_AFTER = 2500  # ms: the ledger's day follows once hands rest
MOST_QUIETLY = 1000  # parts: the bench of more is planned when it is looked at


class QuietBench(QObject):
    """Keeps the ledger's day true to what is cut."""

    def __init__(
        self,
        session: Session,
        laying: Laying,
        bench: BenchStation,
        ledger: LedgerBar,
        in_front: Callable[[], bool],
    ) -> None:
        """Plan `bench` anew after each change; `in_front` says whether the maker looks at it."""
        super().__init__(bench)
        self._session, self._laying, self._bench = session, laying, bench
        self._in_front = in_front
        self._later = Later(self._plan, BENCH_AFTER, self)
        session.changed.connect(self._later.soon)
        bench.planner.changed.connect(lambda: ledger.show_bench(*bench.planner.words()))

    def _plan(self) -> None:
        plan, shown = self._session.plan, self._in_front()
        if self._laying.busy or plan.unlaid:
            self._later.soon()
        elif shown or plan.ledger.parts <= MOST_QUIETLY:
            self._bench.planner.plan(quick=not shown)
