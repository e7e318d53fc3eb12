"""All stations of one desk, each made when it is first asked for.

A maker who opens a project sees one station; the other seven cost as much time and memory again.
"""

from collections.abc import Callable, Iterator, Mapping
from functools import partial
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING, cast

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.units import LengthUnit
from ivory_quilt.desk.laying import Laying
from ivory_quilt.desk.quiet_bench import QuietBench
from ivory_quilt.desk.reading import ReadRunner
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import WORDS, Station
from ivory_quilt.desk.stations.journal.presenter import JournalPresenter
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.work import TaskRunner

if TYPE_CHECKING:
    from ivory_quilt.desk.stations.bench.view import BenchStation
    from ivory_quilt.desk.stations.build.view import BuildStation
    from ivory_quilt.desk.stations.buy.view import BuyStation
    from ivory_quilt.desk.stations.cut.view import CutStation
    from ivory_quilt.desk.stations.journal.view import JournalStation
    from ivory_quilt.desk.stations.lay.view import LayStation
    from ivory_quilt.desk.stations.measure.view import MeasureStation
    from ivory_quilt.desk.stations.pattern.view import PatternStation

SOONEST = ("bench", "lay", "build", "cut", "buy", "measure", "journal")
"""The stations in the order in which they are loaded: the bench is planned before anybody asks."""


