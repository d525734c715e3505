import threading
from collections.abc import Callable

from gauze.core.errors import Cancelled
from gauze.session.jobs import NewestJob, Outcome


class Recorder:
    """Collects outcomes and lets a test wait for one."""

    def __init__(self) -> None:
        self.outcomes: list[Outcome[int, int]] = []
        self._arrived = threading.Condition()

    def __call__(self, outcome: Outcome[int, int]) -> None:
        with self._arrived:
            self.outcomes.append(outcome)
            self._arrived.notify_all()

    def wait_for(self, request: int) -> Outcome[int, int]:
        with self._arrived:
            assert self._arrived.wait_for(lambda: any(o.request == request for o in self.outcomes), timeout=240)
            return next(outcome for outcome in self.outcomes if outcome.request == request)


def test_results_and_errors_are_told() -> None:
    recorder = Recorder()

    def work(request: int, _cancelled: Callable[[], bool]) -> int:
        return 10 // request

    job = NewestJob(work, recorder, "test")
    job.submit(5)
    assert recorder.wait_for(5).result == 2
    job.submit(0)
    assert isinstance(recorder.wait_for(0).error, ZeroDivisionError)
    job.submit(2)  # a failure does not end the job
    assert recorder.wait_for(2).result == 5
    job.close()


def gated_job(give_way: bool) -> tuple[NewestJob[int, int], Recorder, threading.Event, threading.Event]:
    recorder, started, gate = Recorder(), threading.Event(), threading.Event()

    def work(request: int, cancelled: Callable[[], bool]) -> int:
        started.set()
        while not gate.wait(0.005):
            if cancelled():
                raise Cancelled("stopped")
        if cancelled():
            raise Cancelled("stopped")
        return request

    return NewestJob(work, recorder, "test", lambda _running: give_way), recorder, started, gate


def test_of_those_that_wait_the_newest_wins_and_the_running_one_is_finished() -> None:
    job, recorder, started, gate = gated_job(give_way=False)
    job.submit(1)
    assert started.wait(5)
    for request in (2, 3, 4):
        job.submit(request)
    gate.set()
    recorder.wait_for(4)
    assert [outcome.request for outcome in recorder.outcomes] == [1, 4]
    job.close()


def test_a_running_one_that_gives_way_is_stopped() -> None:
    job, recorder, started, gate = gated_job(give_way=True)
    job.submit(1)
    assert started.wait(5)
    job.submit(2)
    gate.set()
    recorder.wait_for(2)
    assert [outcome.request for outcome in recorder.outcomes] in ([2], [1, 2])  # 1 may have been past its last check
    job.close()


def test_cancel_forgets_and_close_ends_the_thread() -> None:
    job, recorder, started, gate = gated_job(give_way=False)
    job.submit(1)
    assert started.wait(5)
    job.submit(2)
    job.cancel()
    gate.set()
    job.close()
    assert all(outcome.request != 2 for outcome in recorder.outcomes)
    assert not any(thread.name == "test" for thread in threading.enumerate())
