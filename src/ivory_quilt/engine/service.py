"""The engine on this machine: processes that lay beside the window, and may be lost.

What is asked of it comes back on its thread; every method returns at once, but for `lay_now`.
"""

from collections.abc import Callable
from functools import partial

from ivory_quilt.core.formup.assembly import Assembly
from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.core.formup.wearing import Garment
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.nesting.job import LayJob, LayResult, Placement
from ivory_quilt.core.rendering.scene import Scene, View
from ivory_quilt.engine.forming import assembly_message, shape_message
from ivory_quilt.engine.keeper import EngineKeeper
from ivory_quilt.engine.messages import (
    AskForm,
    AskFraming,
    AskHand,
    AskLeftovers,
    AskSuit,
    HoldForm,
    HoldScene,
    HoldSuit,
    PaintScene,
    TakeUp,
)
from ivory_quilt.engine.orders import Order, Tell, wait_for
from ivory_quilt.engine.process import EngineProcess
from ivory_quilt.engine.questions import Answer, Held, Question
from ivory_quilt.engine.scenes import garment_message, scene_message


class EngineService(EngineKeeper):
    """All that can be asked of the engine of this machine, from any thread."""

    def lay(self, order: Order, tell: Tell) -> int:
        """Take an order in; returns its ticket at once."""
        ticket = next(self._numbers)
        self._do(lambda: self._take(ticket, order, tell))
        return ticket

    def stop(self, ticket: int) -> None:
        """Stop an order at once, or take it back; what was found has been told."""
        self._do(lambda: self._halt(ticket))

    def take_up(self, job: LayJob, placements: tuple[Placement, ...], index: int) -> int:
        """Take one part of a layout into a hand; returns the hand's number."""

        def hand_over(process: EngineProcess) -> None:
            process.send(TakeUp(hand, process.wire(job), placements, index))

        hand = next(self._numbers)
        self._do(partial(self._hold, hand, Held(hand_over, hand=True)))
        return hand

    def new_scene(self) -> int:
        """Return a number for a scene, and for those that will take its place."""
        return next(self._numbers)

    def hold_scene(self, number: int, scene: Scene) -> None:
        """Keep a solid's scene for painting."""

        def hand_over(process: EngineProcess) -> None:
            process.send(HoldScene(number, scene_message(scene)))

        self._do(partial(self._hold, number, Held(hand_over)))

    def hold_form(
        self,
        number: int,
        shape: FormedShape,
        seen_as: FormedShape | None,
        then: Callable[[Answer], object],
    ) -> None:
        """Keep a formed assembly for painting, turned to the eye or as another one is.

        `then` gets its `Framing`, or None.
        """

        def hand_over(process: EngineProcess) -> None:
            other = shape_message(seen_as) if seen_as is not None else None
            process.send(HoldForm(number, shape_message(shape), other))

        self._do(partial(self._hold, number, Held(hand_over)))
        self._ask_of(number, AskFraming, then)

    def hold_suit(
        self,
        number: int,
        wearer: Wearer,
        garments: tuple[Garment, ...],
        then: Callable[[Answer], object],
    ) -> None:
        """Keep a figure with garments on it for painting.

        `then` gets a `DressedSuit`, a sentence why there is none, or None.
        """

        def hand_over(process: EngineProcess) -> None:
            process.send(HoldSuit(number, wearer, tuple(map(garment_message, garments))))

        self._do(partial(self._hold, number, Held(hand_over)))
        self._ask_of(number, AskSuit, then)

    def _ask_of(
        self,
        number: int,
        what: type[AskFraming | AskSuit],
        then: Callable[[Answer], object],
    ) -> None:
        def put(process: EngineProcess, ticket: int) -> None:
            self._questions.give(process, number)
            process.send(what(ticket, number))

        self._ask(Question(put, then))

    def paint(self, number: int, view: View, then: Callable[[Answer], object]) -> None:
        """Paint a scene as it is seen; `then` gets its pixels (see `Painted`) or None."""

        def put(process: EngineProcess, ticket: int) -> None:
            self._questions.give(process, number)
            process.send(PaintScene(ticket, number, view))

        self._ask(Question(put, then))

    def ask_hand(
        self, hand: int, how: str, held: Placement, then: Callable[[Answer], object]
    ) -> None:
        """Ask where a hand's part may lie (see `AskHand`); `then` gets a placement or None."""

        def put(process: EngineProcess, ticket: int) -> None:
            self._questions.give(process, hand)
            process.send(AskHand(ticket, hand, how, held))

        self._ask(Question(put, then))

    def ask_leftovers(
        self, job: LayJob, placements: tuple[Placement, ...], then: Callable[[Answer], object]
    ) -> None:
        """Ask for the empty places of the sheets in use; `then` gets them."""

        def put(process: EngineProcess, ticket: int) -> None:
            process.send(AskLeftovers(ticket, process.wire(job), placements))

        self._ask(Question(put, then))

    def ask_form(
        self,
        assembly: Assembly,
        seconds: float,
        then: Callable[[Answer], object],
        *,
        quick: bool = False,
        laid: bool = False,
        finer: bool = False,
    ) -> None:
        """Ask for an assembly's shape (see `AskForm`).

        `then` gets it, a sentence why not, or None: asked anew.
        """

        def put(process: EngineProcess, ticket: int) -> None:
            message = assembly_message(assembly)  # of many points: here it holds up nobody
            process.send(AskForm(ticket, message, seconds, quick, laid, finer))

        self._ask(Question(put, then))

    def lay_now(self, order: Order, wanted: Callable[[], bool] = lambda: True) -> LayResult:
        """Lay an order and wait for it; asks every moment whether it is still wanted.

        Raises:
            Stopped: it is wanted no more, and nothing was found.
            QuiltError: it cannot be laid.
        """
        return wait_for(self, order, wanted, lambda: self._closing)

    def _ask(self, question: Question) -> None:
        self._do(partial(self._questions.take, next(self._numbers), question))

    def _hold(self, number: int, held: Held) -> None:
        self._questions.hold(number, held, self._processes)
