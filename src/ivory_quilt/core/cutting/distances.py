"""How far it is between the cuts of a sheet, for every place where one may begin and end."""

from itertools import pairwise

import numpy as np

from ivory_quilt.core.cutting.ways import Way
from ivory_quilt.core.geometry.shape import Array, Point


class _Table:
    """Where the ways of a stage's towns begin and end; towns have unlike many."""

    def __init__(self, ways: list[list[Way]]) -> None:
        shape = (len(ways), max(len(w) for w in ways))
        self._begins, self._ends = np.zeros((*shape, 2)), np.zeros((*shape, 2))
        self._inside, self._no_end = np.full(shape, np.inf), np.full(shape, np.inf)
        for k, mine in enumerate(ways):
            self._begins[k, : len(mine)] = [w.begin for w in mine]
            self._ends[k, : len(mine)] = [w.end for w in mine]
            self._inside[k, : len(mine)] = [w.between for w in mine]
            self._no_end[k, : len(mine)] = 0.0

    def begun_from(self, start: Array) -> Array:
        """Return what it costs to be at the end of each way, coming from a place; `(n, ways)`."""
        found: Array = np.hypot(*np.moveaxis(self._begins - start, -1, 0)) + self._inside
        return found

    def onto(self, other: "_Table") -> Array:
        """Return (towns, towns of the other, ways, ways of the other) mm."""
        x, y = (
            self._ends[:, None, :, None, k] - other._begins[None, :, None, :, k] for k in (0, 1)
        )
        found: Array = np.hypot(x, y, out=x)
        found += other._inside[None, :, None, :]
        found += self._no_end[:, None, :, None]
        return found


class Distances:
    """How far it is from each way's end through each other way, but for its cuts, mm.

    Only between towns of one stage, and from those of a stage to those of the next: no other two
    are neighbours.
    """

    def __init__(self, ways: list[list[Way]], stages: list[list[int]], start: Point) -> None:
        self._at = {town: (k, n) for k, stage in enumerate(stages) for n, town in enumerate(stage)}
        tables = [_Table([ways[town] for town in stage]) for stage in stages]
        self._first = tables[0].begun_from(np.asarray(start))
        self._blocks = {(k, k): table.onto(table) for k, table in enumerate(tables)}
        self._blocks |= {(k, k + 1): a.onto(b) for k, (a, b) in enumerate(pairwise(tables))}
        self.nearest = np.zeros((len(ways), len(ways)))
        for (k, n), block in self._blocks.items():
            self.nearest[np.ix_(stages[k], stages[n])] = block.min(axis=(2, 3))

    def first(self, town: int) -> Array:
        """Return what it costs to be at the end of each of a town's ways as the very first."""
        found: Array = self._first[self._at[town][1]]
        return found

    def between(self, town: int, after: int) -> Array:
        """Return (ways of the first, ways of the second) mm."""
        (k, a), (n, b) = self._at[town], self._at[after]
        found: Array = self._blocks[k, n][a, b]
        return found

    def from_each(self, towns: list[int], after: int) -> Array:
        """Return `between` of several of one stage and one more of it, one after the other."""
        k, b = self._at[after]
        found: Array = self._blocks[k, k][[self._at[t][1] for t in towns], b]
        return found

    def to_each(self, town: int, others: list[int]) -> Array:
        """Return `between` of a town and several of its stage, one after the other."""
        k, a = self._at[town]
        found: Array = self._blocks[k, k][a, [self._at[t][1] for t in others]]
        return found

    def free(self, town: int) -> Array:
        """Return what it costs to go on from each of a town's ways where nothing comes after it."""
        return np.zeros(self.between(town, town).shape[0])

    def entered(self, stroke: int, cost: Array, last: int) -> Array:
        """Return what it costs to be in each of a stroke's ways, from what it costs at the last."""
        found: Array = (cost[:, None] + self.between(last, stroke)).min(0)
        return found

    def left(self, stroke: int, after: int, rest: Array) -> Array:
        """Return what it costs to go on from each of a stroke's ways, from what the rest costs."""
        found: Array = (self.between(stroke, after) + rest[None]).min(1)
        return found

    def forward(self, order: list[int]) -> list[Array]:
        """Return for each stroke what it costs at least to be at the end of each of its ways."""
        found = [self.first(order[0])]
        for a, b in pairwise(order):
            found.append(self.entered(b, found[-1], a))
        return found

    def backward(self, order: list[int]) -> list[Array]:
        """Return for each stroke what the rest costs at least from the end of each of its ways."""
        found = [self.free(order[-1])]
        for a, b in zip(order[-2::-1], order[:0:-1], strict=False):
            found.append(self.left(a, b, found[-1]))
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
            at = int(np.argmin(costs[k - 1] + self.between(order[k - 1], order[k])[:, at]))
            chosen.append(at)
        return chosen[::-1], float(costs[-1].min())
