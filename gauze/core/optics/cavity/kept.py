"""What is costly to compute and soon wanted again, kept up to a limit in bytes."""

import itertools
from collections.abc import Callable, Hashable
from concurrent.futures import Future
from dataclasses import dataclass, field
from typing import Generic, TypeVar

Value = TypeVar("Value")


@dataclass(eq=False)
class _Making(Generic[Value]):
    """A value that is being made, or has been: ``size`` is 0 until then. ``used`` is greater the later it was asked for."""

    made: Future[Value] = field(default_factory=Future)
    size: int = 0
    used: int = 0


class Kept(Generic[Value]):
    """Values by key, the last used ones.

    Several threads may ask at once: each step on the dictionary is one of the interpreter's own, and who asks for what another
    is making waits for it.

    Parameters
    ----------
    most_bytes:
        What may be kept besides the value that was asked for last.
    size:
        Bytes of a value.
    """

    def __init__(self, most_bytes: int, size: Callable[[Value], int]) -> None:
        self._most_bytes, self._size = most_bytes, size
        self._values: dict[Hashable, _Making[Value]] = {}
        self._count = itertools.count(1)

    def get(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """Return a value, made when it is not there; nothing is kept when making it fails."""
        own: _Making[Value] = _Making()
        while (kept := self._values.setdefault(key, own)) is not own:
            if kept.made.exception() is None:  # which waits for it
                kept.used = next(self._count)
                return kept.made.result()
            # what stopped the other, as a request that is no longer wanted, need not stop this one
        try:
            self._drop_old()  # before the next is made: both would have to find room
            value = make()
        except BaseException as error:
            self._values.pop(key, None)
            own.made.set_exception(error)
            raise
        own.size, own.used = self._size(value), next(self._count)
        own.made.set_result(value)
        return value

    def __reduce__(self) -> tuple[object, ...]:
        """Give another process an empty one: what is kept is asked for here."""
        return Kept, (self._most_bytes, self._size)

    def clear(self) -> None:
        """Forget everything."""
        self._values.clear()

    def __len__(self) -> int:
        """Return how many values are kept."""
        return len(self._values)

    def _drop_old(self) -> None:
        kept = [(one.used, one.size, key) for key, one in list(self._values.items()) if one.size]
        total = sum(size for _, size, _ in kept)
        if total <= self._most_bytes:
            return
        for _, size, key in sorted(kept, key=lambda one: one[0]):
            self._values.pop(key, None)
            total -= size
            if total <= self._most_bytes:
                return
