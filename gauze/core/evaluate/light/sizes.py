"""The sizes in a design or a shape: all numbers that a hand can drag, apart from what they are sizes of."""

from collections.abc import Hashable, Iterator
from typing import Any

import msgspec


def sizes_in(value: object) -> Iterator[float]:
    """All of them, in order."""
    if isinstance(value, float):
        yield value
    elif isinstance(value, msgspec.Struct):
        for name in value.__struct_fields__:
            yield from sizes_in(getattr(value, name))
    elif isinstance(value, tuple):
        for one in value:
            yield from sizes_in(one)


def without_sizes(value: Any) -> Hashable:
    """What is left without them."""
    if isinstance(value, float):
        return None
    if isinstance(value, msgspec.Struct):
        return type(value), tuple(without_sizes(getattr(value, name)) for name in value.__struct_fields__)
    if isinstance(value, tuple):
        return tuple(without_sizes(one) for one in value)
    return value  # type: ignore[no-any-return]  # a number or a word


def with_sizes(value: Any, sizes: Iterator[float]) -> Any:
    """The same with other sizes, taken in the same order."""
    if isinstance(value, float):
        return next(sizes)
    if isinstance(value, msgspec.Struct):
        fields = {name: with_sizes(getattr(value, name), sizes) for name in value.__struct_fields__}
        return type(value)(**fields)
    if isinstance(value, tuple):
        return tuple(with_sizes(one, sizes) for one in value)
    return value
