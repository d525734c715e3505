"""Lengths: typed in any unit, kept in millimetres, shown in millimetres or inches."""

import enum
import re
from fractions import Fraction

from gauze.core.errors import QuantityError
from gauze.core.units.number import to_float

MM_PER_INCH = 25.4  # exact: international inch, 1959


class LengthUnit(enum.Enum):
    """The unit in which lengths are shown, and taken when none is typed."""

    MM = "mm"
    INCH = "in"


_MM_PER_UNIT = {
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    "in": MM_PER_INCH,
    "inch": MM_PER_INCH,
    "inches": MM_PER_INCH,
    '"': MM_PER_INCH,
    "″": MM_PER_INCH,
    "''": MM_PER_INCH,
    "ft": 12 * MM_PER_INCH,
    "'": 12 * MM_PER_INCH,
    "′": 12 * MM_PER_INCH,
}
_VULGAR = {"½": " 1/2", "¼": " 1/4", "¾": " 3/4", "⅛": " 1/8", "⅜": " 3/8", "⅝": " 5/8", "⅞": " 7/8"}
_LONGEST_TEXT = 60  # characters; anything longer is a slip of the clipboard
_TERM = re.compile(
    r"\s*(?P<sign>[+-]?)\s*"
    r"(?:(?:(?P<whole>\d+)[\s-]+)?(?P<numerator>\d+)\s*/\s*(?P<denominator>\d+)"
    r"|(?P<decimal>\d+(?:[.,]\d*)?|[.,]\d+))"
    r"\s*(?P<unit>mm|cm|m|inches|inch|in|ft|''|[\"″'′])?",
    re.IGNORECASE,
)


def parse_length(text: str, default_unit: LengthUnit = LengthUnit.MM) -> float:
    """Read a length in millimetres from what a person typed.

    Understood are decimals with point or comma, fractions and mixed numbers (``1 1/4 in``,
    ``3/8"``), any of mm, cm, m, in, ft, and sums of terms with units (``5 ft 3 in``, ``1 m 20 cm``).

    Raises
    ------
    QuantityError
        When the text is no length, has an unknown unit, or a fraction over zero.
    """
    source = text.strip().replace("\N{MINUS SIGN}", "-")
    for glyph, spelled in _VULGAR.items():
        source = source.replace(glyph, spelled)
    if not source.strip():
        raise QuantityError("Nothing was typed. Type a length, such as 32, 3.2 cm or 1 1/4 in.")
    if len(source) > _LONGEST_TEXT:
        raise _not_a_length(text)
    total_mm, position, terms, unitless = 0.0, 0, 0, 0
    while position < len(source):
        match = _TERM.match(source, position)
        if match is None or match.end() == position:
            raise _not_a_length(text)
        unit = match["unit"]
        total_mm += _term_value(match, text) * _MM_PER_UNIT[(unit or default_unit.value).lower()]
        unitless += unit is None
        terms += 1
        position = match.end()
        if source[position:].isspace():
            break
    if terms > 1 and unitless:
        raise _not_a_length(text)
    return total_mm


def _term_value(match: re.Match[str], text: str) -> float:
    if match["decimal"] is not None:
        value = to_float(match["decimal"])
    else:
        if int(match["denominator"]) == 0:
            raise QuantityError("“{typed}” divides by zero. Type a length such as 3/8 in.", typed=text.strip())
        value = int(match["whole"] or 0) + float(Fraction(int(match["numerator"]), int(match["denominator"])))
    return -value if match["sign"] == "-" else value


def _not_a_length(text: str) -> QuantityError:
    return QuantityError(
        "“{typed}” is not a length. Type a number with mm, cm, m, in or ft, such as 32, 3.2 cm or 1 1/4 in.",
        typed=text.strip()[:40],
    )


def format_length(length_mm: float, unit: LengthUnit = LengthUnit.MM, *, with_unit: bool = True) -> str:
    """Write a length for reading: to 0.1 mm (0.01 below 10 mm), or to 0.001 in.

    The text reads back through :func:`parse_length` to within that rounding.
    """
    if unit is LengthUnit.INCH:
        text = f"{length_mm / MM_PER_INCH:.3f}"
    else:
        text = f"{length_mm:.2f}" if abs(length_mm) < 10 else f"{length_mm:.1f}"
    text = text.rstrip("0").rstrip(".")
    if text in {"-0", ""}:
        text = "0"
    return f"{text} {unit.value}" if with_unit else text


def format_distance(distance_mm: float, unit: LengthUnit = LengthUnit.MM) -> str:
    """Write a distance across a room: metres to two figures, or feet and inches."""
    if unit is LengthUnit.INCH:
        inches = distance_mm / MM_PER_INCH
        return f"{inches:.1f} in" if inches < 24 else f"{inches / 12:.1f} ft"
    if distance_mm < 100:
        return f"{distance_mm:.0f} mm"
    metres = (
        f"{distance_mm / 1000:.2f}".rstrip("0").rstrip(".") if distance_mm < 10_000 else f"{distance_mm / 1000:.0f}"
    )
    return f"{metres} m"
