"""The place Make and its window: choices, plans, prices, the shelf, exports."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from gauze.core.design.channel_bar import Bar
from gauze.core.design.making import StockChoice
from gauze.core.materials.labels import ProfileStock
from gauze.session.making_edits import with_making
from gauze.ui.main_window import MainWindow
from gauze.ui.making.window import MakingWindow
from gauze.ui.panels.fields import QuantityField
from gauze.ui.panels.make import MakePanel
from tests.builders import design
from tests.families import bars, family

Open = Callable[..., MainWindow]
BARS = family(bars(width_mm=15.0, bars=tuple(Bar(length_mm=length) for length in (600.0, 900.0, 600.0))))


def typed(field: QuantityField, text: str, qtbot: QtBot) -> None:
    field.setFocus()
    field.selectAll()
    qtbot.keyClick(field, Qt.Key.Key_Delete)
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def making_of(window: MainWindow, qtbot: QtBot) -> MakingWindow:
    window.go_to("make")
    window.actions_by_key["making"].trigger()
    opened = window.make_keeper.window
    assert opened is not None
    qtbot.waitUntil(lambda: bool(opened.blocks), timeout=120_000)
    return opened


def test_the_place_tells_what_is_cut_and_follows_its_choices(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(BARS)
    window.go_to("make")
    panel = window.places.panel(MakePanel)
    qtbot.waitUntil(lambda: "2 × 2000 mm bought" in panel._lines.text(), timeout=120_000)
    typed(panel.copies, "3", qtbot)
    qtbot.waitUntil(lambda: "4 × 2000 mm bought" in panel._lines.text(), timeout=120_000)
    typed(panel.copies, "two and a half", qtbot)
    typed(panel.copies, "2.5", qtbot)
    assert window.bench.design.making is not None
    assert window.bench.design.making.copies == 3
    assert "whole number" in panel.form._error.text()
    typed(panel.spare, "5", qtbot)
    typed(panel.kerf, "3.2", qtbot)
    typed(panel.trim, "10", qtbot)
    typed(panel.wall, "12", qtbot)
    panel.shelf.click()
    making = window.bench.design.making
    assert (making.spare_one_in, making.kerf_mm, making.trim_mm, making.wall_mm) == (5, 3.2, 10.0, 12.0)
    assert not making.from_shelf
    typed(panel.spare, "", qtbot)
    assert window.bench.design.making.spare_one_in is None
    for _ in range(7):
        window.bench.document.undo()
    assert window.bench.design == BARS
    assert panel.copies.text() == "1"


def test_lengths_and_prices_are_typed_and_the_plan_and_the_bill_follow(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(BARS)
    opened = making_of(window, qtbot)
    key = next(key for key in opened.blocks if key.startswith("profile:"))
    typed(opened.blocks[key].length, "3000", qtbot)
    qtbot.waitUntil(lambda: "1 bought" in opened.blocks[key]._about.text(), timeout=120_000)
    row = next(row for row in range(opened.table.rowCount()) if opened.table.item(row, 0).data(256) == key)
    opened.table.item(row, 3).setText("12.5")
    qtbot.waitUntil(lambda: opened.table.item(row, 4).text() == "12.50", timeout=120_000)
    assert "12.50 in all" in opened._total.text()
    assert window.bench.design.making is not None
    assert window.bench.design.making.stocks == (StockChoice(key=key, length_mm=3000.0, price=12.5),)
    opened.table.item(row, 3).setText("cheap")
    assert "not a number" in opened._total.text()
    assert opened.table.item(row, 3).text() == "12.50"
    typed(opened.blocks[key].length, "500", qtbot)
    qtbot.waitUntil(lambda: "Longer than any stock" in opened.blocks[key]._about.text(), timeout=120_000)
    assert opened.blocks[key].bars.isHidden()


def test_what_was_cut_leaves_the_shelf_and_what_is_left_comes_onto_it(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(BARS)
    channel = ProfileStock(
        id="own-p", name="Channel", like="usual-15", width_mm=15.0, depth_mm=BARS.build.depth_mm, length_mm=1600.0
    )
    window.bench.change_shelf(lambda shelf: shelf.with_thing(channel))
    opened = making_of(window, qtbot)
    key = next(key for key in opened.blocks if key.startswith("profile:"))
    qtbot.waitUntil(lambda: "1 bought, 1 from the shelf" in opened.blocks[key]._about.text(), timeout=120_000)
    opened.keep_left.click()
    things = window.bench.shelf.things
    assert next(thing for thing in things if thing.id == "own-p").on_hand == 0.0
    assert any(isinstance(thing, ProfileStock) and "left" in thing.name for thing in things)


@pytest.mark.parametrize("what", ["cuts", "bill"])
def test_lists_are_exported_from_the_menu(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, what: str
) -> None:
    window = open_window(BARS)
    file = tmp_path / "list.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_args, **_kinds: (str(file), ""))
    window.actions_by_key[f"export_{what}"].trigger()
    qtbot.waitUntil(lambda: file.exists() and file.stat().st_size > 0, timeout=120_000)
    assert "bar" in file.read_text()


def test_the_plans_and_the_bill_go_onto_pages(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(BARS)
    file = tmp_path / "cutting.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_args, **_kinds: (str(file), ""))
    window.actions_by_key["export_cuts"].trigger()
    qtbot.waitUntil(lambda: file.exists() and file.read_bytes().startswith(b"%PDF"), timeout=120_000)


def test_bars_are_drawn_and_told(open_window: Open, qtbot: QtBot) -> None:
    opened = making_of(open_window(BARS), qtbot)
    key = next(key for key in opened.blocks if key.startswith("profile:"))
    drawn = opened.blocks[key].bars
    assert "marks at 900 mm" in drawn.accessibleDescription()
    image = drawn.grab().toImage()
    colours = {image.pixelColor(x, 11).name() for x in range(0, image.width(), 3)}
    assert len(colours) > 3  # ground, two fills, lines


def test_everything_goes_into_a_new_folder(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(BARS)
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_args, **_kinds: str(tmp_path))
    taken = tmp_path / "test-build"
    taken.mkdir()
    (taken / "mine.txt").write_text("mine")
    window.actions_by_key["export_all"].trigger()
    folder = tmp_path / "test-build-2"
    qtbot.waitUntil(lambda: (folder / "test-build-bill.csv").exists(), timeout=240_000)
    assert [one.name for one in taken.iterdir()] == ["mine.txt"]
    assert (folder / "test-build-drawing.pdf").read_bytes().startswith(b"%PDF")


def test_sheets_are_drawn_and_bought_in_another_size(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design(diffuser="opal-acrylic-3"))
    opened = making_of(window, qtbot)
    key = next(key for key in opened.sheets if key.startswith("sheet:Opal"))
    block = opened.sheets[key]
    assert "1 bought" in block.about.text()
    assert "from the left" in block.view.accessibleDescription()
    image = block.view.grab().toImage()
    assert len({image.pixelColor(x, image.height() // 3).name() for x in range(image.width())}) > 2
    typed(block.wide, "300", qtbot)
    qtbot.waitUntil(lambda: "Larger than any sheet" in block.about.text(), timeout=120_000)
    assert block.view.isHidden()
    typed(block.wide, "1200", qtbot)
    typed(block.high, "800", qtbot)
    qtbot.waitUntil(lambda: "1 bought" in block.about.text(), timeout=120_000)
    assert window.bench.design.making is not None
    assert window.bench.design.making.stocks == (StockChoice(key=key, length_mm=1200.0, width_mm=800.0),)


def test_a_plan_of_an_earlier_design_is_dimmed_until_the_new_one_is_there(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(BARS)
    opened = making_of(window, qtbot)
    opened.close()
    window.go_to("aim")
    window.bench.edit("Making", lambda what, _: with_making(what, copies=5))
    window.make_keeper.open(window.theme)
    assert not opened.keep_left.isEnabled()
    qtbot.waitUntil(opened.keep_left.isEnabled, timeout=120_000)
    key = next(key for key in opened.blocks if key.startswith("profile:"))
    assert "bought" in opened.blocks[key]._about.text()
    assert window.make_keeper.made is not None
    assert window.make_keeper.made.making.copies == 5
