"""Round outlines: what a punch cuts instead of a knife."""

import numpy as np
from shapely import LinearRing, Polygon

from ivory_quilt.core.geometry.shape import Array, Shape

OFF = 0.3  # mm that an outline may be off its circle
FEWEST = 12  # corners that a circle is drawn with at least
LARGEST = 80.0  # mm: there are no larger punches in such shops, from memory, no source


def disc_diameter(ring: Array) -> float | None:
    """Return the diameter of an outline (n, 2) that is a circle, mm; None for any other."""
    if len(ring) < FEWEST:
        return None
    centre = Polygon(ring).centroid
    far = float(np.linalg.norm(ring - np.asarray(centre.coords[0]), axis=1).max())
    near = float(LinearRing(ring).distance(centre))
    return None if far - near > OFF else 2 * far


def punches(shape: Shape) -> tuple[float | None, tuple[float, ...]]:
    """Return the punch for an outline, or None, and those for its round holes, mm.

    Only what a hand's punch cuts counts: up to `LARGEST`.
    """
    around, *holes = (disc_diameter(ring) for ring in shape.rings)
    small = tuple(d for d in holes if d is not None and d <= LARGEST)
    return (around if around is not None and around <= LARGEST else None), small
