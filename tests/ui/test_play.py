"""The window in which a display plays: nothing moves before its flashes are counted, and it stops with the design."""

import socket
from collections.abc import Callable
from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from gauze.core.design import with_build
from gauze.core.effects import FILM, MOST_FLASHES_PER_S
from gauze.core.formats.e131 import decode_universe
from gauze.ui.main_window import MainWindow
from gauze.ui.play.window import PlayWindow
from gauze.ui.solving import FlashRequest
from tests.builders import design
from tests.families import display, family

Open = Callable[..., MainWindow]


def playing(window: MainWindow, qtbot: QtBot) -> PlayWindow:
    window.actions_by_key["play"].trigger()
    found = window.play_keeper.window
    assert found is not None
    qtbot.waitUntil(found.play.isEnabled, timeout=240_000)
    return found


def test_it_plays_changes_and_stops(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(display()))
    play = playing(window, qtbot)
    assert play.face._image is not None
    assert "a second" in play._flash.text()
    play.play.click()
    first = play._said.text()
    qtbot.waitUntil(lambda: play._said.text() != first, timeout=60_000)
    play.effect.setCurrentIndex(play.effect.findData("fire"))
    play.effect.activated.emit(play.effect.currentIndex())
    assert not play.play.isChecked()  # nothing moves before it is looked through
    assert play.text.isHidden()
    qtbot.waitUntil(play.play.isEnabled, timeout=60_000)
    play.play.click()
    assert play._timer.isActive()
    play.close()
    assert not play._timer.isActive()


def test_an_edit_stops_it_and_lights_the_pixels_again(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(display()))
    play = playing(window, qtbot)
    play.play.click()
    window.bench.edit("Depth", lambda one, _: with_build(one, depth_mm=one.build.depth_mm + 4.0))
    assert not play._timer.isActive()
    assert not play.play.isEnabled()
    qtbot.waitUntil(play.play.isEnabled, timeout=240_000)


def test_what_flashes_too_often_says_so(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(display()))
    play = playing(window, qtbot)
    assert play._response is not None
    play.show_flashes(FlashRequest(play.chosen.key, play._response.screen, play.options), MOST_FLASHES_PER_S + 2.0)
    assert "seizures" in play._flash.text()


def test_only_displays_play(open_window: Open) -> None:
    window = open_window(design(), lit=False)
    assert not window.actions_by_key["play"].isEnabled()


def test_nothing_is_sent_before_it_is_asked_for(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(display()))
    play = playing(window, qtbot)
    assert play.sending._sender is None
    play.sending.address.setText("nowhere")
    play.sending.button.click()
    assert "is not an address" in play.sending.form._error.text()
    assert play.sending._sender is None
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as listening:
        listening.bind(("127.0.0.1", 0))
        listening.settimeout(60.0)
        play.sending.address.setText("127.0.0.1")
        play.sending.port.setText(str(listening.getsockname()[1]))
        play.sending.button.click()
        play.play.click()
        qtbot.waitUntil(lambda: "packets sent" in play.sending._said.text(), timeout=60_000)
        assert decode_universe(listening.recv(2048)).number == 1
        play.close()
        assert play.sending._sender is None


def test_a_film_is_chosen_read_played_or_refused(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(family(display()))
    play = playing(window, qtbot)
    good, bad = tmp_path / "red & green.gif", tmp_path / "bad.gif"
    pictures = [Image.new("RGB", (64, 32), colour) for colour in ((255, 0, 0), (0, 255, 0))]
    pictures[0].save(good, save_all=True, append_images=pictures[1:], duration=1000)
    bad.write_bytes(b"GIF89a")
    assert play.file.isHidden()
    play.effect.setCurrentIndex(play.effect.findData(FILM))
    play.effect.activated.emit(play.effect.currentIndex())
    assert not play.file.isHidden()
    assert not play.play.isEnabled()
    assert "Choose a picture" in play._flash.text()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(bad), ""))
    play.file.click()
    qtbot.waitUntil(lambda: "was not read" in play._flash.text(), timeout=60_000)
    assert not play.play.isEnabled()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(good), ""))
    play.file.click()
    qtbot.waitUntil(play.play.isEnabled, timeout=60_000)
    assert "a second" in play._flash.text()
    assert play.options.film is not None
    assert play.file.text() == "red && green.gif"
    window.bench.edit("Columns", lambda one, _: with_build(one, columns=16))
    assert not play.play.isEnabled()
    qtbot.waitUntil(play.play.isEnabled, timeout=240_000)
    assert (
        play.options.film.pictures.shape[2] == window.bench.design.build.columns
    )  # read again for the display as it is
