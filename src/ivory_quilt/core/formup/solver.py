"""The least energy: limited-memory BFGS (Nocedal 1980), preconditioned by one factored matrix."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from ivory_quilt.core.formup.assembly import Array
from ivory_quilt.core.formup.contact import Press
from ivory_quilt.core.formup.kernels import edge_turns, stretch_energy, turn_rows, turn_slopes
from ivory_quilt.core.formup.stiffness import Stiffness

MEMORY = 8
ARMIJO = 1e-4
HALVINGS = 30

Going = Callable[[], bool]
"""Returns False to stop with what there is."""


@dataclass
class Energy:
    """The energy of places of a shell's vertices, and its slope."""

    stiffness: Stiffness
    press: Press | None = None

    def __post_init__(self) -> None:
        shell = self.stiffness.shell
        self._angles = np.zeros(len(shell.edges))

    def __call__(self, places: Array) -> tuple[float, Array]:
        """Return energy and slope, `(n, 3)`."""
        stiffness, shell = self.stiffness, self.stiffness.shell
        slope = np.zeros_like(places)
        energy = stretch_energy(
            places, shell.triangles, stiffness.rest, stiffness.weights, shell.poisson, slope
        )
        edge_turns(places, shell.edges, self._angles)
        bent, moments = stiffness.bending(self._off_rest())
        turn_slopes(places, shell.edges, moments, slope)
        total = energy + bent
        if self.press is not None:
            total += self.press.add(places, slope)
        return total, slope

    def _off_rest(self) -> Array:
        shell = self.stiffness.shell
        off = np.where(shell.edges[:, 3] >= 0, self._angles - shell.turns, 0.0)
        # An angle is known but for whole turns: the nearer one.
        return off - 2 * np.pi * np.round(off / (2 * np.pi))

    def angles(self, places: Array) -> Array:
        """Return the angles over all edges, radians."""
        edge_turns(places, self.stiffness.shell.edges, self._angles)
        return self._angles.copy()

    def off_rest(self, places: Array) -> tuple[Array, Array]:
        """Return how far angles are off rest, and the edges' own turns, radians."""
        edge_turns(places, self.stiffness.shell.edges, self._angles)
        off = self._off_rest()
        return off, self.stiffness.own_turns(off)


class Solves(Protocol):
    """A factored matrix."""

    def solve(self, right: Array) -> Array:
        """Return what it makes of a right side, column by column."""


@dataclass(frozen=True)
class Solved:
    """Places of least energy, as far as that was found."""

    places: Array
    energy: float
    settled: bool
    history: tuple[float, ...]


def load_kernels() -> None:
    """Compile the kernels of form-up, or load them from the cache."""
    places, slope = np.zeros((4, 3)), np.zeros((4, 3))
    edges, triangles = np.array([[0, 1, 2, 3]]), np.array([[0, 1, 2]])
    stretch_energy(places, triangles, np.zeros((1, 4)), np.zeros(1), 0.0, slope)
    edge_turns(places, edges, np.zeros(1))
    turn_slopes(places, edges, np.zeros(1), slope)
    turn_rows(places, edges)


def settle(
    energy: Energy,
    places: Array,
    near: float,
    rounds: int,
    factored: Solves,
    going: Going = lambda: True,
) -> Solved:
    """Return the places of least energy near a start; energy never rises on the way.

    Args:
        energy: of places.
        places: the start, `(n, 3)` mm.
        near: stop when a step moves nothing farther, mm.
        rounds: stop after so many steps.
        factored: the preconditioner.
        going: asked before each step.
    """
    solve = factored.solve
    value, slope = energy(places)
    steps: list[Array] = []
    changes: list[Array] = []
    history = [value]
    settled = False
    length = 1.0
    for _ in range(rounds):
        if not going():
            break
        way = _way(slope, steps, changes, solve)
        if energy.press is None:
            way -= way.mean(0)  # nothing holds the whole: it must not drift away
        along = float(np.sum(way * slope))
        if along >= 0:
            steps, changes = [], []
            way = -solve(slope)
            along = float(np.sum(way * slope))
        length = min(1.0, 2 * length)
        for _halving in range(HALVINGS):
            fresh = places + length * way
            after, next_slope = energy(fresh)
            if after <= value + ARMIJO * length * along:
                break
            length /= 2
        else:
            if not steps:
                settled = True
                break
            steps, changes = [], []
            continue
        moved, turned = fresh - places, next_slope - slope
        if float(np.sum(moved * turned)) > 1e-14 * float(np.sum(moved * moved)):
            steps, changes = [*steps[1 - MEMORY :], moved], [*changes[1 - MEMORY :], turned]
        places, value, slope = fresh, after, next_slope
        history.append(value)
        if float(np.abs(moved).max()) < near:
            settled = True
            break
    return Solved(places, value, settled, tuple(history))


def _way(
    slope: Array, steps: list[Array], changes: list[Array], solve: Callable[[Array], Array]
) -> Array:
    """Return the direction of limited-memory BFGS by its two loops."""
    rest = slope.copy()
    shares = []
    for moved, turned in zip(reversed(steps), reversed(changes), strict=True):
        rho = 1.0 / float(np.sum(moved * turned))
        share = rho * float(np.sum(moved * rest))
        rest -= share * turned
        shares.append((rho, share))
    rest = solve(rest)
    for (rho, share), moved, turned in zip(reversed(shares), steps, changes, strict=True):
        back = rho * float(np.sum(turned * rest))
        rest += (share - back) * moved
    return -rest
