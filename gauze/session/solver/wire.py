"""How messages go through a pipe: large arrays beside them, in memory that both processes have, written once and read once.

A light is some ten million bytes. Through the pipe they would be copied five times, in pieces; so they are written to a nameless
file in memory, whose descriptor goes through the pipe (``SCM_RIGHTS``, unix(7)). The other side maps it: the arrays lie in that
memory until the last of them is gone. Until then :mod:`mmap` keeps a descriptor for it.
"""

import mmap
import os
import pickle
import socket
import struct
from collections.abc import Sequence
from dataclasses import dataclass
from multiprocessing.connection import Connection

_COUNT, _SIZE = struct.Struct("<I"), struct.Struct("<Q")
_NO_ROOM = (
    "There is no memory for the light on its way to the window: close other programs, or make the design smaller."
)
_ALIGNED = 64  # bytes, at which arrays begin


@dataclass(frozen=True)
class Message:
    """The bytes of a message, and those of its large arrays."""

    body: bytes
    arrays: Sequence[pickle.PickleBuffer | memoryview] = ()


def send(connection: Connection, message: Message) -> None:
    """Send a message.

    Raises
    ------
    OSError
        When the other side is gone.
    MemoryError
        When there is none for the arrays; nothing has been sent.
    """
    views = [one.raw() if isinstance(one, pickle.PickleBuffer) else one for one in message.arrays]
    sizes = b"".join(_SIZE.pack(one.nbytes) for one in views)
    head = _COUNT.pack(len(views)) + sizes
    if not views:
        connection.send_bytes(head + message.body)
        return
    descriptor = _written(views)
    try:
        connection.send_bytes(head + message.body)
        with _socket_of(connection) as way:
            socket.send_fds(way, [b"+"], [descriptor])
    finally:
        os.close(descriptor)


def receive(connection: Connection) -> Message:
    """Wait for a message.

    Raises
    ------
    EOFError
        When the other side is gone.
    MemoryError
        When there is none for its arrays.
    """
    whole = memoryview(connection.recv_bytes())
    (count,) = _COUNT.unpack_from(whole)
    body = _COUNT.size + count * _SIZE.size
    sizes = [one for (one,) in _SIZE.iter_unpack(whole[_COUNT.size : body])]
    if not count:
        return Message(bytes(whole[body:]))
    with _socket_of(connection) as way:
        met, descriptors, _, _ = socket.recv_fds(way, 1, 1)
    if not met or not descriptors:
        raise EOFError
    starts, total = _places(sizes)
    try:
        mapped = memoryview(mmap.mmap(descriptors[0], total, access=mmap.ACCESS_COPY))
    except OSError as error:
        raise MemoryError(_NO_ROOM) from error
    finally:
        os.close(descriptors[0])
    arrays = [mapped[start : start + size] for start, size in zip(starts, sizes, strict=True)]
    return Message(bytes(whole[body:]), arrays)


def _places(sizes: Sequence[int]) -> tuple[list[int], int]:
    """Where each array begins in the file, and how long that is."""
    starts, total = [], 0
    for size in sizes:
        starts.append(total)
        total += -(-size // _ALIGNED) * _ALIGNED
    return starts, total


def _written(views: Sequence[memoryview]) -> int:
    """A nameless file in memory that holds the arrays: its descriptor."""
    starts, total = _places([one.nbytes for one in views])
    try:
        descriptor = os.memfd_create("gauze arrays", os.MFD_CLOEXEC)
    except OSError as error:
        raise MemoryError(_NO_ROOM) from error
    try:
        os.ftruncate(descriptor, total)
        for start, view in zip(starts, views, strict=True):
            done = 0
            while done < view.nbytes:
                done += os.pwrite(descriptor, view[done:], start + done)
    except OSError as error:
        os.close(descriptor)
        raise MemoryError(_NO_ROOM) from error
    return descriptor


def _socket_of(connection: Connection) -> socket.socket:
    """A duplex pipe is a pair of Unix sockets: one end as such, on a descriptor of its own."""
    return socket.socket(fileno=os.dup(connection.fileno()))
