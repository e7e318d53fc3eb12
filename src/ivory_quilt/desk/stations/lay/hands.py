"""Parts in the maker's hand: the engine says where they may lie, a moment after it was asked.

What hands do in several steps is written as a generator that yields a question and is sent its
answer; the window never waits. When the layout is another one by then, the rest is let be.
"""

from collections.abc import Callable, Generator

from ivory_quilt.core.nesting.job import LayJob, Placement
from ivory_quilt.core.plan.plan import FoamPlan
from ivory_quilt.core.record import Struct
from ivory_quilt.desk.layout_engine import LayoutEngine

Then = Callable[[Placement | None], object]


class HandQuestion(Struct, frozen=True):
    """Where may `placements[index]` of a job's layout lie, from where it is held?

    `how` is one of those that the engine's hands know (`AskHand`).
    """

    job: LayJob
    placements: tuple[Placement, ...]
    index: int
    how: str
    held: Placement


def question(planned: FoamPlan, index: int, how: str, held: Placement) -> HandQuestion:
    """Return a question about a part of a foam's layout as it lies now."""
    assert planned.result is not None
    return HandQuestion(planned.job, planned.result.placements, index, how, held)


Steps = Generator[HandQuestion, Placement | None, None]


class Hands:
    """Asks the engine on behalf of the maker's hands."""

    def __init__(self, engine: LayoutEngine) -> None:
        """Ask `engine`."""
        self._engine = engine
        self._up: tuple[LayJob, tuple[Placement, ...], int, int] | None = None
        self.waiting = 0
        """How many answers are still to come."""

    @property
    def ready(self) -> bool:
        """Whether there is somebody to ask."""
        return self._engine.loaded

    def ask(self, asked: HandQuestion, then: Then) -> None:
        """Ask, and call `then` with the answer when it is there."""
        job, placements, index = asked.job, asked.placements, asked.index
        up = self._up
        if up is None or up[0] is not job or up[1] is not placements or up[2] != index:
            up = self._up = (job, placements, index, self._engine.take_up(job, placements, index))
        self.waiting += 1

        def answered(found: Placement | None) -> None:
            self.waiting -= 1
            then(found)

        self._engine.ask_hand(up[3], asked.how, asked.held, answered)

    def do(self, steps: Steps) -> None:
        """Go through steps, each as soon as the question before it is answered."""
        try:
            asked = next(steps)
        except StopIteration:
            return
        self._go_on(steps, asked)

    def _go_on(self, steps: Steps, asked: HandQuestion) -> None:
        def then(found: Placement | None) -> None:
            try:
                following = steps.send(found)
            except StopIteration:
                return
            self._go_on(steps, following)

        self.ask(asked, then)
