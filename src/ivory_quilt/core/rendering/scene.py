"""A solid made ready for painting, and its picture as a camera sees it."""

import numpy as np
import numpy.typing as npt

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.record import Struct
from ivory_quilt.core.rendering.camera import Camera
from ivory_quilt.core.stacks.solid import Ids, Solid

LIGHT = np.array([-0.35, 0.45, 0.82]) / np.linalg.norm([-0.35, 0.45, 0.82])
AMBIENT, BRIGHT = 0.52, 0.56
MARGIN = 0.88  # of the picture that the solid fills
STRAIGHT = Camera(0.0, 0.0)
Pixels = npt.NDArray[np.uint8]
Colour = tuple[int, int, int]


class View(Struct, frozen=True):
    """How a solid is looked at, and with which colours (red, green, blue, 0 to 255) it is painted.

    Attributes:
        camera: where from.
        wide, high: the picture's size, pixels.
        layers: the colour of each of the solid's layers; fewer are taken again from the first.
        line: the colour of its rims.
        fine: how many times as finely it is painted, both ways, before pixels are averaged.
        ground: the colour of what is not foam; without one that is clear.
    """

    camera: Camera
    wide: int
    high: int
    layers: tuple[Colour, ...]
    line: Colour
    fine: int = 1
    ground: Colour | None = None


class Framing(Struct, frozen=True, eq=False):
    """How a scene fills a picture: what is known of it by whoever does not have it.

    Attributes:
        middle: (3,), where its middle is in the solid's own places, mm.
        reach: half the diagonal of its box, mm.
        thickness: of the foam of each layer, mm.
    """

    middle: Array
    reach: float
    thickness: tuple[float, ...]

    def scale(self, camera: Camera, wide: float, high: float) -> float:
        """Return how many pixels a millimetre has in a picture of that size."""
        return MARGIN * min(wide, high) / 2 / max(self.reach, 1e-6) * camera.near

    def seen(self, places: Array, camera: Camera, wide: float, high: float) -> Array:
        """Return where a picture of that size shows places of the solid, (n, 2) pixels."""
        scale = self.scale(camera, wide, high)
        flip = np.array([scale, -scale])
        found: Array = ((places - self.middle) @ camera.axes.T)[:, :2] * flip + (wide / 2, high / 2)
        return found


class Scene(Struct, frozen=True, eq=False):
    """A solid about its middle, in flat arrays.

    Attributes:
        corners: (3 n, 3), three corners of each triangle, mm.
        normals: (3 n, 3), unit normals at the corners.
        layer: (n,), which layer each triangle belongs to.
        points: (m, 3), the corners of all rims.
        ends: (k, 2), rows of `points` that each stretch of a rim goes between.
        framing: where its middle is, and how far it reaches.
    """

    corners: Array
    normals: Array
    layer: Ids
    points: Array
    ends: Ids
    framing: Framing

    @staticmethod
    def of(solid: Solid) -> "Scene":
        """Return the scene of a solid."""
        middle = solid.middle  # of all corners: reckoned once
        lines = [line - middle for line in solid.outlines]
        return Scene(
            (solid.corners - middle).reshape(-1, 3),
            solid.normals.reshape(-1, 3),
            solid.layer,
            np.vstack(lines) if lines else np.zeros((0, 3)),
            _ends([len(line) for line in lines]),
            Framing(middle, solid.reach, solid.thickness),
        )

    @staticmethod
    def flat(triangles: Array, layer: Ids, layers: int, wide: int, high: int) -> "Scene":
        """Return triangles of a flat picture, each in the very colour of its layer.

        Args:
            triangles: `(n, 3, 2)`, pixels from the upper left corner, y downwards.
            layer: `(n,)`, which of `layers` each belongs to.
            layers: how many there are.
            wide: of the picture, which is looked at with `STRAIGHT`, pixels.
            high: the same.
        """
        corners = np.zeros((3 * len(triangles), 3))
        corners[:, :2] = (triangles.reshape(-1, 2) - (wide / 2, high / 2)) * (1.0, -1.0)
        plain = np.tile(LIGHT * (1 - AMBIENT) / BRIGHT, (len(corners), 1))
        one_to_one = Framing(np.zeros(3), MARGIN * min(wide, high) / 2, (0.0,) * layers)
        no_line = (np.zeros((0, 3)), np.zeros((0, 2), np.int32))
        return Scene(corners, plain, layer.astype(np.int32), *no_line, one_to_one)


def picture(scene: Scene, view: View) -> Pixels:
    """Paint a scene: (high, wide, 4) of blue, green, red, alpha."""
    from ivory_quilt.core.rendering.raster import average_pixels, paint_lines, paint_triangles

    axes = view.camera.axes
    wide, high = view.wide * view.fine, view.high * view.fine
    scale = scene.framing.scale(view.camera, wide, high)
    depth = np.full((high, wide), -1e30)
    ground = (0, 0, 0, 0) if view.ground is None else (*reversed(view.ground), 255)
    # Four bytes at once: one by one takes longer than all triangles.
    whole = np.full((high, wide), np.array(ground, np.uint8).view(np.uint32)[0])
    pixels: Pixels = whole.view(np.uint8).reshape(high, wide, 4)
    flip = np.array([scale, -scale, scale])
    middle = np.array([wide / 2, high / 2, 0.0])
    seen = (scene.corners @ axes.T) * flip + middle
    facing = scene.normals @ axes.T
    # A face seen from behind is lit as if it faced us: foam has two sides.
    sign = np.where(facing[:, 2] < 0, -1.0, 1.0)
    light = AMBIENT + BRIGHT * np.clip((facing @ LIGHT) * sign, 0.0, 1.0)
    # As many as there are layers: of a figure that was just dressed anew there may be more.
    given = np.array(view.layers, dtype=np.float64).reshape(-1, 3)
    colours = np.resize(given, (len(scene.framing.thickness), 3))
    paint_triangles(
        seen.reshape(-1, 3, 3), light.reshape(-1, 3), scene.layer, colours, depth, pixels
    )
    run = (scene.points @ axes.T) * flip + middle
    paint_lines(run, scene.ends, 1.2 * scale, *view.line, depth, pixels)
    if view.fine == 1:
        return pixels
    averaged: Pixels = np.empty((view.high, view.wide, 4), dtype=np.uint8)
    average_pixels(pixels, view.fine, averaged)
    return averaged


def load_painter() -> None:
    """Compile the painter, or load it from the cache."""
    one = np.zeros((1, 3, 3))
    nothing = Solid(one, one.copy(), np.zeros(1, np.int32), (1.0,), (np.zeros((2, 3)),))
    picture(Scene.of(nothing), View(Camera(), 2, 2, ((255, 255, 255),), (0, 0, 0), fine=2))


def _ends(lengths: list[int]) -> Ids:
    """Return the rows that each stretch of several lines goes between."""
    after = np.cumsum([n for n in lengths if n], dtype=np.int64)
    goes_on = np.ones(sum(lengths), dtype=bool)
    goes_on[after - 1] = False
    rows = np.flatnonzero(goes_on)
    return np.column_stack((rows, rows + 1)).astype(np.int32)
