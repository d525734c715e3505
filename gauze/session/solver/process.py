"""The side that asks: starts the solver process, calls it, and starts it again should it end."""

import multiprocessing
import signal
import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from typing import Any

from gauze.core.errors import Cancelled, GauzeError, SolverError
from gauze.core.materials import Catalogue
from gauze.session.solver.messages import NOTHING, Kind, Known, decode, encode, kind_of
from gauze.session.solver.serve import serve
from gauze.session.solver.wire import Message, receive, send
from gauze.session.solver.work import WORKS, Tell

_LOOK_SECONDS = 0.005  # between two looks whether a call is still wanted
_END_SECONDS = 2.0  # that an idle process has to end by itself
_UNWANTED = "The light was no longer wanted."


@dataclass
class _Pipe:
    """To one thread of the process; ``owed`` while the end of a call that was given up has not been read."""

    connection: Connection
    one_at_a_time: threading.Lock = field(default_factory=threading.Lock)
    owed: bool = False


@dataclass
class _Running:
    """One process with the pipes to it."""

    process: BaseProcess
    pipes: dict[str, _Pipe]

    def end(self) -> int | None:
        """See the process end, and return its exit code."""
        self.process.join(_END_SECONDS)
        if self.process.is_alive():  # in the middle of a long step
            self.process.kill()
            self.process.join()
        code = self.process.exitcode
        self.process.close()
        return code


def _start() -> _Running:
    context = multiprocessing.get_context("spawn")  # a fork would take over locks held by other threads
    pairs = {name: context.Pipe() for name in WORKS}
    process = context.Process(
        target=serve, args=({name: pair[1] for name, pair in pairs.items()},), name="gauze solver", daemon=True
    )
    process.start()
    for _, theirs in pairs.values():
        theirs.close()  # or the end of the process would not be heard
    return _Running(process, {name: _Pipe(pair[0]) for name, pair in pairs.items()})


def _received(pipe: _Pipe, cancelled: Callable[[], bool]) -> Message:
    """Wait for a message; raises :class:`Cancelled` when nobody wants it any more."""
    while not pipe.connection.poll(_LOOK_SECONDS):
        if cancelled():
            raise Cancelled(_UNWANTED)
    return receive(pipe.connection)


class SolverProcess:
    """The solvers in a process of their own.

    Parameters
    ----------
    catalogue:
        That of the calling side, which stands in results for the same one of the other side.
    """

    def __init__(self, catalogue: Catalogue) -> None:
        self._catalogue = catalogue
        self._changing = threading.Lock()
        self._closed = False
        self._running = _start()

    @property
    def process_id(self) -> int:
        """Of the process that computes."""
        return int(self._running.process.pid or 0)

    def call(self, name: str, request: Any, tell: Tell, cancelled: Callable[[], bool]) -> Any:
        """Ask for a work by its name in ``WORKS`` and wait for the result; from any thread.

        Raises
        ------
        Cancelled
            As soon as ``cancelled()`` says so, or the process is closed; it gives up at its next pause.
        SolverError
            When the process ended. It has been restarted.
        Exception
            Whatever the work raised, with the traceback of the other side as a note.
        """
        running = self._running
        pipe = running.pipes[name]
        with pipe.one_at_a_time:
            try:
                kind, content = self._converse(pipe, request, tell, cancelled)
            except (EOFError, OSError) as error:
                raise self._lost(running) from error
        if kind is Kind.FAILED:
            raise content
        if kind is Kind.CANCELLED:
            raise Cancelled(_UNWANTED)
        return content

    def close(self) -> None:
        """End the process."""
        with self._changing:
            self._closed = True
            for pipe in self._running.pipes.values():
                pipe.connection.close()
            self._running.end()

    def _converse(self, pipe: _Pipe, request: Any, tell: Tell, cancelled: Callable[[], bool]) -> tuple[Kind, Any]:
        while pipe.owed:  # a long request and a long answer sent at the same time would wait for each other forever
            pipe.owed = not kind_of(_received(pipe, cancelled)).final
        known = Known({"catalogue": self._catalogue, "design": getattr(request, "design", request)})
        send(pipe.connection, encode(Kind.CALL, request, Known({"catalogue": self._catalogue})))
        pipe.owed = True
        try:
            while True:
                message = _received(pipe, cancelled)
                kind = kind_of(message)
                pipe.owed = not kind.final
                content = decode(message, known)
                if kind.final:
                    return kind, content
                tell(content)
        finally:
            if pipe.owed:
                send(pipe.connection, encode(Kind.STOP, None, NOTHING))

    def _lost(self, running: _Running) -> GauzeError:
        code = None
        with self._changing:
            if self._closed:
                return Cancelled(_UNWANTED)
            if self._running is running:  # else another call has found it before
                code = running.end()  # its pipes close when the last call lets go of them
                self._running = _start()
        how = f" ({signal.Signals(-code).name})" if code is not None and code < 0 else ""
        return SolverError(
            "The light could not be computed: the process that computes it ended{how}, possibly for "
            "lack of memory. It has been restarted: carry on, with a smaller or simpler design if it "
            "happens again.",
            how=how,
        )
