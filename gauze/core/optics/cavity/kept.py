"""What is costly to compute and soon wanted again, kept up to a limit in bytes."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from concurrent.futures import Future
from typing import Generic, TypeVar

Value = TypeVar("Value")


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
        self._values: OrderedDict[Hashable, Future[Value]] = OrderedDict()

    def get(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """Return a value, made when it is not there; nothing is kept when making it fails."""
        own: Future[Value] = Future()
        while (kept := self._values.setdefault(key, own)) is not own:
            if kept.exception() is None:  # which waits for it
                self._use(key)
                return kept.result()
            # what stopped the other, as a request that is no longer wanted, need not stop this one
        try:
            self._drop_old()  # before the next is made: both would have to find room
            value = make()
        except BaseException as error:
            self._values.pop(key, None)
            own.set_exception(error)
            raise
        own.set_result(value)
        self._use(key)
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

    def _use(self, key: Hashable) -> None:
        try:
            self._values.move_to_end(key)
        except KeyError:  # dropped by another thread meanwhile
            return

    def _drop_old(self) -> None:
        made = [(key, one) for key, one in list(self._values.items()) if one.done() and one.exception() is None]
        kept = [(key, one.result()) for key, one in made]
        total = sum(self._size(value) for _, value in kept)
        for key, value in kept:
            if total <= self._most_bytes:
                break
            self._values.pop(key, None)
            total -= self._size(value)
