"""In which order the cuts of a sheet are made, and where each begins: a short way between cuts.

Stages come one after another; within a stage it is a travelling salesman's problem whose towns are
outlines, which may be entered anywhere. Strokes are taken out and put in where they cost least,
exactly for the best places to enter all of them (forward and backward shortest ways, Bellman 1958);
kicks of a stage's order lead out of what is only locally best (iterated local search, Lourenço,
Martin and Stützle 2003).
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import groupby, pairwise

import numpy as np

from ivory_quilt.core.cutting.strokes import Stroke
from ivory_quilt.core.geometry.outline import Outline
from ivory_quilt.core.geometry.shape import Array, Point

ENTRIES = 12  # places around an outline where a cut may begin
KICKS = 4
FEW = 8  # strokes of a stage: of so few every run is turned round
BETTER = 1e-6  # mm
Going = Callable[[], bool]


@dataclass(frozen=True, eq=False)
class OrderedCut:
    """One stroke in its place: `places` `(n, 2)` from where it begins; a closed one comes back."""

    stroke: Stroke
    places: Array


@dataclass(frozen=True, eq=False)
class CuttingOrder:
    """All cuts of a sheet in order; `travel` mm from one to the next, from the start on."""

    cuts: tuple[OrderedCut, ...]
    travel: float


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
    ways = [ways_of(s) for s in strokes]
    far = _Distances(ways, start)
    numbers = sorted(range(len(strokes)), key=lambda k: strokes[k].stage)
    stages = [list(g) for _, g in groupby(numbers, key=lambda k: strokes[k].stage)]
    order = _nearest(stages, far)
    random = np.random.default_rng(seed)
    order = _improved(order, stages, far, random, kicks, going)
    chosen, travel = far.best(order)
    cuts = tuple(OrderedCut(strokes[k], ways[k][at]) for k, at in zip(order, chosen, strict=True))
    return CuttingOrder(cuts, travel)


def ways_of(stroke: Stroke) -> list[Array]:
    """Return how a stroke may be run: from several places around, or from either end."""
    if not stroke.closed:
        return [stroke.places, stroke.places[::-1]]
    outline = Outline(stroke.places)
    corners = outline.vertices_at % outline.length
    if len(corners) > ENTRIES:  # evenly around, each at the corner that is nearest
        even = np.arange(ENTRIES) * outline.length / ENTRIES
        gaps = np.abs(corners[None] - even[:, None])
        near = np.argmin(np.minimum(gaps, outline.length - gaps), axis=1)
        picked = sorted(set(near.tolist()))
    else:
        picked = list(range(len(stroke.places)))
    return [np.roll(stroke.places, -k, axis=0)[[*range(len(stroke.places)), 0]] for k in picked]


class _Distances:
    """How far it is from each way's end to each other way's beginning, mm."""

    def __init__(self, ways: list[list[Array]], start: Point) -> None:
        most = max(len(w) for w in ways)
        begins = np.full((len(ways), most, 2), np.nan)
        ends = np.full((len(ways), most, 2), np.nan)
        for k, mine in enumerate(ways):
            begins[k, : len(mine)] = [w[0] for w in mine]
            ends[k, : len(mine)] = [w[-1] for w in mine]
        gaps = ends[:, None, :, None] - begins[None, :, None, :]
        self.between = np.nan_to_num(np.linalg.norm(gaps, axis=-1), nan=np.inf)
        first = np.linalg.norm(begins - np.asarray(start), axis=-1)
        self.first = np.nan_to_num(first, nan=np.inf)
        self.nearest = self.between.min(axis=(2, 3))

    def entered(self, stroke: int, cost: Array, last: int) -> Array:
        """Return what it costs to be in each of a stroke's ways, from what it costs at the last."""
        found: Array = (cost[:, None] + self.between[last, stroke]).min(0)
        return found

    def forward(self, order: list[int]) -> list[Array]:
        """Return for each stroke what it costs at least to be at the end of each of its ways."""
        found = [self.first[order[0]]]
        for a, b in pairwise(order):
            found.append(self.entered(b, found[-1], a))
        return found

    def backward(self, order: list[int]) -> list[Array]:
        """Return for each stroke what the rest costs at least from the end of each of its ways."""
        found = [np.zeros(self.first.shape[1])]
        for a, b in zip(order[-2::-1], order[:0:-1], strict=False):
            found.append((self.between[a, b] + found[-1][None]).min(1))
        return found[::-1]

    def travel(self, order: list[int]) -> float:
        """Return how long the way between the cuts is at least, mm."""
        return float(self.forward(order)[-1].min())

    def best(self, order: list[int]) -> tuple[list[int], float]:
        """Return which way each stroke is run, and how long the way between is."""
        costs = self.forward(order)
        at = int(np.argmin(costs[-1]))
        chosen = [at]
        for k in range(len(order) - 1, 0, -1):
            at = int(np.argmin(costs[k - 1] + self.between[order[k - 1], order[k], :, at]))
            chosen.append(at)
        return chosen[::-1], float(costs[-1].min())


