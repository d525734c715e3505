"""What differs between two versions of a design: choice by choice."""

from dataclasses import dataclass
from typing import Any

import msgspec

from gauze.core.design.design import Design
from gauze.core.design.limits import words_for
from gauze.core.words import Text, say

_NOTHING = 5e-4  # mm, or of whatever: less than rounding leaves
_LEFT_OUT = ("name", "kept", "emitters", "picture")  # too long for a table, or no choice

_ONE: dict[str, Text] = {
    "bars": say("bar"),
    "corners_mm": say("corner"),
    "distributions": say("distribution"),
    "free": say("free band"),
    "injections": say("injection"),
    "own_diffusers": say("measured sheet"),
    "own_lamps": say("own strip or module"),
    "strips": say("strip"),
    "tiles": say("tile"),
}


@dataclass(frozen=True)
class Difference:
    """One choice: its path, its name in words, what it was and what it is."""

    path: str
    words: Text
    before: Any
    after: Any


def differences(before: Design, after: Design) -> list[Difference]:
    """Return every choice that differs, in the order of the file."""
    return _of(before, after, "")


def _of(before: Any, after: Any, path: str) -> list[Difference]:
    if before == after or (isinstance(before, float) and isinstance(after, float) and abs(before - after) < _NOTHING):
        return []
    if isinstance(before, msgspec.Struct) and type(before) is type(after):
        return _of_struct(before, after, path)
    last = path.rsplit(".", 1)[-1]
    if last.split("[")[0] in _LEFT_OUT:
        return [] if last in ("name", "kept") else [Difference(path, _words(path), len(before), len(after))]
    if isinstance(before, tuple) and isinstance(after, tuple) and _structs(before + after):
        count = [Difference(path, _words(path), len(before), len(after))] if len(before) != len(after) else []
        pairs = enumerate(zip(before, after, strict=False))  # as far as both go
        return count + [one for index, pair in pairs for one in _of(*pair, f"{path}[{index}]")]
    return [Difference(path, _words(path), before, after)]


def _of_struct(before: Any, after: Any, path: str) -> list[Difference]:
    """Differences of one struct; what only follows from another choice, as the places of tiles from their side, is left out."""
    found, moved = [], before
    for name in before.__struct_fields__:
        takes_others_along = getattr(moved, f"with_{name}", None)
        if takes_others_along is not None and getattr(before, name) != getattr(after, name):
            moved = takes_others_along(getattr(after, name))
    for name in before.__struct_fields__:
        led = getattr(before, f"with_{name}", None) is not None
        was = getattr(before if led else moved, name)
        found += _of(was, getattr(after, name), f"{path}.{name}" if path else name)
    return found


def _structs(items: tuple[Any, ...]) -> bool:
    return bool(items) and all(isinstance(item, msgspec.Struct) for item in items)


def _words(path: str) -> Text:
    """Name a choice: its own name, with the number of the thing that it is of."""
    parts = path.split(".")
    own = words_for(parts[-1].split("[")[0])
    of = next((part for part in reversed(parts[:-1]) if "[" in part), "")
    if of:
        name, _, index = of.rstrip("]").partition("[")
        return say("{choice}, {item} {number}", choice=own, item=_ONE.get(name, name), number=int(index) + 1)
    return own
