"""Lengths, areas and money: how makers type them and how they are shown.

The core counts in millimetres, square millimetres, degrees and decimal money. This module alone
knows other units.
"""

import re
from decimal import Decimal, InvalidOperation
from enum import StrEnum
from fractions import Fraction

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct

MM_PER_INCH = 25.4  # exact by definition (international yard and pound agreement, 1959)


class LengthUnit(StrEnum):
    """A unit that lengths can be shown in."""

    MM = "mm"
    CM = "cm"
    INCH = "in"
    FRACTION = "in/16"
    """Inches in whole sixteenths, as on a tape measure."""

    @property
    def word(self) -> str:
        """How it stands on rulers."""
        return "in" if self is LengthUnit.FRACTION else self.value

    @property
    def mm(self) -> float:
        """Its length in mm."""
        return _MM[self.word]


class Currency(Struct, frozen=True):
    """A currency's sign, and whether it stands before the amount."""

    sign: str = "€"
    first: bool = False

    def __post_init__(self) -> None:
        if not 0 < len(self.sign.strip()) <= 6 or any(c.isdigit() for c in self.sign):
            raise InputError("currency", f"'{self.sign}'", "a sign or a short word such as kr")

    def show(self, amount: Decimal) -> str:
        """Show an amount with two decimals.

        >>> Currency("$", first=True).show(Decimal("4.5"))
        '$4.50'
        """
        text = decimal_mark(f"{abs(amount):.2f}")
        minus = "−" if amount < 0 else ""
        if not self.first:
            return f"{minus}{text} {self.sign}"
        space = " " if self.sign[-1].isalpha() else ""
        return f"{minus}{self.sign}{space}{text}"


EURO = Currency()


class _Display:
    """How figures are shown to this maker; files never depend on it."""

    comma = False
    unit = LengthUnit.MM


def show_figures(*, comma: bool, unit: LengthUnit) -> None:
    """Show decimals with a comma or a point, and lengths in `unit`, from now on."""
    _Display.comma, _Display.unit = comma, unit


def decimal_mark(text: str) -> str:
    """Return a figure's text with the maker's decimal mark."""
    return text.replace(".", ",") if _Display.comma else text


_MM = {
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    "in": MM_PER_INCH,
    "inch": MM_PER_INCH,
    "inches": MM_PER_INCH,
    '"': MM_PER_INCH,
    "″": MM_PER_INCH,
    "ft": 12 * MM_PER_INCH,
    "foot": 12 * MM_PER_INCH,
    "feet": 12 * MM_PER_INCH,
    "'": 12 * MM_PER_INCH,
    "′": 12 * MM_PER_INCH,
}
_NUMBER = r"(?:\d+\s+\d+\s*/\s*\d+|\d+\s*/\s*\d+|\d+(?:[.,]\d+)?|[.,]\d+)"
_TERM = re.compile(rf"\s*({_NUMBER})\s*(mm|cm|m|inches|inch|in|ft|foot|feet|\"|″|'|′)?", re.I)
_EXPECTED = "a length such as 6, 6mm, 0.6cm, 1/4 in or 1' 2 1/2\""


def _number(text: str) -> float:
    """Read ``12``, ``1,5``, ``1/2`` or ``2 1/2``."""
    if "/" not in text:
        return float(text.replace(",", "."))
    *whole, fraction = re.sub(r"\s*/\s*", "/", text.strip()).split()
    try:
        return float(Fraction(fraction)) + (float(whole[0]) if whole else 0.0)
    except ZeroDivisionError:
        raise InputError("length", f"'{text}' divides by zero", _EXPECTED) from None


def parse_length(text: str, default: LengthUnit = LengthUnit.MM, *, where: str = "length") -> float:
    """Read a length as a maker types it and return millimetres.

    Accepts ``6``, ``6mm``, ``0.6cm``, ``1/4 in``, ``1' 2 1/2"``; a bare number is in `default`.

    Raises:
        InputError: the text is not a length.

    >>> parse_length('1/4 in')
    6.35
    """
    rest, total, seen = text.strip(), 0.0, False
    sign = 1.0
    if rest[:1] in "+-−" and rest:
        sign = -1.0 if rest[0] in "-−" else 1.0
        rest = rest[1:]
    while rest:
        match = _TERM.match(rest)
        if match is None or match.end() == 0:
            raise InputError(where, f"'{text}' is not a length", _EXPECTED)
        unit = (match.group(2) or "").lower()
        if not unit and (seen or match.end() != len(rest)):
            raise InputError(where, f"'{text}' is not a length", _EXPECTED)
        total += _number(match.group(1)) * _MM[unit or default.value]
        seen = True
        rest = rest[match.end() :].strip()
    if not seen:
        raise InputError(where, "the length is empty", _EXPECTED)
    return sign * total


def typed_length(text: str, *, where: str = "length") -> float:
    """Read a length out of a field and return mm: a bare number is in the unit that is shown.

    Raises:
        InputError: the text is not a length.
    """
    shown = _Display.unit
    return parse_length(
        text, LengthUnit.INCH if shown is LengthUnit.FRACTION else shown, where=where
    )


_AREAS = {
    "": 1.0,
    "mm": 1.0,
    "cm": 100.0,
    "m": 1e6,
    "in": MM_PER_INCH**2,
    "ft": (12 * MM_PER_INCH) ** 2,
}


