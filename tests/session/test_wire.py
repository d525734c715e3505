"""Messages between the two processes: what comes is what went, however large, and nothing of it is left behind."""

import errno
import gc
import os
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from multiprocessing import Pipe
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.session.solver import messages
from gauze.session.solver.messages import NOTHING, Kind, decode, encode
from gauze.session.solver.wire import Message, receive, send

Ends = tuple[Connection, Connection]
LARGE = (300, 200)  # numbers: more than goes through the pipe itself


@pytest.fixture
def ends() -> Iterator[Ends]:
    one, other = Pipe()
    with one, other:
        yield one, other


def carried(ends: Ends, content: object) -> Any:
    with ThreadPoolExecutor(1) as pool:  # a pipe holds less than these messages
        sent = pool.submit(send, ends[0], encode(Kind.DONE, content, NOTHING))
        message = receive(ends[1])
        sent.result()
    return decode(message, NOTHING)


def descriptors() -> int:
    return len(list(Path("/proc/self/fd").iterdir()))


@given(
    shapes=st.lists(st.tuples(st.integers(0, 130), st.integers(0, 130)), max_size=6),
    kind=st.sampled_from(["f4", "f8", "i2", "?"]),
    order=st.sampled_from(["C", "F"]),
)
def test_what_comes_is_what_went(shapes: list[tuple[int, int]], kind: str, order: Any) -> None:
    rng = np.random.default_rng(len(shapes))
    went = [np.asarray(rng.random(shape) * 100, dtype=kind, order=order) for shape in shapes]
    one, other = Pipe()
    with one, other:
        came = carried((one, other), {"arrays": went, "words": "so"})
    assert came["words"] == "so"
    for here, there in zip(went, came["arrays"], strict=True):
        assert there.dtype == here.dtype
        assert np.array_equal(there, here)


def test_large_arrays_go_beside_the_message_and_small_ones_in_it() -> None:
    small, large = np.arange(10.0), np.zeros(LARGE)
    message = encode(Kind.DONE, (small, large, large[::2, ::2]), NOTHING)  # the last is not contiguous: it is copied
    assert len(message.arrays) == 1
    assert len(message.body) < large.nbytes


def test_an_array_that_came_can_be_changed_and_outlives_the_others(ends: Ends) -> None:
    first, second = carried(ends, [np.ones(LARGE), np.full(LARGE, 2.0)])
    del first
    gc.collect()
    second += 1.0
    assert second.sum() == 3.0 * second.size


def test_no_descriptor_is_left_behind(ends: Ends) -> None:
    before = descriptors()
    kept = [carried(ends, [np.full(LARGE, float(number)), np.zeros(LARGE)]) for number in range(20)]
    assert descriptors() <= before + len(kept)  # one for what came together
    assert [float(one[0][0, 0]) for one in kept] == list(range(20))
    kept.clear()
    gc.collect()
    assert descriptors() == before


def test_who_is_gone_is_told_of(ends: Ends) -> None:
    ends[0].close()
    with pytest.raises(EOFError):
        receive(ends[1])


def test_arrays_that_never_come_are_told_of(ends: Ends) -> None:
    """The other side ends between a message and its arrays."""
    message = encode(Kind.DONE, np.zeros(LARGE), NOTHING)
    head = (1).to_bytes(4, "little") + message.arrays[0].raw().nbytes.to_bytes(8, "little")  # type: ignore[union-attr]  # not a view
    ends[0].send_bytes(head + message.body)
    ends[0].close()
    with pytest.raises(EOFError):
        receive(ends[1])


@pytest.mark.parametrize("call", ["memfd_create", "pwrite"])
def test_without_memory_nothing_is_sent_and_the_pipe_goes_on(
    ends: Ends, call: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    def none_left(*_given: object) -> int:
        raise OSError(errno.ENOSPC, "none left")

    before = descriptors()
    with monkeypatch.context() as patch:
        patch.setattr(os, call, none_left)
        with pytest.raises(MemoryError, match="no memory"):
            send(ends[0], encode(Kind.DONE, np.zeros(LARGE), NOTHING))
    assert descriptors() == before
    assert not ends[1].poll()
    assert carried(ends, np.ones(LARGE)).sum() == np.ones(LARGE).sum()


def test_a_message_without_arrays_is_one_of_the_pipe(ends: Ends) -> None:
    send(ends[0], Message(b"?words"))
    assert receive(ends[1]) == Message(b"?words")
    assert messages.kind_of(Message(b"?words")) is Kind.CALL
