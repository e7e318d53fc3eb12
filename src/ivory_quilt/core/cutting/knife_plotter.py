"""A knife plotter: how large a sheet it takes, and how its blade trails behind its carriage.

The usual values are from memory, editable: a swivel blade's offset is printed on its holder.
"""

import math

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct

MOST = 10_000.0  # mm, mm/s


class KnifePlotter(Struct, frozen=True):
    """One machine that cuts with an upright blade that swivels.

    Attributes:
        name: as the shop calls it.
        width: reach along y, across the machine, mm.
        length: reach along x, mm.
        offset: from the swivel's axis to the blade's tip, mm; 0 for a blade that is steered.
        overcut: how far an outline is cut past where it began, mm.
        thickest: the thickest foam that it cuts through, mm.
        speed: while it cuts, mm/s.
        travel: while it does not, mm/s.
        lift: to raise and lower the blade once, s.
        marks: whether it also draws match marks, folds and what is cut at an angle, with a pen.
    """

    name: str = "knife plotter"
    width: float = 1220.0
    length: float = 2500.0
    offset: float = 0.9
    overcut: float = 1.0
    thickest: float = 6.0
    speed: float = 60.0
    travel: float = 200.0
    lift: float = 0.4
    marks: bool = False

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise InputError("plotter", "it has no name", "a name")
        for what, value, least, most, unit in (
            ("reach across", self.width, 10.0, MOST, "mm"),
            ("reach along", self.length, 10.0, 10 * MOST, "mm"),
            ("blade offset", self.offset, 0.0, 10.0, "mm"),
            ("overcut", self.overcut, 0.0, 50.0, "mm"),
            ("thickest foam", self.thickest, 0.1, 200.0, "mm"),
            ("cutting speed", self.speed, 0.1, MOST, "mm/s"),
            ("travel speed", self.travel, 0.1, MOST, "mm/s"),
            ("lifting the blade", self.lift, 0.0, 60.0, "s"),
        ):
            if not (math.isfinite(value) and least <= value <= most):
                expected = f"{least:g} to {most:g} {unit}"
                raise InputError(f"plotter, {what}", f"{value:g} {unit}", expected)


USUAL_PLOTTER = KnifePlotter()
