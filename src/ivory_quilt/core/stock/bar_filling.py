"""A given set of bars filled with all lengths, without a linear program.

Bars are filled one after the other, each as closely as its lengths allow, with the longest lengths
first, so that the short ones stay for the last bars; those are filled by trying everything within
a number of steps. This is the minimum-slack idea of J. N. D. Gupta and J. C. Ho, "A new heuristic
algorithm for the one-dimensional bin-packing problem", Production Planning & Control 10 (1999),
with other choices at each try. It finds what is nearly always there when there are many more
lengths than bars; that nothing is found proves nothing.
"""

import random
from collections.abc import Callable, Iterator, Sequence

import numpy as np

from ivory_quilt.core.stock.cut_patterns import CutPattern, Ints

TRIES = 40
MOST_PIECES = 1000  # of which patterns are made to begin with
LAST = 4  # bars that are filled by trying everything
STEPS = 1500  # for the last bars of a try
LONGEST_FIRST = 0.85  # how often the next longest length is taken where it leads on
Fill = list[int]  # places of the lengths in one bar


def fill_bars(
    bars: Sequence[int], room: Ints, widths: Ints, demand: Ints, going: Callable[[], bool]
) -> dict[CutPattern, int] | None:
    """Return patterns that cut `demand` from exactly these bars, or None where none was found.

    Args:
        bars: the kind of each bar that is there.
        room, widths: whole steps in each kind of bar, and of each length (with its kerf).
        going: false once it is to stop.
    """
    pieces = [int(w) for w, n in zip(widths, demand, strict=True) for _ in range(n)]
    kinds = [k for k, n in enumerate(demand) for _ in range(n)]
    spare = sum(int(room[b]) for b in bars) - sum(pieces)
    if spare < 0:
        return None
    order = sorted(range(len(pieces)), key=lambda i: -pieces[i])
    for turn in range(TRIES):
        if not going():
            return None
        made = _Try(pieces, order, spare, random.Random(turn)).fill(list(bars), room)
        if made is not None:
            return _patterns(made, kinds, len(demand))
    return None


def close_patterns(bar: int, room: Ints, widths: Ints, demand: Ints) -> Iterator[CutPattern]:
    """Yield patterns that cut all of `demand` from bars of one kind, one close fill after another.

    Good ones to begin a linear program with; what fits no bar of the kind stays out. Of very many
    pieces none are made: the program itself is quicker then.
    """
    pieces = [int(w) for w, n in zip(widths, demand, strict=True) for _ in range(n)]
    kinds = [k for k, n in enumerate(demand) for _ in range(n)]
    if len(pieces) > MOST_PIECES:
        return
    order = sorted(range(len(pieces)), key=lambda i: -pieces[i])
    filling = _Try(pieces, order, sum(pieces), random.Random(bar))
    while filled := filling.next_bar(int(room[bar])):
        counts = np.bincount([kinds[i] for i in filled], minlength=len(demand))
        yield CutPattern(bar, tuple(int(n) for n in counts))


def _patterns(made: list[tuple[int, Fill]], kinds: list[int], number: int) -> dict[CutPattern, int]:
    used: dict[CutPattern, int] = {}
    for bar, places in made:
        counts = np.bincount([kinds[i] for i in places], minlength=number)
        pattern = CutPattern(bar, tuple(int(n) for n in counts))
        used[pattern] = used.get(pattern, 0) + 1
    return used


class _Try:
    """One try: which bar is next, and which length is passed over, is by chance."""

    def __init__(
        self, pieces: list[int], order: list[int], spare: int, chance: random.Random
    ) -> None:
        self._pieces, self._left, self._spare, self._chance = pieces, order, spare, chance
        self._steps = STEPS

    def fill(self, bars: list[int], room: Ints) -> list[tuple[int, Fill]] | None:
        self._chance.shuffle(bars)
        made: list[tuple[int, Fill]] = []
        while len(bars) > LAST:
            bar = bars.pop()
            filled = self._closest(int(room[bar]))
            waste = int(room[bar]) - sum(self._pieces[i] for i in filled)
            if waste > self._spare:
                return None
            self._take(filled, waste)
            made.append((bar, filled))
        last = self._finish(bars, room)
        return made + last if last is not None else None

    def next_bar(self, room: int) -> Fill:
        """Fill one more bar, whatever is left of it; empty once nothing fits."""
        filled = self._closest(room)
        self._take(filled, 0)
        return filled

    def _take(self, filled: Fill, waste: int) -> None:
        self._spare -= waste
        self._left = [i for i in self._left if i not in set(filled)]

    def _closest(self, room: int) -> Fill:
        """Return the lengths, the longest that fits among them, which leave least of a bar."""
        fitting = [i for i in self._left if self._pieces[i] <= room]
        if not fitting:
            return []
        first, others = fitting[0], fitting[1:]
        reach = self._reach(others, room - self._pieces[first])
        total = reach[-1].bit_length() - 1
        filled = [first]
        # `reach[n]` are the sums of the n shortest: from the longest on, what can do without it?
        for place in range(len(others), 0, -1):
            i = others[len(others) - place]
            without = bool(reach[place - 1] >> total & 1)
            wide = self._pieces[i]
            with_it = wide <= total and bool(reach[place - 1] >> (total - wide) & 1)
            if with_it and (not without or self._chance.random() < LONGEST_FIRST):
                filled.append(i)
                total -= wide
        return filled

    def _reach(self, places: Sequence[int], most: int) -> list[int]:
        """Return, as bits, the sums up to `most` of the last 0, 1, 2, … of some lengths."""
        within = (1 << (most + 1)) - 1
        sums = [1]
        for i in reversed(places):
            sums.append(sums[-1] | (sums[-1] << self._pieces[i]) & within)
        return sums

    def _finish(self, bars: list[int], room: Ints) -> list[tuple[int, Fill]] | None:
        """Fill the last bars by trying everything, within a number of steps."""
        if not bars:
            return [] if not self._left else None
        longest = self._left[0] if self._left else None
        for bar in sorted(set(bars), key=lambda b: int(room[b])):
            others = list(bars)
            others.remove(bar)
            space = int(room[bar])
            if longest is None:
                return [(b, []) for b in bars]
            if self._pieces[longest] > space:
                continue
            rest = self._left[1:]
            least = space - self._spare - self._pieces[longest]
            reach = self._reach(rest, space - self._pieces[longest])
            for chosen in self._within(
                rest, reach, len(rest), least, space - self._pieces[longest]
            ):
                filled = [longest, *chosen]
                waste = space - sum(self._pieces[i] for i in filled)
                before = self._left, self._spare
                self._take(filled, waste)
                last = self._finish(others, room)
                if last is not None:
                    return [(bar, filled), *last]
                self._left, self._spare = before
                if self._steps <= 0:
                    return None
        return None

    def _within(
        self, rest: list[int], reach: list[int], place: int, least: int, most: int
    ) -> Iterator[Fill]:
        """Yield the sets of the `place` shortest of `rest` that sum up to between two numbers."""
        self._steps -= 1
        if self._steps <= 0 or most < 0:
            return
        low = max(0, least)
        if not (reach[place] >> low) & ((1 << (most - low + 1)) - 1):
            return
        if place == 0:
            yield []
            return
        i = rest[len(rest) - place]
        wide = self._pieces[i]
        for chosen in self._within(rest, reach, place - 1, least - wide, most - wide):
            yield [i, *chosen]
        # One of the same length would be the same again.
        while place > 1 and self._pieces[rest[len(rest) - place + 1]] == wide:
            place -= 1
        yield from self._within(rest, reach, place - 1, least, most)
