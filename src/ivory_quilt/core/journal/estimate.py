"""Estimates from few observations, of which one may be wild.

An observation whose modified z-score, 0.6745 × (x − median) ÷ MAD, is above 3.5 is left out: B.
Iglewicz and D. C. Hoaglin, "How to Detect and Handle Outliers", ASQC (1993). Of the rest comes the
mean with Student's interval of 95 %. With fewer than four nobody can tell which one is wild: none
is left out, and the interval is as wide as that.
"""

import math
from collections.abc import Sequence
from itertools import pairwise
from statistics import fmean, median, stdev

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.shrink import CONFIDENCE, student_t
from ivory_quilt.core.record import Struct

WILD = 3.5
NORMAL_MAD, NORMAL_AD = 0.6745, 1.253314  # of a normal distribution's standard deviation
FEWEST_TO_JUDGE = 4


class Estimate(Struct, frozen=True):
    """A value with its 95 % interval.

    Attributes:
        count: observations that it rests on.
        wild: how many were left out.
    """

    value: float
    low: float
    high: float
    count: int
    wild: int = 0

    def differs_from(self, value: float) -> bool:
        """Return whether the interval leaves a value out."""
        return not self.low <= value <= self.high


def kept_observations(values: Sequence[float]) -> tuple[float, ...]:
    """Return observations without wild ones."""
    if len(values) < FEWEST_TO_JUDGE:
        return tuple(values)
    middle = median(values)
    off = [abs(v - middle) for v in values]
    spread = median(off) / NORMAL_MAD
    if spread <= 0:  # more than half are alike: the mean deviation judges instead
        spread = fmean(off) * NORMAL_AD
    if spread <= 0:
        return tuple(values)
    return tuple(v for v, d in zip(values, off, strict=True) if d / spread <= WILD)


def mean_estimate(values: Sequence[float]) -> Estimate:
    """Return the mean of what is not wild, with its interval.

    Raises:
        InputError: fewer than two observations.
    """
    kept = kept_observations(values)
    if len(kept) < 2:
        raise InputError("observations", f"{len(kept)} of them", "two or more")
    mean = fmean(kept)
    reach = student_t(len(kept) - 1) * stdev(kept) / math.sqrt(len(kept))
    return Estimate(mean, mean - reach, mean + reach, len(kept), len(values) - len(kept))


def ratio_estimate(ratios: Sequence[float]) -> Estimate:
    """Return the geometric mean of ratios above zero: half as long weighs as twice as long.

    Raises:
        InputError: fewer than two observations.
    """
    logs = [math.log(r) for r in ratios if r > 0]
    made = mean_estimate(logs)
    return Estimate(
        math.exp(made.value), math.exp(made.low), math.exp(made.high), made.count, made.wild
    )


def share_estimate(some: float, of: float) -> Estimate:
    """Return a share with the exact interval of a binomial: C. J. Clopper and E. S. Pearson,
    Biometrika 26 (1934).

    Raises:
        InputError: none were observed.
    """
    from scipy.special import betaincinv  # it would cost every start a third of a second

    if of < 1 or not 0 <= some <= of:
        raise InputError("observations", f"{some:g} of {of:g}", "some of one or more")
    tail = (1 - CONFIDENCE) / 2
    low = float(betaincinv(some, of - some + 1, tail)) if some else 0.0
    high = float(betaincinv(some + 1, of - some, 1 - tail)) if some < of else 1.0
    return Estimate(some / of, low, high, int(of))


def limit_estimate(held: Sequence[float], failed: Sequence[float]) -> Estimate:
    """Return up to where something holds: the threshold that contradicts the fewest trials.

    One wild trial moves it not, as long as others say better. The interval reaches from the
    trial next below to the one next above.

    Raises:
        InputError: nothing held, or nothing failed.
    """
    if not held or not failed:
        raise InputError("trials", "all came out alike", "some that held and some that did not")
    places = sorted({*held, *failed})
    cuts = [0.0, *((a + b) / 2 for a, b in pairwise(places)), places[-1]]

    def contradicted(cut: float) -> int:
        return sum(h > cut for h in held) + sum(f <= cut for f in failed)

    least = min(contradicted(c) for c in cuts)
    best = [c for c in cuts if contradicted(c) == least]
    middle = best[len(best) // 2]
    below = [p for p in places if p <= min(best)]
    above = [p for p in places if p > max(best)]
    low, high = (below[-1] if below else 0.0), (above[0] if above else places[-1])
    return Estimate(middle, low, high, len(held) + len(failed), least)
