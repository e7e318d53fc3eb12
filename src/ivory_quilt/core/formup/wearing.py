"""The wearer's figure with all formed groups on it, and what lies between them."""

from ivory_quilt.core.formup.choices import Worn
from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.core.formup.skin import solid_of_suit
from ivory_quilt.core.formup.standing import Between, between, legs_apart, stand
from ivory_quilt.core.measure.figure import figure_of
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stacks.solid import Solid


class Garment(Struct, frozen=True, eq=False):
    """A formed group that is to be worn: where, and on which sides.

    Attributes:
        sides: 1 right, -1 left, 0 in the middle: one shape for each.
        drawn: the side that the shape is of; on the other one it is mirrored.
    """

    name: str
    shape: FormedShape
    worn: Worn
    sides: tuple[int, ...]
    drawn: int


class Nearness(Struct, frozen=True):
    """What lies between groups on a figure.

    Attributes:
        between: pairs of groups that lie near each other, the nearest first.
        guessed: measures of the figure that were not taken.
        legs: least distance between what is on the two legs, mm; None where one is bare.
    """

    between: tuple[Between, ...]
    guessed: tuple[str, ...]
    legs: float | None


def put_on(wearer: Wearer, garments: tuple[Garment, ...]) -> tuple[Solid, Nearness]:
    """Return the figure with garments on it, in the axes of a picture from the front.

    Raises:
        InputError: the wearer's measures do not make a figure.
    """
    figure = figure_of(wearer)
    standing = tuple(
        stand(g.name, g.shape, figure, g.worn, side, g.drawn) for g in garments for side in g.sides
    )
    body = [(limb.vertices, limb.triangles) for limb in figure.limbs]
    solid = solid_of_suit([s.shape for s in standing], body)
    return solid, Nearness(between(standing), figure.guessed, legs_apart(standing))
