"""In which order the cuts of a sheet are made, and where each begins: a short way between cuts.

Stages come one after another; within a stage it is a travelling salesman's problem whose towns are
outlines, or a few that are cut together, which may be entered anywhere. Towns are taken out and put
in where they cost least, exactly for the best places to enter all of them (forward and backward
shortest ways, Bellman 1958);
kicks of a stage's order lead out of what is only locally best (iterated local search, Lourenço,
Martin and Stützle 2003).
"""

from collections.abc import Callable, Collection, Iterable, Sequence
from itertools import groupby, pairwise

import numpy as np

from ivory_quilt.core.cutting.distances import Distances
from ivory_quilt.core.cutting.strokes import CutStep, Stroke
from ivory_quilt.core.cutting.ways import unit_ways, units_of
from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.record import Struct

KICKS = 4
FEW = 8  # towns of a stage: of so few every run is turned round
BETTER = 1e-6  # mm
Going = Callable[[], bool]


class OrderedCut(Struct, frozen=True, eq=False):
    """One stroke in its place: `places` `(n, 2)` from where it begins; a closed one comes back."""

    stroke: Stroke
    places: Array


class CuttingOrder(Struct, frozen=True, eq=False):
    """All cuts of a sheet in order; `travel` mm from one to the next, from the start on."""

    cuts: tuple[OrderedCut, ...]
    travel: float

    @property
    def freed(self) -> tuple[int, ...]:
        """Numbers of the parts in the order in which they come free."""
        last: dict[int, tuple[int, int]] = {}
        for k, stroke in enumerate(self._outlines):
            last |= {part: (k, n) for n, part in enumerate((stroke.part, *stroke.also))}
        return tuple(sorted(last, key=lambda part: last[part]))

    @property
    def passes(self) -> tuple[tuple[int, int], ...]:
        """(part, the blade's setting) of all passes around parts, in the order they are done."""
        last = {(s.part, s.stage.setting): k for k, s in enumerate(self._outlines)}
        return tuple(sorted(last, key=lambda one: last[one]))

    @property
    def _outlines(self) -> list[Stroke]:
        return [c.stroke for c in self.cuts if c.stroke.stage.step is CutStep.OUTLINE]


def cutting_order(
    strokes: Sequence[Stroke],
    start: Point = (0.0, 0.0),
    *,
    kicks: int = KICKS,
    seed: int = 1,
    going: Going = lambda: True,
) -> CuttingOrder:
    """Return the strokes in a short order that keeps their stages.

    Args:
        strokes: of one sheet.
        start: where the hand or the knife comes from, mm.
        kicks: how often each stage is shaken; the same number gives the same order anywhere.
        seed: of the shakes.
        going: asked now and then; False ends it with the order that there is.
    """
    if not strokes:
        return CuttingOrder((), 0.0)
    towns = units_of(strokes)
    ways = [unit_ways(strokes, members) for members in towns]
    stage_of = [strokes[members[0]].stage for members in towns]
    numbers = sorted(range(len(towns)), key=lambda k: stage_of[k])
    stages = [list(g) for _, g in groupby(numbers, key=lambda k: stage_of[k])]
    far = Distances(ways, stages, start)
    order = _nearest(stages, far)
    random = np.random.default_rng(seed)
    order = _improved(order, stages, far, random, kicks, going)
    chosen, travel = far.best(order)
    cuts = [cut for k, at in zip(order, chosen, strict=True) for cut in ways[k][at].cuts]
    return CuttingOrder(tuple(OrderedCut(strokes[k], places) for k, places in cuts), travel)


def _nearest(stages: list[list[int]], far: Distances) -> list[int]:
    """Return an order stage by stage, each time what is nearest to where the last one ended."""
    order: list[int] = []
    for stage in stages:
        left = list(stage)
        while left:
            if order:
                near = [far.nearest[order[-1], k] for k in left]
            else:
                near = [far.first(k).min() for k in left]
            order.append(left.pop(int(np.argmin(near))))
    return order


def _improved(
    order: list[int],
    stages: list[list[int]],
    far: Distances,
    random: np.random.Generator,
    kicks: int,
    going: Going,
) -> list[int]:
    """Return a shorter order: settled, and settled again after each kick of one stage."""
    bounds = np.cumsum([0, *(len(s) for s in stages)]).tolist()
    spans = list(pairwise(bounds))
    order, best = _settled(order, spans, far, going)
    large = [k for k, (low, high) in enumerate(spans) if high - low > 1]
    for k in range(kicks if large else 0):
        if not going():
            break
        # Where one stage ends the next begins: two are shaken together.
        shaken = spans[(at := large[k % len(large)]) : at + 2]
        other = order
        for span in shaken:
            other = _kicked(other, span, random)
        pairs = set(pairwise(order))
        look = {k for pair in pairwise(other) if pair not in pairs for k in pair}
        other, length = _settled(other, shaken, far, going, look)
        if length < best - BETTER:
            order, best = other, length
    return order


