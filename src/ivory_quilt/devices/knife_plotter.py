"""A simulated knife plotter: reads HPGL or G-code, drags its blade, says what was cut and how long.

It stands in for a machine: what a file makes of a sheet is seen before foam is spent. The tip of a
swivel blade trails `offset` behind its axis; along a straight stretch the angle φ between the blade
and the way obeys tan(φ/2) = tan(φ₀/2)·exp(−s/offset), since a tip in foam never moves sideways
(the tractrix; Steinhaus, Mathematical Snapshots).
"""

import math
import re
from collections.abc import Iterator
from itertools import groupby, pairwise

import numpy as np

from ivory_quilt.core.cutting.knife_plotter import KnifePlotter
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.record import Struct

UNITS_PER_MM = 40  # HPGL: 0.025 mm
PEN = 3  # the tool that draws: it does not trail
STRAIGHT = 1e-5  # radians: the blade lies along its way
SAMPLES = 24  # along the stretch in which the blade turns
_HPGL = re.compile(r"\s*([A-Za-z]{2})([^;A-Za-z]*);?")
_WORD = re.compile(r"([A-Za-z])\s*([-+]?(?:\d+\.?\d*|\.\d+))")
_COMMENT = re.compile(r"\([^()]*\)|;.*")


class TipLine(Struct, frozen=True, eq=False):
    """One way with the tool down: what its tip did, `(n, 2)` mm, with which tool."""

    tool: int
    places: Array


class Plotted(Struct, frozen=True):
    """What a file did.

    Attributes:
        lines: of the tip, in order.
        seconds: how long the machine was busy.
        beyond: how far outside its reach the carriage was sent at most, mm.
        changes: how often it was given another tool.
    """

    lines: tuple[TipLine, ...]
    seconds: float
    beyond: float
    changes: int


class _Move(Struct, frozen=True):
    """Where the carriage goes next, and whether the tool is down on the way."""

    tool: int
    down: bool
    rapid: bool
    x: float
    y: float


class SimulatedPlotter:
    """One machine; a blade points along x before it begins, as a hand has turned it."""

    def __init__(self, machine: KnifePlotter, heading: float = 0.0) -> None:
        """Be `machine`, its blade pointing `heading` degrees from x."""
        self.machine = machine
        self._heading = math.radians(heading)

    def run(self, data: bytes, where: str = "plotter file") -> Plotted:
        """Do what a file says.

        Raises:
            InputError: it is neither HPGL nor G-code, or has a word that this machine lacks.
        """
        text = data.decode("ascii", "replace")
        hpgl = text.lstrip()[:2].upper() == "IN"
        moves = [_Move(0, down=False, rapid=True, x=0.0, y=0.0)]
        moves += _hpgl(text, where) if hpgl else _g_code(text, where)
        lines: list[TipLine] = []
        heading = self._heading
        for tool, way in _ways_down(moves):
            drawn, heading = self._dragged(way, tool, heading)
            lines.append(TipLine(tool, drawn))
        tools = [m.tool for m in moves if m.down]
        changes = sum(a != b for a, b in pairwise(tools))
        return Plotted(tuple(lines), self._seconds(moves, len(lines)), self._beyond(moves), changes)

    def _seconds(self, moves: list[_Move], lifts: int) -> float:
        machine, seconds = self.machine, lifts * self.machine.lift
        for a, b in pairwise(moves):
            speed = machine.travel if b.rapid else machine.speed
            seconds += math.hypot(b.x - a.x, b.y - a.y) / speed
        return seconds

    def _beyond(self, moves: list[_Move]) -> float:
        """Return how far the blade's tip could be sent outside the machine's reach, mm."""
        machine, found = self.machine, 0.0
        for m in moves:
            out = (-m.x, -m.y, m.x - machine.length, m.y - machine.width)
            found = max(found, max(out) - machine.offset)
        return found

    def _dragged(self, axis: Array, tool: int, heading: float) -> tuple[Array, float]:
        """Return where the tip goes while its axis goes so, and which way it then points."""
        offset = 0.0 if tool == PEN else self.machine.offset
        if offset <= 0:
            return axis, heading
        tip = [axis[0] - offset * np.array([math.cos(heading), math.sin(heading)])]
        for a, b in pairwise(axis):
            length = float(np.hypot(*(b - a)))
            if length <= 0:
                continue
            ahead = math.atan2(b[1] - a[1], b[0] - a[0])
            turn = math.remainder(heading - ahead, 2 * math.pi)
            shares = [1.0]
            if abs(turn) > STRAIGHT:
                turning = min(length, offset * math.log(abs(turn) / STRAIGHT))
                shares = (turning / length * np.arange(1, SAMPLES + 1) / SAMPLES).tolist()
                shares += [1.0] * (shares[-1] < 1.0)
            for share in shares:
                left = 2 * math.atan(math.tan(turn / 2) * math.exp(-share * length / offset))
                heading = ahead + left
                back = np.array([math.cos(heading), math.sin(heading)])
                tip.append(a + share * (b - a) - offset * back)
        return np.array(tip), heading


