import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.errors import QuantityError
from gauze.core.units import LengthUnit, format_length, format_number, parse_length, parse_number
from gauze.core.units.length import format_distance


@pytest.mark.parametrize(
    ("text", "length_mm"),
    [
        ("32", 32.0),
        ("3.2 cm", 32.0),
        ("3,2 cm", 32.0),
        (" .5 m ", 500.0),
        ("1 1/4 in", 31.75),
        ("1-1/4 in", 31.75),
        ('3/8"', 9.525),
        ("1½ in", 38.1),
        ("½ in", 12.7),
        ("5 ft 3 in", 1600.2),
        ("5' 3\"", 1600.2),
        ("1 m 20 cm", 1200.0),
        ("-4 mm", -4.0),
        ("−4", -4.0),
        ("12 INCHES", 304.8),
        ("0", 0.0),
    ],
)
def test_what_people_type_is_understood(text: str, length_mm: float) -> None:
    assert parse_length(text) == pytest.approx(length_mm)


def test_a_bare_number_is_in_the_unit_that_is_shown() -> None:
    assert parse_length("2", LengthUnit.INCH) == pytest.approx(50.8)
    assert parse_length("2 mm", LengthUnit.INCH) == pytest.approx(2.0)


@pytest.mark.parametrize(
    "text",
    ["", "  ", "wide", "12 parsecs", "1/0 in", "3 4", "1 m 20", "1..2", "--3", "5 in in", "9" * 400, "1e3", "nan", "∞"],
)
def test_nonsense_is_refused_with_an_example(text: str) -> None:
    with pytest.raises(QuantityError, match=r"Type|too large"):
        parse_length(text)


@given(st.text(max_size=80))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        value = parse_length(text)
    except QuantityError:
        return
    assert math.isfinite(value)


@given(st.floats(-5000, 5000), st.sampled_from(list(LengthUnit)))
def test_what_is_shown_reads_back(length_mm: float, unit: LengthUnit) -> None:
    tolerance = 0.051 if unit is LengthUnit.MM else 0.0005 * 25.4 + 1e-9
    assert parse_length(format_length(length_mm, unit), unit) == pytest.approx(length_mm, abs=tolerance)


def test_numbers_with_their_units() -> None:
    assert parse_number("500 lx", "lx") == 500
    assert parse_number("0,6 A", "A") == pytest.approx(0.6)
    assert parse_number("1e3", "lx") == 1000
    for text in ("", "lx", "5 W", "five", "1e999"):
        with pytest.raises(QuantityError):
            parse_number(text, "lx")


def test_numbers_are_written_with_three_figures_and_no_exponent() -> None:
    assert [format_number(value) for value in (0, 1234.5, 43.21, 0.8765, 0.01234, 100.0)] == [
        "0",
        "1230",
        "43.2",
        "0.876",
        "0.0123",
        "100",
    ]


def test_distances_across_a_room() -> None:
    assert [format_distance(value) for value in (60, 900, 12_345)] == ["60 mm", "0.9 m", "12 m"]
    assert [format_distance(value, LengthUnit.INCH) for value in (254, 3048)] == ["10.0 in", "10.0 ft"]
