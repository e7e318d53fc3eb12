"""The sheet of paper in a picture: its corners give scale and take perspective away.

A plane seen by a camera without distortion is a homography of four points (Hartley and Zisserman,
Multiple View Geometry in Computer Vision, chapter 2).
"""

import cv2
import numpy as np
import numpy.typing as npt

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.reading.tracing.picture import Picture
from ivory_quilt.core.record import Struct

SMALLEST_SHARE = 0.15  # of the picture that the sheet must fill
STRAIGHT_SHARE = 0.96  # of the sheet's area that lies within its four corners


class PictureFrame(Struct, frozen=True):
    """How pixels become millimetres: a homography (3, 3) from (column, row) to (x, y), y upwards.

    `mm_per_pixel` is about how much one pixel shows.
    """

    matrix: Array
    mm_per_pixel: float

    def to_pixels(self, places: Array) -> Array:
        """Return places (n, 2) in mm as pixels."""
        back = np.column_stack((places, np.ones(len(places)))) @ np.linalg.inv(self.matrix).T
        return np.asarray(back[:, :2] / back[:, 2:])

    def to_mm(self, pixels: Array) -> Array:
        """Return pixel places (n, 2) in mm."""
        points = np.column_stack((pixels, np.ones(len(pixels)))) @ self.matrix.T
        return np.asarray(points[:, :2] / points[:, 2:])


def flat_frame(height: int, mm_per_pixel: float) -> PictureFrame:
    """Return the frame of a picture taken square on: the lower left corner is the origin."""
    matrix = np.array(
        [
            [mm_per_pixel, 0.0, 0.5 * mm_per_pixel],
            [0.0, -mm_per_pixel, (height - 0.5) * mm_per_pixel],
            [0.0, 0.0, 1.0],
        ]
    )
    return PictureFrame(matrix, mm_per_pixel)


def sheet_frame(corners: Array, width: float, height: float) -> PictureFrame:
    """Return the frame of a picture in which a rectangle's four corners are known.

    `corners` are (4, 2) pixels in order around the sheet. The longer side of the sheet is taken
    for the longer of `width` and `height`; the sheet's lower left corner is the origin.
    """
    ordered = _from_upper_left(corners)
    sides = np.hypot(*(np.roll(ordered, -1, axis=0) - ordered).T)
    across, down = sides[0] + sides[2], sides[1] + sides[3]
    if (across > down) != (width > height) and abs(width - height) > 1e-6:
        width, height = height, width
    real = np.array([[0, height], [width, height], [width, 0], [0, 0]], dtype=np.float64)
    matrix = _homography(ordered, real)
    return PictureFrame(matrix, 2 * (width + height) / float(sides.sum()))


def find_sheet(grey: Picture) -> Array:
    """Return the corners (4, 2) of a bright sheet on a darker ground, to a fraction of a pixel.

    Raises:
        InputError: no sheet with four straight sides is in sight as a whole.
    """
    lost = InputError(
        "picture",
        "no whole sheet with four straight edges is seen on a darker ground",
        "a picture with the whole sheet and some of the table around it",
    )
    scale = max(1.0, max(grey.shape) / 1000)
    small = cv2.resize(grey, None, fx=1 / scale, fy=1 / scale, interpolation=cv2.INTER_AREA)
    small = cv2.morphologyEx(
        cv2.GaussianBlur(small, (0, 0), 2), cv2.MORPH_CLOSE, np.ones((15, 15), np.uint8)
    )
    _, mask = cv2.threshold(small, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    found, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not found:
        raise lost
    largest = max(found, key=cv2.contourArea)
    if cv2.contourArea(largest) < SMALLEST_SHARE * small.size:
        raise lost
    hull = cv2.convexHull(largest)
    quad = _four_corners(hull)
    if quad is None or _touches_edge(quad, small.shape) or not _fills(quad, hull):
        raise lost
    rough = (quad + 0.5) * scale - 0.5
    return _refined(grey, rough)


def _four_corners(hull: cv2.typing.MatLike) -> Array | None:
    length = cv2.arcLength(hull, closed=True)
    for share in np.linspace(0.01, 0.08, 15):
        simple = cv2.approxPolyDP(hull, share * length, closed=True)
        if len(simple) == 4:
            return np.asarray(simple[:, 0, :], dtype=np.float64)
        if len(simple) < 4:
            break
    return None


def _fills(quad: Array, hull: cv2.typing.MatLike) -> bool:
    """Return whether four straight sides really are the outline."""
    return cv2.contourArea(quad.astype(np.float32)) > STRAIGHT_SHARE * cv2.contourArea(hull)


def _touches_edge(quad: Array, shape: tuple[int, ...]) -> bool:
    height, width = shape[:2]
    return bool((quad <= 1).any() or (quad >= np.array([width - 2, height - 2])).any())


def _refined(grey: Picture, corners: Array) -> Array:
    """Fit a straight line to where each side crosses half-way from table to paper."""
    smooth = cv2.GaussianBlur(grey, (0, 0), 1.0).astype(np.float32)
    lines = []
    for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True):
        lines.append(_edge_line(smooth, a, b))
    return np.array([_meeting(lines[k - 1], lines[k]) for k in range(4)])