def _ways_down(moves: list[_Move]) -> Iterator[tuple[int, Array]]:
    """Yield each way with the tool down: (tool, where the axis goes, `(n, 2)` mm)."""
    for down, run in groupby(enumerate(moves), key=lambda k: (k[1].down, k[1].tool)):
        if down[0]:
            numbers = [k for k, _ in run]
            way = moves[max(0, numbers[0] - 1) : numbers[-1] + 1]
            yield down[1], np.array([(m.x, m.y) for m in way])


def _hpgl(text: str, where: str) -> Iterator[_Move]:
    """Yield the moves of an HPGL file: IN PA PR SP PU PD VS are known."""
    tool, down, relative = 1, False, False
    x = y = 0.0
    at = 0
    text = text.strip()
    while at < len(text):
        found = _HPGL.match(text, at)
        if found is None:
            raise InputError(where, f"'{text[at : at + 8]}' is no HPGL", "two letters and numbers")
        at = found.end()
        word, given = found[1].upper(), found[2].replace(",", " ").split()
        try:
            numbers = [float(k) for k in given]
        except ValueError:
            raise InputError(where, f"'{found[0].strip()}'", "numbers after the letters") from None
        if word == "SP":
            tool = int(numbers[0]) if numbers else 0
        elif word in ("PU", "PD", "PA", "PR"):
            down = {"PU": False, "PD": True}.get(word, down)
            relative = {"PA": False, "PR": True}.get(word, relative)
            if len(numbers) % 2:
                raise InputError(where, f"'{found[0].strip()[:30]}'", "pairs of numbers")
            if not numbers:
                yield _Move(tool, down=down, x=x, y=y, rapid=not down)
            for px, py in zip(numbers[::2], numbers[1::2], strict=True):
                x = px / UNITS_PER_MM + (x if relative else 0.0)
                y = py / UNITS_PER_MM + (y if relative else 0.0)
                yield _Move(tool, down=down, x=x, y=y, rapid=not down)
        elif word not in ("IN", "VS"):
            raise InputError(where, f"'{word}'", "IN, PA, PR, SP, PU, PD or VS")


def _g_code(text: str, where: str) -> Iterator[_Move]:
    """Yield the moves of a G-code file: G0 G1 G20 G21 G90 G94 M0 M2 T F X Y Z are known."""
    tool, unit, motion, down = 1, 1.0, 0, False
    x = y = 0.0
    said = False
    for number, row in enumerate(text.splitlines(), 1):
        line = _COMMENT.sub("", row).strip()
        words = _WORD.findall(line)
        if re.sub(r"\s+", "", line) and not words:
            raise InputError(where, f"line {number}: '{line[:20]}'", "a letter and a number")
        place: dict[str, float] = {}
        for letter, digits in words:
            said = True
            name, value = letter.upper(), float(digits)
            if name == "G" and value in (0, 1):
                motion = int(value)
            elif name == "G" and value in (20, 21):
                unit = 25.4 if value == 20 else 1.0
            elif name == "T":
                tool = int(value)
            elif name in "XYZ":
                place[name] = value * unit
            elif (name, value) not in (("G", 90), ("G", 94), ("M", 0), ("M", 2)) and name != "F":
                raise InputError(where, f"line {number}: '{letter}{digits}'", "a known word")
        if "Z" in place:
            down = place["Z"] <= 0
            yield _Move(tool, down=down and motion == 1, x=x, y=y, rapid=motion == 0)
        if "X" in place or "Y" in place:
            x, y = place.get("X", x), place.get("Y", y)
            yield _Move(tool, down=down and motion == 1, x=x, y=y, rapid=motion == 0)
    if not said:
        raise InputError(where, "it has no word in it", "HPGL or G-code")
