"""The place Make and its window: choices, plans, prices, the shelf, exports."""

from collections.abc import Callable
from pathlib import Path

import msgspec
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from gauze.core.design.channel_bar import Bar
from gauze.core.design.making import StockChoice
from gauze.core.formats.making_csv import encode_bill
from gauze.core.materials.labels import ProfileStock
from gauze.session.document import Document
from gauze.session.making_edits import shown_making, with_making, with_stock
from gauze.session.versions import with_version_of
from gauze.ui.main_window import MainWindow
from gauze.ui.making.window import MakingWindow
from gauze.ui.panels.fields import QuantityField
from gauze.ui.panels.make import MakePanel
from tests.builders import CATALOGUE, design
from tests.families import bars, family, tiles

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


def test_prices_are_kept_with_the_shelf_and_offered_to_the_next_design(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(BARS)
    opened = making_of(window, qtbot)
    row = next(row for row in range(opened.table.rowCount()) if "Channel" in opened.table.item(row, 0).text())
    opened.table.item(row, 3).setText("9.5")
    assert set(window.bench.shelf.prices.values()) == {9.5}
    other = msgspec.structs.replace(BARS, name="Another")
    window.bench.replace_document(Document(other, CATALOGUE))
    qtbot.waitUntil(lambda: not opened.use_prices.isHidden(), timeout=120_000)
    assert "(1)" in opened.use_prices.text()
    opened.use_prices.click()
    assert window.bench.design.making is not None
    assert [one.price for one in window.bench.design.making.stocks] == [9.5]
    qtbot.waitUntil(opened.use_prices.isHidden, timeout=120_000)


def test_tax_and_hours_are_part_of_the_sum(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(with_making(BARS, tax_percent=20.0, hours=3.0, hour_price=10.0))
    opened = making_of(window, qtbot)
    row = next(row for row in range(opened.table.rowCount()) if "Channel" in opened.table.item(row, 0).text())
    opened.table.item(row, 3).setText("10")
    # two bars of 10, a fifth of it tax, three hours of 10
    qtbot.waitUntil(lambda: "54.00 in all" in opened._total.text(), timeout=120_000)
    assert "4.00 of it tax" in opened._total.text()
    assert "30.00 for the hours" in opened._total.text()
    made = window.make_keeper.made
    assert made is not None
    rows = encode_bill(made).decode().splitlines()
    assert [line.rpartition(",")[2] for line in rows[-4:]] == ["20.00", "4.00", "30.00", "54.00"]


def test_kept_versions_stand_beside_with_what_they_cost_and_give(open_window: Open, qtbot: QtBot) -> None:
    short = family(bars(width_mm=15.0, bars=(Bar(length_mm=600.0),)))
    what = with_version_of(with_stock(BARS, "profile:17.4 x 10", price=10.0), short, "short one")
    window = open_window(what)
    opened = making_of(window, qtbot)
    qtbot.waitUntil(lambda: bool(opened._others.text()), timeout=240_000)
    lines = opened._others.text().splitlines()
    assert lines[0].startswith("This design: 20.00")
    assert lines[1].startswith("“short one”: 10.00")
    assert all("cd/m²" in line for line in lines)


def test_choices_of_cost_are_typed(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(BARS, lit=False)
    window.go_to("make")
    choices = window.places.panel(MakePanel).choices
    for field, text in ((choices.tax, "19 %"), (choices.hours, "6.5"), (choices.hour_price, "25")):
        typed(field, text, qtbot)
    making = window.bench.design.making
    assert making is not None
    assert (making.tax_percent, making.hours, making.hour_price) == (19.0, 6.5, 25.0)
    typed(choices.tax, "", qtbot)
    typed(choices.hours, "many", qtbot)
    assert window.bench.design.making is not None
    assert (window.bench.design.making.tax_percent, window.bench.design.making.hours) == (None, 6.5)


def test_of_very_many_sheets_the_rest_is_told(open_window: Open, qtbot: QtBot) -> None:
    """Thirty are drawn; the others are in the list that is exported."""
    window = open_window(
        with_stock(with_making(family(tiles()), copies=33), "sheet:base", length_mm=200.0, width_mm=200.0)
    )
    opened = making_of(window, qtbot)
    key = next(key for key in opened.sheets if "base" in key)
    qtbot.waitUntil(lambda: "3 more" in opened.sheets[key].about.text(), timeout=120_000)
    assert opened.sheets[key].view.hidden == 3
    assert len(opened.sheets[key].view._sheets) == 30


def test_a_box_is_framed_by_choices_and_others_have_none(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    window.go_to("make")
    frame = window.places.panel(MakePanel).choices.frame
    qtbot.waitUntil(frame.isVisible, timeout=120_000)
    assert frame.missing.isVisible()  # the boards have no thickness yet
    typed(window.places.panel(MakePanel).wall, "15", qtbot)
    assert not frame.missing.isVisible()
    for box, key in (
        (frame.corners, "lap"),
        (frame.seat, "groove"),
        (frame.hang, "hooks"),
        (frame.stand, "quarter_inch"),
    ):
        box.setCurrentIndex(box.findData(key))
        box.activated.emit(box.currentIndex())
    typed(frame.screws, "3.5 x 30", qtbot)
    made = shown_making(window.bench.design).frame
    assert (made.corners, made.seat, made.hang, made.stand) == ("lap", "groove", "hooks", "quarter_inch")
    assert (made.screw_mm, made.screw_long_mm) == (3.5, 30.0)
    assert frame.screws.text() == "3.5 mm × 30 mm"
    typed(frame.screws, "4", qtbot)
    assert "2 lengths" in frame.form._error.text()
    typed(frame.screws, "", qtbot)
    assert shown_making(window.bench.design).frame.screw_mm is None
    window.bench.replace_document(Document(BARS, CATALOGUE))
    qtbot.waitUntil(lambda: not frame.isVisible(), timeout=120_000)


def test_a_grain_is_chosen_for_a_sheet(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    making = making_of(window, qtbot)
    qtbot.waitUntil(lambda: bool(making.sheets), timeout=120_000)
    key, block = next(iter(making.sheets.items()))
    block.grain.click()
    assert shown_making(window.bench.design).stock(key).grain
    qtbot.waitUntil(lambda: making.sheets[key].grain.isChecked(), timeout=120_000)
