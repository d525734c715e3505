"""The edits that the drawing of a build offers: its choices by their path, items moved by hand."""

from typing import Any

from gauze.core.design import Design
from gauze.core.design.fields import as_many, get_field, has_field, with_field
from gauze.core.errors import QuantityError
from gauze.core.families import Change, family_of
from gauze.core.layout.sketch import MovableItem, Together
from gauze.core.units import LengthUnit, parse_length, parse_number
from gauze.core.words import Text

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
    with_count = family_of(design).counts.get(field)
    if with_count is not None and isinstance(value, int | float):
        return with_count(design, value)
    present = get_field(design, field) if has_field(design, field) else None
    if isinstance(present, tuple) and isinstance(value, int | float):
        value = as_many(present, value, field)
    changed: Design = with_field(design, field, value)
    return changed


def with_picture(design: Design, lines: tuple[str, ...]) -> Design:
    """Let a display show a picture, as lines of hexadecimal pixels."""
    shown = with_choice_at(design, "build.show.picture", lines)
    return with_choice_at(shown, "build.show.kind", "picture")


def with_dragged(design: Design, field: str, value: float) -> Design:
    """Return the design with a dragged size, to a tenth of a millimetre and above nothing; what snapped stays exact."""
    tenth = round(value, 1)
    exact = value if abs(value - tenth) < 1e-6 or round(value, 4) == round(value, 6) else tenth
    return with_choice_at(design, field, max(exact, _LEAST_MM))


def item_edits(design: Design, item: MovableItem) -> list[tuple[Text, Change]]:
    """What can be done with an item besides moving it: names and changes."""
    return family_of(design).item_edits(design, item)


def with_moved(design: Design, item: MovableItem, dx_mm: float, dy_mm: float) -> Design:
    """Return the design with an item moved from where it was drawn; raises :class:`TypeError` where nothing is moved."""
    move = family_of(design).move_item
    if move is None:
        raise TypeError(f"no {item.kind} to be moved in {type(design.build).__name__}")
    return move(design, item, dx_mm, dy_mm)
