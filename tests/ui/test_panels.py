"""What stands beside and below the drawing: findings, places, trays, the chart."""

from collections.abc import Callable

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPushButton, QStackedWidget
from pytestqt.qtbot import QtBot

from gauze.core.evaluate import State
from gauze.session import edits
from gauze.session.shelf import load_shelf
from gauze.ui.main_window import MainWindow
from gauze.ui.main_window.side import Side
from gauze.ui.panels.aim import AimPanel
from gauze.ui.panels.feed import FeedPanel
from gauze.ui.panels.fields import QuantityField
from gauze.ui.panels.findings import FindingsPanel, FindingView
from gauze.ui.panels.lay import LayPanel
from gauze.ui.panels.own_sheet import OwnSheetDialog
from gauze.ui.panels.soften import SoftenPanel
from gauze.ui.panels.tradeoff import Point
from gauze.ui.panels.tray import Card
from tests.builders import design, warm_and_cool

Open = Callable[..., MainWindow]


def test_findings_apply_in_one_click_and_undo_in_one(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design({"standard": "reference"}), lit=False)
    with qtbot.waitSignal(
        window.bench.solving.fixes_found, timeout=240_000, check_params_cb=lambda _design, code, _fixes: code == "dots"
    ):
        window.bench.start()
    view = next(v for v in window.findings.findChildren(FindingView) if "the rows are" in v.accessibleName())
    button = next(b for b in view.findChildren(QPushButton) if b.text().startswith("Depth"))
    lit = []
    window.bench.lit.connect(lit.append)
    for key, words in (
        ("unit", " in\n"),
        ("light_theme", " in\n"),
        ("unit", " mm\n"),
    ):  # fixes stay, and are written again
        window.actions_by_key[key].trigger()
        button = [b for b in view.findChildren(QPushButton) if b.text().startswith("Depth")][-1]  # the last one made
        assert words in button.text(), key
    assert lit == []  # neither unit nor theme lights anything
    with qtbot.waitSignal(window.bench.lit, timeout=240_000):
        qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert window.bench.result is not None
    dots = next(finding for finding in window.bench.result.findings if finding.code == "dots")
    assert dots.state is State.GOOD
    window.actions_by_key["undo"].trigger()
    assert window.bench.design == design({"standard": "reference"})


