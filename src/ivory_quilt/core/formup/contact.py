"""What a shell is pressed on: one-sided contact without friction, and the hands that press.

Below half its thickness from the former the middle surface is pushed out, stiffly; a little beyond
it, it is drawn in, softly, so that what can lie on the former does, and what cannot stands off.
"""

from typing import Protocol

import numpy as np

from ivory_quilt.core.formup.assembly import Array, Ints
from ivory_quilt.core.formup.kernels import breath_energy, contact_energy
from ivory_quilt.core.record import Struct

STIFF = 0.3  # of the foam's own stiffness in its plane, per area of an edge's length squared
REACH = 4.0  # halves of the thickness: hands press down what lies that near, not what stands off
PRESSED = 0.01
"""Of the stiffness of contact: hands press evenly, and let go where the foam does not follow."""


FIRMLY = (0.2, 1e3)
"""The same, pressed down everywhere: what foam would have to give to lie on all of it."""


class Press(Protocol):
    """What a shell is pressed by, beside its own stiffness."""

    def add(self, places: Array, slope: Array) -> float:
        """Add the slope of its energy to `slope`; return the energy."""


class Surface(Protocol):
    """A body that says how far outside points are."""

    def away(self, places: Array) -> tuple[Array, Array]:
        """Return how far outside each point is, mm, and the direction outwards, `(n, 3)`."""


class Ball(Struct, frozen=True):
    """A sphere around the origin."""

    radius: float

    def away(self, places: Array) -> tuple[Array, Array]:
        """See `Surface`."""
        far = np.maximum(np.linalg.norm(places, axis=1), 1e-9)
        return far - self.radius, places / far[:, None]


class Tube(Struct, frozen=True):
    """A cylinder along the z axis."""

    radius: float

    def away(self, places: Array) -> tuple[Array, Array]:
        """See `Surface`."""
        flat = places * (1.0, 1.0, 0.0)
        far = np.maximum(np.linalg.norm(flat, axis=1), 1e-9)
        return far - self.radius, flat / far[:, None]


class Contact(Struct):
    """Contact of a shell's vertices with a body."""

    surface: Surface
    half: Array
    """Half the thickness at each vertex, mm."""
    stiffness: Array
    """Of contact at each vertex, by its share of area."""
    pressed: float = PRESSED
    reach: float = REACH

    def stands_off(self, places: Array) -> Array:
        """Return how far each vertex's inner face stands off the body, mm; below 0: inside it."""
        far, _ = self.surface.away(places)
        found: Array = far - self.half
        return found

    def deepest(self, places: Array) -> float:
        """Return how deep the former stands in the foam, as a share of half its thickness."""
        return float(np.max(-self.stands_off(places) / self.half))

    def bent(self, places: Array) -> tuple[Array, Array]:
        """Return how stiffly each vertex is held along its way outwards, and that way."""
        far, out = self.surface.away(places)
        return np.where(far < self.half, self.stiffness, self.pressed * self.stiffness), out

    def add(self, places: Array, slope: Array) -> float:
        """Add the slope of contact to `slope`; return its energy."""
        far, out = self.surface.away(places)
        known = (self.half, self.stiffness, self.pressed, self.reach)
        return float(contact_energy(far, out, *known, slope))


class Breath(Struct):
    """Air that is blown in at the start, so that dents come out: pressure on all outer faces."""

    triangles: Ints
    pressure: float
    """In the foam's Young's modulus."""

    def add(self, places: Array, slope: Array) -> float:
        """Add the slope of pressure to `slope`; return its energy: less, the more is inside."""
        return float(breath_energy(places, self.triangles, self.pressure, slope))
