"""Cutting patterns, and the linear and integer programs over how often each is used."""

import numpy as np
import numpy.typing as npt

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.record import Struct

Ints = npt.NDArray[np.int64]
NOTHING = 1e-9  # of a pattern is none
LITTLE = 1e-3  # of a step: no sum of such costs is worth leaving a length out for


class CutPattern(Struct, frozen=True):
    """One way to cut one kind of bar: how often each length is cut from it."""

    bar: int
    counts: tuple[int, ...]


class LinearAnswer(Struct, frozen=True):
    """What the linear program comes to.

    Attributes:
        use: how often each pattern is used, where it is.
        worth: price of one more of each length.
        more: price (0 or below) of one more of each kind of bar.
        missing: how many lengths are covered by nothing.
    """

    value: float
    use: dict[CutPattern, float]
    worth: Array
    more: Array
    missing: float


class PatternMaster:
    """The linear program, which remembers where it was when patterns or demands change."""

    def __init__(self, costs: Array, limits: Array, demand: Ints, dear: Array) -> None:
        """Cover `demand` by bars of `costs`, at most `limits` of each; `dear`: what is not."""
        import highspy

        self.costs, self._kinds = costs, len(demand)
        self._few = [int(b) for b in np.flatnonzero(np.isfinite(limits))]
        self.patterns: list[CutPattern] = []
        self._known: set[CutPattern] = set()
        self._counts = np.zeros((64, self._kinds), dtype=np.int64)
        self._highs = highspy.Highs()
        self._highs.silent()
        inf = float("inf")
        for want in demand:
            self._highs.addRow(float(want), inf, 0, [], [])
        for b in self._few:
            self._highs.addRow(-inf, float(limits[b]), 0, [], [])
        for k in range(self._kinds):
            self._highs.addCol(float(dear[k]), 0.0, inf, 1, [k], [1.0])

    def add(self, pattern: CutPattern) -> bool:
        """Add a pattern; return whether it is new."""
        if pattern in self._known:
            return False
        if len(self.patterns) == len(self._counts):
            self._counts = np.concatenate((self._counts, np.zeros_like(self._counts)))
        self._counts[len(self.patterns)] = pattern.counts
        self._known.add(pattern)
        self.patterns.append(pattern)
        rows = [k for k, n in enumerate(pattern.counts) if n]
        values = [float(pattern.counts[k]) for k in rows]
        if pattern.bar in self._few:
            rows.append(self._kinds + self._few.index(pattern.bar))
            values.append(1.0)
        inf = float("inf")
        self._highs.addCol(float(self.costs[pattern.bar]), 0.0, inf, len(rows), rows, values)
        return True

    def prefer_others(self, turn: int) -> None:
        """Where bars cost nothing, give the patterns known so far small costs by chance."""
        chance = np.random.default_rng(turn)
        columns = np.arange(len(self.patterns), dtype=np.int32) + self._kinds
        self._highs.changeColsCost(len(columns), columns, chance.random(len(columns)) * LITTLE)

    def solve(self, demand: Ints, limits: Array) -> LinearAnswer:
        """Solve for some demands and limits; no pattern that cuts more than those is used."""
        inf = float("inf")
        for k, want in enumerate(demand):
            self._highs.changeRowBounds(k, float(want), inf)
        for r, b in enumerate(self._few):
            self._highs.changeRowBounds(self._kinds + r, -inf, float(limits[b]))
        fits = (self._counts[: len(self.patterns)] <= demand).all(axis=1)
        columns = np.arange(len(self.patterns), dtype=np.int32) + self._kinds
        upper = np.where(fits, inf, 0.0)
        self._highs.changeColsBounds(len(columns), columns, np.zeros(len(columns)), upper)
        self._highs.run()
        answer = self._highs.getSolution()
        x, dual = np.array(answer.col_value), np.array(answer.row_dual)
        used = x[self._kinds :]
        more = np.zeros(len(self.costs))
        more[self._few] = np.minimum(0.0, dual[self._kinds :])
        return LinearAnswer(
            float(self._highs.getInfo().objective_function_value),
            {self.patterns[j]: float(used[j]) for j in np.flatnonzero(used > NOTHING)},
            np.maximum(0.0, dual[: self._kinds]),
            more,
            max(0.0, float(x[: self._kinds].sum()) - 1e-6),
        )


