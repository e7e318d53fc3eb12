from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.units import (
    LengthUnit,
    parse_length,
    parse_money,
    parse_scalar,
    show_area,
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


@given(st.floats(0, 9999, allow_nan=False), st.sampled_from(list(LengthUnit)))
def test_shown_lengths_read_back(mm, unit):
    shown = show_length(mm, unit, digits=6)
    assert parse_length(shown) == pytest.approx(mm, abs=1e-3)


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
