"""What a calculator is: a name, inputs with their kinds, and the function that reckons."""

from collections.abc import Callable
from enum import Enum

from ivory_quilt.core.reckoning import Reckoning
from ivory_quilt.core.record import Struct


class Kind(Enum):
    """How an input is typed."""

    LENGTH = "length"
    NUMBER = "number"
    LENGTHS = "lengths"
    AREA = "area"


class Input(Struct, frozen=True):
    """One input of a calculator; `default` None means it must be given."""

    name: str
    kind: Kind
    help: str
    default: float | None = None


class Calculator(Struct, frozen=True):
    """A rule: its name, what it takes, and the function that reckons."""

    name: str
    title: str
    inputs: tuple[Input, ...]
    reckon: Callable[..., Reckoning]


def length(name: str, text: str, default: float | None = None) -> Input:
    """Return a length input, mm."""
    return Input(name, Kind.LENGTH, text, default)


def number(name: str, text: str, default: float | None = None) -> Input:
    """Return a plain number."""
    return Input(name, Kind.NUMBER, text, default)


def area(name: str, text: str) -> Input:
    """Return an area input, mm²."""
    return Input(name, Kind.AREA, text)


def lengths(name: str, text: str) -> Input:
    """Return a list of lengths, parted by commas."""
    return Input(name, Kind.LENGTHS, text)
