"""A number that explains itself: its formula with the values put in, and where the rule is from."""

from collections.abc import Mapping

from ivory_quilt.core.record import Struct

Value = float | str | tuple[float, ...] | tuple[str, ...]
"""A figure, words, or a list of either."""


class Step(Struct, frozen=True):
    """One line of a reckoning: what it is, the formula with values, the value and its unit."""

    text: str
    formula: str
    value: float | str
    unit: str = ""


class Reckoning(Struct, frozen=True):
    """How a figure came about.

    Attributes:
        inputs: name to value, as used.
        results: name to value; the figure itself is among them.
        source: the rule's published source, or "common practice, no source".
    """

    name: str
    inputs: Mapping[str, float | str]
    results: Mapping[str, Value]
    steps: tuple[Step, ...] = ()
    source: str = ""
    notes: tuple[str, ...] = ()

    def figure(self, name: str) -> float:
        """Return a result that is one figure.

        Raises:
            TypeError: it is words or a list.
        """
        value = self.results[name]
        if isinstance(value, str | tuple):
            raise TypeError(f"'{name}' of {self.name} is no single figure")
        return float(value)
