"""Choices by their path: ``build.bars[2].length_mm``. What a drawing types into, without knowing the family."""

import re
from typing import Any, get_args, get_type_hints

import msgspec

from gauze.core.errors import DesignError
from gauze.core.words import Fixed

MOST_ITEMS = 64
_PART = re.compile(r"([a-z_0-9]+)(?:\[(\d+)\])?")


def get_field(value: Any, path: str) -> Any:
    """Return the choice at a path; raises :class:`AttributeError` or :class:`IndexError` where there is none."""
    for name, index in _parts(path):
        value = getattr(value, name)
        if index is not None:
            value = value[index]
    return value


def has_field(value: Any, path: str) -> bool:
    """Whether there is a choice at a path by itself; some are only what a struct makes of others."""
    try:
        get_field(value, path)
    except (AttributeError, IndexError):
        return False
    return True


def with_field(value: Any, path: str, new: Any) -> Any:
    """Return a struct with another choice at a path; a whole number is asked for where the choice is one.

    A struct may know better what a choice takes along: ``build.rows.count`` is what ``with_rows_count`` of the build makes of it.

    Raises
    ------
    DesignError
        When a number that must be whole is not.
    """
    return _replaced(value, _parts(path), new, path)


def _parts(path: str) -> list[tuple[str, int | None]]:
    found = [_PART.fullmatch(part) for part in path.split(".")]
    return [(match[1], int(match[2]) if match[2] else None) for match in found if match is not None]


def _replaced(value: Any, parts: list[tuple[str, int | None]], new: Any, path: str) -> Any:
    (name, index), rest = parts[0], parts[1:]
    whole_path = getattr(value, "with_" + "_".join(part for part, _ in parts), None)
    if rest and whole_path is not None and all(number is None for _, number in parts):
        return whole_path(new)
    takes_others_along = getattr(
        value, f"with_{name}", None
    )  # what other choices follow from, or what follows from them
    if not rest and index is None and takes_others_along is not None:
        return takes_others_along(new)
    present = getattr(value, name)
    if index is not None:
        items = list(present)
        items[index] = _replaced(items[index], rest, new, path) if rest else new
        return msgspec.structs.replace(value, **{name: tuple(items)})
    if rest:
        return msgspec.structs.replace(value, **{name: _replaced(present, rest, new, path)})
    return msgspec.structs.replace(value, **{name: _whole(type(value), name, new, path)})


def _whole(kind: type, name: str, new: Any, path: str) -> Any:
    """Turn 3.0 into 3 where the choice is a whole number."""
    if not isinstance(new, float) or not _is_whole(get_type_hints(kind)[name]):
        return new
    if not new.is_integer():
        raise DesignError(path, "{value} is invalid: give a whole number.", value=Fixed(new, "g"))
    return int(new)


def _is_whole(hint: Any) -> bool:
    return hint is int or int in get_args(hint)


def as_many(items: tuple[Any, ...], count: float, field: str) -> tuple[Any, ...]:
    """Return so many of a row of things, the last one repeated; raises :class:`DesignError` for a count that is invalid."""
    if count != int(count) or not 1 <= count <= MOST_ITEMS:
        raise DesignError(
            field,
            "{count} is invalid: give a whole number from 1 to {most_items}.",
            count=Fixed(count, "g"),
            most_items=MOST_ITEMS,
        )
    return (items + items[-1:] * int(count))[: int(count)]
