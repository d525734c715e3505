"""Work in the background, declared: a row for each kind of work, one thread each, results brought to the interface thread."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from gauze.core.errors import GauzeError
from gauze.session.jobs import NewestJob, Outcome
from gauze.ui.text import told


@dataclass(frozen=True)
class Job:
    """One kind of work: its name, what does it in its thread, and what takes the outcome in the interface's.

    ``work`` is given the request and a function that says whether to stop. ``take`` is given the request and the result; an
    error that people can read goes to ``refuse`` (or is reported like any other), a defect is raised. ``give_way`` says whether a
    request that is being worked on is stopped when a newer one comes.
    """

    name: str
    work: Callable[[Any, Callable[[], bool]], Any]
    take: Callable[[Any, Any], None] = lambda _request, _result: None
    refuse: Callable[[Any, GauzeError], None] | None = None
    give_way: Callable[[Any], bool] = lambda _running: True


class Background(QObject):
    """The jobs of a window. Of each kind the newest request is worked on."""

    failed = pyqtSignal(str)
    _reported = pyqtSignal(str, object)

    def __init__(self, jobs: Sequence[Job]) -> None:
        super().__init__()
        self._rows = {job.name: job for job in jobs}
        self._jobs: dict[str, NewestJob[Any, Any]] = {
            job.name: NewestJob(job.work, self._reporter(job.name), job.name, job.give_way) for job in jobs
        }
        self._reported.connect(self._take)

    def _reporter(self, name: str) -> Callable[[Outcome[Any, Any]], None]:
        return lambda outcome: self._reported.emit(name, outcome)

    def submit(self, name: str, request: object) -> None:
        """Ask for some work."""
        self._jobs[name].submit(request)

    def cancel(self, name: str) -> None:
        """Stop what is being worked on, and forget what waits."""
        self._jobs[name].cancel()

    def close(self) -> None:
        """End all threads and wait for them."""
        for job in self._jobs.values():
            job.close()

    def _take(self, name: str, outcome: Outcome[Any, Any]) -> None:
        row = self._rows[name]
        if outcome.error is None:
            row.take(outcome.request, outcome.result)
        elif not isinstance(outcome.error, GauzeError):
            raise outcome.error  # a defect of ours: let the hook of the application show and log it
        elif row.refuse is not None:
            row.refuse(outcome.request, outcome.error)
        else:
            self.failed.emit(told(outcome.error))
