"""A stroke of the hand pulled onto what a picture shows beside it.

Method: at every step along the stroke, places across it are weighed by how plainly the picture has
an edge or a line there; the path of least cost through them is found by dynamic programming
(Viterbi 1967; as active contours were first solved, Amini, Weymouth and Jain 1990).
"""

from enum import StrEnum

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import along_line, corners_along
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.reading.tracing.picture import Picture

HALF = 0.5  # px between two places across the stroke
STEP = 1.0  # px along the stroke
MOST_STEPS = 6000
MOST_REACH = 60.0  # px
STIFF = 0.6  # cost of going one place sideways in one step, of what the plainest place gains
BLUR = np.array([1.0, 4.0, 6.0, 4.0, 1.0]) / 16  # binomial, about 1 px
PLAIN = 6.0  # grey levels that a place must differ by to pull at all (our choice)


class Follows(StrEnum):
    """What a stroke is pulled to."""

    HAND = "hand"
    EDGE = "edge"
    LINE = "line"


def followed(picture: Picture, stroke: Array, reach: float, what: Follows) -> Array:
    """Return a stroke pulled onto the picture's edges or lines.

    Args:
        picture: grey (h, w), 0 black.
        stroke: points (m, 2) in pixels, x to the right, y down, (0, 0) the middle of the first.
        reach: how far to each side it is pulled, px.
        what: edges between light and dark, or the middle of dark lines.

    Returns:
        Points (n, 2), a pixel apart; the stroke as it was where it follows the hand alone.

    Raises:
        InputError: the stroke is too long to be followed.
    """
    long = float(corners_along(stroke)[-1])
    if what is Follows.HAND or long < 4 * STEP:
        return stroke
    if long > MOST_STEPS * STEP:
        raise InputError("stroke", f"{long:.0f} pixels long", f"at most {MOST_STEPS:.0f}")
    many = max(5, round(long / STEP) + 1)
    line = along_line(stroke, np.linspace(0.0, long, many))
    across = _across(line)
    far = min(max(reach, 2.0), MOST_REACH)
    off = np.arange(-far, far + HALF / 2, HALF)
    places = line[:, None, :] + off[None, :, None] * across[:, None, :]
    gain = _gain(picture, places, across, what)
    if gain.max() <= 0:
        return stroke
    chosen = _best_way(gain / gain.max())
    return np.asarray(line + off[chosen][:, None] * across)


def _across(line: Array) -> Array:
    """Return unit vectors across a line, smoothed along it so that they do not cross nearby."""
    along = np.gradient(line, axis=0)
    width = min(9, len(line) // 2 * 2 - 1)
    kernel = np.ones(width) / width
    padded = np.pad(along, ((width // 2, width // 2), (0, 0)), mode="edge")
    smooth = np.column_stack([np.convolve(padded[:, k], kernel, "valid") for k in (0, 1)])
    long = np.maximum(np.hypot(smooth[:, 0], smooth[:, 1]), 1e-9)
    return np.asarray(np.column_stack((-smooth[:, 1], smooth[:, 0])) / long[:, None])


def _gain(picture: Picture, places: Array, across: Array, what: Follows) -> Array:
    """Return how plainly the picture has an edge or a line at each place, 0 or more."""
    x0, y0 = np.floor(places.min(axis=(0, 1))).astype(int) - 6
    x1, y1 = np.ceil(places.max(axis=(0, 1))).astype(int) + 7
    high, wide = picture.shape
    x0, y0, x1, y1 = max(x0, 0), max(y0, 0), min(x1, wide), min(y1, high)
    if x1 - x0 < 8 or y1 - y0 < 8:
        return np.zeros(places.shape[:2])
    grey = _blurred(picture[y0:y1, x0:x1].astype(np.float64))
    inside = places - (x0, y0)
    step = across[:, None, :]
    here = _levels(grey, inside)
    if what is Follows.EDGE:
        slope = np.abs(_levels(grey, inside + step) - _levels(grey, inside - step))
    else:  # darker than both sides a little off
        sides = np.minimum(_levels(grey, inside + 3 * step), _levels(grey, inside - 3 * step))
        slope = sides - here
    within = (inside >= 0).all(axis=2) & (inside <= (x1 - x0 - 1, y1 - y0 - 1)).all(axis=2)
    return np.where(within & (slope > PLAIN), slope, 0.0)


def _blurred(grey: Array) -> Array:
    for axis in (0, 1):
        pad = [(2, 2) if k == axis else (0, 0) for k in (0, 1)]
        wide = np.pad(grey, pad, mode="edge")
        n = grey.shape[axis]
        parts = [
            weight * np.take(wide, np.arange(k, k + n), axis=axis) for k, weight in enumerate(BLUR)
        ]
        grey = np.asarray(np.sum(parts, axis=0))
    return np.asarray(grey)


def _levels(grey: Array, places: Array) -> Array:
    """Return a picture's levels between its pixels (bilinear); outside, those of its rim."""
    high, wide = grey.shape
    x = np.clip(places[..., 0], 0, wide - 1.001)
    y = np.clip(places[..., 1], 0, high - 1.001)
    i, j = x.astype(int), y.astype(int)
    u, v = x - i, y - j
    top = grey[j, i] * (1 - u) + grey[j, i + 1] * u
    low = grey[j + 1, i] * (1 - u) + grey[j + 1, i + 1] * u
    return np.asarray(top * (1 - v) + low * v)


def _best_way(gain: Array) -> np.ndarray:
    """Return for each step the place across that the way of least cost goes through."""
    steps, many = gain.shape
    middle = (many - 1) / 2
    # Of two places as plain, the one nearer to the hand.
    cost = 1.0 - gain + 0.15 * (np.abs(np.arange(many) - middle) / middle) ** 2
    best = cost[0].copy()
    came = np.zeros((steps, many), dtype=np.int8)
    for k in range(1, steps):
        ways = np.full((3, many), np.inf)
        ways[1] = best
        ways[0, 1:] = best[:-1] + STIFF
        ways[2, :-1] = best[1:] + STIFF
        way = ways.argmin(axis=0)
        came[k] = way - 1
        best = ways[way, np.arange(many)] + cost[k]
    chosen = np.empty(steps, dtype=int)
    chosen[-1] = int(best.argmin())
    for k in range(steps - 1, 0, -1):
        chosen[k - 1] = chosen[k] + came[k, chosen[k]]
    return chosen
