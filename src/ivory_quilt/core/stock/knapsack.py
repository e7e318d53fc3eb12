"""The bounded knapsack by dynamic programming: best patterns, and all of at least some worth.

R. Bellman, "Dynamic Programming" (1957); counts by halves as in a binary split.
"""

from collections.abc import Iterator
from functools import cached_property

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.stock.cut_patterns import Ints


def nearest(numbers: list[float], wanted: float) -> int:
    """Return the place of the number that is nearest to the one wanted."""
    off = [abs(n - wanted) for n in numbers]
    return off.index(min(off))


class Knapsack:
    """The most that lengths of given worth, each used at most as often as wanted, bring."""

    def __init__(self, widths: Ints, most: Ints, worth: Array, room: int) -> None:
        """Fill at most `room` steps with kinds of `widths`, each at most `most` times."""
        self.widths, self.most, self.worth, self.capacity = widths, most, worth, room
        # The best by worth a step comes first: what follows is soon worth too little.
        ratio = worth / widths
        self.order = [int(k) for k in np.argsort(-ratio) if worth[k] > 1e-12 and most[k] > 0]

    @cached_property
    def tables(self) -> list[Array]:
        """Of each kind in order, the most that it and those after it bring, by room."""
        after = np.zeros(self.capacity + 1)
        made = [after]
        for k in reversed(self.order):
            made.append(after := self._with(after, k))
        return made[::-1]

    def _with(self, before: Array, k: int) -> Array:
        """Return the table with one more kind: counts by halves, as in a binary split."""
        table, left, times = before.copy(), min(int(self.most[k]), self._often(k)), 1
        while left > 0:
            n = min(times, left)
            step = n * int(self.widths[k])
            if step > self.capacity:
                break
            np.maximum(table[step:], table[:-step] + n * self.worth[k], out=table[step:])
            left, times = left - n, times * 2
        return table

    def _often(self, k: int) -> int:
        return self.capacity // int(self.widths[k])

    def best(self, room: int) -> float:
        """Return the most that `room` steps can bring."""
        return float(self.tables[0][room])

    def counts(self, room: int) -> tuple[int, ...]:
        """Return how often each kind is used by a best pattern within `room` steps."""
        made = [0] * len(self.widths)
        for place, k in enumerate(self.order):
            want, after = float(self.tables[place][room]), self.tables[place + 1]
            if want == 0.0:
                break
            width, worth = int(self.widths[k]), float(self.worth[k])
            most = min(int(self.most[k]), room // width)
            brings = [float(after[room - n * width]) + n * worth for n in range(most + 1)]
            # Sums were made in another order: the nearest is the one.
            made[k] = nearest(brings, want)
            room -= made[k] * width
        return tuple(made)

    def all_worth(self, least: float, room: int) -> Iterator[tuple[int, ...]]:
        """Yield every full pattern worth at least `least`.

        Lengths of no worth are left out: a pattern with them costs the same and covers more, so
        what is wanted of them fills each pattern up afterwards.
        """
        made = [0] * len(self.widths)
        rest = [k for k in range(len(self.widths)) if k not in self.order and self.most[k] > 0]

        def go(place: int, room: int, have: float) -> Iterator[tuple[int, ...]]:
            if place == len(self.order):
                yield from self._filled(made, rest, room)
                return
            k, after = self.order[place], self.tables[place + 1]
            width, worth = int(self.widths[k]), float(self.worth[k])
            for n in range(min(int(self.most[k]), room // width), -1, -1):
                left, brought = room - n * width, have + n * worth
                if brought + after[left] < least:
                    continue
                made[k] = n
                yield from go(place + 1, left, brought)
            made[k] = 0

        yield from go(0, room, 0.0)

    def _filled(self, made: list[int], rest: list[int], room: int) -> Iterator[tuple[int, ...]]:
        """Yield a pattern with every way to fill its room with lengths of no worth."""
        if not rest:
            yield tuple(made)
            return
        k, others = rest[0], rest[1:]
        width = int(self.widths[k])
        most = min(int(self.most[k]), room // width)
        for n in range(most, -1, -1):
            made[k] = n
            yield from self._filled(made, others, room - n * width)
        made[k] = 0
