"""The compiled painter of triangles and lines: depth buffer, smooth shading, no graphics card.

Screen coordinates in pixels, y downwards; a greater depth is nearer to the eye. Half-open rows and
the barycentric fill rule as in textbooks on rasterisation.
"""

import math

import numpy as np
from numba import njit

from ivory_quilt.core.nesting.kernels.cache import use_checked_files

use_checked_files()  # before any kernel is declared


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
        for y in range(top, foot + 1):
            py = y + 0.5
            for x in range(left, right + 1):
                px = x + 0.5
                w0 = ((x1 - px) * (y2 - py) - (x2 - px) * (y1 - py)) / area
                w1 = ((x2 - px) * (y0 - py) - (x0 - px) * (y2 - py)) / area
                w2 = 1.0 - w0 - w1
                if w0 < -1e-6 or w1 < -1e-6 or w2 < -1e-6:
                    continue
                z = w0 * z0 + w1 * z1 + w2 * z2
                if z <= depth[y, x]:
                    continue
                depth[y, x] = z
                shade = w0 * a0 + w1 * a1 + w2 * a2
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
