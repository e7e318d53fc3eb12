"""Keeps every foam laid: asks the engine for what is missing, takes in what it finds.

A foam that waits gets a first layout at once, then a short improvement; what the maker looks at
comes first. A foam that cannot be laid is marked so, and the others go on. Improving on the maker's
word goes on from the layout in sight; a layout that the maker keeps is improved as an edit, which
undo takes back.
"""

import math
from decimal import Decimal
from functools import partial

from PySide6.QtCore import QObject, Signal

from ivory_quilt.core.document.project import KeptLayout, keep_layout
from ivory_quilt.core.errors import QuiltError
from ivory_quilt.core.nesting.job import LayJob, LayResult, Placement
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.plan.plan import FoamPlan
from ivory_quilt.core.plan.standing import Proposal, Standing
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import show_money, show_thickness
from ivory_quilt.desk.event_turns import Later
from ivory_quilt.desk.layout_engine import LayoutEngine, LayTask
from ivory_quilt.desk.session import Session
from ivory_quilt.engine.queue import Rank

AUTO_SECONDS = 1.5  # of improvement a foam after a first layout, unasked
IMPROVE_SECONDS = 12.0  # a foam, when the maker asks
IMPROVED = "Improve layouts"
DISCARDED = "Discard last run"
ASK_SECONDS = 6.0  # spent on a question
TOGETHER = 60  # ms within which better layouts are shown together
AT_ONCE = 2  # foams: the plan of more is derived in the next turns, for hands to come in between
SOON = 5  # ms until then


