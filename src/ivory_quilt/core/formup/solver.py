"""The least energy: limited-memory BFGS (Nocedal 1980), preconditioned by one factored matrix."""

from collections.abc import Callable
from typing import Protocol

import numpy as np

from ivory_quilt.core.formup.assembly import Array
from ivory_quilt.core.formup.contact import Press
from ivory_quilt.core.formup.kernels import (
    add_steps,
    breath_energy,
    contact_energy,
    drop_steps,
    edge_turns,
    grid_away,
    off_rest,
    stretch_energy,
    times_angles,
    turn_rows,
    turn_slopes,
)
from ivory_quilt.core.formup.stiffness import Stiffness
from ivory_quilt.core.record import Struct

MEMORY = 16
ARMIJO = 1e-4
HALVINGS = 30
LEFT = 3.0  # times a step: what the steps that are left may go in all

Going = Callable[[], bool]
"""Returns False to stop with what there is."""


class Energy:
    """The energy of places of a shell's vertices, and its slope."""

    def __init__(self, stiffness: Stiffness, press: Press | None = None) -> None:
        """Of a shell so stiff, pressed on where `press` says."""
        self.stiffness = stiffness
        self.press = press
        self._angles = np.zeros(len(stiffness.shell.edges))

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
        off = np.empty(len(shell.edges))
        # An angle is known but for whole turns: the nearer one.
        off_rest(self._angles, shell.turns, shell.edges, off)
        return off

    def angles(self, places: Array) -> Array:
        """Return the angles over all edges, radians."""
        edge_turns(places, self.stiffness.shell.edges, self._angles)
        return self._angles.copy()

    def off_rest(self, places: Array) -> tuple[Array, Array]:
        """Return how far angles are off rest, and the edges' own turns, radians."""
        edge_turns(places, self.stiffness.shell.edges, self._angles)
        off = self._off_rest()
        return off, self.stiffness.own_turns(off)


class Falls(Protocol):
    """What `settle` makes least: an energy of places with its slope."""

    press: Press | None

    def __call__(self, places: Array) -> tuple[float, Array]:
        """Return energy and slope, `(n, 3)`."""


class Solves(Protocol):
    """A factored matrix."""

    def solve(self, right: Array) -> Array:
        """Return what it makes of a right side, column by column."""


class Memory:
    """The last steps, and how the slope changed over each: what is known of the curvature."""

    def __init__(self, size: int) -> None:
        """Keep the last steps of `size` coordinates."""
        self.steps, self.changes = np.zeros((MEMORY, size)), np.zeros((MEMORY, size))
        self.first = self.count = 0

    def add(self, moved: Array, turned: Array) -> None:
        """Keep a step, and forget the oldest where there is no room."""
        at = (self.first + self.count) % MEMORY
        self.steps[at], self.changes[at] = moved.ravel(), turned.ravel()
        if self.count < MEMORY:
            self.count += 1
        else:
            self.first = (self.first + 1) % MEMORY

    def clear(self) -> None:
        """Forget all."""
        self.count = 0

    def way(self, slope: Array, solve: Callable[[Array], Array]) -> Array:
        """Return the way down by the two loops around the preconditioner."""
        rest, shares = slope.ravel().copy(), np.zeros(MEMORY)
        known = (self.steps, self.changes, self.first, self.count)
        drop_steps(*known, rest, shares)
        rest = solve(rest.reshape(slope.shape)).ravel()
        add_steps(*known, rest, shares)
        return -rest.reshape(slope.shape)


class Solved(Struct, frozen=True):
    """Places of least energy, as far as that was found."""

    places: Array
    energy: float
    settled: bool
    history: tuple[float, ...]
    memory: Memory


def load_kernels() -> None:
    """Compile the kernels of form-up, or load them from the cache."""
    places, slope = np.zeros((4, 3)), np.zeros((4, 3))
    edges, triangles = np.array([[0, 1, 2, 3]]), np.array([[0, 1, 2]])
    stretch_energy(places, triangles, np.zeros((1, 4)), np.zeros(1), 0.0, slope)
    edge_turns(places, edges, np.zeros(1))
    turn_slopes(places, edges, np.zeros(1), slope)
    turn_rows(places, edges)
    off_rest(np.zeros(1), np.zeros(1), edges, np.zeros(1))
    breath_energy(places, triangles, 0.0, slope)
    grid_away(np.zeros((2, 2, 2)), np.zeros(3), 1.0, places, np.zeros(4), slope)
    known = np.ones(4)
    contact_energy(known, places, known, known, 0.0, 1.0, slope)
    entries, numbers = np.zeros(1), np.zeros(1, dtype=np.int32)
    times_angles(entries, numbers, np.array([0, 1], dtype=np.int32), np.zeros(1), np.zeros(1))
    Memory(12).way(slope, lambda right: right)


def settle(
    energy: Falls,
    places: Array,
    near: float,
    rounds: int,
    factored: Solves,
    going: Going = lambda: True,
    memory: Memory | None = None,
) -> Solved:
    """Return the places of least energy near a start; energy never rises on the way.

    Args:
        energy: of places.
        places: the start, `(n, 3)` mm.
        near: stop when a step moves nothing farther, mm, and all that are left not much.
        rounds: stop after so many steps.
        factored: the preconditioner.
        going: asked before each step.
        memory: of a solve of nearly the same energy with the same preconditioner.
    """
    solve = factored.solve
    value, slope = energy(places)
    memory = memory or Memory(places.size)
    history = [value]
    far: list[float] = []
    settled = False
    length, halved = 1.0, False
    for _ in range(rounds):
        if not going():
            break
        way = memory.way(slope, solve)
        if energy.press is None:
            way -= way.mean(0)  # nothing holds the whole: it must not drift away
        along = float(np.sum(way * slope))
        if along >= 0:
            memory.clear()
            way = -solve(slope)
            along = float(np.sum(way * slope))
        # Where a longer step did not do just now, it seldom does the next time.
        length = length if halved else min(1.0, 2 * length)
        halved = False
        for _halving in range(HALVINGS):
            fresh = places + length * way
            after, next_slope = energy(fresh)
            if after <= value + ARMIJO * length * along:
                break
            length, halved = length / 2, True
        else:
            if not memory.count:
                settled = True
                break
            memory.clear()
            continue
        moved, turned = fresh - places, next_slope - slope
        if float(np.sum(moved * turned)) > 1e-14 * float(np.sum(moved * moved)):
            memory.add(moved, turned)
        places, value, slope = fresh, after, next_slope
        history.append(value)
        far.append(float(np.abs(moved).max()))
        if far[-1] < near and _left(far) < LEFT * near:
            settled = True
            break
    return Solved(places, value, settled, tuple(history), memory)


def _left(far: list[float]) -> float:
    """Return how far steps that shrink as the last ones did would go in all, mm."""
    if len(far) < 4:
        return 0.0 if far[-1] <= far[0] else far[-1]
    share = min(float((far[-1] / max(far[-4], 1e-300)) ** (1 / 3)), 0.999)
    return far[-1] * share / (1 - share)
