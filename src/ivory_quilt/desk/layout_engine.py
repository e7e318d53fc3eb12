"""The engine as the desk sees it: orders of foams, answers to hands, all told on its own thread."""

import contextlib
from collections.abc import Callable
from decimal import Decimal
from functools import partial
from itertools import count
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Qt, QTimer, Signal

from ivory_quilt.core.formup.assembly import Assembly
from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.core.formup.wearing import Garment
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.nesting.job import LayJob, LayResult, Placement
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.record import Struct
from ivory_quilt.core.rendering.scene import Framing, Scene, View
from ivory_quilt.engine.orders import (
    Better,
    Ended,
    EngineState,
    LayBackend,
    Order,
    Told,
    Working,
)
from ivory_quilt.engine.questions import Answer, DressedSuit
from ivory_quilt.engine.queue import Rank
from ivory_quilt.engine.service import EngineService

if TYPE_CHECKING:  # paper is laid out when it is asked for
    from ivory_quilt.core.cutting.paper_layout import LayPaper

CostLayer = Callable[[Callable[[], bool]], Callable[[LayJob], LayResult]]
"""Returns what lays a job to know about its cost, as long as that is wanted."""
BuyLay = Callable[[LayJob, float, Decimal | None, tuple[Placement, ...]], LayResult]
"""Lays a job for so many seconds, or until all lies at no more than a cost, from a start on."""
BEGIN_AFTER = 1000  # ms, where nobody says that the window is there
FORM_SECONDS = 10.0  # at most, of forming an assembly up
COST_SECONDS = 0.6  # of laying a foam to know about what it costs; the first layout comes sooner


class LayTask(Struct, frozen=True):
    """One foam to lay: from scratch, or onward from `start`."""

    foam: Foam
    job: LayJob
    seconds: float
    seed: int = 1
    start: tuple[Placement, ...] = ()
    kept: bool = False
    """Whether the layout that it begins from is kept: a better one is an edit then."""
    only_asking: bool = False
    """Whether the job is not the maker's own, but a question: what would it be like?"""
    rank: Rank = Rank.FOAM


