"""All stations of one desk, put together with what they work on."""

from dataclasses import dataclass
from functools import partial

from ivory_quilt.core.errors import InputError
from ivory_quilt.desk.laying import Laying
from ivory_quilt.desk.reading import ReadRunner
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import Station
from ivory_quilt.desk.stations.bench.view import BenchStation
from ivory_quilt.desk.stations.build.view import BuildStation
from ivory_quilt.desk.stations.buy.view import BuyStation
from ivory_quilt.desk.stations.cut.view import CutStation
from ivory_quilt.desk.stations.journal.view import JournalStation
from ivory_quilt.desk.stations.lay.view import LayStation
from ivory_quilt.desk.stations.measure.view import MeasureStation
from ivory_quilt.desk.stations.pattern.view import PatternStation
from ivory_quilt.desk.work import TaskRunner


@dataclass(frozen=True)
class StationSet:
    """The stations in the order of work."""

    measure: MeasureStation
    pattern: PatternStation
    build: BuildStation
    lay: LayStation
    buy: BuyStation
    cut: CutStation
    bench: BenchStation
    journal: JournalStation

    @staticmethod
    def of(
        session: Session, laying: Laying, tasks: TaskRunner, reading: ReadRunner
    ) -> "StationSet":
        """Make the stations of `session`; short work is done by `tasks`, files by `reading`."""
        engine = laying.engine
        measure, pattern = MeasureStation(session, engine.cost_layer), PatternStation(session)
        build, buy = BuildStation(session, engine), BuyStation(session, engine)
        cut = CutStation(session, tasks, engine.paper_layer)
        measure.background = pattern.background = build.background = tasks.run
        buy.background = tasks.run
        measure.reader = pattern.reader = buy.reader = reading.run
        cut.presenter.chosen_at_pattern = lambda: tuple(pattern.presenter.pieces)
        lay, bench = LayStation(session, laying), BenchStation(session)
        journal = JournalStation(session)
        bench.planner.ticked.connect(partial(_note_tick, bench, journal))
        cut.knife.timed.connect(partial(_note_time, journal))
        return StationSet(measure, pattern, build, lay, buy, cut, bench, journal)

    @property
    def by_name(self) -> dict[str, Station]:
        """Each station by its name."""
        return {s.ident: s for s in vars(self).values()}


def _note_time(journal: JournalStation, name: str, minutes: float, planned: float) -> None:
    """Let the journal know how long a sheet took to cut."""
    try:
        journal.presenter.sheet_timed(name, minutes, planned)
    except InputError as error:
        journal.session.tell(str(error), "cut")


def _note_tick(bench: BenchStation, journal: JournalStation, step_id: str, done: bool) -> None:  # noqa: FBT001 - a signal's
    """Let the journal know how long a step took; a tick taken back takes that back as well."""
    step = bench.planner.step(step_id)
    if step is None:
        return
    try:
        if not done:
            journal.presenter.step_undone(step)
            return
        ticked = bench.planner.choices.done[-1]
        if ticked.id == step_id and ticked.minutes > 0:
            journal.presenter.step_done(step, ticked.minutes, ticked.at)
    except InputError as error:
        bench.session.tell(str(error), "cut")
