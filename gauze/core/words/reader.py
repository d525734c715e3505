"""Writes words out for one reader: in a unit of length and a language."""

import math
from collections.abc import Callable
from dataclasses import dataclass

from gauze.core.errors import GauzeError
from gauze.core.printable import filled
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.core.units.length import format_distance
from gauze.core.words.words import Distance, Fixed, Joined, Length, Number, Percent, Text, Words, say

_MINUS = "\N{MINUS SIGN}"
_MOST_FIGURES = 3


def as_written(text: str) -> str:
    """The translation of who reads English."""
    return text


@dataclass(frozen=True)
class Reader:
    """Who reads: in which unit lengths are written, and how a template is translated."""

    unit: LengthUnit = LengthUnit.MM
    translate: Callable[[str], str] = as_written

    def read(self, text: Text) -> str:
        """Write a text out."""
        match text:
            case Words():
                template = self.translate(text.template)
                return filled(template, {name: self.read(value) for name, value in text.values})
            case Length():
                return format_length(text.mm, self.unit, with_unit=text.with_unit)
            case Distance():
                return format_distance(text.mm, self.unit)
            case Number():
                return format_number(text.value, text.significant)
            case Percent():
                return self._percent(text)
            case Fixed():
                return _without_negative_zero(format(text.value, text.spec))
            case Joined():
                return text.separator.join(self.read(one) for one in text.texts)
        return str(text)

    def _percent(self, text: Percent) -> str:
        """To three figures at most; what would be a row of zeros is said to be under the least that is shown."""
        percent = 100.0 * abs(text.share)
        whole = math.floor(math.log10(percent)) if percent > 0.0 and math.isfinite(percent) else 0
        decimals = min(text.decimals, max(0, _MOST_FIGURES - 1 - whole))
        least = 10.0**-decimals
        if percent == 0.0:
            return "0%"
        if percent < 0.5 * least:
            return self.read(say("under {least}", least=f"{least:.{decimals}f}%"))
        return _without_negative_zero(f"{text.share:.{decimals}%}")

    def read_error(self, error: Exception) -> str:
        """Write the message of an error out; of one that is not of Gauze, what it says."""
        if not isinstance(error, GauzeError):
            return str(error)
        values = {
            name: self.read_error(value) if isinstance(value, Exception) else self.read(value)
            for name, value in error.values.items()
        }
        return filled(self.translate(error.template), values)


def _without_negative_zero(text: str) -> str:
    if text.startswith("-") and not any(digit in text for digit in "123456789"):
        text = text[1:]
    return text.replace("-", _MINUS) if text.startswith("-") else text


ENGLISH = Reader()