class LayoutEngine(QObject):
    """The desk's end of the engine. Every method returns at once.

    What the engine's thread tells is passed on by queued signals.
    """

    better = Signal(object, object)
    """(task, result): a better layout of one foam."""
    progress = Signal(object, float)
    """(task, seconds done)."""
    finished = Signal()
    """All requested work is done or stopped."""
    failed = Signal(object, object)
    """(task, error): a foam that could not be laid."""
    state_changed = Signal(object)
    """How the engine is now."""
    ready = Signal()
    """The engine can lay."""
    lost = Signal()
    """A process of the engine is gone, and another one is begun."""
    _told = Signal(int, object)
    _state = Signal(object)
    _answer = Signal(object, object)

    def __init__(self, service: EngineService | None = None, parent: QObject | None = None) -> None:
        """Work with `service`, or with one of its own, which ends with it."""
        super().__init__(parent)
        self.service = service or EngineService(begin=False)
        self._own = service is None
        self._numbers = count(1)
        self._tasks: dict[int, tuple[LayTask, int, LayBackend]] = {}
        self.backend: LayBackend = self.service
        """What lays: this machine, or a cluster; hands and pictures are always this machine's."""
        self._closed = False
        queued = Qt.ConnectionType.QueuedConnection
        self._told.connect(self._hear, queued)
        self._state.connect(self._on_state, queued)
        self._answer.connect(self._deliver, queued)
        self.state = EngineState()
        self.service.listen(self._hear_state)
        self._hear_state(self.service.state)
        QTimer.singleShot(BEGIN_AFTER, self, self.begin)

    def begin(self) -> None:
        """Let the engine begin: the window is there, and loading need not share with it."""
        if not self._closed:
            self.service.begin()

    @property
    def loaded(self) -> bool:
        """Whether the engine can lay."""
        return self.state.ready

    @property
    def busy(self) -> bool:
        """Whether work is under way or waiting."""
        return bool(self._tasks)

    def request(self, tasks: list[LayTask]) -> None:
        """Lay `tasks`, the urgent ones first, instead of whatever is under way but questions."""
        self._drop(lambda task: not task.only_asking)
        self.add(tasks)

    def add(self, tasks: list[LayTask]) -> None:
        """Lay `tasks` beside what is under way."""
        for task in tasks:
            seconds = task.seconds if task.seconds > 0 else None
            order = Order(task.job, seconds, None, task.seed, start=task.start, rank=task.rank)
            number = next(self._numbers)
            backend = self.backend
            ticket = backend.lay(order, partial(self._pass_on, number))
            self._tasks[number] = (task, ticket, backend)

    def stop(self) -> None:
        """Stop everything at once; what was found so far has been told."""
        self._drop(lambda _: True)

    def stop_foam(self, foam: Foam) -> None:
        """Stop laying one foam; the rest goes on."""
        self._drop(lambda task: task.foam == foam and not task.only_asking)

    def _drop(self, which: Callable[[LayTask], bool]) -> None:
        was = self.busy
        for number, (task, ticket, backend) in list(self._tasks.items()):
            if which(task):
                del self._tasks[number]
                backend.stop(ticket)
        if was and not self.busy:
            self._emit(self._told, 0, None)

    def lay_with(self, backend: LayBackend | None) -> None:
        """Lay with other machines from now on, or with this one; what runs is stopped."""
        self.stop()
        if self.backend is not self.service:
            self.backend.close()
        self.backend = backend or self.service
        self.state_changed.emit(self.state)

    def close(self) -> None:
        """Stop, and end the engine if it is its own."""
        self._closed = True
        self.service.forget(self._hear_state)
        self.stop()
        if self.backend is not self.service:
            self.backend.close()
        if self._own:
            self.service.close()

    # Questions

    def cost_layer(self, wanted: Callable[[], bool]) -> Callable[[LayJob], LayResult]:
        """Return what lays a job to know about its cost, as long as that is `wanted`.

        It waits for the engine: for threads other than the interface's.
        """

        def lay(job: LayJob) -> LayResult:
            order = Order(job, COST_SECONDS, rank=Rank.QUESTION)
            return self.backend.lay_now(order, lambda: wanted() and not self._closed)

        return lay

    def paper_layer(self, wanted: Callable[[], bool]) -> "LayPaper":
        """Return what lays templates on paper, the same each time, as long as that is `wanted`.

        It waits for the engine: for threads other than the interface's.
        """

        def lay(job: LayJob) -> LayResult:
            order = Order(job, rank=Rank.QUESTION)
            return self.backend.lay_now(order, lambda: wanted() and not self._closed)

        return lay

    def order_layer(self, wanted: Callable[[], bool]) -> BuyLay:
        """Return what lays candidates for an order, as long as that is `wanted`.

        It waits for the engine: for threads other than the interface's.
        """

        def lay(
            job: LayJob, seconds: float, target: Decimal | None, start: tuple[Placement, ...]
        ) -> LayResult:
            limit = seconds if seconds > 0 else None
            order = Order(job, limit, None, 0, target, start, Rank.QUESTION)
            return self.backend.lay_now(order, lambda: wanted() and not self._closed)

        return lay

    def take_up(self, job: LayJob, placements: tuple[Placement, ...], index: int) -> int:
        """Take one part of a layout into a hand; returns the hand's number."""
        return self.service.take_up(job, placements, index)

    def ask_hand(
        self, hand: int, how: str, held: Placement, then: Callable[[Placement | None], object]
    ) -> None:
        """Ask where a hand's part may lie; `then` is called here, with a placement or None."""
        self.service.ask_hand(hand, how, held, partial(self._pass, then))

    def new_scene(self) -> int:
        """Return a number for a scene, and for those that will take its place."""
        return self.service.new_scene()

    def hold_scene(self, number: int, scene: Scene) -> None:
        """Keep a solid's scene for painting."""
        self.service.hold_scene(number, scene)

    def hold_form(
        self,
        number: int,
        shape: FormedShape,
        seen_as: FormedShape | None,
        then: Callable[[Framing | None], object],
    ) -> None:
        """Keep a formed assembly for painting, turned to the eye or as another one is.

        `then` is called here with how it fills a picture, or None.
        """
        self.service.hold_form(number, shape, seen_as, partial(self._pass, then))

    def hold_suit(
        self,
        number: int,
        wearer: Wearer,
        garments: tuple[Garment, ...],
        then: Callable[[DressedSuit | str | None], object],
    ) -> None:
        """Keep a figure with garments on it for painting.

        `then` is called here with what is known of it, or with why there is none.
        """
        self.service.hold_suit(number, wearer, garments, partial(self._pass, then))

    def paint(self, number: int, view: View, then: Callable[[bytes | None], object]) -> None:
        """Paint a scene; `then` is called here with its pixels, or None."""
        self.service.paint(number, view, partial(self._pass, then))

    def ask_leftovers(
        self, job: LayJob, placements: tuple[Placement, ...], then: Callable[[Any], object]
    ) -> None:
        """Ask for the empty places of the sheets in use; `then` is called here with them."""
        self.service.ask_leftovers(job, placements, partial(self._pass, then))

    def ask_form(
        self,
        assembly: Assembly,
        then: Callable[[FormedShape | str | None], object],
        *,
        quick: bool = False,
        laid: bool = False,
        finer: bool = False,
    ) -> None:
        """Form an assembly up; `then` is called here with its shape, or with why there is none.

        With None where a newer assembly was asked for meanwhile. `quick` while a number is dragged;
        `laid` where panels are to be drawn anew; `finer` where it may choose triangles.
        """
        then = partial(self._pass, then)
        self.service.ask_form(assembly, FORM_SECONDS, then, quick=quick, laid=laid, finer=finer)

    # On the engine's thread

    def _pass_on(self, number: int, told: Told) -> None:
        self._emit(self._told, number, told)

    def _pass(self, then: Callable[[Any], object], answer: Answer) -> None:
        self._emit(self._answer, then, answer)

    def _hear_state(self, state: EngineState) -> None:
        self._emit(self._state, state)

    def _emit(self, signal: Any, *what: object) -> None:
        if not self._closed:
            with contextlib.suppress(RuntimeError):  # the window is gone this very moment
                signal.emit(*what)

    # On the interface's thread

    def _hear(self, number: int, told: Told | None) -> None:
        if told is None:
            if not self.busy:
                self.finished.emit()
            return
        if number not in self._tasks:  # stopped meanwhile
            return
        task, _, _ = self._tasks[number]
        match told:
            case Better():
                self.better.emit(task, told.result)
            case Working():
                self.progress.emit(task, told.seconds)
            case Ended():
                del self._tasks[number]
                if told.problem is not None:
                    self.failed.emit(task, told.problem)
                if not self.busy:
                    self.finished.emit()

    def _on_state(self, state: EngineState) -> None:
        before, self.state = self.state, state
        if state.losses > before.losses:
            self.lost.emit()
        self.state_changed.emit(state)
        if state.ready and not before.ready:
            self.ready.emit()

    @staticmethod
    def _deliver(then: Callable[[Any], object], answer: Any) -> None:
        then(answer)
