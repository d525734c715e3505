"""One background thread that works on the newest request: what a solver needs that follows the mouse."""

import threading
from collections.abc import Callable
from dataclasses import dataclass
from typing import Generic, TypeVar

from gauze.core.errors import Cancelled

Request = TypeVar("Request")
Result = TypeVar("Result")


@dataclass(frozen=True)
class Outcome(Generic[Request, Result]):
    """What became of a request: a result or an error, never both."""

    request: Request
    result: Result | None
    error: Exception | None


class NewestJob(Generic[Request, Result]):
    """Runs one request at a time; of those that arrive meanwhile only the newest is kept.

    Parameters
    ----------
    work:
        Called in the background with the request and a function that says whether to stop.
    report:
        Called in the background with every outcome but cancelled ones.
    give_way:
        Whether a request that is being worked on is to be stopped when a newer one arrives; otherwise it
        is finished first. (A coarse step of a drag is finished, or a steady hand would never see one.)
    """

    def __init__(
        self,
        work: Callable[[Request, Callable[[], bool]], Result],
        report: Callable[[Outcome[Request, Result]], None],
        name: str,
        give_way: Callable[[Request], bool] = lambda _running: True,
    ) -> None:
        self._work = work
        self._give_way = give_way
        self._running: Request | None = None
        self._report = report
        self._condition = threading.Condition()
        self._pending: Request | None = None
        self._stop_current = threading.Event()
        self._closed = False
        self._thread = threading.Thread(target=self._run, name=name, daemon=True)
        self._thread.start()

    def submit(self, request: Request) -> None:
        """Ask for a request."""
        with self._condition:
            self._pending = request
            if self._running is not None and self._give_way(self._running):
                self._stop_current.set()
            self._condition.notify()

    def cancel(self) -> None:
        """Stop what is being worked on and forget what is waiting."""
        with self._condition:
            self._pending = None
            self._stop_current.set()

    def close(self) -> None:
        """End the thread and wait for it."""
        with self._condition:
            self._closed = True
            self._pending = None
            self._stop_current.set()
            self._condition.notify()
        self._thread.join()

    def _run(self) -> None:
        while True:
            with self._condition:
                while self._pending is None and not self._closed:
                    self._condition.wait()
                if self._closed or self._pending is None:
                    return
                request, self._pending = self._pending, None
                self._running = request
                self._stop_current = threading.Event()
                stop = self._stop_current
            self._do(request, stop)
            with self._condition:
                self._running = None

    def _do(self, request: Request, stop: threading.Event) -> None:
        try:
            result = self._work(request, stop.is_set)
        except Cancelled:
            return
        except Exception as error:  # noqa: BLE001 - whatever it was, the one who asked has to hear of it
            self._report(Outcome(request, None, error))
        else:
            if not stop.is_set():
                self._report(Outcome(request, result, None))
