"""What a maker of shapes is: fields to fill in, and the pieces that come of them."""

from collections.abc import Callable, Mapping
from enum import Enum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.piece import Hand, PieceLine
from ivory_quilt.core.reckoning import Reckoning
from ivory_quilt.core.record import Struct
from ivory_quilt.core.units import parse_length, parse_lengths, parse_scalar


class ShapeInputKind(Enum):
    """How a field is typed."""

    LENGTH = "length"
    NUMBER = "number"
    LENGTHS = "lengths"
    CHOICE = "choice"


class ShapeInput(Struct, frozen=True):
    """One number of a shape.

    Attributes:
        name: the maker function's argument.
        title: as a maker says it.
        default: text that makes a sensible example.
        unit: shown beside the field.
        options: of a choice, (value, words) pairs.
        is_thickness: whether it is the foam's thickness.
    """

    name: str
    title: str
    kind: ShapeInputKind
    default: str
    unit: str = ""
    options: tuple[tuple[str, str], ...] = ()
    is_thickness: bool = False

    def parse(self, text: str) -> object:
        """Return the field's value.

        Raises:
            InputError: naming the field.
        """
        if self.kind is ShapeInputKind.LENGTH:
            return parse_length(text, where=self.title)
        if self.kind is ShapeInputKind.LENGTHS:
            return parse_lengths(text, where=self.title)
        if self.kind is ShapeInputKind.CHOICE:
            known = [value for value, _ in self.options]
            if text not in known:
                raise InputError(self.title, f"'{text}'", " or ".join(known))
            return text
        return parse_scalar(text, where=self.title)


class ShapePiece(Struct, frozen=True):
    """One outline that a shape consists of, and how often it is cut.

    `thickness` None: the piece's own choice.
    """

    name: str
    shape: Shape
    count: int = 1
    hand: Hand = Hand.NONE
    lines: tuple[PieceLine, ...] = ()
    thickness: float | None = None


class ShapeResult(Struct, frozen=True):
    """What a maker makes of its numbers."""

    pieces: tuple[ShapePiece, ...]
    reckoning: Reckoning


class ShapeMaker(Struct, frozen=True):
    """A parametric shape.

    Attributes:
        id: stable name, kept in project files.
        help: one sentence: what it is for.
        make: called with the fields' values by name.
    """

    id: str
    title: str
    help: str
    fields: tuple[ShapeInput, ...]
    make: Callable[..., ShapeResult]

    def made(self, values: Mapping[str, str]) -> ShapeResult:
        """Make the shape of typed values; those not given are the defaults.

        Raises:
            InputError: a value is unknown or makes no sense.
        """
        names = {f.name for f in self.fields}
        for name in values:
            if name not in names:
                raise InputError(self.title, f"no number '{name}'", ", ".join(sorted(names)))
        return self.make(**{f.name: f.parse(values.get(f.name, f.default)) for f in self.fields})


def length(name: str, title: str, default: str, *, is_thickness: bool = False) -> ShapeInput:
    """Return a length field."""
    return ShapeInput(name, title, ShapeInputKind.LENGTH, default, "mm", is_thickness=is_thickness)


def number(name: str, title: str, default: str, unit: str = "") -> ShapeInput:
    """Return a plain number field."""
    return ShapeInput(name, title, ShapeInputKind.NUMBER, default, unit)


def lengths(name: str, title: str, default: str) -> ShapeInput:
    """Return a field for a list of lengths."""
    return ShapeInput(name, title, ShapeInputKind.LENGTHS, default, "mm")


def choice(name: str, title: str, *options: tuple[str, str]) -> ShapeInput:
    """Return a field with a few answers; the first is the default."""
    return ShapeInput(name, title, ShapeInputKind.CHOICE, options[0][0], options=options)


THICKNESS = length("thickness", "Foam thickness", "6", is_thickness=True)
NEUTRAL = number("neutral", "Neutral line", "0.5", "of thickness")
