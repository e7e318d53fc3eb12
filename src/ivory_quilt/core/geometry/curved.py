"""How much of an outline a straight edge cannot guide a knife along."""

import numpy as np
from shapely import LinearRing

from ivory_quilt.core.geometry.shape import Array, Shape

GUIDED = 60.0  # mm: along a shorter side that bends on nobody lays a straight edge, from memory
OFF = 0.5  # mm that a cut may leave its line
CORNER = 55.0  # degrees: what turns by more is a corner, not a curve; a hexagon has six


def curved_length(shape: Shape) -> float:
    """Return how much of all outlines is curved, mm.

    The outline is simplified (Douglas and Peucker 1973) by what a cut may be off. Sides that are
    short and bend on at an end are curved; one short side between two long ones is a chamfer.
    """
    return sum(_curved(ring) for ring in shape.rings)


def _curved(ring: Array) -> float:
    line = LinearRing(ring)
    plain = np.asarray(line.simplify(OFF).coords)
    steps = np.diff(plain, axis=0)
    sides = np.linalg.norm(steps, axis=1)
    ways = np.arctan2(steps[:, 1], steps[:, 0])
    turns = np.degrees(np.abs((np.roll(ways, -1) - ways + np.pi) % (2 * np.pi) - np.pi))
    bends_on = (turns < CORNER) | (np.roll(turns, 1) < CORNER)
    curved = (sides < GUIDED) & bends_on
    lone = curved & ~np.roll(curved, 1) & ~np.roll(curved, -1)
    share = float(sides[curved & ~lone].sum() / sides.sum())
    return share * float(line.length)
