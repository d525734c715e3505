"""The side that computes: a thread for each kind of work, each with a pipe of its own."""

import contextlib
import importlib
import os
import select
import signal
import threading
from collections.abc import Mapping
from multiprocessing.connection import Connection

from gauze.core import errors
from gauze.core.materials import Catalogue, load_catalogue
from gauze.session.solver.messages import NOTHING, Kind, Known, decode, encode, encode_error, kind_of
from gauze.session.solver.wire import Message, receive, send
from gauze.session.solver.work import WORKS, Work

# what every light needs, loaded while the window is being built; the rest is loaded where it is used
_WANTED_SOON = ("scipy.linalg", "scipy.special")
_NICE = 8  # the hand goes first


def serve(connections: Mapping[str, Connection]) -> None:
    """Answer on all pipes until the other side closes them, or ends in any way."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # of the terminal; the window decides when this process ends
    os.nice(_NICE)
    for name in _WANTED_SOON:
        importlib.import_module(name)
    catalogue = load_catalogue()
    threads = [
        threading.Thread(target=_answer, args=(connection, WORKS[name], catalogue), name=name)
        for name, connection in connections.items()
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()


def _answer(connection: Connection, work: Work, catalogue: Catalogue) -> None:
    with contextlib.suppress(EOFError, OSError), connection:  # the other side is gone: nobody wants answers any more
        while True:
            message = receive(connection)
            if kind_of(message) is Kind.CALL:  # else a stop that came when the call was over
                _call(connection, message, work, catalogue)


def _call(connection: Connection, message: Message, work: Work, catalogue: Catalogue) -> None:
    try:
        request = decode(message, Known({"catalogue": catalogue}))
        known = Known({"catalogue": catalogue, "design": getattr(request, "design", request)})
        result = work(
            request,
            catalogue,
            lambda told: send(connection, encode(Kind.TOLD, told, known)),
            lambda: _something_waits(connection),
        )
        answer = encode(Kind.DONE, result, known)
    except errors.Cancelled:
        answer = encode(Kind.CANCELLED, None, NOTHING)
    except Exception as error:  # noqa: BLE001 - whatever it was, the one who asked has to hear of it
        answer = encode_error(error)
    try:
        send(connection, answer)
    except MemoryError as error:
        send(connection, encode_error(error))


def _something_waits(connection: Connection) -> bool:
    """Whether there is anything to read: in the middle of a call that means stop. Nothing is taken; any thread may ask."""
    waiting = select.poll()
    waiting.register(connection, select.POLLIN)
    return bool(waiting.poll(0))
