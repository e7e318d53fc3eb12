"""Where a solid is looked at from: turned by hand, nearer or further."""

import math

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.record import Struct, replace


class Camera(Struct, frozen=True):
    """Where the eye is: turned about the upright axis, then tilted; degrees.

    At `turn` 0 and `tilt` 0 one looks at the outer face, the piece upright as it is drawn.
    """

    turn: float = -28.0
    tilt: float = -22.0
    near: float = 1.0

    def turned(self, across: float, up: float) -> "Camera":
        """Return the camera moved by hand, degrees."""
        tilt = min(max(self.tilt + up, -89.0), 89.0)
        return replace(self, turn=(self.turn + across + 180) % 360 - 180, tilt=tilt)

    def zoomed(self, factor: float) -> "Camera":
        """Return the camera nearer or further."""
        return replace(self, near=min(max(self.near * factor, 0.3), 12.0))

    @property
    def axes(self) -> Array:
        """Rows: right, up and towards the eye, in the solid's coordinates."""
        a, b = math.radians(self.turn), math.radians(self.tilt)
        about = np.array([[math.cos(a), 0, math.sin(a)], [0, 1, 0], [-math.sin(a), 0, math.cos(a)]])
        tilted = np.array(
            [[1, 0, 0], [0, math.cos(b), math.sin(b)], [0, -math.sin(b), math.cos(b)]]
        )
        return np.asarray(tilted @ about)
