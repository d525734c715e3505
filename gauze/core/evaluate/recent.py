"""Results of a stage, kept by what they depend on, compared by their values."""

from collections import deque
from collections.abc import Callable
from typing import Generic, TypeVar

Value = TypeVar("Value")


class Recent(Generic[Value]):
    """The last few results with what they were made of.

    What a stage depends on are frozen values that may be large (a table of a hundred thousand emitters): they are compared, the
    same object first, and never hashed. Threads may share one: each step on the queue is one of the interpreter's own.
    """

    def __init__(self, most: int) -> None:
        self._kept: deque[tuple[tuple[object, ...], Value]] = deque(maxlen=most)

    def knows(self, depends_on: tuple[object, ...]) -> bool:
        """Whether there is a result of these values."""
        return any(_same(known, depends_on) for known, _ in tuple(self._kept))

    def begins_with(self, depends_on: tuple[object, ...]) -> bool:
        """Whether there is a result of which the first values are these."""
        return any(_same(known[: len(depends_on)], depends_on) for known, _ in tuple(self._kept))

    def get(self, depends_on: tuple[object, ...], make: Callable[[], Value]) -> Value:
        """Return a result, made when there is none of these values; nothing is kept when making it fails."""
        for known, value in tuple(self._kept):
            if _same(known, depends_on):
                return value
        made = make()
        self._kept.append((depends_on, made))
        return made

    def clear(self) -> None:
        """Forget everything."""
        self._kept.clear()


def _same(known: tuple[object, ...], asked: tuple[object, ...]) -> bool:
    return all(one is other or one == other for one, other in zip(known, asked, strict=True))
