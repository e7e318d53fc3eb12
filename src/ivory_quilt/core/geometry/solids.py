"""Solids that foam is bent into, and the flat figures they come from.

Lengths in mm, angles in radians unless a name says degrees. Sources are named at each function.
"""

import math

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct


def above_zero(where: str, value: float) -> float:
    """Return `value` when it is above zero.

    Raises:
        InputError: it is not.
    """
    if not value > 0:
        raise InputError(where, f"{value:g}", "a value above 0")
    return value


def within(where: str, value: float, low: float, high: float) -> float:
    """Return `value` when it lies in [low, high].

    Raises:
        InputError: it does not.
    """
    if not low <= value <= high:
        raise InputError(where, f"{value:g}", f"{low:g} to {high:g}")
    return value


def wrap_length(
    girth: float, ease: float, thickness: float, neutral: float, degrees: float
) -> float:
    """Return the flat length of foam bent around `girth` + `ease`, through `degrees`.

    Measured on the neutral line, `neutral` × thickness from the inner face, where bending neither
    stretches nor squeezes (bend allowance, as in sheet-metal handbooks).
    """
    radius = (girth + ease) / (2 * math.pi) + neutral * thickness
    return math.radians(degrees) * radius


class Sector(Struct, frozen=True):
    """A flat ring sector: the development of a cone frustum.

    Attributes:
        inner: radius of the smaller arc.
        outer: radius of the larger arc.
        degrees: the sector's angle.
    """

    inner: float
    outer: float
    degrees: float


def cone_sector(small: float, large: float, height: float) -> Sector:
    """Return the development of a frustum with end radii `small` < `large` and a height.

    The slant length is √(height² + (large − small)²); the arcs are as long as the end circles.
    Source: development of a right circular cone, as in descriptive-geometry textbooks.

    Raises:
        InputError: the radii are equal (a straight band) or out of order.
    """
    above_zero("height", height)
    if small < 0 or not small < large:
        raise InputError("cone", f"radii {small:g} and {large:g}", "two different diameters")
    slant = math.hypot(height, large - small)
    outer = slant * large / (large - small)
    return Sector(outer - slant, outer, math.degrees(2 * math.pi * large / outer))


class Cap(Struct, frozen=True):
    """A spherical cap.

    Attributes:
        sphere_radius: of the sphere it is cut from.
        angle: from its pole to its rim, as seen from the sphere's centre.
        arc: along the surface from pole to rim.
        blank_radius: of the flat disc of equal area.
    """

    sphere_radius: float
    angle: float
    arc: float
    blank_radius: float

    @property
    def meridian_strain(self) -> float:
        """How much the blank's radius stretches to become the arc from pole to rim."""
        return self.arc / self.blank_radius - 1


def spherical_cap(base_radius: float, height: float) -> Cap:
    """Return the cap over a base circle.

    Its radius is (a² + h²) ÷ 2h (intersecting chords, Euclid III.35); its area is 2πRh
    (Archimedes, On the Sphere and Cylinder I.42), that of a disc of radius √(a² + h²).

    Raises:
        InputError: a measure is not above zero.
    """
    a, h = above_zero("base radius", base_radius), above_zero("height", height)
    radius = (a * a + h * h) / (2 * h)
    angle = math.atan2(a, radius - h)
    return Cap(radius, angle, radius * angle, math.hypot(a, h))


def gore_half_width(radius: float, count: int, polar: float) -> float:
    """Return half the width of one of `count` gores at the angle `polar` from the pole.

    The parallel there is 2π·R·sin(polar) long, and every gore takes an equal share
    (Archimedes' equal division, used for globe gores).
    """
    return math.pi * radius * math.sin(polar) / count


class Pyramid(Struct, frozen=True):
    """A regular pyramid: face height, edge length, and angles in degrees."""

    face_height: float
    edge_length: float
    apex_degrees: float
    dihedral_degrees: float

    @property
    def bevel_degrees(self) -> float:
        """Bevel from a square cut at each long edge, so that two faces meet."""
        return (180.0 - self.dihedral_degrees) / 2


def regular_pyramid(sides: int, base: float, height: float) -> Pyramid:
    """Return the measures of a pyramid on a regular polygon of side `base`.

    The dihedral between two faces follows from their normals (h·cos θ, h·sin θ, ρ), ρ the base's
    inradius; for the regular tetrahedron it is arccos(1/3).

    Raises:
        InputError: fewer than three sides, or a measure not above zero.
    """
    if sides < 3:
        raise InputError("sides", f"{sides}", "3 or more")
    above_zero("base", base)
    above_zero("height", height)
    inradius = base / (2 * math.tan(math.pi / sides))
    face = math.hypot(height, inradius)
    edge = math.hypot(face, base / 2)
    cos_normals = (height**2 * math.cos(2 * math.pi / sides) + inradius**2) / face**2
    return Pyramid(
        face,
        edge,
        math.degrees(2 * math.asin(base / (2 * edge))),
        180.0 - math.degrees(math.acos(cos_normals)),
    )
