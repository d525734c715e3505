"""What differs between two versions of a design: choice by choice."""

from dataclasses import dataclass
from typing import Any

import msgspec

from gauze.core.design.design import Design
from gauze.core.design.limits import words_for

_LEFT_OUT = ("name", "kept", "emitters", "picture")  # too long for a table, or no choice


@dataclass(frozen=True)
class Difference:
    """One choice: its path, its name in words, what it was and what it is."""

    path: str
    words: str
    before: Any
    after: Any


def differences(before: Design, after: Design) -> list[Difference]:
    """Return every choice that differs, in the order of the file."""
    return _of(before, after, "")


def _of(before: Any, after: Any, path: str) -> list[Difference]:
    if before == after:
        return []
    if isinstance(before, msgspec.Struct) and type(before) is type(after):
        found = []
        for name in before.__struct_fields__:
            found += _of(getattr(before, name), getattr(after, name), f"{path}.{name}" if path else name)
        return found
    last = path.rsplit(".", 1)[-1]
    if last.split("[")[0] in _LEFT_OUT:
        return [] if last in ("name", "kept") else [Difference(path, _words(path), len(before), len(after))]
    if isinstance(before, tuple) and isinstance(after, tuple) and len(before) == len(after) and _structs(before):
        return [
            one for index, pair in enumerate(zip(before, after, strict=True)) for one in _of(*pair, f"{path}[{index}]")
        ]
    return [Difference(path, _words(path), before, after)]


def _structs(items: tuple[Any, ...]) -> bool:
    return all(isinstance(item, msgspec.Struct) for item in items)


def _words(path: str) -> str:
    """Name a choice: its own name, with the number of the thing that it is of."""
    parts = path.split(".")
    own = words_for(parts[-1].split("[")[0])
    of = next((part for part in reversed(parts[:-1]) if "[" in part), "")
    if of:
        name, _, index = of.rstrip("]").partition("[")
        own = f"{own}, {name.removesuffix('s')} {int(index) + 1}"
    return own[0].upper() + own[1:]
