from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.units import (
    Currency,
    LengthUnit,
    parse_area,
    parse_length,
    parse_money,
    parse_scalar,
    show_area,
    show_figures,
    show_length,
    show_money,
    show_number,
    show_thickness,
)


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("6", 6.0),
        ("6mm", 6.0),
        ("0.6cm", 6.0),
        ("0,6 cm", 6.0),
        ("1/4 in", 6.35),
        ('1/2"', 12.7),
        ("1' 2 1/2\"", 368.3),
        ("3 1/2 in", 88.9),
        ("-3mm", -3.0),
        ("1.5m", 1500.0),
        (".5 in", 12.7),
    ],
)
def test_lengths_as_makers_type_them(text, mm):
    assert parse_length(text) == pytest.approx(mm, abs=1e-9)


@pytest.mark.parametrize("text", ["", "six", "6 x", "1/0 in", "6 6 6", "mm", "1 2", "5 mm 3"])
def test_what_is_no_length_is_refused_with_an_example(text):
    with pytest.raises(InputError, match="length"):
        parse_length(text)


def test_a_bare_number_is_in_the_default_unit():
    assert parse_length("2", LengthUnit.INCH) == 50.8


DECIMAL_UNITS = [LengthUnit.MM, LengthUnit.CM, LengthUnit.INCH]


@given(st.floats(0, 9999, allow_nan=False), st.sampled_from(DECIMAL_UNITS))
def test_shown_lengths_read_back(mm, unit):
    shown = show_length(mm, unit, digits=6)
    assert parse_length(shown) == pytest.approx(mm, abs=1e-3)


@given(st.floats(0, 9999, allow_nan=False))
def test_fractions_of_an_inch_read_back_within_half_a_sixteenth(mm):
    assert parse_length(show_length(mm, LengthUnit.FRACTION)) == pytest.approx(mm, abs=25.4 / 32)


def test_fractions_are_in_lowest_terms():
    shown = [show_length(25.4 * n / 16, LengthUnit.FRACTION) for n in (0, 1, 8, 16, 36)]
    assert shown == ["0 in", "1/16 in", "1/2 in", "1 in", "2 1/4 in"]


def test_figures_are_shown_as_the_maker_likes():
    show_figures(comma=True, unit=LengthUnit.CM)
    assert show_length(12.5) == "1,25 cm"
    assert parse_length(show_length(12.5)) == 12.5
    assert show_area(2.5e6) == "2,50 m²"
    assert Currency("kr").show(Decimal("-4.5")) == "−4,50 kr"
    assert Currency("$", first=True).show(Decimal(3)) == "$3,00"
    assert Currency("CHF", first=True).show(Decimal(3)) == "CHF 3,00"


@pytest.mark.parametrize("sign", ["", "  ", "12", "far too long"])
def test_what_is_no_currency_is_refused(sign):
    with pytest.raises(InputError, match="currency"):
        Currency(sign)


def test_areas_take_their_unit():
    assert parse_area("0.5 m2") == 5e5
    assert parse_area("12") == 12
    assert parse_area("2 in²") == pytest.approx(2 * 25.4**2)
    with pytest.raises(InputError):
        parse_area("half a sheet")


def test_shown_numbers_have_no_needless_zeros():
    assert show_number(12.50, 3) == "12.5"
    assert show_number(100.0, 2) == "100"
    assert show_number(-0.001, 1) == "0"
    assert show_thickness(12.7) == "12.7 mm"
    assert show_area(250_000) == "0.25 m²"
    assert show_area(5_000) == "50 cm²"


def test_money():
    assert parse_money("12,50") == Decimal("12.50")
    assert show_money(Decimal("3.1")) == "3.10 €"
    for wrong in ("-1", "ten", "NaN", "Infinity"):
        with pytest.raises(InputError, match="money"):
            parse_money(wrong)


def test_scalars_must_be_finite():
    assert parse_scalar("1,25", where="x") == 1.25
    for wrong in ("nan", "inf", "1e99", "x"):
        with pytest.raises(InputError, match="x"):
            parse_scalar(wrong, where="x")
