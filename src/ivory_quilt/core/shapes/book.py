"""All makers of shapes, by id."""

from collections.abc import Mapping

from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.shapes.flats import FLATS
from ivory_quilt.core.shapes.horns import HORNS
from ivory_quilt.core.shapes.maker import ShapeMaker
from ivory_quilt.core.shapes.rounds import ROUNDS
from ivory_quilt.core.shapes.straights import STRAIGHTS

MAKERS: Mapping[str, ShapeMaker] = {m.id: m for m in (*FLATS, *ROUNDS, *HORNS, *STRAIGHTS)}


def maker(ident: str) -> ShapeMaker:
    """Return a maker by its id.

    Raises:
        InputError: there is none.
    """
    if ident not in MAKERS:
        raise InputError("shape", f"no shape '{ident}'{nearest(ident, MAKERS)}", ", ".join(MAKERS))
    return MAKERS[ident]
