"""The window of the shelf: things are added, typed, judged and used; tables come in and go out."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QFileDialog, QLineEdit
from pytestqt.qtbot import QtBot

from gauze.core.formats.shelf_csv import encode_shelf
from gauze.core.materials.labels import KINDS, BatteryLabel, ControllerLabel, StripLabel, SupplyLabel, WireLabel
from gauze.session.shelf import load_shelf
from gauze.ui.main_window import MainWindow
from gauze.ui.panels.feed import FeedPanel
from gauze.ui.shelf.window import ShelfWindow
from gauze.ui.shelf.words import entries_of
from tests.builders import design

Open = Callable[..., MainWindow]
FOR_THIS_DESIGN = 3


def shelf_of(window: MainWindow) -> ShelfWindow:
    window.actions_by_key["shelf"].trigger()
    shelf = window.shelf_keeper.window
    assert shelf is not None
    return shelf


def typed(shelf: ShelfWindow, field: str, text: str, qtbot: QtBot) -> None:
    line = shelf.label_form.inputs[field]
    assert isinstance(line, QLineEdit)
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, text) if text else qtbot.keyClick(line, Qt.Key.Key_Delete)
    qtbot.keyClick(line, Qt.Key.Key_Return)


def add(shelf: ShelfWindow, kind: type) -> None:
    menu = shelf._add.menu()
    assert menu is not None
    menu.actions()[KINDS.index(kind)].trigger()


def verdict(shelf: ShelfWindow, name: str) -> str:
    rows = range(shelf.table.rowCount())
    found = [shelf.table.item(row, FOR_THIS_DESIGN) for row in rows if shelf.table.item(row, 0).text() == name]
    return found[0].text() if found else ""


def test_a_supply_is_typed_from_its_label_judged_and_used(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    shelf = shelf_of(window)
    assert not shelf._empty.isHidden()
    add(shelf, SupplyLabel)
    typed(shelf, "name", "Grey brick", qtbot)
    typed(shelf, "volts", "3 V", qtbot)
    qtbot.waitUntil(lambda: "It gives 3 V" in verdict(shelf, "Grey brick"), timeout=60_000)
    assert not shelf.use.isEnabled()
    volts = window.bench.exact.evaluation.supplies[0].volts
    typed(shelf, "volts", f"{volts:g}", qtbot)
    typed(shelf, "amps", "", qtbot)  # neither amps nor watts: refused
    assert "Give the amps or the watts" in shelf.label_form.form._error.text()
    typed(shelf, "amps", "30", qtbot)
    qtbot.waitUntil(lambda: "360 W: enough" in verdict(shelf, "Grey brick"), timeout=60_000)
    shelf.use.click()
    assert window.bench.design.wiring is not None
    assert window.bench.design.wiring.supply_w == pytest.approx(30 * volts)
    window.bench.document.undo()
    assert window.bench.design == design()
    assert load_shelf(window.bench._shelf_file) == window.bench.shelf
    (kept,) = window.bench.shelf.things
    assert isinstance(kept, SupplyLabel)
    assert (kept.name, kept.amps) == ("Grey brick", 30.0)


def test_a_battery_from_the_shelf_feeds_and_is_asked_for_hours(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    shelf = shelf_of(window)
    volts = window.bench.exact.evaluation.supplies[0].volts
    add(shelf, BatteryLabel)
    typed(shelf, "name", "Grey pack", qtbot)
    typed(shelf, "cells_in_series", f"{round(volts / 4.0)}", qtbot)
    typed(shelf, "amp_hours", "20", qtbot)
    qtbot.waitUntil(lambda: "h at full level" in verdict(shelf, "Grey pack"), timeout=60_000)
    shelf.use.click()
    source = window.places.panel(FeedPanel).wiring.source
    window.go_to("feed")
    assert window.bench.design.wiring is not None
    assert window.bench.design.wiring.battery is not None
    assert source.supply.currentText() == "Grey pack"
    assert source.volts.isHidden()
    assert not source.wanted.isHidden()
    source.wanted.setText("2000 h")
    source.wanted.setModified(True)
    source.wanted.returnPressed.emit()
    source.charge.activated.emit(1)
    qtbot.waitUntil(
        lambda: (
            window.bench.exact is not None
            and any("h are wanted" in str(one.sentence) for one in window.bench.exact.findings if one.code == "battery")
        ),
        timeout=60_000,
    )
    battery = window.bench.design.wiring.battery
    assert (battery.wanted_life_h, battery.charge) == (2000.0, 0.5)
    source.supply.activated.emit(source.supply.findData(60.0))  # a supply takes its place
    assert window.bench.design.wiring.battery is None
    assert window.bench.design.wiring.supply_w == 60.0
    assert source.wanted.isHidden()
    source.supply.activated.emit(source.supply.count() - 1)
    assert window.shelf_keeper.window is not None  # and the last entry leads back to the shelf
    assert source.supply.currentData() == 60.0


def test_a_controller_from_the_shelf_is_chosen_and_dropped(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    shelf = shelf_of(window)
    add(shelf, ControllerLabel)
    typed(shelf, "name", "Dimmer box", qtbot)
    typed(shelf, "timer_mhz", "16", qtbot)
    typed(shelf, "timer_dividers", "one", qtbot)
    assert "whole numbers" in shelf.label_form.form._error.text()
    typed(shelf, "timer_dividers", "1 8 64", qtbot)
    qtbot.waitUntil(lambda: "may dim it" in verdict(shelf, "Dimmer box"), timeout=60_000)
    shelf.use.click()
    row = window.places.panel(FeedPanel).wiring.controller
    assert row.box.currentText() == "Dimmer box"
    row.box.activated.emit(0)
    assert window.bench.design.wiring is not None
    assert window.bench.design.wiring.controller is None
    assert row.box.currentIndex() == 0


def test_an_own_reel_lights_the_design_and_stands_in_its_tray(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    shelf = shelf_of(window)
    add(shelf, StripLabel)
    typed(shelf, "reel_m", "5 m", qtbot)
    typed(shelf, "watts", "48", qtbot)
    typed(shelf, "watts_per_m", "30", qtbot)  # the label would say two things
    assert "two things" in shelf.label_form.form._error.text()
    assert shelf.label_form.inputs["watts_per_m"].text() == ""
    like = shelf.label_form.inputs["like"]
    assert isinstance(like, QComboBox)
    like.setCurrentIndex(like.findData("24v-white-120"))
    like.activated.emit(like.currentIndex())
    (reel,) = window.bench.shelf.things
    assert isinstance(reel, StripLabel)
    assert reel.like == "24v-white-120"
    assert "9.6 W/m" in shelf.label_form._comes_to.text()
    qtbot.waitUntil(shelf.use.isEnabled, timeout=60_000)
    shelf.use.click()
    assert window.bench.design.strips[0].strip == reel.id
    assert window.bench.design.own_lamps == (reel,)
    qtbot.waitUntil(lambda: window.bench.exact is not None, timeout=240_000)
    assert reel.id in window.bench.known().strips
    assert window.bench.exact.evaluation.layout.strips[0].strip.power_w_per_m == pytest.approx(9.6)


def test_tables_come_in_and_go_out(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(design())
    shelf = shelf_of(window)
    table, out = tmp_path / "drawer.csv", tmp_path / "out.csv"
    things = (
        WireLabel(id="own-w", name="Red", gauge=18, on_hand=12.0),
        BatteryLabel(id="own-b", name="Pack", chemistry="lead_acid", cells_in_series=6, amp_hours=7.0),
    )
    table.write_bytes(encode_shelf(things))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(table), ""))
    shelf.import_wanted.emit()
    assert {thing.name for thing in window.bench.shelf.things} == {"Red", "Pack"}
    shelf.import_wanted.emit()  # the same again adds nothing
    assert len(window.bench.shelf.things) == 2
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(out), ""))
    shelf.export_wanted.emit()
    qtbot.waitUntil(out.exists, timeout=60_000)
    assert out.read_bytes() == encode_shelf(window.bench.shelf.things)
    told: list[str] = []
    monkeypatch.setattr(window.files, "explain", lambda _title, text: told.append(text))
    table.write_bytes(b"kind,name\nsofa,x\n")
    shelf.import_wanted.emit()
    assert "“sofa” is no kind" in told[0]
    assert len(window.bench.shelf.things) == 2


def test_things_are_duplicated_and_removed_and_other_looks_are_shown(open_window: Open) -> None:
    window = open_window(design())
    shelf = shelf_of(window)
    for kind in KINDS:
        add(shelf, kind)
        assert set(shelf.label_form.inputs) == {entry.field for entry in entries_of(kind)}
        assert set(kind.__struct_fields__) - {"id"} == set(shelf.label_form.inputs)
    assert shelf.table.rowCount() == len(KINDS)
    shelf._copy.click()
    assert shelf.table.rowCount() == len(KINDS) + 1
    shelf._remove.click()
    shelf._remove.click()
    assert shelf.table.rowCount() == len(KINDS) - 1
    window.actions_by_key["unit"].trigger()
    window.actions_by_key["light_theme"].trigger()
    add(shelf, WireLabel)
    copper = shelf.label_form.inputs["copper"]
    assert isinstance(copper, QCheckBox)
    copper.click()
    chosen = next(thing for thing in window.bench.shelf.things if thing.id == shelf.chosen_id)
    assert isinstance(chosen, WireLabel)
    assert not chosen.copper


def test_a_shelf_that_cannot_be_written_is_told_and_stays_there(
    open_window: Open, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(design())
    shelf = shelf_of(window)
    told: list[str] = []
    monkeypatch.setattr(window.files, "explain", lambda _title, text: told.append(text))
    window.bench._shelf_file.mkdir()  # a folder where the file should be
    add(shelf, SupplyLabel)
    assert told
    assert len(window.bench.shelf.things) == shelf.table.rowCount() == 1