def _kicked(order: list[int], span: tuple[int, int], random: np.random.Generator) -> list[int]:
    """Return an order with two neighbouring runs of a stage changed round (a double bridge).

    Few strokes come in any order.
    """
    low, high = span
    if high - low <= FEW:
        return [*order[:low], *random.permutation(order[low:high]).tolist(), *order[high:]]
    a, b, c = sorted(random.choice(np.arange(low, high + 1), 3, replace=False).tolist())
    return order[:a] + order[b:c] + order[a:b] + order[c:]


def _settled(
    order: list[int],
    spans: list[tuple[int, int]],
    far: Distances,
    going: Going,
    look: Collection[int] | None = None,
) -> tuple[list[int], float]:
    """Return an order that no stroke put elsewhere, and no run turned round, makes shorter.

    Of what was settled before only `look` need be looked at, and what changes beside it.
    """
    best = far.travel(order)
    changed = True
    while changed and going():
        changed = False
        for low, high in spans:
            if high - low < 2:
                continue
            run = order[low:high]
            # After the first time round only what other stages border on may still gain.
            seen = [k for k in run if look is None or k in look or k in (run[0], run[-1])]
            stage = _Stage(order, low, high, far)
            run, length = stage.settled(run, seen, going)
            if length < best - BETTER:
                order = [*order[:low], *run, *order[high:]]
                best, changed = length, True
        look = ()
    return order, best


