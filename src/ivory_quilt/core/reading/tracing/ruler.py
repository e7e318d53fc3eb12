"""A ruler or check bar in a picture: its ticks counted along a line, which gives the scale.

The line's brightness is sampled across a narrow band; dark ticks are found to a fraction of a
pixel and fitted as evenly spaced by least squares.
"""

import math

import cv2
import numpy as np
from scipy.signal import find_peaks

from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.reading.tracing.picture import Picture, TickRow

LEAST_TICKS = 4
LEAST_PIXELS = 3.0  # between two ticks
UNEVEN = 0.12  # of the spacing, rms: more is no ruler
BAND = 3  # pixels to either side of the line
LEAST_DARK = 0.25  # of the darkest tick: fainter dips are noise


def find_ticks(grey: Picture, start: Point, stop: Point) -> TickRow | None:
    """Return the ticks that a line from `start` to `stop` (column, row) crosses, or None.

    Args:
        grey: (h, w), 8 bits.
        start, stop: ends of a line laid across the ticks.
    """
    length = math.dist(start, stop)
    if length < LEAST_TICKS * LEAST_PIXELS:
        return None
    dark = _profile(grey, start, stop, length)
    dark = np.clip(dark - np.percentile(dark, 40), 0, None)
    if dark.max() < 10:
        return None
    peaks, _ = find_peaks(dark, height=LEAST_DARK * dark.max(), distance=LEAST_PIXELS)
    if len(peaks) < LEAST_TICKS:
        return None
    at = np.array([_middle(dark, int(p)) for p in peaks])
    return _evenly(at)


def _profile(grey: Picture, start: Point, stop: Point, length: float) -> Array:
    """Return how dark the picture is along a line, one value a pixel, mean of a narrow band."""
    n = math.ceil(length) + 1
    share = np.linspace(0.0, 1.0, n)
    dx, dy = (stop[0] - start[0]) / length, (stop[1] - start[1]) / length
    total = np.zeros(n)
    for away in range(-BAND, BAND + 1):
        x = start[0] + share * (stop[0] - start[0]) - dy * away
        y = start[1] + share * (stop[1] - start[1]) + dx * away
        row = cv2.remap(
            grey,
            x.astype(np.float32)[None],
            y.astype(np.float32)[None],
            cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_REPLICATE,
        )
        total += 255.0 - row[0]
    return np.asarray(total / (2 * BAND + 1))


def _middle(dark: Array, peak: int) -> float:
    """Return a tick's middle to a fraction of a pixel: the centre of its darkness."""
    low, high = max(0, peak - 2), min(len(dark), peak + 3)
    weight = dark[low:high]
    return float((weight * np.arange(low, high)).sum() / weight.sum())


def _evenly(at: Array) -> TickRow | None:
    """Fit places as k · spacing; ticks that were missed are stepped over."""
    spacing = float(np.median(np.diff(at)))
    k = np.round((at - at[0]) / spacing)
    for _ in range(3):
        slope, first = np.polyfit(k, at, 1)
        k = np.round((at - first) / slope)
    off = at - (first + slope * k)
    spread = float(np.sqrt(np.mean(off**2)))
    missed = int(k[-1] - k[0]) + 1 - len(np.unique(k))
    if spread > UNEVEN * slope or missed > 0.25 * len(at) or len(np.unique(k)) < len(k):
        return None
    return TickRow(int(k[-1] - k[0]) + 1, float(slope), spread)
