"""The compiled painter of triangles and lines: depth buffer, smooth shading, no graphics card.

Screen coordinates in pixels, y downwards; a greater depth is nearer to the eye. Half-open rows and
the barycentric fill rule as in textbooks on rasterisation.
"""

import math

import numpy as np
from numba import njit

from ivory_quilt.core.nesting.kernels.cache import use_checked_files

use_checked_files()  # before any kernel is declared

SLIGHT = 1e-6  # of a triangle: what rounding may leave out between two


@njit(nogil=True, cache=True, inline="always")
def _inside(share, rise, begin, end):
    """Narrow a row's stretch to where a share that rises evenly is not below 0."""
    if rise > 0.0:
        return max(begin, (-SLIGHT - share) / rise), end
    if rise < 0.0:
        return begin, min(end, (-SLIGHT - share) / rise)
    return begin, end if share >= -SLIGHT else begin - 1.0


@njit(nogil=True, cache=True)
def paint_triangles(points, light, owner, colours, depth, picture):
    """Fill triangles.

    `points` (n, 3, 3): x, y, depth; `light` (n, 3): brightness 0..1 at the corners; `owner` (n,):
    row of `colours` (k, 3), 0..255; `depth` (h, w) and `picture` (h, w, 4) are painted on.
    """
    high, wide = depth.shape
    for k in range(len(points)):
        x0, y0, z0 = points[k, 0, 0], points[k, 0, 1], points[k, 0, 2]
        x1, y1, z1 = points[k, 1, 0], points[k, 1, 1], points[k, 1, 2]
        x2, y2, z2 = points[k, 2, 0], points[k, 2, 1], points[k, 2, 2]
        area = (x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0)
        if abs(area) < 1e-9:
            continue
        left = max(0, int(math.floor(min(x0, x1, x2))))
        right = min(wide - 1, int(math.ceil(max(x0, x1, x2))))
        top = max(0, int(math.floor(min(y0, y1, y2))))
        foot = min(high - 1, int(math.ceil(max(y0, y1, y2))))
        red, green, blue = colours[owner[k], 0], colours[owner[k], 1], colours[owner[k], 2]
        a0, a1, a2 = light[k, 0], light[k, 1], light[k, 2]
        # The corners' shares rise evenly along a row, and with them depth and light.
        rise0, rise1 = (y1 - y2) / area, (y2 - y0) / area
        rise2 = -rise0 - rise1
        deeper = rise0 * z0 + rise1 * z1 + rise2 * z2
        lighter = rise0 * a0 + rise1 * a1 + rise2 * a2
        for y in range(top, foot + 1):
            py, px = y + 0.5, left + 0.5
            w0 = ((x1 - px) * (y2 - py) - (x2 - px) * (y1 - py)) / area
            w1 = ((x2 - px) * (y0 - py) - (x0 - px) * (y2 - py)) / area
            w2 = 1.0 - w0 - w1
            begin, end = _inside(w0, rise0, 0.0, float(right - left))
            begin, end = _inside(w1, rise1, begin, end)
            begin, end = _inside(w2, rise2, begin, end)
            z_row = w0 * z0 + w1 * z1 + w2 * z2
            a_row = w0 * a0 + w1 * a1 + w2 * a2
            for step in range(int(math.ceil(begin)), int(math.floor(end)) + 1):
                x = left + step
                z = z_row + step * deeper
                if z <= depth[y, x]:
                    continue
                depth[y, x] = z
                shade = a_row + step * lighter
                picture[y, x, 0] = np.uint8(min(255.0, blue * shade))
                picture[y, x, 1] = np.uint8(min(255.0, green * shade))
                picture[y, x, 2] = np.uint8(min(255.0, red * shade))
                picture[y, x, 3] = 255


@njit(nogil=True, cache=True)
def paint_lines(points, ends, bias, red, green, blue, depth, picture):
    """Draw lines that are not hidden.

    `points` (n, 3): x, y, depth of all corners of all lines; `ends` (m, 2): rows of `points` that
    a stretch goes between; `bias` lifts lines over the faces they lie on.
    """
    high, wide = depth.shape
    for k in range(len(ends)):
        a, b = ends[k, 0], ends[k, 1]
        dx, dy = points[b, 0] - points[a, 0], points[b, 1] - points[a, 1]
        steps = int(max(abs(dx), abs(dy))) + 1
        for j in range(steps + 1):
            share = j / steps
            x = int(points[a, 0] + share * dx)
            y = int(points[a, 1] + share * dy)
            if x < 0 or y < 0 or x >= wide or y >= high:
                continue
            z = points[a, 2] + share * (points[b, 2] - points[a, 2]) + bias
            if z < depth[y, x]:
                continue
            picture[y, x, 0] = blue
            picture[y, x, 1] = green
            picture[y, x, 2] = red
            picture[y, x, 3] = 255


@njit(nogil=True, cache=True)
def average_pixels(picture, fine, averaged):
    """Put the mean of each `fine` × `fine` pixels of a picture into `averaged`, (h, w, 4)."""
    high, wide, channels = averaged.shape
    count = fine * fine
    for y in range(high):
        for x in range(wide):
            for channel in range(channels):
                total = 0
                for down in range(fine):
                    for along in range(fine):
                        total += picture[fine * y + down, fine * x + along, channel]
                averaged[y, x, channel] = (total + count // 2) // count