def test_why_unfolds_the_working(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    view = next(v for v in window.findings.findChildren(FindingView) if "supply" in v.accessibleName())
    window.findings._fold.setChecked(True)  # it is a good one, and those are folded
    qtbot.waitUntil(view.isVisible, timeout=240_000)
    why = view._why
    why.click()
    assert "80 % rule" in view._working.text()
    assert "Caution" in view._working.text()
    assert view._working.isVisible()
    why.click()
    assert not view._working.isVisible()


def test_what_fails_stands_first_and_what_is_good_in_one_line(open_window: Open) -> None:
    window = open_window(design({"wanted_luminance_cd_m2": 26_000.0}))
    panel = window.findings
    result = window.bench.result
    assert result is not None
    asking = [finding for finding in result.findings if finding.state in {State.FAILS, State.WATCH}]
    shown = [view for view in panel.findChildren(FindingView) if view.isVisibleTo(panel)]
    assert {view._finding.code for view in shown} == {finding.code for finding in asking}
    states = [view._finding.state for view in sorted(shown, key=lambda view: view.y())]
    assert states == sorted(states, key=[State.FAILS, State.WATCH].index)
    assert "good" in panel._fold.text()
    panel._fold.setChecked(True)
    assert all(view.isVisibleTo(panel) for view in panel.findChildren(FindingView))


def test_no_finding_is_cut_through_at_the_divider(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    panel = window.findings
    panel._fold.setChecked(True)

    def cut_through() -> list[FindingView]:
        lower = panel._scroll.height() + panel._bar.value()
        views = [view for view in panel.findChildren(FindingView) if view.isVisibleTo(panel)]
        return [view for view in views if view.y() < lower - 1 and view.y() + view.height() > lower + 1]

    for height in (200, 260, 333, 480):
        window.side.setSizes([height, 700 - height])
        qtbot.wait(60)  # what was there before may not be cut through either
        qtbot.waitUntil(lambda: not cut_through(), timeout=240_000)


def test_the_working_of_a_finding_fills_the_panel(open_window: Open, qtbot: QtBot) -> None:
    """It is longer than the panel: the list shows as much of it as there is room for."""
    window = open_window()
    panel = window.findings
    panel._fold.setChecked(True)
    window.side.setSizes([400, 300])
    view = panel._views["dots"]
    view._why.setChecked(True)
    qtbot.wait(100)
    panel._bar.setValue(view.y())
    qtbot.wait(100)
    assert view.height() > 400
    assert panel._scroll.height() > 250


def test_the_divider_is_remembered(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    window.side.setSizes([200, 500])
    window.side._put(200, 1)
    qtbot.waitUntil(lambda: window.bench.settings.divider is not None, timeout=240_000)
    again = Side(FindingsPanel(window.theme, window.bench.reader), QStackedWidget(), window.bench.settings.divider)
    assert again._share == window.bench.settings.divider


def test_the_tray_shows_this_design_through_each_sheet_and_takes_one(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    with qtbot.waitSignal(window.bench.solving.tray_done, timeout=240_000):
        window.actions_by_key["tray_diffuser"].trigger()
    cards = window.tray.findChildren(Card)
    assert len(cards) == len(window.bench.catalogue.diffusers)
    assert all("lm" in card.accessibleName() for card in cards)
    chosen = next(card for card in cards if card.candidate_id == "tracing-paper")
    with qtbot.waitSignal(window.bench.lit, timeout=240_000):
        chosen.click()
    assert window.bench.design.build.diffuser == "tracing-paper"
    assert window.bench.document.undo_name == "Sheet"
    window.tray.closed.emit()
    assert not window.tray.isVisible()


def test_the_tray_of_strips_serves_the_row_set_that_asked(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design(strips=warm_and_cool()))
    with qtbot.waitSignal(window.bench.solving.tray_done, timeout=240_000):
        window.places.command_wanted.emit("tray_strip", 1)
    card = next(c for c in window.tray.findChildren(Card) if c.candidate_id == "24v-white-60")
    card.click()
    assert [choice.strip for choice in window.bench.design.build.strips] == ["24v-white-120", "24v-white-60"]
    assert window.bench.design.build.strips[1].cct_k == 6500  # its white stays


def test_choices_beside_the_drawing(open_window: Open) -> None:
    window = open_window(lit=False)
    window.go_to("lay")
    window.places.panel(LayPanel)._alternate.chosen.emit("own")
    assert [choice.cct_k for choice in window.bench.design.build.strips] == [2700.0, 6500.0]
    controls = window.places.panel(LayPanel)._strips[1]
    controls._channels._levels[0].moved.emit(0.4)
    assert window.bench.design.build.strips[1].levels == (0.4,)
    controls._channels._cct.setText("5000")
    controls._channels._cct.setModified(True)
    controls._channels._cct.returnPressed.emit()
    assert window.bench.design.build.strips[1].cct_k == 5000
    window.places.panel(LayPanel)._direction.chosen.emit("along_height")
    assert window.bench.design.build.row_direction == "along_height"
    window.places.panel(SoftenPanel)._walls.setEditText("41 %")
    window.places.panel(SoftenPanel)._walls.lineEdit().returnPressed.emit()
    assert window.bench.design.build.walls == pytest.approx(0.41)
    window.places.panel(SoftenPanel)._walls.setEditText("nonsense")
    window.places.panel(SoftenPanel)._walls.lineEdit().returnPressed.emit()
    assert window.bench.design.build.walls == pytest.approx(0.41)
    window.places.panel(AimPanel)._use.chosen.emit("lighting")
    assert window.bench.design.purpose.use == "lighting"


def test_fields_take_restore_and_complain(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    window.go_to("aim")
    field = next(
        f for f in window.places.panel(AimPanel).findChildren(QuantityField) if f.accessibleName() == "Target distance"
    )
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "2 ft")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert window.bench.design.purpose.target_distance_mm == pytest.approx(609.6)
    field.selectAll()
    qtbot.keyClicks(field, "far")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert "not a length" in window.places.panel(AimPanel).form._error.text()
    assert field.text() == "609.6 mm"
    field.selectAll()
    qtbot.keyClicks(field, "3")
    qtbot.keyClick(field, Qt.Key.Key_Escape)
    assert field.text() == "609.6 mm"
    reading = window.places.panel(FeedPanel)._reading
    reading.setText("0,6 A")
    reading.setModified(True)
    reading.returnPressed.emit()
    assert window.bench.design.measured_row_current_a == pytest.approx(0.6)
    window.places.panel(FeedPanel)._clear.click()
    assert window.bench.design.measured_row_current_a is None


def test_layers_are_added_exchanged_and_taken_away(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    soften = window.places.panel(SoftenPanel)
    with qtbot.waitSignal(window.bench.solving.tray_done, timeout=240_000):
        soften._add.click()
    assert window.bench.design.build.layers == ("opal-acrylic-3", "opal-acrylic-3")
    card = next(c for c in window.tray.findChildren(Card) if c.candidate_id == "screen-film")
    with qtbot.waitSignal(window.bench.lit, timeout=240_000):
        card.click()
    assert window.bench.design.build.layers == ("opal-acrylic-3", "screen-film")
    dots = next(f for f in window.bench.result.findings if f.code == "dots")
    assert [str(figure.name) for figure in dots.figures][-3:] == ["Layer 1", "Layer 2", "All layers"]
    soften._add.click()
    assert not soften._add.isEnabled()  # three are enough
    soften._rows[1].removed.emit()
    soften._rows[1].removed.emit()
    assert window.bench.design.build.diffuser == "opal-acrylic-3"
    qtbot.waitUntil(lambda: not window.tray.isVisible(), timeout=240_000)  # the layer that it stood for is gone


def test_an_own_sheet_is_measured_laid_in_and_kept(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    window.actions_by_key["own_sheet"].trigger()
    dialog = window.findChild(OwnSheetDialog)
    dialog.accept()
    assert "Nothing was typed" in dialog.form._error.text()
    dialog.name.setText("Opal offcut")
    dialog.without.setText("1000")
    dialog.with_sheet.setText("1200")
    dialog.accept()
    assert "no sheet lets through more" in dialog.form._error.text()
    dialog.with_sheet.setText("620 lx")
    assert "62.0%" in dialog._result.text()
    dialog.accept()
    assert window.bench.design.build.diffuser == "own-opal-offcut"
    assert window.bench.known().sheet(("own-opal-offcut",)).transmittance == pytest.approx(0.62)
    assert "measured" in window.places.panel(SoftenPanel)._about.text()
    window.bench.document.undo()
    assert window.bench.design == design()
    assert load_shelf(window.bench._shelf_file) == window.bench.shelf  # kept for the next design
    with qtbot.waitSignal(window.bench.solving.tray_done, timeout=240_000):
        window.actions_by_key["tray_diffuser"].trigger()
    own = next(c for c in window.tray.findChildren(Card) if c.candidate_id == "own-opal-offcut")
    own.click()
    assert [sheet.id for sheet in window.bench.design.own_diffusers] == ["own-opal-offcut"]


def test_the_trade_off_is_charted_and_the_design_is_its_point(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    chart = window.chart_panel.chart
    with qtbot.waitSignal(window.bench.solving.field_lit, timeout=240_000):
        window.actions_by_key["chart"].trigger()
    assert window.chart_panel.isVisible()
    here = chart.place_of(Point(30.0, 11)).toPoint()
    there = chart.place_of(Point(45.0, 14)).toPoint()
    qtbot.mousePress(chart, Qt.MouseButton.LeftButton, pos=here)
    assert window.bench.design.build.depth_mm == pytest.approx(30, abs=0.6)
    qtbot.mouseMove(chart, there)
    qtbot.mouseRelease(chart, Qt.MouseButton.LeftButton, pos=there)
    assert window.bench.design.build.depth_mm == pytest.approx(45, abs=1.0)
    assert len(window.bench.panel_layout.rows) == 14
    chart.setFocus()
    qtbot.keyClick(chart, Qt.Key.Key_Up)
    qtbot.keyClick(chart, Qt.Key.Key_Left)
    assert len(window.bench.panel_layout.rows) == 15
    chart.repaint()
    window.bench.document.undo()
    window.bench.document.undo()
    assert window.bench.design == design()  # the drag was one edit, the keys another
    with qtbot.waitSignal(window.bench.solving.field_lit, timeout=240_000):
        window.bench.edit("Walls", lambda what, _: edits.with_build(what, walls=0.3))  # another field
    window.actions_by_key["tray_diffuser"].trigger()  # takes the chart's place
    assert not window.chart_panel.isVisible()


def test_the_target_is_set_beside_the_drawing_and_its_light_shown(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    window.go_to("aim")
    aim = window.places.panel(AimPanel)
    for field, text in (
        (aim._beside[0], "20 cm"),
        (aim._turned[1], "30°"),
        (aim._size[0], "1 m"),
        (aim._white, "4000"),
    ):
        field.setText(text)
        field.setModified(True)
        field.returnPressed.emit()
    purpose = window.bench.design.purpose
    assert (purpose.target.offset_x_mm, purpose.target.tilt_deg, purpose.target.width_mm) == (200.0, 30.0, 1000.0)
    assert purpose.wanted_cct_k == 4000
    aim._white.setText("")
    aim._white.setModified(True)
    aim._white.returnPressed.emit()
    assert window.bench.design.purpose.wanted_cct_k is None
    qtbot.waitUntil(lambda: "lx" in aim.target_map.accessibleDescription(), timeout=240_000)
    aim.target_map.repaint()
