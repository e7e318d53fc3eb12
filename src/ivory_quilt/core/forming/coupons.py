"""Test strips: what was measured, what it says, and whether the book says otherwise.

A shrink coupon is a strip measured before and after heat. A springback coupon is a strip bent to
an angle, and the angle that stays when it has cooled. Both are shares lost of what was there.
"""

from enum import StrEnum

from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.forming.shrink import CouponResult, coupon_result
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.units import show_number


class CouponKind(StrEnum):
    """What a coupon tells."""

    ALONG = "shrink along the sheet"
    ACROSS = "shrink across the sheet"
    SPRINGBACK = "springback"


_FIELD = {
    CouponKind.ALONG: "shrink_along",
    CouponKind.ACROSS: "shrink_across",
    CouponKind.SPRINGBACK: "springback",
}


class Coupon(Struct, frozen=True):
    """A set of test strips of one material, measured on one day."""

    material: str
    what: CouponKind
    date: str
    before: tuple[float, ...]
    after: tuple[float, ...]

    @property
    def result(self) -> CouponResult:
        """Mean, standard error and 95 % interval, in percent.

        Raises:
            InputError: fewer than two strips, or a length that makes no sense.
        """
        return coupon_result(self.before, self.after)


def book_value(book: FoamBook, what: CouponKind) -> float:
    """Return what the book says of a coupon's figure, percent."""
    return float(getattr(book, _FIELD[what]))


def with_coupon(book: FoamBook, coupon: Coupon) -> FoamBook:
    """Return the book with a coupon's mean.

    Raises:
        InputError: a mean that no foam has.
    """
    return replace(book, **{_FIELD[coupon.what]: round(coupon.result.mean, 3)})


def coupon_sentence(coupon: Coupon, book: FoamBook) -> str:
    """Return what a coupon says, and whether it differs from the book."""
    found, said = coupon.result, book_value(book, coupon.what)
    low, high = show_number(found.low, 2), show_number(found.high, 2)
    text = f"{show_number(found.mean, 2)} % ({low} to {high} %, 95 %)"
    told = show_number(said, 2)
    if found.differs_from(said):
        return f"{text}: differs from the book's {told} %."
    return f"{text}: the book's {told} % may be right."


def overbend(angle: float, springback: float) -> float:
    """Return the angle to bend to, degrees, so that `angle` stays after springing back."""
    return angle / (1 - springback / 100)
