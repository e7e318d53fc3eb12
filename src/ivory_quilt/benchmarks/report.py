"""Figures and how they are printed."""

from ivory_quilt.core.record import Struct


class Figure(Struct, frozen=True):
    """One measured value; `most` is what is promised, None where nothing is."""

    what: str
    value: float
    unit: str
    most: float | None = None

    @property
    def kept(self) -> bool:
        """Whether the promise is kept."""
        return self.most is None or self.value <= self.most


def print_figures(figures: list[Figure]) -> None:
    """Print a table: what, measured, promised."""
    for figure in figures:
        promised = "" if figure.most is None else f"promised under {figure.most:g} {figure.unit}"
        mark = " " if figure.kept else "!"
        value = f"{figure.value:10.2f} {figure.unit:<4}"
        print(f"{mark} {figure.what:<58}{value} {promised}".rstrip())
