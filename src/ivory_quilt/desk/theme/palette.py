"""Colours by name, light and dark. The meaning of each is fixed: cut, score, heat, good, iris."""

from functools import cache
from itertools import pairwise

from PySide6.QtGui import QColor

from ivory_quilt.core.record import Struct

# Tones of the thicknesses: thin to thick, warm to cool, light to dark.
TONES = (
    (2.0, "#E3B95B"),
    (3.0, "#C9A94F"),
    (4.0, "#9FAE5A"),
    (5.0, "#6FA27C"),
    (6.0, "#4A93A0"),
    (8.0, "#4F78AF"),
    (10.0, "#6C5BA6"),
    (12.0, "#7D3F79"),
)


@cache
def _colour(text: str) -> QColor:
    return QColor(text)


class Palette(Struct, frozen=True):
    """One theme's colours, as ``#RRGGBB``."""

    dark: bool
    paper: str
    linen: str
    raised: str
    thread: str
    ink: str
    ink_soft: str
    cut: str
    score: str
    heat: str
    good: str
    iris: str

    def colour(self, name: str) -> QColor:
        """Return a named colour."""
        return _colour(getattr(self, name))


LIGHT = Palette(
    dark=False,
    paper="#FBF7EC",
    linen="#F1EADA",
    raised="#FFFDF7",
    thread="#CFC3A8",
    ink="#26212B",
    ink_soft="#5C5463",
    cut="#A3243B",
    score="#235A8C",
    heat="#9A5200",
    good="#38662F",
    iris="#6A3FA0",
)
DARK = Palette(
    dark=True,
    paper="#1C191F",
    linen="#262229",
    raised="#312C35",
    thread="#4C4552",
    ink="#F3ECDD",
    ink_soft="#BDB3C4",
    cut="#F28495",
    score="#86B9EA",
    heat="#F0A85C",
    good="#98C98E",
    iris="#C6A6F2",
)


def tone(thickness: float) -> QColor:
    """Return the tone of a thickness; sizes between two take the tone between."""
    if thickness <= TONES[0][0]:
        return QColor(TONES[0][1])
    for (t0, c0), (t1, c1) in pairwise(TONES):
        if thickness <= t1:
            return mix(QColor(c0), QColor(c1), (thickness - t0) / (t1 - t0))
    return QColor(TONES[-1][1])


def mix(a: QColor, b: QColor, share: float) -> QColor:
    """Return the colour `share` of the way from `a` to `b`."""
    return QColor(
        round(a.red() + (b.red() - a.red()) * share),
        round(a.green() + (b.green() - a.green()) * share),
        round(a.blue() + (b.blue() - a.blue()) * share),
    )


@cache
def piece_fill(thickness: float, palette: Palette) -> QColor:
    """Return the fill of a piece: as strong as its name stays readable on it (4.5 : 1)."""
    return foam_fill(thickness, palette, 0.42 if palette.dark else 0.62)


@cache
def foam_fill(thickness: float, palette: Palette, strength: float = 0.38) -> QColor:
    """Return the fill of foam on the table: the tone, about a third strong on paper."""
    return mix(palette.colour("paper"), tone(thickness), strength)
