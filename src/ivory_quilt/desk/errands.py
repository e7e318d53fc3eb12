"""What one station asks of another: a piece opened elsewhere, an entry begun, work kept at once."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from ivory_quilt.core.journal.entry import EntryKind
from ivory_quilt.core.schedule.step import StepKind
from ivory_quilt.desk.drawings import Drawings
from ivory_quilt.desk.keeper import WorkKeeper
from ivory_quilt.desk.station_set import StationSet
from ivory_quilt.desk.stations.base import Station

if TYPE_CHECKING:  # what reads drawings is loaded with the first of them
    from ivory_quilt.desk.imports.reader import PendingImport

AT_MOST = 2.0  # s that a mark waits until it is on the disk: a bench loses power as well


class Errands:
    """Goes from station to station."""

    def __init__(
        self,
        stations: StationSet,
        go: Callable[[str], None],
        drawings: Drawings,
        keeper: WorkKeeper,
    ) -> None:
        """Serve `stations`; `go` brings one to the front."""
        self._stations, self._go = stations, go
        self._drawings, self._keeper = drawings, keeper
        drawings.arrived.connect(self._drawing_arrived)

    def take_in(self, station: Station) -> None:
        """Listen to a station that was just made."""
        empty = getattr(station, "empty", None)
        if empty is not None and station.ident in ("build", "lay", "cut"):
            empty.button.clicked.connect(lambda: self._go("pattern"))
        listen = {
            "pattern": self._hear_pattern,
            "build": lambda: self._stations.build.wants_draft.connect(self._draft),
            "cut": lambda: self._stations.cut.knife.marked.connect(self._keep),
            "bench": self._hear_bench,
        }.get(station.ident)
        if listen is not None:
            listen()

    def _hear_pattern(self) -> None:
        pattern = self._stations.pattern
        pattern.wants_build.connect(self._build)
        pattern.wants_file.connect(self._drawings.ask_import)

    def _hear_bench(self) -> None:
        bench = self._stations.bench
        bench.planner.ticked.connect(lambda *_: self._keep())
        bench.tonight.wants_entry.connect(self._tell_of_step)

    def _keep(self) -> None:
        self._keeper.settle(AT_MOST)

    def _draft(self, piece_id: str) -> None:
        """Open a piece in Pattern's Draft."""
        self._stations.pattern.presenter.selected = (piece_id,)
        self._go("pattern")
        self._stations.pattern.open_draft()

    def _build(self, piece_id: str, group: tuple[str, ...]) -> None:
        """Open a piece in Build, or several together."""
        self._stations.build.open(piece_id, group)
        self._go("build")

    def _drawing_arrived(self, found: "PendingImport") -> None:
        self._go("pattern")
        self._stations.pattern.presenter.take(found)
        self._stations.pattern.arrived()

    def _tell_of_step(self, ident: str) -> None:
        """Open the journal at an entry about a step of tonight."""
        step = self._stations.bench.planner.step(ident)
        if step is None:
            return
        kind = EntryKind.SPOILED if step.kind is StepKind.CUT else EntryKind.TROUBLE
        piece = step.pieces[0] if len(step.pieces) == 1 else ""
        self._go("journal")
        self._stations.journal.begin(kind, piece=piece, step=ident)

    def tell_journal(self) -> None:
        """Open the journal at an entry about the piece in hand."""
        chosen = self._stations.pattern.presenter.selected
        self._go("journal")
        self._stations.journal.begin(EntryKind.NOTE, piece=chosen[0] if chosen else "")

    def show_piece(self, piece_id: str) -> None:
        """Bring a piece to the eye, on the board."""
        self._go("pattern")
        self._stations.pattern.show_piece(piece_id)

    def look_up_code(self, code: str) -> None:
        """Say what a code from a template or sticker stands for."""
        self._stations.cut.look_up_code(code)
