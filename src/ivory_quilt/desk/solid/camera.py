"""Looking at a solid: turned by hand, lit from over the shoulder, painted into a picture."""

import math
from dataclasses import dataclass, replace

import numpy as np
from PySide6.QtGui import QColor, QImage

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.stacks.solid import Ids, Solid

LIGHT = np.array([-0.35, 0.45, 0.82]) / np.linalg.norm([-0.35, 0.45, 0.82])
AMBIENT, BRIGHT = 0.52, 0.56
MARGIN = 0.88  # of the picture that the solid fills


@dataclass(frozen=True)
class Camera:
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


@dataclass(frozen=True)
class Paint:
    """Colours of a picture."""

    layers: Array
    line: QColor

    @staticmethod
    def of(colours: list[QColor], line: QColor) -> "Paint":
        """Return the paint of layers in `colours`."""
        rows = [[c.red(), c.green(), c.blue()] for c in colours]
        return Paint(np.array(rows, dtype=np.float64), line)


class Scene:
    """A solid made ready for painting."""

    def __init__(self, solid: Solid) -> None:
        """Flatten the solid into arrays."""
        self.solid = solid
        self.corners = (solid.corners - solid.middle).reshape(-1, 3)
        self.normals = solid.normals.reshape(-1, 3)
        lines = [line - solid.middle for line in solid.outlines]
        self.points = np.vstack(lines) if lines else np.zeros((0, 3))
        self.ends: Ids = _ends([len(line) for line in lines])

    def picture(self, camera: Camera, wide: int, high: int, paint: Paint) -> QImage:
        """Paint the solid as the camera sees it; what is not foam is clear."""
        from ivory_quilt.desk.solid.raster import paint_lines, paint_triangles

        axes = camera.axes
        scale = MARGIN * min(wide, high) / 2 / max(self.solid.reach, 1e-6) * camera.near
        depth = np.full((high, wide), -1e30)
        pixels = np.zeros((high, wide, 4), dtype=np.uint8)
        flip = np.array([scale, -scale, scale])
        middle = np.array([wide / 2, high / 2, 0.0])
        seen = (self.corners @ axes.T) * flip + middle
        facing = self.normals @ axes.T
        # A face seen from behind is lit as if it faced us: foam has two sides.
        sign = np.where(facing[:, 2] < 0, -1.0, 1.0)
        light = AMBIENT + BRIGHT * np.clip((facing @ LIGHT) * sign, 0.0, 1.0)
        paint_triangles(
            seen.reshape(-1, 3, 3),
            light.reshape(-1, 3),
            self.solid.layer,
            paint.layers,
            depth,
            pixels,
        )
        run = (self.points @ axes.T) * flip + middle
        colour = paint.line
        paint_lines(
            run, self.ends, 1.2 * scale, colour.red(), colour.green(), colour.blue(), depth, pixels
        )
        image = QImage(pixels.data, wide, high, 4 * wide, QImage.Format.Format_ARGB32_Premultiplied)
        return image.copy()


def _ends(lengths: list[int]) -> Ids:
    """Return the rows that each stretch of several lines goes between."""
    made, first = [], 0
    for length in lengths:
        rows = np.arange(first, first + length - 1)
        made.append(np.column_stack((rows, rows + 1)))
        first += length
    return np.vstack(made).astype(np.int32) if made else np.zeros((0, 2), np.int32)


def warm_up() -> None:
    """Load the compiled painter; may run on any thread."""
    one = np.zeros((1, 3, 3))
    nothing = Solid(one, one.copy(), np.zeros(1, np.int32), (1.0,), (np.zeros((2, 3)),))
    Scene(nothing).picture(Camera(), 2, 2, Paint.of([QColor("white")], QColor("black")))
