"""Checks of plain values against the limits that stand in the annotations of a design class.

One statement of a limit (``Annotated[float, msgspec.Meta(gt=0, le=5000)]``) serves the published
schema, the reading of files and the messages at the dimension.
"""

import functools
import math
import operator
import re
from collections.abc import Callable
from typing import Annotated, Any, get_args, get_origin, get_type_hints

import msgspec

from gauze.core.errors import DesignError
from gauze.core.words import Length, Text, Words, say

_LEAST_MM = 1e-6  # below it is a slip, and sizes whose squares are nothing to a computer
_SPELT = ("cct", "cie", "pwm")  # letter by letter
_UNITS = {
    "_k_per_w": "K/W",
    "_c": "°C",
    "_mm": "mm",
    "_lx": "lx",
    "_k": "K",
    "_a": "A",
    "_w": "W",
    "_mm2": "mm²",
    "_hz": "Hz",
    "_mhz": "MHz",
    "_h": "h",
    "_deg": "°",
    "_cd_m2": "cd/m²",
    "_lm": "lm",
    "_ohm_per_m": "Ω/m",
    "_per_m": "/m",
    "_m": "m",
    "_v": "V",
    "_ma": "mA",
}
_LIMITS: tuple[tuple[str, Callable[[float, float], bool], Words], ...] = (
    ("gt", operator.gt, say("{choice} {value} is invalid: it must be more than {limit}.")),
    ("ge", operator.ge, say("{choice} {value} is too small: the least is {limit}.")),
    ("le", operator.le, say("{choice} {value} is too large: the most is {limit}.")),
)


@functools.cache
def unit_of(field: str) -> str:
    """Return the unit that the end of a field's name tells, or an empty string."""
    return next((unit for ending, unit in _UNITS.items() if field.endswith(ending)), "")


def words_for(field: str) -> Words:
    """Return the name of a field in words: ``"face_width_mm"`` -> ``"Face width"``."""
    for ending in _UNITS:
        field = field.removesuffix(ending)
    words = field.replace("_", " ")
    for name in _SPELT:
        words = re.sub(rf"\b{name}\b", name.upper(), words)
    words = re.sub(r"\bleds\b", "LEDs", words)
    return Words(words[0].upper() + words[1:])


def check_limits(value: msgspec.Struct, path: str) -> None:
    """Check every number of a struct against its annotated limits.

    Raises
    ------
    DesignError
        For the first field outside its limits, or not a finite number; ``field`` is the dotted path.
    """
    for name, meta in _limited_fields(type(value)):
        number = getattr(value, name)
        if isinstance(number, int | float):
            _check_number(f"{path}.{name}", name, float(number), meta)


@functools.cache
def _limited_fields(kind: type[msgspec.Struct]) -> tuple[tuple[str, msgspec.Meta], ...]:
    hints = get_type_hints(kind, include_extras=True)
    found = ((name, _meta_of(hint)) for name, hint in hints.items())
    return tuple((name, meta) for name, meta in found if meta is not None)


def _meta_of(hint: Any) -> msgspec.Meta | None:
    if get_origin(hint) is Annotated:
        return next((extra for extra in hint.__metadata__ if isinstance(extra, msgspec.Meta)), None)
    return next((meta for meta in map(_meta_of, get_args(hint)) if meta is not None), None)


def _check_number(path: str, name: str, number: float, meta: msgspec.Meta) -> None:
    unit = unit_of(name)
    if not math.isfinite(number):
        raise DesignError(path, "{choice} is not a number. Type digits.", choice=words_for(name))

    def shown(value: float) -> Text:
        return Length(value) if unit == "mm" else f"{value:g} {unit}".strip()

    if unit == "mm" and 0.0 < abs(number) < _LEAST_MM:
        raise DesignError(
            path,
            "{choice} is smaller than anything that can be made. Give 0.001 mm or more, or 0.",
            choice=words_for(name),
        )
    for limit_name, holds, words in _LIMITS:
        limit = getattr(meta, limit_name)
        if limit is not None and not holds(number, limit):
            raise DesignError(path, words.template, choice=words_for(name), value=shown(number), limit=shown(limit))