def _edge_line(smooth: npt.NDArray[np.float32], a: Array, b: Array) -> tuple[Array, Array]:
    """Return (point, direction) of the edge near a → b."""
    along = (b - a) / np.hypot(*(b - a))
    across = np.array([-along[1], along[0]])
    reach = np.arange(-14.0, 14.5, 0.5)
    places = []
    for share in np.linspace(0.06, 0.94, 160):
        base = a + (b - a) * share
        line = base + reach[:, None] * across
        values = cv2.remap(
            smooth,
            line[:, 0].astype(np.float32)[None, :],
            line[:, 1].astype(np.float32)[None, :],
            cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_REPLICATE,
        )[0]
        low, high = np.percentile(values, 10), np.percentile(values, 90)
        if high - low < 20:
            continue
        above = values > (low + high) / 2
        flips = np.flatnonzero(above[1:] != above[:-1])
        if len(flips) == 0:
            continue
        k = int(flips[np.argmin(np.abs(flips - len(reach) / 2))])
        step = (low + high) / 2 - values[k]
        where = reach[k] + 0.5 * float(step / (values[k + 1] - values[k]))
        places.append(base + where * across)
    if len(places) < 20:
        return a, along
    points = np.array(places)
    vx, vy, x, y = cv2.fitLine(points.astype(np.float32), cv2.DIST_HUBER, 0, 0.01, 0.01).ravel()
    return np.array([x, y], dtype=np.float64), np.array([vx, vy], dtype=np.float64)


def _meeting(one: tuple[Array, Array], other: tuple[Array, Array]) -> Array:
    (p, u), (q, v) = one, other
    cross = u[0] * v[1] - u[1] * v[0]
    if abs(cross) < 1e-6:
        return p
    t = ((q - p)[0] * v[1] - (q - p)[1] * v[0]) / cross
    return np.asarray(p + t * u)


def _from_upper_left(corners: Array) -> Array:
    """Return corners clockwise as seen in the picture, from the upper left one."""
    middle = corners.mean(axis=0)
    angle = np.arctan2(corners[:, 1] - middle[1], corners[:, 0] - middle[0])
    around = corners[np.argsort(angle)]
    first = int(np.argmin(around.sum(axis=1)))
    return np.roll(around, -first, axis=0)


def _homography(pixels: Array, real: Array) -> Array:
    rows = []
    for (u, v), (x, y) in zip(pixels, real, strict=True):
        rows.append([u, v, 1, 0, 0, 0, -x * u, -x * v])
        rows.append([0, 0, 0, u, v, 1, -y * u, -y * v])
    solved = np.linalg.solve(np.array(rows), real.ravel())
    return np.append(solved, 1.0).reshape(3, 3)