class WholeAnswer(Struct, frozen=True):
    """What the integer program comes to; `none`: proven that these patterns do not suffice."""

    use: dict[CutPattern, int] | None
    bound: float
    none: bool


def whole_uses(
    known: list[CutPattern], costs: Array, limits: Array, demand: Ints, seconds: float
) -> WholeAnswer:
    """Return the cheapest whole uses of some patterns that cover `demand`, as far as found."""
    from scipy.optimize import Bounds, LinearConstraint, milp
    from scipy.sparse import csr_matrix, vstack

    counts = csr_matrix(np.array([p.counts for p in known], dtype=float).T)
    rules = [LinearConstraint(counts, demand, np.inf)]
    few = np.flatnonzero(np.isfinite(limits))
    bars = np.array([p.bar for p in known])
    if len(few):
        owned = vstack([csr_matrix((bars == b).astype(float)) for b in few])
        rules.append(LinearConstraint(owned, 0, limits[few]))
    answer = milp(
        costs[bars],
        constraints=rules,
        bounds=Bounds(0, np.inf),
        integrality=np.ones(len(known), dtype=np.int64),
        options={"time_limit": seconds, "mip_rel_gap": 0.0},
    )
    bound = answer.mip_dual_bound
    low = float(bound) if bound is not None else -np.inf
    if answer.x is None:
        return WholeAnswer(None, low, answer.status == 2)
    made = np.round(answer.x).astype(int)
    return WholeAnswer({p: int(c) for p, c in zip(known, made, strict=True) if c}, low, none=False)


class BarCounts:
    """How many bars of each kind: the cheapest numbers that no rule forbids."""

    def __init__(self, costs: Array, room: Ints, limits: Array, most: int) -> None:
        """Count bars of `costs` and `room`, at most `limits` of each and never more than `most`."""
        self._limits = np.minimum(limits, most)
        # Of what costs the same the roomiest: less than one step of money in all.
        roomy = room / max(1.0, float(room @ self._limits))
        self._costs = costs - 0.5 * roomy
        self._rules: list[tuple[Array, float]] = []
        self._refused: list[Array] = []
        self.undecided = False  # whether numbers were refused that may hold everything

    def add_rule(self, worth: Array, least: float) -> None:
        """Σ worth × number must reach `least`, but for rounding."""
        self._rules.append((worth, least * (1 - 1e-9)))

    def refuse(self, counts: Array, *, proven: bool) -> None:
        """At least one kind must be taken more often than in `counts`, which hold not everything.

        `proven`: that they do not; else nothing was found.
        """
        self.undecided |= not proven
        self._refused.append(counts)

    def cheapest(self) -> Array | None:
        """Return the cheapest numbers, or None where there are none."""
        from scipy.optimize import Bounds, LinearConstraint, milp

        n, times = len(self._costs), len(self._refused)
        width = n * (1 + times)  # numbers; and of each refusal, which kind is taken more often
        rows, low, high = [], [], []
        for worth, least in self._rules:
            rows.append(np.concatenate((worth, np.zeros(n * times))))
            low.append(least)
            high.append(np.inf)
        for r, counts in enumerate(self._refused):
            one = np.zeros(width)
            one[n * (1 + r) : n * (2 + r)] = 1.0
            rows.append(one)
            low.append(1.0)
            high.append(np.inf)
            for b in range(n):
                more = np.zeros(width)
                more[b], more[n * (1 + r) + b] = 1.0, -(counts[b] + 1)
                rows.append(more)
                low.append(0.0)
                high.append(np.inf)
        answer = milp(
            np.concatenate((self._costs, np.zeros(n * times))),
            constraints=LinearConstraint(np.array(rows), low, high),
            bounds=Bounds(0, np.concatenate((self._limits, np.ones(n * times)))),
            integrality=np.ones(width, dtype=np.int64),
            options={"mip_rel_gap": 0.0},
        )
        return np.round(answer.x[:n]) if answer.x is not None else None
