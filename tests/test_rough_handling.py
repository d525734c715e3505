"""Short, seeded forms of the rough runs of bench/rough: a fuzz of every reader, kills at random moments."""

import signal
from collections.abc import Callable
from pathlib import Path

import pytest

from bench.rough import fuzz, kills
from bench.rough.tally import Tally

PATIENCE_S = 120.0  # a machine may stall for seconds; what hangs takes longer


def times(count: int) -> Callable[[], bool]:
    """Go on ``count`` times."""
    left = iter(range(count))
    return lambda: next(left, None) is not None


@pytest.mark.parametrize("seed", [11, 12])
@pytest.mark.filterwarnings("error")
def test_damaged_files_are_read_or_refused(seed: int) -> None:
    tally = Tally()
    fuzz.rounds(seed, tally, times(4000), PATIENCE_S)
    assert not tally.faults, tally.report("fuzz")
    assert sum(tally.done.values()) == 4000
    assert {"design taken", "design refused", "bytes refused", "table refused", "photometry refused"} <= set(tally.done)


def test_a_fuzz_finds_what_is_wrong(monkeypatch: pytest.MonkeyPatch) -> None:
    """The run itself can fail: a reader that raises anything else, or too much, is counted."""

    def broken(_data: bytes) -> None:
        raise ZeroDivisionError("of ours")

    monkeypatch.setattr(fuzz, "decode_emitters", broken)
    tally = Tally()
    fuzz.rounds(13, tally, times(200), PATIENCE_S)
    assert any("ZeroDivisionError" in what for what in tally.faults)


@pytest.mark.parametrize(("seed", "number"), [(5, signal.SIGKILL), (6, signal.SIGKILL), (7, signal.SIGTERM)])
def test_a_kill_at_a_random_moment_leaves_a_whole_file_and_the_work(
    tmp_path: Path, seed: int, number: signal.Signals
) -> None:
    tally = Tally()
    kills.one_kill(seed, number, tmp_path, tally)
    assert not tally.faults, tally.report("kills")
