"""Sequences that are made when they are first read."""

import functools
from collections.abc import Callable, Sequence
from typing import TypeVar, overload

Item_co = TypeVar("Item_co", covariant=True)


class Lazy(Sequence[Item_co]):
    """A sequence that is made on first access: while dragging, what nothing reads is not computed.

    ``make`` has to pickle, as a partial of a function of a module does.
    """

    def __init__(self, make: Callable[[], Sequence[Item_co]]) -> None:
        self._make = make

    def __len__(self) -> int:
        """How many there are, once they are made."""
        return len(self._made)

    @overload
    def __getitem__(self, index: int) -> Item_co: ...

    @overload
    def __getitem__(self, index: slice) -> Sequence[Item_co]: ...

    def __getitem__(self, index: int | slice) -> Item_co | Sequence[Item_co]:
        """Make them, or return what was made."""
        return self._made[index]

    def __eq__(self, other: object) -> bool:
        """Whether they are the same items as those of another sequence."""
        return isinstance(other, Sequence) and tuple(self) == tuple(other)

    def __hash__(self) -> int:
        """That of the items."""
        return hash(tuple(self))

    @functools.cached_property
    def _made(self) -> Sequence[Item_co]:
        return self._make()
