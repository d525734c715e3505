"""Quantities as people type them and as they are shown; inside, lengths are millimetres."""

from gauze.core.units.length import LengthUnit, format_length, parse_length
from gauze.core.units.number import format_number, parse_number

__all__ = ["LengthUnit", "format_length", "format_number", "parse_length", "parse_number"]