def parse_area(text: str, *, where: str = "area") -> float:
    """Read an area and return mm²: a bare number is in mm², or with cm², m², in², ft² (or cm2).

    Raises:
        InputError: not an area.

    >>> parse_area("0.5 m2")
    500000.0
    """
    found = re.fullmatch(r"\s*([\d.,]*?)\s*(?:(mm|cm|m|in|ft)(?:²|2|\^2))?\s*", text)
    if found is None:
        raise InputError(where, f"'{text}' is not an area", "an area such as 0.5 m2 or 500000")
    return parse_scalar(found[1], where=where) * _AREAS[found[2] or ""]


def parse_lengths(text: str, *, where: str = "lengths") -> tuple[float, ...]:
    """Read lengths parted by semicolons or commas, in mm.

    Where there is a semicolon, a comma within a number is its decimal mark, as makers who write
    ``12,5; 6`` mean it.

    Raises:
        InputError: one of them is not a length, or there is none.

    >>> parse_lengths("12,5; 6")
    (12.5, 6.0)
    """
    between = r";|,\s+" if ";" in text else ","
    parts = [t for t in re.split(between, text) if t.strip()]
    if not parts:
        raise InputError(where, "the list is empty", "lengths such as 8, 5, 5, 3")
    return tuple(parse_length(t, where=where) for t in parts)


def show_length(mm: float, unit: LengthUnit | None = None, digits: int | None = None) -> str:
    """Show `mm` in `unit`, else the maker's, e.g. ``"12.5 mm"``; whole numbers lose decimals.

    >>> show_length(84.1375, LengthUnit.FRACTION)
    '3 5/16 in'
    """
    unit = unit or _Display.unit
    if unit is LengthUnit.FRACTION:
        return f"{_sixteenths(mm)} in"
    return f"{show_number(mm / unit.mm, default_digits(unit, digits))} {unit.value}"


def _sixteenths(mm: float) -> str:
    """Return inches to the nearest sixteenth: ``3 5/16``."""
    count = round(abs(mm) / MM_PER_INCH * 16)
    whole, rest = divmod(count, 16)
    part = Fraction(rest, 16)
    minus = "−" if mm < 0 and count else ""
    if not rest:
        return f"{minus}{whole}"
    return f"{minus}{whole} {part}" if whole else f"{minus}{part}"


def shown_digits() -> int:
    """Return the decimals that a field needs in the unit that is shown: a hundredth of a mm."""
    return {"mm": 2, "cm": 3, "in": 3}[_Display.unit.word]


def default_digits(unit: LengthUnit, digits: int | None = None) -> int:
    """Return the decimals a length is shown with in `unit` unless the caller says otherwise."""
    return digits if digits is not None else {"mm": 1, "cm": 2, "in": 2}[unit.word]


def show_number(value: float, digits: int) -> str:
    """Show a number with at most `digits` decimals and no trailing zeros."""
    text = f"{value:.{digits}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else decimal_mark(text)


def show_area(mm2: float) -> str:
    """Show an area in square metres, or in cm² under a tenth of a square metre."""
    return decimal_mark(f"{mm2 / 1e6:.2f} m²") if abs(mm2) >= 1e5 else f"{mm2 / 100:.0f} cm²"


def show_thickness(mm: float) -> str:
    """Show a thickness by name, e.g. ``"6 mm"`` or ``"12.7 mm"``."""
    return f"{show_number(mm, 2)} mm"


def counted(count: int, thing: str) -> str:
    """Return "1 piece" or "3 pieces" of a `thing` whose many take an s."""
    return f"{count} {thing}" if count == 1 else f"{count} {thing}s"


def show_parts(count: int) -> str:
    """Return "1 part" or "3 parts"."""
    return counted(count, "part")


def show_misfits(count: int, thing: str = "part") -> str:
    """Return that so many find no room: "1 part does not fit", "3 parts do not fit"."""
    return f"{counted(count, thing)} {'does' if count == 1 else 'do'} not fit"


def parse_money(text: str, *, where: str = "price") -> Decimal:
    """Read an amount of money (point or comma as decimal mark).

    Raises:
        InputError: not an amount, not finite, or below zero.
    """
    try:
        amount = Decimal(text.strip().replace(",", "."))
    except InvalidOperation:
        amount = Decimal("NaN")
    if not amount.is_finite() or amount < 0:
        raise InputError(where, f"'{text}' is not an amount of money", "a number such as 12.50")
    return amount


def show_money(amount: Decimal, currency: Currency = EURO) -> str:
    """Show an amount with two decimals and its currency sign."""
    return currency.show(amount)


def parse_scalar(text: str, *, where: str) -> float:
    """Read a plain finite number.

    Raises:
        InputError: not a finite number.
    """
    try:
        value = float(text.strip().replace(",", "."))
    except ValueError:
        value = float("nan")
    if not abs(value) < 1e12:
        raise InputError(where, f"'{text}' is not a number", "a number such as 1.25")
    return value


def show_weight(grams: float) -> str:
    """Return a weight in g, from a kilogram on in kg."""
    return decimal_mark(f"{grams / 1000:.1f} kg") if grams >= 999.5 else f"{grams:.0f} g"


def day_number(iso: str) -> int:
    """Return the Julian day number of an ISO date; two of them tell how many days lie between.

    H. F. Fliegel and T. C. Van Flandern, "A machine algorithm for processing calendar dates",
    Communications of the ACM 11 (1968).

    Raises:
        ValueError: it is no date.
    """
    year, month, day = (int(n) for n in iso[:10].split("-"))
    late = (month - 14) // 12 + (1 if (month - 14) % 12 else 0)  # towards zero: -1 or 0
    return (
        day
        - 32075
        + 1461 * (year + 4800 + late) // 4
        + 367 * (month - 2 - 12 * late) // 12
        - 3 * ((year + 4900 + late) // 100) // 4
    )
