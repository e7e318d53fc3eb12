"""Intervals in two arrays, low and high: sorted, united, and given room for more."""

import numpy as np
from numba import njit

from ivory_quilt.core.nesting.kernels.geometry import GUARD

INTERVALS = 1024  # room to begin with; more is made where a slice needs it
SHORT_SORT = 128  # intervals; up to here moving them up one by one is quickest


@njit(nogil=True, cache=True)
def merge(low, high, start, n):
    """Sort intervals [start:n] by their low end and unite those that touch; return the new n."""
    if n - start > SHORT_SORT:
        order = np.argsort(low[start:n]) + start
        low[start:n], high[start:n] = low[order], high[order]
    for k in range(start + 1, n):
        a, b = low[k], high[k]
        m = k - 1
        while m >= start and low[m] > a:
            low[m + 1], high[m + 1] = low[m], high[m]
            m -= 1
        low[m + 1], high[m + 1] = a, b
    if n == start:
        return n
    m = start
    for k in range(start + 1, n):
        if low[k] <= high[m] + GUARD:
            high[m] = max(high[m], high[k])
        else:
            m += 1
            low[m], high[m] = low[k], high[k]
    return m + 1


@njit(nogil=True, cache=True)
def roomier(values):
    """Return a copy with room for twice as many."""
    more = np.zeros(2 * len(values))
    more[: len(values)] = values
    return more
