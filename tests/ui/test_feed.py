"""The place Feed: wiring is chosen, seen on the face, and undone."""

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtWidgets import QComboBox, QLabel, QPushButton
from pytestqt.qtbot import QtBot

from gauze.core.design import StripChoice
from gauze.core.design.cavity import BoxShape
from gauze.core.design.surroundings import Surroundings
from gauze.core.design.wiring import Injection, RunSection, Wiring
from gauze.session.wiring_edits import with_wiring
from gauze.ui.main_window import MainWindow
from gauze.ui.panels.feed import FeedPanel
from gauze.ui.panels.wiring_controls import WiringControls
from tests.builders import design, emitter, loose_design
from tests.families import family, strip_display, tube

Open = Callable[..., MainWindow]


def controls(window: MainWindow) -> WiringControls:
    window.go_to("feed")
    return window.places.panel(FeedPanel).wiring


def choose(box: QComboBox, data: object) -> None:
    index = box.findData(data)
    box.setCurrentIndex(index)
    box.activated.emit(index)


def test_nothing_is_chosen_until_it_is(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    panel = controls(window)
    assert panel._scheme.currentData() == ""
    with qtbot.waitSignal(window.bench.lit, timeout=240_000):
        choose(panel._scheme, "both_ends")
    assert window.bench.design.wiring == Wiring(scheme="both_ends")
    choose(panel._section, 1.5)
    assert window.bench.design.wiring == Wiring(scheme="both_ends", wire_mm2=1.5)
    window.actions_by_key["undo"].trigger()
    window.actions_by_key["undo"].trigger()
    assert window.bench.design == design()
    assert panel._scheme.currentData() == ""


def test_a_wire_gets_a_section_of_its_own_and_loses_it(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    panel = controls(window)
    with qtbot.waitSignal(window.bench.lit, timeout=240_000):
        choose(panel._scheme, "separate")
    qtbot.waitUntil(lambda: panel._run.count() > 2, timeout=240_000)
    choose(panel._run, panel._run.itemData(2))
    choose(panel._section, 4.0)
    assert window.bench.design.wiring == Wiring(
        scheme="separate", sections=(RunSection(start="supply", end="row-2 start", wire_mm2=4.0),)
    )
    assert panel._section.currentData() == 4.0
    assert panel._list.count() == 1
    qtbot.waitUntil(
        lambda: (
            window.bench.result is not None
            and any(one.wire.section_mm2 == 4.0 for one in window.bench.result.evaluation.network.power.wires)
        ),
        timeout=240_000,
    )
    choose(panel._scheme, "buses")  # no such wire then
    qtbot.waitUntil(lambda: "no such wire" in labels(panel), timeout=240_000)
    button = panel._list.itemAt(0).widget().findChild(QPushButton)
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert window.bench.design.wiring == Wiring(scheme="buses")
    assert panel._list.count() == 0


def labels(panel: WiringControls) -> str:
    rows = (panel._list.itemAt(index).widget() for index in range(panel._list.count()))
    return " ".join(label.text() for row in rows for label in row.findChildren(QLabel))


def test_lead_supply_and_volts_are_typed_or_chosen(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    panel = controls(window)
    for field, text in ((panel._lead, "1.2 m"), (panel.source.volts, "11.5"), (panel._pwm, "1000")):
        field.setFocus()
        field.selectAll()
        qtbot.keyClicks(field, text)
        qtbot.keyClick(field, Qt.Key.Key_Return)
    choose(panel.source.supply, 60.0)
    assert window.bench.design.wiring == Wiring(lead_mm=1200.0, supply_volts=11.5, supply_w=60.0, pwm_hz=1000.0)
    assert panel._lead.text() == "1200 mm"
    panel.source.volts.selectAll()
    qtbot.keyClick(panel.source.volts, Qt.Key.Key_Delete)
    qtbot.keyClick(panel.source.volts, Qt.Key.Key_Return)
    assert window.bench.design.wiring is not None
    assert window.bench.design.wiring.supply_volts is None


def test_the_cap_is_typed_where_there_are_pixels_and_cleared(open_window: Open, qtbot: QtBot) -> None:
    assert controls(open_window(design()))._cap.isHidden()
    panel = controls(window := open_window(family(strip_display())))
    for text, cap_ma in (("1500", 1500.0), ("2 A", 2000.0), ("-3", 2000.0), ("", None), ("0", None)):
        panel._cap.setFocus()
        panel._cap.selectAll()
        qtbot.keyClick(panel._cap, Qt.Key.Key_Delete)
        qtbot.keyClicks(panel._cap, text)
        qtbot.keyClick(panel._cap, Qt.Key.Key_Return)
        assert window.bench.design.wiring is not None
        assert window.bench.design.wiring.cap_ma == cap_ma


@pytest.mark.parametrize("text", ["230", "0", "nonsense", "-5"])
def test_volts_that_cannot_be_are_refused_in_words(open_window: Open, qtbot: QtBot, text: str) -> None:
    window = open_window(design())
    panel = controls(window)
    panel.source.volts.setFocus()
    panel.source.volts.selectAll()
    qtbot.keyClicks(panel.source.volts, text)
    qtbot.keyClick(panel.source.volts, Qt.Key.Key_Return)
    wiring = window.bench.design.wiring
    assert wiring is None or wiring.supply_volts is None


def test_a_feed_is_put_in_where_it_is_dimmest_and_taken_away(open_window: Open, qtbot: QtBot) -> None:
    long = family(tube(length_mm=3000.0, strips=(StripChoice(strip="5v-rgb-pixel-60"),)))
    window = open_window(with_wiring(long, Wiring(), wire_mm2=2.5))
    panel = controls(window)
    before = window.bench.result.evaluation.network.power.least_share
    with qtbot.waitSignal(window.bench.lit, timeout=240_000):
        qtbot.mouseClick(panel._add, Qt.MouseButton.LeftButton)
    wiring = window.bench.design.wiring
    assert wiring is not None
    (there,) = wiring.injections
    assert there.piece == "strip-1"
    assert window.bench.result.evaluation.network.power.least_share > before
    (away,) = [button for button in panel.findChildren(QPushButton) if button.text() == "×"]
    assert "strip-1" in away.accessibleName()
    qtbot.mouseClick(away, Qt.MouseButton.LeftButton)
    assert window.bench.design.wiring.injections == ()


def test_the_layers_of_power_are_switched_on_and_painted(open_window: Open) -> None:
    window = open_window(design())
    window.go_to("feed")
    plain = window.drawing.grab().toImage()
    for key in ("drop", "amps"):
        window.actions_by_key[f"layer_{key}"].trigger()
        assert window.drawing.grab().toImage() != plain
        window.actions_by_key[f"layer_{key}"].trigger()
    assert window.drawing.grab().toImage() == plain


def test_loose_emitters_have_no_wiring_to_choose(open_window: Open) -> None:
    window = open_window(loose_design(BoxShape(width_mm=200.0, height_mm=150.0, depth_mm=40.0), emitter(100.0, 75.0)))
    assert not controls(window).isVisibleTo(window)


def test_a_click_on_a_cut_mark_adds_a_feed_and_another_removes_it(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    window.go_to("feed")
    row = window.bench.layout.pieces[4]
    sheet = window.drawing.sheet
    assert sheet is not None
    segment = row.strip.segment_mm
    place = QPointF(sheet.plan.x(row.start_mm[0] + 3 * segment), sheet.plan.y(row.start_mm[1])).toPoint()
    qtbot.mouseClick(window.drawing, Qt.MouseButton.LeftButton, pos=place)
    assert window.bench.design.wiring is None  # as long as no layer shows feeds, a click does something else
    window.actions_by_key["layer_drop"].trigger()
    qtbot.mouseClick(window.drawing, Qt.MouseButton.LeftButton, pos=place)
    assert window.bench.design.wiring is not None
    assert window.bench.design.wiring.injections == (Injection(piece=row.id, after=3),)
    qtbot.mouseClick(window.drawing, Qt.MouseButton.LeftButton, pos=place)
    assert window.bench.design.wiring.injections == ()
    window.actions_by_key["undo"].trigger()
    window.actions_by_key["undo"].trigger()
    assert window.bench.design == design()


def test_a_feed_is_dragged_from_mark_to_mark_and_undone_as_one(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    window.go_to("feed")
    window.actions_by_key["layer_drop"].trigger()
    row = window.bench.layout.pieces[4]
    sheet = window.drawing.sheet
    assert sheet is not None

    def mark(after: int) -> QPoint:
        x = row.start_mm[0] + after * row.strip.segment_mm
        return QPointF(sheet.plan.x(x), sheet.plan.y(row.start_mm[1])).toPoint()

    def drag(start: int, *way: int) -> None:
        qtbot.mousePress(window.drawing, Qt.MouseButton.LeftButton, pos=mark(start))
        for after in way:
            qtbot.mouseMove(window.drawing, mark(after))
        qtbot.mouseRelease(window.drawing, Qt.MouseButton.LeftButton, pos=mark(way[-1]))

    drag(1, 2)  # nothing is fed there
    assert window.bench.design == design()
    for after in (3, 6):
        qtbot.mouseClick(window.drawing, Qt.MouseButton.LeftButton, pos=mark(after))
    drag(3, 4, 5, 6, 7)
    wiring = window.bench.design.wiring
    assert wiring is not None
    assert wiring.injections == (Injection(piece=row.id, after=7), Injection(piece=row.id, after=6))
    window.actions_by_key["undo"].trigger()
    assert window.bench.design.wiring.injections == (
        Injection(piece=row.id, after=3),
        Injection(piece=row.id, after=6),
    )
    drag(3, 4, 3)  # back again is no click
    assert Injection(piece=row.id, after=3) in window.bench.design.wiring.injections


def test_where_it_stands_is_chosen_typed_and_undone(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    window.go_to("feed")
    panel = window.places.panel(FeedPanel).heat
    assert panel.stance.currentData() == ""
    assert "W of heat" in panel._found.text()
    choose(panel.stance, "face_down")
    assert window.bench.design.surroundings == Surroundings(stance="face_down")
    panel.wall.click()
    choose(panel.back, "aluminium")
    for field, text in ((panel.room, "35"), (panel.thick, "2 mm"), (panel.sink, "4 K/W")):
        field.setFocus()
        field.selectAll()
        qtbot.keyClicks(field, text)
        qtbot.keyClick(field, Qt.Key.Key_Return)
    assert window.bench.design.surroundings == Surroundings(
        ambient_c=35.0, stance="face_down", against_wall=True, back="aluminium", back_mm=2.0, sink_k_per_w=4.0
    )
    panel.room.selectAll()
    qtbot.keyClicks(panel.room, "900")
    qtbot.keyClick(panel.room, Qt.Key.Key_Return)
    assert window.bench.design.surroundings.ambient_c == 35.0  # nowhere is as hot
    choose(panel.stance, "")
    assert window.bench.design.surroundings is None
    for _ in range(7):
        window.bench.document.undo()
    assert window.bench.design == design()
    window.actions_by_key["layer_heat"].trigger()
    assert "heat" in window.drawing.state.layers
