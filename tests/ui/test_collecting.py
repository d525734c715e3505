"""Cyclic garbage is collected by the interface's thread, and by no other."""

import gc
import threading
import weakref
from collections.abc import Iterator
from typing import ClassVar

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from gauze.ui.collecting import Collecting, collect_due


class Ring:
    """What only the collector of cycles takes away; it notes in which thread."""

    died_in: ClassVar[list[int]] = []

    def __init__(self) -> None:
        self.self = self

    def __del__(self) -> None:
        Ring.died_in.append(threading.get_ident())


@pytest.fixture(autouse=True)
def _as_it_was() -> Iterator[None]:
    limits = gc.get_threshold()
    gc.collect()
    Ring.died_in.clear()
    yield
    gc.set_threshold(*limits)
    gc.disable()


def leave_garbage(kept: list[list[int]]) -> None:
    for _ in range(20):
        Ring()
    kept.extend([index] for index in range(5000))  # allocations enough for a collection to be due


def test_garbage_of_a_background_thread_dies_in_the_interface(qtbot: QtBot) -> None:
    gc.enable()
    collecting = Collecting()
    kept: list[list[int]] = []
    worker = threading.Thread(target=leave_garbage, args=(kept,))
    worker.start()
    worker.join()
    assert not Ring.died_in
    qtbot.waitUntil(lambda: len(Ring.died_in) == 20, timeout=60_000)
    assert set(Ring.died_in) == {threading.get_ident()}
    assert collecting.parent() is None


def test_only_what_is_due_is_collected() -> None:
    kept: list[list[int]] = []
    gc.set_threshold(1_000_000, 10, 10)
    assert collect_due() is None
    gc.set_threshold(0, 10, 10)  # Python's way to say never
    leave_garbage(kept)
    assert collect_due() is None
    gc.set_threshold(100, 10, 10)
    leave_garbage(kept)
    assert collect_due() == 0
    assert len(Ring.died_in) == 40


def test_the_oldest_generation_waits_for_the_hand(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    buttons = [Qt.MouseButton.LeftButton]
    monkeypatch.setattr(QApplication, "mouseButtons", lambda: buttons[0])
    gc.set_threshold(1, 1, 1)
    ring = Ring()
    gc.collect(0)
    gc.collect(1)  # it is old now
    gone = weakref.ref(ring)
    del ring
    collecting = Collecting()
    for _ in range(3):
        qtbot.wait(5)
        collecting._collect()
    assert gone() is not None
    buttons[0] = Qt.MouseButton.NoButton
    qtbot.waitUntil(lambda: gone() is None, timeout=60_000)
