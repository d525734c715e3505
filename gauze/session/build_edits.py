"""The edits that the drawing of a build offers: its choices by their path, things moved by hand."""

from typing import Any

import msgspec

from gauze.core.design import Design, LooseEmitters
from gauze.core.design.channel_bar import ChannelBar
from gauze.core.design.fields import get_field, with_field
from gauze.core.errors import DesignError, QuantityError
from gauze.core.layout.sketch import Thing, Together
from gauze.core.units import LengthUnit, parse_length, parse_number
from gauze.session.edits import with_build

MOST_ITEMS = 64
_LEAST_MM = 0.1  # what is dragged stays above nothing


def read_value(kind: str, words: str, unit: LengthUnit) -> Any:
    """Read what was typed for a choice of a kind: a length, a count, an angle, a share, a text.

    Raises
    ------
    QuantityError
        When it cannot be read.
    """
    if kind == "text":
        return words
    if kind == "length":
        return parse_length(words, unit)
    if kind == "angle":
        return parse_number(words.split("°", maxsplit=1)[0], "°")
    if kind == "share":
        return parse_number(words, "%") / 100.0
    first = words.strip().split(" ", maxsplit=1)[0]
    if not first:
        raise QuantityError("Nothing was typed. Give a number.")
    return parse_number(first)


def with_choice_at(design: Design, field: str, value: Any) -> Design:
    """Return the design with another choice at a path; of a row of things a number says how many, the last one repeated."""
    if isinstance(value, Together):
        for path, one in value.changes:
            design = with_choice_at(design, path, one)
        return design
    present = get_field(design, field)
    if isinstance(present, tuple) and isinstance(value, int | float):
        value = _as_many(present, value, field)
    changed: Design = with_field(design, field, value)
    return changed


def _as_many(items: tuple[Any, ...], count: float, field: str) -> tuple[Any, ...]:
    if count != int(count) or not 1 <= count <= MOST_ITEMS:
        raise DesignError(field, f"{count:g} will not do: give a whole number from 1 to {MOST_ITEMS}.")
    return (items + items[-1:] * int(count))[: int(count)]


def with_picture(design: Design, lines: tuple[str, ...]) -> Design:
    """Let a display show a picture, as lines of hexadecimal pixels."""
    shown = with_choice_at(design, "build.show.picture", lines)
    return with_choice_at(shown, "build.show.kind", "picture")


def with_dragged(design: Design, field: str, value: float) -> Design:
    """Return the design with a dragged size, to a tenth of a millimetre and above nothing; what snapped stays exact."""
    tenth = round(value, 1)
    exact = value if abs(value - tenth) < 1e-6 or round(value, 4) == round(value, 6) else tenth
    return with_choice_at(design, field, max(exact, _LEAST_MM))


def with_moved(design: Design, thing: Thing, dx_mm: float, dy_mm: float) -> Design:
    """Return the design with a thing moved from where it was drawn."""
    if thing.kind == "emitter" and isinstance(design.build, LooseEmitters):
        emitters = list(design.build.emitters)
        emitters[thing.index] = msgspec.structs.replace(
            emitters[thing.index], x_mm=round(thing.x_mm + dx_mm, 1), y_mm=round(thing.y_mm + dy_mm, 1)
        )
        return with_build(design, emitters=tuple(emitters))
    if thing.kind == "corner" and isinstance(design.build, ChannelBar):
        corners = list(design.build.corners_mm)
        corners[thing.index] = (round(thing.x_mm + dx_mm, 1), round(thing.y_mm + dy_mm, 1))
        return with_build(design, corners_mm=tuple(corners))
    raise TypeError(f"no {thing.kind} to be moved in {type(design.build).__name__}")
