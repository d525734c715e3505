"""What goes between the two processes: bytes of Python's own serialisation, between our own processes only."""

import copyreg
import io
import pickle
import traceback
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from enum import Enum
from typing import Any

from gauze.session.solver.wire import Message

_LARGE = 16_384  # bytes of an array from which it goes beside its message


class Kind(Enum):
    """What a message is, its first byte. A call ends with exactly one that is final."""

    CALL = b"?"
    STOP = b"!"  # the call that is under way is no longer wanted
    TOLD = b"t"
    DONE = b"d"
    CANCELLED = b"c"
    FAILED = b"f"

    @property
    def final(self) -> bool:
        """Whether it ends a call."""
        return self in (Kind.DONE, Kind.CANCELLED, Kind.FAILED)


@dataclass(frozen=True)
class Known:
    """Objects that both sides have: they are named instead of sent, and stay the same object."""

    objects: dict[str, object]

    def name_of(self, wanted: object) -> str | None:
        """Return the name of an object, or None if it has to be sent."""
        return next((name for name, known in self.objects.items() if known is wanted), None)


NOTHING = Known({})


def _named(name: str) -> object:
    """Stands in a message for a known object; the reader puts that in its place."""
    raise RuntimeError(f"{name} is not known on this side")


def _pickler(file: io.BytesIO, known: Known, apart: Callable[[pickle.PickleBuffer], bool]) -> pickle.Pickler:
    """Names known objects. Asked by their types, since being asked for every object takes most of the time."""

    def reduced(obj: object) -> Any:
        name = known.name_of(obj)
        return obj.__reduce_ex__(pickle.HIGHEST_PROTOCOL) if name is None else (_named, (name,))

    pickler = pickle.Pickler(file, pickle.HIGHEST_PROTOCOL, buffer_callback=apart)
    pickler.dispatch_table = copyreg.dispatch_table | dict.fromkeys(map(type, known.objects.values()), reduced)
    return pickler


class _Unpickler(pickle.Unpickler):
    def __init__(self, file: io.BytesIO, known: Known, arrays: Iterable[pickle.PickleBuffer | memoryview]) -> None:
        super().__init__(file, buffers=arrays)
        self._known = known

    def find_class(self, module: str, name: str) -> Any:
        if (module, name) == (__name__, _named.__name__):
            return self._known.objects.__getitem__
        return super().find_class(module, name)


def encode(kind: Kind, content: object, known: Known) -> Message:
    """Return a message."""
    file, arrays = io.BytesIO(), list[pickle.PickleBuffer]()
    file.write(kind.value)

    def apart(array: pickle.PickleBuffer) -> bool:
        """Whether an array stays in the message; large ones go beside it."""
        small = array.raw().nbytes < _LARGE
        if not small:
            arrays.append(array)
        return small

    _pickler(file, known, apart).dump(content)
    return Message(file.getvalue(), arrays)


def kind_of(message: Message) -> Kind:
    """Return what a message is."""
    return Kind(message.body[:1])


def decode(message: Message, known: Known) -> Any:
    """Return the content of a message; its large arrays stay where they are."""
    file = io.BytesIO(message.body)
    file.seek(1)
    return _Unpickler(file, known, message.arrays).load()


def encode_error(error: Exception) -> Message:
    """Return the message of an error, with its traceback as a note; one that cannot be sent is put into words."""
    error.add_note("".join(traceback.format_exception(error)))
    try:
        message = encode(Kind.FAILED, error, NOTHING)
        decode(message, NOTHING)
    except Exception:  # noqa: BLE001 - whatever it is that cannot be sent, its words can
        told = RuntimeError(f"{type(error).__name__}: {error}")
        told.add_note("".join(error.__notes__))
        return encode(Kind.FAILED, told, NOTHING)
    return message
