"""Plain numbers, with the decimal comma understood."""

import math
import re

from gauze.core.errors import QuantityError

_LEAST_PLAIN, _MOST_PLAIN = 1e-4, 1e9
_NUMBER = re.compile(r"[+-]?(\d+([.,]\d*)?|[.,]\d+)(e[+-]?\d+)?", re.IGNORECASE)


def to_float(text: str) -> float:
    """Read one decimal number; ``"3,2"`` and ``"3.2"`` are the same.

    Raises
    ------
    QuantityError
        When the text is not one finite decimal number.
    """
    compact = text.strip().replace("\N{MINUS SIGN}", "-")
    if not _NUMBER.fullmatch(compact):
        raise QuantityError("“{typed}” is not a number. Type digits, such as 32 or 3,2.", typed=text.strip())
    value = float(compact.replace(",", "."))
    if not math.isfinite(value):
        raise QuantityError("“{typed}” is too large to be a number here.", typed=text.strip())
    return value


def parse_number(text: str, unit: str = "") -> float:
    """Read a number that may be followed by its unit (``"500 lx"``, ``"80 %"``).

    Raises
    ------
    QuantityError
        When no number can be read or another unit follows it.
    """
    trimmed = text.strip()
    if unit and trimmed.lower().endswith(unit.lower()):
        trimmed = trimmed[: -len(unit)].strip()
    if not trimmed:
        raise QuantityError("Nothing was typed. Type a number" + (f" in {unit}." if unit else "."))
    return to_float(trimmed)


def format_number(value: float, significant: int = 3) -> str:
    """Write a value to some significant figures: 12400, 43.2, 0.87; 1.3e-19 and 2e12 where it would be rows of zeros."""
    if value == 0 or not math.isfinite(value):
        return "0" if value == 0 else str(value)
    if not _LEAST_PLAIN <= abs(value) < _MOST_PLAIN:
        mantissa, _, exponent = f"{value:.{significant - 1}e}".partition("e")
        return f"{mantissa.rstrip('0').rstrip('.') if '.' in mantissa else mantissa}e{int(exponent)}"
    decimals = significant - 1 - math.floor(math.log10(abs(value)))
    text = f"{round(value, decimals):.{max(0, decimals)}f}"
    return text.rstrip("0").rstrip(".") if "." in text else text