class _Stage:
    """The strokes of one stage, between what comes before it and what after; both stay."""

    def __init__(self, order: list[int], low: int, high: int, far: Distances) -> None:
        self.far = far
        self.last = order[low - 1] if low else -1
        self.so_far = far.forward(order[:low])[-1] if low else None
        self.next = order[high] if high < len(order) else -1
        self.rest = far.backward(order[high:])[0] if high < len(order) else None

    def settled(self, run: list[int], look: Iterable[int], going: Going) -> tuple[list[int], float]:
        """Return a run that neither moving one stroke nor turning some round makes shorter.

        First `look` are looked at, after a change what borders on it.
        """
        best = self.length(run)
        waiting = dict.fromkeys(look)
        while waiting and going():
            ways = self._forward(run), self._backward(run)
            while waiting:
                stroke = next(iter(waiting))
                del waiting[stroke]
                made, length = self._moved(run, run.index(stroke), best, *ways)
                if length < best - BETTER:
                    waiting |= dict.fromkeys((*_beside(run, stroke), *_beside(made, stroke)))
                    run, best = made, length
                    ways = self._forward(run), self._backward(run)
            made, length = self._turned(run, best)
            if length < best - BETTER:
                changed = [k for k, other in zip(run, made, strict=True) if k != other]
                waiting |= dict.fromkeys(changed)
                run, best = made, length
        return run, best

    def length(self, run: list[int]) -> float:
        """Return how long the way is with this run, from the start to the end of everything."""
        return float((self._forward(run)[-1] + self._leave(run[-1])).min())

    def _enter(self, stroke: int) -> Array:
        """Return what it costs to be at the end of each of a stroke's ways as the first."""
        if self.so_far is None:
            return self.far.first(stroke)
        return self.far.entered(stroke, self.so_far, self.last)

    def _leave(self, stroke: int) -> Array:
        """Return what the rest costs at least from the end of each of a stroke's ways."""
        if self.rest is None:
            return self.far.free(stroke)
        return self.far.left(stroke, self.next, self.rest)

    def _forward(self, run: list[int]) -> Array:
        found = [self._enter(run[0])]
        for a, b in pairwise(run):
            found.append(self.far.entered(b, found[-1], a))
        return np.array(found)

    def _backward(self, run: list[int]) -> Array:
        found = [self._leave(run[-1])]
        for a, b in zip(run[-2::-1], run[:0:-1], strict=False):
            found.append(self.far.left(a, b, found[-1]))
        return np.array(found[::-1])

    def _moved(
        self, run: list[int], at: int, best: float, forward: Array, backward: Array
    ) -> tuple[list[int], float]:
        """Take the stroke at a place out, and put it where it costs least; of few exactly.

        Of many that place is told as if the best ways of all others stayed, then looked at.
        """
        if len(run) <= FEW:
            return self._put(run, at, forward, backward)
        stroke, rest = run[at], [*run[:at], *run[at + 1 :]]
        far, last = self.far, len(run) - 1
        if at == last:
            without = (forward[at - 1] + self._leave(run[at - 1])).min()
        else:
            joined = run[at + 1]
            onward = (
                far.entered(joined, forward[at - 1], run[at - 1]) if at else self._enter(joined)
            )
            without = (onward + backward[at + 1]).min()
        costs = self._put_in(stroke, run, forward, backward)
        costs[[at, at + 1]] = np.inf  # there it is
        gap = int(np.argmin(costs))
        if without + costs[gap] - best >= best - BETTER:
            return run, best
        place = gap - (gap > at)
        made = [*rest[:place], stroke, *rest[place:]]
        return made, self.length(made)

    def _put_in(self, stroke: int, run: list[int], forward: Array, backward: Array) -> Array:
        """Return how long the way is with a stroke before each of a run, and after the last."""
        onto = (forward[:, :, None] + self.far.from_each(run, stroke)).min(1)  # after each
        here = np.vstack([self._enter(stroke)[None], onto])
        away = (self.far.to_each(stroke, run) + backward[:, None, :]).min(2)  # before each
        there = np.vstack([away, self._leave(stroke)[None]])
        costs: Array = (here + there).min(1)
        return costs

    def _put(
        self, run: list[int], at: int, forward: Array, backward: Array
    ) -> tuple[list[int], float]:
        """Take the stroke at a place out, and put it where it costs least; all places at once.

        `forward` and `backward` are the run's: only what comes after the place, and before it,
        changes.
        """
        stroke, rest = run[at], [*run[:at], *run[at + 1 :]]
        far = self.far
        before = [*forward[:at]]
        for k in range(at, len(rest)):
            onward = far.entered(rest[k], before[-1], rest[k - 1]) if k else self._enter(rest[0])
            before.append(onward)
        after = [*backward[at + 1 :]]
        for k in range(at - 1, -1, -1):
            if k + 1 < len(rest):
                back = far.left(rest[k], rest[k + 1], after[0])
            else:
                back = self._leave(rest[k])
            after.insert(0, back)
        costs = self._put_in(stroke, rest, np.array(before), np.array(after))
        place = int(np.argmin(costs))
        return [*rest[:place], stroke, *rest[place:]], float(costs[place])

    def _turned(self, run: list[int], best: float) -> tuple[list[int], float]:
        """Turn a part of the run round, the first that makes the way shorter."""
        before, after = self._forward(run), self._backward(run)
        for a, b in self._promising(run):
            part = run[a:b][::-1]
            if a:
                here = self.far.entered(part[0], before[a - 1], run[a - 1])
            else:
                here = self._enter(part[0])
            for one, other in pairwise(part):
                here = self.far.entered(other, here, one)
            if b < len(run):
                length = float((self.far.entered(run[b], here, part[-1]) + after[b]).min())
            else:
                length = float((here + self._leave(part[-1])).min())
            if length < best - BETTER:
                return [*run[:a], *part, *run[b:]], length
        return run, best

    def _promising(self, run: list[int]) -> list[tuple[int, int]]:
        """Return which parts to turn round, what promises most first.

        Only what borders a part changes at first sight: of many strokes, those that gain there.
        """
        many, near = len(run), self.far.nearest
        ends = [self.last, *run, self.next]  # -1: nothing is there
        known = np.array(ends)
        gaps = near[np.ix_(known, known)].copy()
        gaps[known < 0] = gaps[:, known < 0] = 0.0
        if self.last < 0:
            gaps[0, 1:-1] = [self.far.first(k).min() for k in run]
        at = np.arange(many)
        now_left, now_right = gaps[at, at + 1], gaps[at + 1, at + 2]  # before and after each
        # A part from a to b (past its end): its last stroke comes first.
        gain = now_left[:, None] + now_right[None] - gaps[at][:, 1:-1] - gaps[1:-1, 2:]
        a, last = np.nonzero(np.triu(gain > (-np.inf if many <= FEW else BETTER), 1))
        best_first = np.argsort(-gain[a, last], kind="stable")
        return [(int(a[k]), int(last[k]) + 1) for k in best_first]


def _beside(run: list[int], stroke: int) -> list[int]:
    """Return a stroke with those before and after it."""
    at = run.index(stroke)
    return run[max(0, at - 1) : at + 2]
