"""Unlike parts that go around the body together: front, back, sides, what laps and what gapes.

Side pieces made too short are a usual, late, costly mistake (common practice, no source): the sum
is made before anything is cut.
"""

import math
from collections.abc import Mapping
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.solids import within
from ivory_quilt.core.measure.fit import SOURCE, KeyOf
from ivory_quilt.core.measure.wearer import Measure, MeasureKind, spot
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct

MOST_PARTS = 48
CLOSE = 3.0  # mm: parts that miss a girth by less go around it (our choice)


class Spread(StrEnum):
    """How what is missing is shared among the parts that take it."""

    BY_LENGTH = "by length"
    ALIKE = "alike"


class GrowBy(StrEnum):
    """How a part is made longer or shorter."""

    STRETCH = "stretch"
    STRIP = "strip"


class AroundPart(Struct, frozen=True):
    """A piece that goes around, with others.

    Attributes:
        piece: its id.
        key: which of its dimensions goes around.
        times: how many of it go around; a left and a right are two.
        takes: whether it takes its share of what is missing.
        edge: the edge whose length counts, where that is not a straight width or height: along a
            curved band.
    """

    piece: str
    key: KeyOf = KeyOf.WIDTH
    times: int = 1
    takes: bool = True
    edge: str = ""

    @property
    def words(self) -> str:
        """What of it goes around."""
        return f"edge {self.edge}" if self.edge else self.key.value

    def __post_init__(self) -> None:
        within("how many go around", self.times, 1, MOST_PARTS)


class PartsAround(Struct, frozen=True):
    """The parts that go around one girth of a wearer.

    Attributes:
        name: as the maker says: belly, thigh.
        wearer: their id.
        spot: which of their girths.
        parts: in the order in which they follow each other.
        laps: foam that lies double where parts overlap, mm in all.
        gaps: what stays open between parts, laced or hinged, mm in all.
        ease: room to move, mm.
        beneath: thickness of everything worn beneath, mm.
        spread: how what is missing is shared.
        by: how parts are made longer.
    """

    id: str
    name: str
    wearer: str
    spot: str
    parts: tuple[AroundPart, ...] = ()
    laps: float = 0.0
    gaps: float = 0.0
    ease: float = 10.0
    beneath: float = 0.0
    spread: Spread = Spread.BY_LENGTH
    by: GrowBy = GrowBy.STRETCH

    def __post_init__(self) -> None:
        if not self.id or not self.name.strip():
            raise InputError("girth", "it has no name", "a name such as belly")
        if spot(self.spot).kind is not MeasureKind.GIRTH:
            raise InputError(f"girth '{self.name}'", f"{self.spot} is no girth", "a girth")
        where = f"girth '{self.name}'"
        if len(self.parts) > MOST_PARTS:
            raise InputError(where, f"{len(self.parts)} parts", f"at most {MOST_PARTS}")
        ids = [p.piece for p in self.parts]
        if len(set(ids)) != len(ids):
            raise InputError(where, "a piece is in it twice", "each piece once, with how often")
        for word, value, most in (
            ("overlaps", self.laps, 2000),
            ("gaps", self.gaps, 2000),
            ("beneath", self.beneath, 200),
        ):
            within(f"{where}, {word}", value, 0, most)
        within(f"{where}, ease", self.ease, -500, 1000)


class AroundSum(Struct, frozen=True):
    """What parts come to around a girth, and what is missing.

    Attributes:
        lengths: of one of each part, mm.
        thickness: of each part's foam, mm.
        neutral: depth of the neutral line, share of thickness.
    """

    around: PartsAround
    measure: Measure
    lengths: tuple[float, ...]
    thickness: tuple[float, ...]
    neutral: float = 0.5

    @property
    def foam(self) -> float:
        """All parts' lengths together, mm."""
        counts = (p.times for p in self.around.parts)
        return sum(n * long for n, long in zip(counts, self.lengths, strict=True))

    @property
    def have(self) -> float:
        """How far the parts reach around, mm: less what lies double, with what stays open."""
        return self.foam - self.around.laps + self.around.gaps

    @property
    def mean_thickness(self) -> float:
        """Thickness of the foam, weighed by how much of the way each part goes, mm."""
        counts = [p.times for p in self.around.parts]
        weighed = zip(counts, self.lengths, self.thickness, strict=True)
        return sum(n * long * thick for n, long, thick in weighed) / self.foam if self.foam else 0.0

    @property
    def needed(self) -> float:
        """How far they must reach on their neutral line, mm: it lies outside the body."""
        out = self.around.beneath + self.neutral * self.mean_thickness
        return self.measure.value + self.around.ease + 2 * math.pi * out

    @property
    def missing(self) -> float:
        """How much they are short, mm; below 0: too long."""
        return self.needed - self.have

    @property
    def closes(self) -> bool:
        """Whether they go around, as nearly as the tape tells."""
        return abs(self.missing) <= max(CLOSE, self.measure.uncertainty)

    def shares(self) -> tuple[float, ...]:
        """Return by how much one of each part grows, mm; together they are what is missing.

        Raises:
            InputError: no part takes any, or one would vanish.
        """
        parts = self.around.parts
        where = f"girth '{self.around.name}'"
        if not any(p.takes for p in parts):
            raise InputError(where, "no part takes what is missing", "one or more that do")
        if self.around.spread is Spread.BY_LENGTH:
            weights = [p.takes * long for p, long in zip(parts, self.lengths, strict=True)]
        else:
            weights = [1.0 * p.takes for p in parts]
        total = sum(p.times * w for p, w in zip(parts, weights, strict=True))
        found = tuple(self.missing * w / total for w in weights)
        for part, share, long in zip(parts, found, self.lengths, strict=True):
            if long + share < 0.1 * long:
                raise InputError(
                    where,
                    f"'{part.piece}' would be {long + share:.0f} mm long",
                    "more parts to take it",
                )
        return found

    def reckon(self, names: Mapping[str, str]) -> Reckoning:
        """Explain the sum; `names` are the pieces', by id."""
        around = self.around
        steps = [
            Step(
                names.get(part.piece, part.piece),
                f"{part.times} × {long:.1f} mm, {part.words}",
                part.times * long,
                "mm",
            )
            for part, long in zip(around.parts, self.lengths, strict=True)
        ]
        out = 2 * math.pi * (around.beneath + self.neutral * self.mean_thickness)
        steps += [
            Step(
                "less overlaps, with gaps", f"− {around.laps:g} + {around.gaps:g}", self.have, "mm"
            ),
            Step(
                f"{spot(around.spot).title.lower()} with ease",
                f"{self.measure.value:g} + {around.ease:g}",
                self.measure.value + around.ease,
                "mm",
            ),
            Step(
                "what goes around is longer by foam and padding",
                f"2π × ({around.beneath:g} + {self.neutral:g} × {self.mean_thickness:.2f})",
                out,
                "mm",
            ),
            Step("missing", f"{self.needed:.1f} − {self.have:.1f}", self.missing, "mm"),
        ]
        return Reckoning(
            "parts-around",
            {
                "measure": self.measure.value,
                "ease": around.ease,
                "beneath": around.beneath,
                "laps": around.laps,
                "gaps": around.gaps,
            },
            {"have": self.have, "needed": self.needed, "missing": self.missing},
            tuple(steps),
            SOURCE,
        )
