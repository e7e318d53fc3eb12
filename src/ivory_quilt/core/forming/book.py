"""What the shop's book says of a foam: neutral line, shrink, density, how far it dishes and bends.

Defaults are from memory, common practice, no source; the maker changes them, by coupon or by hand.
"""

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct

_BOUNDS: dict[str, tuple[float, float, str]] = {
    "neutral": (0.0, 1.0, ""),
    "shrink_along": (-20.0, 60.0, " %"),
    "shrink_across": (-20.0, 60.0, " %"),
    "density": (0.005, 3.0, " g/cm³"),
    "dish_limit": (0.5, 80.0, " %"),
    "tightest": (0.0, 50.0, " × thickness"),
    "springback": (0.0, 60.0, " %"),
    "stretch_along": (0.0, 300.0, " %"),
    "stretch_across": (0.0, 300.0, " %"),
}


class FoamBook(Struct, frozen=True):
    """Book values of one foam.

    Attributes:
        neutral: depth of the neutral line as a share of the thickness, from the inner face.
        shrink_along: percent of what was cut that heat takes, along the sheet.
        shrink_across: the same across it.
        density: g/cm³.
        dish_limit: strain that goes by heat alone, percent.
        tightest: smallest inside bend radius, in thicknesses.
        springback: percent of a bend that opens again when the foam is let go.
        stretch_along: of cloth, percent that it may be stretched by along its grain; 0: none.
        stretch_across: the same across it.
    """

    neutral: float = 0.5
    shrink_along: float = 0.0
    shrink_across: float = 0.0
    density: float = 0.1
    dish_limit: float = 12.0
    tightest: float = 1.0
    springback: float = 0.0
    stretch_along: float = 0.0
    stretch_across: float = 0.0

    def __post_init__(self) -> None:
        for name, (low, high, unit) in _BOUNDS.items():
            value = getattr(self, name)
            if not low <= value <= high:
                what = name.replace("_", " ")
                raise InputError(what, f"{value:g}{unit}", f"{low:g} to {high:g}{unit}")


BOOK = FoamBook()


def density_of(length: float, width: float, thickness: float, grams: float) -> float:
    """Return the density of a sheet that was weighed, g/cm³; sizes in mm.

    Raises:
        InputError: a size or the weight is not above zero.
    """
    for name, value in (
        ("length", length),
        ("width", width),
        ("thickness", thickness),
        ("weight", grams),
    ):
        if not value > 0:
            raise InputError(name, f"{value:g}", "a value above 0")
    return grams / (length * width * thickness / 1000)