def _nearest(stages: list[list[int]], far: _Distances) -> list[int]:
    """Return an order stage by stage, each time what is nearest to where the last one ended."""
    order: list[int] = []
    for stage in stages:
        left = list(stage)
        while left:
            if order:
                near = [far.nearest[order[-1], k] for k in left]
            else:
                near = [far.first[k].min() for k in left]
            order.append(left.pop(int(np.argmin(near))))
    return order


def _improved(
    order: list[int],
    stages: list[list[int]],
    far: _Distances,
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
        other, length = _settled(other, shaken, far, going)
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
    order: list[int], spans: list[tuple[int, int]], far: _Distances, going: Going
) -> tuple[list[int], float]:
    """Return an order that no stroke put elsewhere, and no run turned round, makes shorter."""
    best = far.travel(order)
    changed = True
    while changed and going():
        changed = False
        for low, high in spans:
            for stroke in order[low:high] if high - low > 1 else ():
                made, length = _put(order, stroke, low, high, far)
                if length < best - BETTER:
                    order, best, changed = made, length, True
            made, length = _turned(order, low, high, best, far)
            if length < best - BETTER:
                order, best, changed = made, length, True
    return order, best


def _put(
    order: list[int], stroke: int, low: int, high: int, far: _Distances
) -> tuple[list[int], float]:
    """Take a stroke out, and put it where it costs least within its stage."""
    rest = [k for k in order if k != stroke]
    before, after = far.forward(rest), far.backward(rest)
    best, place = np.inf, low
    for at in range(low, high):
        here = far.entered(stroke, before[at - 1], rest[at - 1]) if at else far.first[stroke]
        if at < len(rest):
            onward = far.between[stroke, rest[at]] + after[at][None]
            length = float((here + onward.min(1)).min())
        else:
            length = float(here.min())
        if length < best:
            best, place = length, at
    return [*rest[:place], stroke, *rest[place:]], best


def _turned(
    order: list[int], low: int, high: int, best: float, far: _Distances
) -> tuple[list[int], float]:
    """Turn runs of a stage round, the first that makes the way shorter."""
    before, after = far.forward(order), far.backward(order)
    for a in range(low, high - 1):
        for b in range(a + 2, high + 1):
            # Only what borders the run changes at first sight: look closer where that gains.
            if high - low > FEW and not _gains(order, a, b, far):
                continue
            run = order[a:b][::-1]
            here = far.entered(run[0], before[a - 1], order[a - 1]) if a else far.first[run[0]]
            for one, other in pairwise(run):
                here = far.entered(other, here, one)
            if b < len(order):
                here = far.entered(order[b], here, run[-1]) + after[b]
            length = float(here.min())
            if length < best - BETTER:
                return [*order[:a], *run, *order[b:]], length
    return order, best


def _gains(order: list[int], a: int, b: int, far: _Distances) -> bool:
    """Whether the least distances at both ends of a run become less by turning it round."""
    near = far.nearest
    now = then = 0.0
    if a > 0:
        now += near[order[a - 1], order[a]]
        then += near[order[a - 1], order[b - 1]]
    if b < len(order):
        now += near[order[b - 1], order[b]]
        then += near[order[a], order[b]]
    return then < now
