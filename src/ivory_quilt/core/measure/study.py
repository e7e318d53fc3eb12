"""Picture proportion: real sizes from a reference picture with something known in it.

Each end of a line is laid by hand, some pixels either way; the sizes carry that, and the
uncertainty of the known length, by the propagation of independent errors (JCGM 100:2008, 5.1.2).
"""

import math

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.core.geometry.solids import within
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct, replace

SOURCE = "similar figures (Euclid VI.4); independent errors: JCGM 100:2008, 5.1.2"
SHORTEST = 2.0  # pixels


class Pictured(Struct, frozen=True):
    """A line laid over a picture, in pixels from its upper left corner, y downwards."""

    name: str
    start: Point
    stop: Point

    @property
    def pixels(self) -> float:
        """Length in pixels."""
        return math.hypot(self.stop[0] - self.start[0], self.stop[1] - self.start[1])


class RealSize(Struct, frozen=True):
    """A length, mm, and how far it may be off either way."""

    length: float
    uncertainty: float


class Study(Struct, frozen=True):
    """One reference picture: a line over something known, and lines over what is wanted.

    Attributes:
        picture: the picture's file name or path, as it was opened.
        known: the line over the known thing.
        real: what that is in truth, mm; 0 while nobody has said.
        uncertainty: of `real`, mm either way.
        blur: how far each end of a line may be off, pixels.
        lines: the pieces wanted.
    """

    picture: str
    known: Pictured | None = None
    real: float = 0.0
    uncertainty: float = 0.0
    blur: float = 2.0
    lines: tuple[Pictured, ...] = ()

    def __post_init__(self) -> None:
        within("known length", self.real, 0, 10_000)
        within("uncertainty", self.uncertainty, 0, 1_000)
        within("line ends", self.blur, 0, 200)

    @property
    def ready(self) -> bool:
        """Whether sizes can be worked out."""
        return self.known is not None and self.known.pixels >= SHORTEST and self.real > 0

    def size(self, line: Pictured) -> RealSize:
        """Return the real size of what a line lies over.

        Raises:
            InputError: the known line or its length is missing, or a line is too short.
        """
        known = self._known()
        if line.pixels < SHORTEST:
            raise InputError(f"line '{line.name}'", "it is too short", f"{SHORTEST:g} px or more")
        length = self.real * line.pixels / known.pixels
        end = math.sqrt(2) * self.blur
        share = math.hypot(self.uncertainty / self.real, end / known.pixels, end / line.pixels)
        return RealSize(length, length * share)

    def reckon(self, line: Pictured) -> Reckoning:
        """Explain a size.

        Raises:
            InputError: see `size`.
        """
        known, size = self._known(), self.size(line)
        end = math.sqrt(2) * self.blur
        steps = (
            Step("known in the picture", f"line over '{known.name}'", known.pixels, "px"),
            Step("piece in the picture", f"line over '{line.name}'", line.pixels, "px"),
            Step(
                "real reference × pictured piece ÷ pictured reference",
                f"{self.real:.1f} × {line.pixels:.1f} ÷ {known.pixels:.1f}",
                size.length,
                "mm",
            ),
            Step("two ends of a line", f"√2 × {self.blur:g} px", end, "px"),
            Step(
                "give or take",
                f"{size.length:.1f} × √(({self.uncertainty:g}÷{self.real:.0f})² + "
                f"({end:.2f}÷{known.pixels:.0f})² + ({end:.2f}÷{line.pixels:.0f})²)",
                size.uncertainty,
                "mm",
            ),
        )
        return Reckoning(
            "picture proportion",
            {"real": self.real, "pictured_reference": known.pixels, "pictured_piece": line.pixels},
            {"length": size.length, "uncertainty": size.uncertainty},
            steps,
            SOURCE,
            ("Both must lie in one plane, seen square on: what is nearer looks larger.",),
        )

    def _known(self) -> Pictured:
        if self.known is None or not self.ready:
            raise InputError("picture", "nothing known lies in it yet", "a line and its length")
        return self.known

    def with_line(self, line: Pictured) -> "Study":
        """Return the study with one more line, its name made its own."""
        taken = {k.name for k in self.lines}
        name, n = line.name, 1
        while name in taken:
            n += 1
            name = f"{line.name} {n}"
        return replace(self, lines=(*self.lines, replace(line, name=name)))
