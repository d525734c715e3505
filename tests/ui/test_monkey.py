"""A short, seeded form of the monkey of bench/rough over the window, on a few families."""

from collections.abc import Callable
from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot

from bench.rough.monkey import Monkey, watched
from bench.rough.tally import Tally
from gauze.core.formats.design_file import decode_design
from gauze.demo import demo
from gauze.ui.main_window import MainWindow
from tests.builders import CATALOGUE


@pytest.mark.parametrize(
    ("key", "seed"),
    [("proofing_panel", 1), ("stair_tiles", 2), ("press_bars", 3), ("tide_board", 4), ("harbour_sign", 5)],
)
def test_random_hands_break_nothing(
    open_window: Callable[..., MainWindow], qtbot: QtBot, tmp_path: Path, key: str, seed: int
) -> None:
    window = open_window(decode_design(demo(key).read(), CATALOGUE), lit=False)
    window.bench.start()
    folder = tmp_path / "files"
    folder.mkdir()
    tally = Tally()
    monkey = Monkey(window, seed, folder, tally)
    with watched(tally, monkey):
        for _ in range(60):
            monkey.act()
        monkey.there_and_back()
    assert not tally.faults, tally.report("monkey")
    qtbot.wait(1)


def test_the_monkey_sees_what_breaks(open_window: Callable[..., MainWindow], tmp_path: Path) -> None:
    window = open_window(lit=False)
    tally = Tally()
    monkey = Monkey(window, 1, tmp_path, tally)

    def broken() -> None:
        raise ZeroDivisionError("of ours")

    with watched(tally, monkey):
        window.actions_by_key["fit"].triggered.connect(broken)
        window.actions_by_key["fit"].trigger()
    assert any("ZeroDivisionError" in what for what in tally.faults)
