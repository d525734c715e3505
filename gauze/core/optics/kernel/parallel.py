"""Work of the kernel shared among threads, which it lets run beside the interpreter."""

import ctypes
import functools
import os
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor, wait
from contextlib import contextmanager
from contextvars import ContextVar
from itertools import pairwise
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from gauze.core.errors import Pause, carry_on

Task = TypeVar("Task")
Result = TypeVar("Result")
First = TypeVar("First")
Second = TypeVar("Second")
Third = TypeVar("Third")

POOL = "kernel"  # name of its threads
THREADS = min(os.cpu_count() or 1, 4)
_FREE_WORKERS = deque(range(THREADS - 1))  # threads that a second work may have
_IDLE = deque(range(THREADS - 1))  # cores for which there is no work now; the thread that asks has one of its own
_BESIDE: ContextVar[bool] = ContextVar("beside another", default=False)
_WORTH_THREADS = 100_000  # pairs below which handing work to threads takes longer than doing it
_PAIRS_AT_ONCE = 500_000  # of a part: between two looks whether to stop, and whether a core has fallen idle


def in_parts(do: Callable[[slice], None], count: int, each: int, pause: Pause = carry_on) -> None:
    """Do a work on so many rows, each with so many pairs: in parts, by threads where that is worth it and cores are idle.

    Raises
    ------
    Cancelled
        By ``pause()``, between two parts.
    """
    if not count:
        return
    pause()
    if count * each < _WORTH_THREADS or THREADS == 1:
        do(slice(0, count))
        return
    parts = max(THREADS, -(-count * each // _PAIRS_AT_ONCE))
    bounds = np.linspace(0, count, min(parts, count) + 1).astype(int).tolist()

    def one(part: slice) -> None:
        pause()
        do(part)

    in_threads(one, [slice(*bound) for bound in pairwise(bounds)])


def in_threads(do: Callable[[Task], Result], tasks: Sequence[Task]) -> list[Result]:
    """Run a function on several tasks, in parallel where cores are idle.

    It should release the interpreter lock, as NumPy's products do.
    """
    found: list[Result] = []
    while len(found) < len(tasks):
        left = tasks[len(found) :]
        if len(left) > 1 and _IDLE:
            return [*found, *_pool().map(do, left)]
        found.append(do(left[0]))
    return found


@contextmanager
def _at_work() -> Iterator[None]:
    """Within it a second thread works: what it is handed is no longer shared out."""
    core = _taken(_IDLE)
    try:
        yield
    finally:
        _IDLE.extend(core)


@contextmanager
def _waiting() -> Iterator[None]:
    """Within it a thread does nothing but wait for others: they may share out their work."""
    _IDLE.append(-1)
    try:
        yield
    finally:
        _taken(_IDLE)


def _taken(tokens: deque[int]) -> list[int]:
    try:
        return [tokens.pop()]
    except IndexError:
        return []


def beside(do: Callable[[Task], Result], tasks: Sequence[Task]) -> list[Result]:
    """Run long tasks in parallel; they may hand parts of their work to threads: while one interprets, another computes.

    They run in the calling thread and in as many others as are free: none of them is ever queued behind a work that waits for
    what it makes. Returns when all have ended, even if one of them raises.
    """
    waiting, found = deque(enumerate(tasks)), dict[int, Result]()

    def run() -> None:
        while waiting:
            try:
                number, task = waiting.popleft()
            except IndexError:  # another thread took the last one
                return
            found[number] = do(task)

    def run_beside() -> None:
        with _at_work():
            run()

    taken = _free_workers(len(tasks) - 1)
    try:
        works = [_pool_of_works().submit(run_beside) for _ in taken]
        try:
            run()
        finally:
            with _waiting():
                wait(works)
    finally:
        _FREE_WORKERS.extend(taken)
    for work in works:
        work.result()
    return [found[number] for number in range(len(tasks))]


def both(first: Callable[[], First], second: Callable[[], Second]) -> tuple[First, Second]:
    """Run two long tasks in parallel; either may run two more in the same way.

    Where no worker is free, one that is at work beside another begins with the second: what such two works have in common they
    then make between them. Returns when both have ended, even if one of them raises.
    """
    taken = _free_workers(1)
    if not taken:
        if not _BESIDE.get():
            return first(), second()
        later = second()
        return first(), later
    try:
        work = _pool_of_works().submit(_as_second, second)
        try:
            one = first()
        finally:
            with _waiting():
                wait([work])
        return one, work.result()
    finally:
        _FREE_WORKERS.extend(taken)


def all_three(
    first: Callable[[], First], second: Callable[[], Second], third: Callable[[], Third]
) -> tuple[First, Second, Third]:
    """Run three tasks in parallel, as :func:`beside`: who is done first takes the third."""
    tasks: tuple[Callable[[], object], ...] = (first, second, third)
    return tuple(beside(lambda task: task(), tasks))  # type: ignore[return-value]  # in the order of the tasks


def _as_second(do: Callable[[], Second]) -> Second:
    _BESIDE.set(True)  # in this thread's own context
    try:
        with _at_work():
            return do()
    finally:
        _BESIDE.set(False)


def _free_workers(most: int) -> list[int]:
    """Take workers that are free, at most so many: each stands for one thread of the pool of works."""
    taken: list[int] = []
    while len(taken) < most and (one := _taken(_FREE_WORKERS)):
        taken += one
    return taken


@functools.cache
def _pool() -> ThreadPoolExecutor:
    """Threads that stay: to start them takes as long as a million pairs."""
    return ThreadPoolExecutor(THREADS, POOL)


@functools.cache
def _pool_of_works() -> ThreadPoolExecutor:
    """Others for what waits for those."""
    return ThreadPoolExecutor(THREADS, f"{POOL} work")


def rows_from(values: NDArray[np.generic], part: slice) -> ctypes.c_void_p:
    """Where the rows of a part begin; the array is contiguous."""
    return ctypes.c_void_p(values.ctypes.data + part.start * values.strides[0])
