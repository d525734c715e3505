"""What is costly to compute and soon wanted again, kept up to a limit in bytes."""

from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

Value = TypeVar("Value")


class Kept(Generic[Value]):
    """Values by key, the last used ones.

    Several threads may ask at once: each step on the dictionary is one of the interpreter's own, and what another thread has
    dropped in between is made again.

    Parameters
    ----------
    most_bytes:
        What may be kept besides the value that was asked for last.
    size:
        Bytes of a value.
    """

    def __init__(self, most_bytes: int, size: Callable[[Value], int]) -> None:
        self._most_bytes, self._size = most_bytes, size
        self._values: dict[Hashable, Value] = {}

    def get(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """Return a value, made when it is not there; nothing is kept when making it fails."""
        value = self._values.pop(key, None)
        if value is None:
            self._drop_old()  # before the next is made: both would have to find room
            value = make()
        self._values[key] = value
        return value

    def clear(self) -> None:
        """Forget everything."""
        self._values.clear()

    def __len__(self) -> int:
        """Return how many values are kept."""
        return len(self._values)

    def _drop_old(self) -> None:
        kept = list(self._values.items())
        total = sum(self._size(value) for _, value in kept)
        for key, value in kept:
            if total <= self._most_bytes:
                break
            self._values.pop(key, None)
            total -= self._size(value)
