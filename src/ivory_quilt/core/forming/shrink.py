"""Shrink by heat: what to cut so that it comes true, and what test strips (coupons) say of it."""

import math
from collections.abc import Sequence

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.solids import above_zero, within
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct

CONFIDENCE = 0.95  # the usual level (JCGM 100:2008, annex G)
MOST_SHRINK = 60.0  # percent; our choice: no foam shrinks more, so it is a slip of the pen


def cut_length(length: float, shrink_percent: float) -> float:
    """Return what to cut, mm, so that `length` is left after shrinking.

    Raises:
        InputError: an input makes no sense.
    """
    above_zero("length", length)
    within("shrink_percent", shrink_percent, -20, MOST_SHRINK)
    return length / (1 - shrink_percent / 100)


def shrink(length: float, shrink_percent: float) -> Reckoning:
    """Reckon a cut length.

    Raises:
        InputError: see `cut_length`.
    """
    value = cut_length(length, shrink_percent)
    formula = f"{length:g} ÷ (1 − {shrink_percent:g} ÷ 100)"
    return Reckoning(
        "shrink",
        {"length": length, "shrink_percent": shrink_percent},
        {"cut_length": value},
        (Step("cut = wanted ÷ (1 − shrink)", formula, value, "mm"),),
        "definition of shrink as a share of what was cut",
    )


def student_t(degrees_of_freedom: int) -> float:
    """Return Student's t that a 95 % interval reaches to either side."""
    from scipy.special import stdtrit  # it would cost every start a third of a second

    return float(stdtrit(degrees_of_freedom, 0.5 + CONFIDENCE / 2))


class CouponResult(Struct, frozen=True):
    """What a set of test strips says of shrink, in percent of what was cut."""

    mean: float
    standard_error: float
    low: float
    high: float
    count: int

    def differs_from(self, book: float) -> bool:
        """Return whether a book value lies outside the 95 % interval."""
        return not self.low <= book <= self.high


def coupon_result(before: Sequence[float], after: Sequence[float]) -> CouponResult:
    """Return mean shrink, its standard error and the 95 % interval of Student's t.

    Raises:
        InputError: fewer than two strips, not as many lengths, or a length that makes no sense.
    """
    if len(before) != len(after) or len(before) < 2:
        raise InputError(
            "coupon", f"{len(before)} lengths before, {len(after)} after", "as many, two or more"
        )
    for name, values in (("before", before), ("after", after)):
        for value in values:
            above_zero(name, value)
    shares = 100 * (1 - np.asarray(after, dtype=float) / np.asarray(before, dtype=float))
    n = len(shares)
    mean = float(shares.mean())
    error = float(shares.std(ddof=1)) / math.sqrt(n)
    reach = student_t(n - 1) * error
    return CouponResult(mean, error, mean - reach, mean + reach, n)


def coupon(before: tuple[float, ...], after: tuple[float, ...]) -> Reckoning:
    """Reckon shrink from test strips.

    Raises:
        InputError: see `coupon_result`.
    """
    found = coupon_result(before, after)
    t = student_t(found.count - 1)
    return Reckoning(
        "coupon",
        {"strips": found.count},
        {
            "mean_percent": found.mean,
            "standard_error": found.standard_error,
            "low": found.low,
            "high": found.high,
        },
        (
            Step("mean shrink", "Σ 100 × (1 − after ÷ before) ÷ n", found.mean, "%"),
            Step("standard error", f"s ÷ √{found.count}", found.standard_error, "%"),
            Step(f"Student's t, {found.count - 1} degrees of freedom, 95 %", "t(0.975)", t),
            Step(
                "from", f"{found.mean:.3f} − {t:.3f} × {found.standard_error:.3f}", found.low, "%"
            ),
            Step("to", f"{found.mean:.3f} + {t:.3f} × {found.standard_error:.3f}", found.high, "%"),
        ),
        "Student's t interval of a mean (Student 1908)",
    )