class Laying(QObject):
    """The link between the session and the engine."""

    changed = Signal()
    """Work began, ended, or got on."""

    failed = Signal(object, object)
    """(foam, error): it could not be laid."""

    def __init__(
        self, session: Session, engine: LayoutEngine, parent: QObject | None = None
    ) -> None:
        """Lay what `session` needs with `engine`."""
        super().__init__(parent)
        self.session = session
        self.engine = engine
        self.engine.better.connect(self._better)
        self.engine.progress.connect(self._progress)
        self.engine.finished.connect(self._finished)
        self.engine.failed.connect(self._failed)
        self.engine.lost.connect(self._lost)
        self.engine.state_changed.connect(self.changed)
        session.changed.connect(self._on_changed)
        session.opened.connect(self._on_opened)
        self.task: LayTask | None = None
        self.done_seconds = 0.0
        self.auto_seconds = AUTO_SECONDS
        self.improve_seconds = IMPROVE_SECONDS
        self.target: Decimal | None = None
        """What all foam may cost at which a run on the maker's word ends; None: the least."""
        self._until: Decimal | None = None
        self._asked: dict[Foam, LayJob] = {}
        self.before: dict[Foam, tuple[LayJob, LayResult]] = {}
        """The layouts that the last run on the maker's word began from."""
        self._answers: dict[Foam, tuple[LayJob, LayResult | None]] = {}
        self.history: tuple[tuple[float, Decimal, float], ...] = ()
        self._fresh: list[Foam] = []
        self._told: dict[Foam, tuple[LayTask, LayResult]] = {}
        self._later = Later(partial(self.take_in, AT_ONCE), TOGETHER, self)
        self._in_sight: frozenset[Foam] = frozenset()
        self._unlayable: dict[Foam, tuple[LayJob, QuiltError]] = {}
        self._left_out: dict[Foam, tuple[Placement, ...]] = {}
        """Layouts that took not everything: on more foam no more stays out."""
        self.seed = 1

    @property
    def busy(self) -> bool:
        """Whether the engine is at work."""
        return self.engine.busy or bool(self._fresh)

    def close(self) -> None:
        """End the engine."""
        self.engine.close()

    def look_at(self, foams: frozenset[Foam]) -> None:
        """Lay some foams before others from now on: the maker looks at them."""
        self._in_sight = foams

    def problem(self, foam: FoamPlan) -> str:
        """Return why a foam could not be laid, as its job stands now; empty: it can."""
        job, error = self._unlayable.get(foam.foam, (None, None))
        return str(error) if job is not None and _same(job, foam.job) else ""

    @property
    def preparing(self) -> str:
        """What is to be said while the engine is prepared for the first time, or cannot be."""
        state = self.engine.state
        if state.problem:
            return f"{state.problem} Layouts that are kept stay as they are."
        if state.ready or not state.seconds:
            return ""
        seconds = state.seconds
        # Steps that do not flicker: nobody counts an estimate's seconds.
        rounded = 10 * math.ceil(seconds / 10) if seconds > 10 else 5 * math.ceil(seconds / 5)
        return f"Preparing the layout engine, once: {rounded} s"

    # Asking

    def improve(self, foams: list[Foam] | None = None, seconds: float | None = None) -> None:
        """Improve the layouts in sight, of some foams or all, for so long or as was decided."""
        if self._met(self.target):
            self.session.tell(f"{self._cost} is no more than you asked for.", "good")
            return
        self.seed += 1
        seconds = self.improve_seconds if seconds is None else seconds
        tasks = [
            LayTask(
                f.foam,
                f.job,
                seconds,
                self.seed,
                f.result.placements,
                kept=f.standing is Standing.KEPT,
                rank=Rank.IMPROVE,
            )
            for f in sorted(self.session.plan.foams, key=self._turn)
            if f.result is not None and (foams is None or f.foam in foams)
        ]
        self._fresh = []
        self.before = {
            f.foam: (f.job, f.result) for f in self.session.plan.foams if f.result is not None
        }
        self.history = ()
        self._until = self.target
        self.engine.request(tasks)
        self.changed.emit()

    @property
    def _cost(self) -> str:
        return f"Foam for {show_money(self.session.plan.ledger.cost, self.session.stock.currency)}"

    def _met(self, target: Decimal | None) -> bool:
        """Return whether everything lies and costs no more than a target."""
        ledger = self.session.plan.ledger
        return target is not None and not ledger.unplaced and ledger.cost <= target

    @property
    def has_gained(self) -> bool:
        """Whether the last run changed a layout, so that there is something to go back to."""
        return not self.busy and any(
            planned is not None
            and planned.result is not None
            and _same(planned.job, job)
            and planned.result.placements != result.placements
            for foam, (job, result) in self.before.items()
            for planned in (self.session.plan.foam(foam),)
        )

    def discard(self) -> None:
        """Go back to the layouts that the last run began from."""
        self.take_in()
        if not self.has_gained:
            return
        before, self.before = self.before, {}
        for foam, (job, result) in before.items():
            planned = self.session.plan.foam(foam)
            if planned is None or not _same(planned.job, job):
                continue
            if planned.standing is Standing.KEPT:
                self._replace_kept(planned, result, DISCARDED)
            else:
                self.session.propose(foam, planned.job, result)
        self.changed.emit()

    def accept(self) -> None:
        """Stay with what the last run found; the layouts before it are forgotten."""
        self.before = {}
        self.changed.emit()

    def ask_free_turns(self, foam: FoamPlan, seconds: float = ASK_SECONDS) -> None:
        """Find out what would change if the parts that nobody sees could turn freely."""
        pieces = tuple(
            replace(p, rotations=None) if p.hidden or p.mirror else p for p in foam.job.pieces
        )
        job = replace(foam.job, pieces=pieces)
        start = foam.result.placements if foam.result is not None else ()
        self._answers[foam.foam] = (foam.job, None)
        task = LayTask(
            foam.foam, job, seconds, self.seed, start, only_asking=True, rank=Rank.QUESTION
        )
        self.engine.add([task])
        self.changed.emit()

    def answer(self, foam: FoamPlan) -> LayResult | None:
        """Return what was found for the question asked of a foam; None once its job is another."""
        job, result = self._answers.get(foam.foam, (None, None))
        return result if job is not None and _same(job, foam.job) else None

    def keep(self) -> None:
        """Keep what is offered and end the run on it; foams without a layout go on being laid."""
        self.take_in()
        if not self.session.plan.unlaid:
            self.stop()
        self.session.keep_all()

    def stop(self) -> None:
        """Stop; what was found stays."""
        self.take_in()
        self._fresh, self._until = [], None
        self.engine.stop()

    def _on_opened(self) -> None:
        self._asked.clear()
        self._left_out.clear()
        self._unlayable.clear()
        self._told.clear()
        self.before, self._answers, self.history = {}, {}, ()
        self._fresh, self._until, self.target = [], None, None
        if self.engine.busy:
            self.engine.stop()

    def _on_changed(self) -> None:
        self._note_left_out()
        waiting = [f for f in self.session.plan.unlaid if self._asked.get(f.foam) is not f.job]
        if waiting:
            for foam in waiting:
                self._asked[foam.foam] = foam.job
            unlaid = [f for f in self.session.plan.unlaid if not self.problem(f)]
            self._fresh, self._until = [f.foam for f in unlaid], None
            self.engine.request(
                [
                    LayTask(
                        f.foam,
                        f.job,
                        0.0,
                        self.seed,
                        self._left_out.get(f.foam, ()),
                        rank=self._rank(f.foam),
                    )
                    for f in unlaid
                ]
            )
            self.changed.emit()
        elif self.task is not None and self.busy:
            planned = self.session.plan.foam(self.task.foam)
            if self.task.only_asking:
                return
            if planned is None or planned.job != self.task.job:
                self.engine.stop_foam(self.task.foam)

    def _note_left_out(self) -> None:
        for foam in self.session.plan.foams:
            if foam.result is not None:
                short = foam.result.placements if foam.result.unplaced else ()
                self._left_out[foam.foam] = short

    def _turn(self, foam: FoamPlan) -> bool:
        """Return a key that puts what the maker looks at first."""
        return foam.foam not in self._in_sight

    def _rank(self, foam: Foam) -> Rank:
        return Rank.IN_SIGHT if foam in self._in_sight else Rank.FOAM

    def _finished(self) -> None:
        self.take_in()
        fresh = [self.session.plan.foam(f) for f in self._fresh]
        self._fresh, self._until = [], None
        self.task = None
        tasks = [
            LayTask(
                f.foam,
                f.job,
                self.auto_seconds,
                self.seed,
                f.result.placements,
                rank=Rank.IMPROVE,
            )
            for f in sorted((f for f in fresh if f is not None), key=self._turn)
            if f.result is not None and f.standing is Standing.PROPOSED
        ]
        if tasks:
            self.engine.request(tasks)
        self.changed.emit()

    # Taking in

    def _failed(self, task: LayTask, error: QuiltError) -> None:
        if not task.only_asking:
            self._unlayable[task.foam] = (task.job, error)
            name = show_thickness(task.foam.thickness)
            self.session.tell(f"{name} could not be laid: {error}", "cut")
            self.failed.emit(task.foam, error)
        self.changed.emit()

    def _lost(self) -> None:
        if self.engine.state.problem:
            self.session.tell(self.preparing, "cut")
            return
        text = "The layout engine ended unexpectedly and was started again; nothing is lost."
        self.session.tell(text, "heat")

    def _progress(self, task: LayTask, done: float) -> None:
        self.task, self.done_seconds = task, done
        self.changed.emit()

    def _better(self, task: LayTask, result: LayResult) -> None:
        if task.only_asking:
            self.task = task
            self._answers[task.foam] = (self._answers[task.foam][0], result)
            self.changed.emit()
            return
        self.history = result.history
        self.task = task
        self._told[task.foam] = (task, result)
        self._later.soon()

    def take_in(self, most: int | None = None) -> None:
        """Show the layouts told since the last time: together, as each showing takes its time.

        Of more than `most` foams the others follow at once.
        """
        self._later.stop()
        if not self._told:
            return
        told = dict(list(self._told.items())[:most])
        self._told = {foam: one for foam, one in self._told.items() if foam not in told}
        if self._told:
            self._later.start(SOON)
        proposals: dict[Foam, Proposal] = {}
        for task, result in told.values():
            planned = self.session.plan.foam(task.foam)
            if planned is None or not _same(planned.job, task.job):
                continue
            if planned.result is not None and planned.result.placements == result.placements:
                continue
            if planned.standing is not Standing.KEPT:
                proposals[task.foam] = Proposal(planned.job, result)
            elif task.kept:
                self._replace_kept(planned, result)
        if proposals:
            self.session.propose_all(proposals)
            self._note_left_out()
        if self._met(self._until):
            self.stop()
            self.session.tell(f"{self._cost}: no more than you asked for. Stopped.", "good")
        self.changed.emit()

    def _replace_kept(self, planned: FoamPlan, result: LayResult, label: str = IMPROVED) -> None:
        if result.unplaced:
            return
        pins = planned.kept.pins if planned.kept is not None else frozenset()
        kept = KeptLayout(planned.foam, result.placements, pins)
        self.session.edit(label, lambda p: keep_layout(p, kept), merge=True)


def _same(a: LayJob, b: LayJob) -> bool:
    """Return whether two jobs are the same; nearly always they are one object."""
    return a is b or a == b
