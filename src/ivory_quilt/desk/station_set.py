"""All stations of one desk, put together with what they work on."""

from dataclasses import dataclass

from ivory_quilt.desk.laying import Laying
from ivory_quilt.desk.reading import ReadRunner
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import Station
from ivory_quilt.desk.stations.bench.view import BenchStation
from ivory_quilt.desk.stations.build.view import BuildStation
from ivory_quilt.desk.stations.buy.view import BuyStation
from ivory_quilt.desk.stations.cut.view import CutStation
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

    @staticmethod
    def of(
        session: Session, laying: Laying, tasks: TaskRunner, reading: ReadRunner
    ) -> "StationSet":
        """Make the stations of `session`; short work is done by `tasks`, files by `reading`."""
        engine = laying.engine
        measure, pattern = MeasureStation(session, engine.cost_layer), PatternStation(session)
        build, buy = BuildStation(session, engine), BuyStation(session, engine)
        cut = CutStation(session, tasks)
        measure.background = pattern.background = build.background = tasks.run
        buy.background = tasks.run
        measure.reader = pattern.reader = buy.reader = reading.run
        cut.presenter.chosen_at_pattern = lambda: tuple(pattern.presenter.pieces)
        lay, bench = LayStation(session, laying), BenchStation(session)
        return StationSet(measure, pattern, build, lay, buy, cut, bench)

    @property
    def by_name(self) -> dict[str, Station]:
        """Each station by its name."""
        each = (self.measure, self.pattern, self.build, self.lay, self.buy, self.cut, self.bench)
        return {s.ident: s for s in each}