class StationSet(Mapping[str, Station]):
    """The stations by name; `made` are those that somebody asked for."""

    def __init__(
        self,
        session: Session,
        laying: Laying,
        tasks: TaskRunner,
        reading: ReadRunner,
        quiet_bench: QuietBench,
        *,
        data: Path,
        take_in: Callable[[Station], None],
    ) -> None:
        """Serve `session`; short work is done by `tasks`, files are read by `reading`.

        Args:
            session: the project that all of them work on.
            laying: lays it.
            tasks: does short work beside the window.
            reading: reads files in a process of its own.
            quiet_bench: plans the bench.
            data: the folder of timers and of what was measured.
            take_in: called with each station once it is made.
        """
        self._session, self._laying = session, laying
        self._tasks, self._reading = tasks, reading
        self._quiet_bench, self._take_in = quiet_bench, take_in
        # What is cut and ticked is noted though nobody opens the journal.
        self._noting = JournalPresenter(session)
        self._noting.data = data
        self.timers_file = data / "timers.json"
        """Where running timers are kept."""
        self._made: dict[str, Station] = {}
        self._dress: dict[str, Callable[[Station], None]] = {}
        self._makers: dict[str, Callable[[], Station]] = {
            "measure": self._make_measure,
            "pattern": self._make_pattern,
            "build": self._make_build,
            "lay": self._make_lay,
            "buy": self._make_buy,
            "cut": self._make_cut,
            "bench": self._make_bench,
            "journal": self._make_journal,
        }

    def __getitem__(self, ident: str) -> Station:
        """Return a station, made now if need be."""
        found = self._made.get(ident)
        if found is None:
            found = self._made[ident] = self._makers[ident]()
            for dress in self._dress.values():
                dress(found)
            self._take_in(found)
        return found

    def __contains__(self, ident: object) -> bool:
        return ident in WORDS  # the mapping's own would make it

    def __iter__(self) -> Iterator[str]:
        return iter(WORDS)

    def __len__(self) -> int:
        return len(WORDS)

    @property
    def made(self) -> tuple[Station, ...]:
        """The stations that are there."""
        return tuple(self._made.values())

    def load_ahead(self, done: Callable[[], None]) -> None:
        """Load what stations not made yet are made of, beside the window; then say `done`."""

        def loaded(_result: object, error: Exception | None) -> None:
            if error is not None:
                raise error

        for ident in SOONEST:  # one task each: other short work comes in between
            load = partial(import_module, f"ivory_quilt.desk.stations.{ident}.view")
            self._tasks.run(load, loaded)
        self._tasks.run(lambda: None, lambda *_: done())

    def can(self, ident: str, action: str) -> bool:
        """Return whether an action of a station makes sense now.

        One that nobody was at yet can do its work as soon as there are pieces.
        """
        found = self._made.get(ident)
        return bool(self._session.project.pieces) if found is None else found.can(action)

    def show_look(self, look: Palette) -> None:
        """Show all stations in a theme, and those made later."""
        self._wear("look", lambda station: station.set_look(look))

    def show_unit(self, unit: LengthUnit) -> None:
        """Show lengths in a unit at all tables, and at those made later."""

        def show(station: Station) -> None:
            if station.canvas is not None:
                station.canvas.unit = unit
                station.canvas.viewport().update()

        self._wear("unit", show)

    def fold_cards(self, *, folded: bool) -> None:
        """Fold all side cards away, or back, and those made later."""

        def fold(station: Station) -> None:
            if station.card is not None:
                station.card.setVisible(not folded)

        self._wear("fold", fold)

    def _wear(self, name: str, dress: Callable[[Station], None]) -> None:
        self._dress[name] = dress
        for station in self.made:
            dress(station)

    def leave(self) -> None:
        """End long work that nobody will see: the desk closes."""
        for station in self.made:
            station.leave()

    @property
    def pattern(self) -> "PatternStation":
        """Pieces at true size."""
        return cast("PatternStation", self["pattern"])

    @property
    def build(self) -> "BuildStation":
        """What is really cut, and why."""
        return cast("BuildStation", self["build"])

    @property
    def cut(self) -> "CutStation":
        """Templates and cut sheets."""
        return cast("CutStation", self["cut"])

    @property
    def bench(self) -> "BenchStation":
        """Steps in time."""
        return cast("BenchStation", self["bench"])

    @property
    def journal(self) -> "JournalStation":
        """What happened."""
        return cast("JournalStation", self["journal"])

    def _make_measure(self) -> "MeasureStation":
        from ivory_quilt.desk.stations.measure.view import MeasureStation

        made = MeasureStation(self._session, self._laying.engine.cost_layer)
        made.background, made.reader = self._tasks.run, self._reading.run
        return made

    def _make_pattern(self) -> "PatternStation":
        from ivory_quilt.desk.stations.pattern.view import PatternStation

        made = PatternStation(self._session)
        made.background, made.reader = self._tasks.run, self._reading.run
        return made

    def _make_build(self) -> "BuildStation":
        from ivory_quilt.desk.stations.build.view import BuildStation

        made = BuildStation(self._session, self._laying.engine)
        made.background = self._tasks.run
        return made

    def _make_lay(self) -> "LayStation":
        from ivory_quilt.desk.stations.lay.view import LayStation

        return LayStation(self._session, self._laying)

    def _make_buy(self) -> "BuyStation":
        from ivory_quilt.desk.stations.buy.view import BuyStation

        made = BuyStation(self._session, self._laying.engine)
        made.background, made.reader = self._tasks.run, self._reading.run
        return made

    def _make_cut(self) -> "CutStation":
        from ivory_quilt.desk.stations.cut.view import CutStation

        made = CutStation(self._session, self._tasks, self._laying.engine.paper_layer)
        made.presenter.chosen_at_pattern = lambda: tuple(self.pattern.presenter.pieces)
        made.knife.timed.connect(self._note_time)
        return made

    def _make_bench(self) -> "BenchStation":
        from ivory_quilt.desk.stations.bench.view import BenchStation

        made = BenchStation(self._session, self._quiet_bench.planner)
        made.timers.keep_in(self.timers_file)
        made.planner.ticked.connect(self._note_tick)
        return made

    def _make_journal(self) -> "JournalStation":
        from ivory_quilt.desk.stations.journal.view import JournalStation

        return JournalStation(self._session, self._noting)

    def _note_time(self, name: str, minutes: float, planned: float) -> None:
        """Let the journal know how long a sheet took to cut."""
        try:
            self._noting.sheet_timed(name, minutes, planned)
        except InputError as error:
            self._session.tell(str(error), "cut")

    def _note_tick(self, step_id: str, done: bool) -> None:  # noqa: FBT001 - a signal's
        """Let the journal know how long a step took; a tick taken back takes that back as well."""
        planner, journal = self._quiet_bench.planner, self._noting
        step = planner.step(step_id)
        if step is None:
            return
        try:
            if not done:
                journal.step_undone(step)
                return
            ticked = planner.choices.done[-1]
            if ticked.id == step_id and ticked.minutes > 0:
                journal.step_done(step, ticked.minutes, ticked.at)
        except InputError as error:
            self._session.tell(str(error), "cut")
