"""Loose emitters in the window: import, the drawing, shape and sizes, what is offered and what is not."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QComboBox, QFileDialog, QMessageBox
from pytestqt.qtbot import QtBot

from gauze.core.design import Design, StripPanel
from gauze.core.design.cavity import BaffledShape
from gauze.core.evaluate import CavityFaceLight, Evaluation
from gauze.ui.canvas.hand.inline_editor import Bubble
from gauze.ui.main_window import MainWindow
from gauze.ui.panels.cavity_panel import CavityPanel
from gauze.ui.panels.fields import QuantityField
from gauze.ui.solving import TableRequest
from tests.builders import CAVITIES, design, emitter, loose_design
from tests.ui.helpers import at_rest

Open = Callable[..., MainWindow]
TABLE = "x_mm,y_mm,z_mm,nx,ny,nz,flux_lm,cct_k\n20,20,2,0,0,1,30,2700\n60,20,2,0,0,1,30,6500\n"


def lamp(name: str = "box", **changes: object) -> Design:
    shape, place = CAVITIES[name]
    return loose_design(shape, emitter(*place), **changes)


def field(window: MainWindow, name: str) -> QuantityField:
    return next(
        one for one in window.places.panel(CavityPanel).findChildren(QuantityField) if one.accessibleName() == name
    )


def type_into(qtbot: QtBot, into: QuantityField, text: str) -> None:
    into.setFocus()
    into.selectAll()
    qtbot.keyClicks(into, text)
    qtbot.keyClick(into, Qt.Key.Key_Return)


def lamp_at_rest(window: MainWindow, qtbot: QtBot) -> Evaluation:
    found = at_rest(window, qtbot)
    assert isinstance(found.light, CavityFaceLight)
    return found


def test_a_table_is_imported_from_the_file_menu(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(lit=False)
    (tmp_path / "lamp.csv").write_text(TABLE)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / "lamp.csv"), ""))
    with qtbot.waitSignal(window.bench.solving.table_read, timeout=240_000):
        window.actions_by_key["import_emitters"].trigger()
    assert window.bench.design.name == "lamp"
    assert len(window.bench.design.loose.emitters) == 2
    assert window.isWindowModified()
    assert lamp_at_rest(window, qtbot).light.layout.emitter_count == 2
    (tmp_path / "lamp.csv").write_text(TABLE.rsplit("\n", 2)[0] + "\n")
    with qtbot.waitSignal(window.bench.solving.table_read, timeout=240_000):
        window.actions_by_key["import_emitters"].trigger()
    assert len(window.bench.design.loose.emitters) == 1
    window.actions_by_key["undo"].trigger()
    assert len(window.bench.design.loose.emitters) == 2


def test_a_bad_table_is_told_row_by_row_and_what_is_open_stays(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(lit=False)
    path = tmp_path / "bad.csv"
    path.write_text(TABLE + "".join("1,2\n" for _ in range(40)))
    boxes = []
    monkeypatch.setattr(QMessageBox, "exec", lambda self: boxes.append((self.informativeText(), self.detailedText())))
    with qtbot.waitSignal(window.bench.solving.table_refused, timeout=240_000):
        window.bench.solving.read_table(TableRequest(path, window.bench.design))
    shown, all_of_it = boxes[0]
    assert shown.startswith("Line 4: there are 2 values for 8 columns")
    assert shown.endswith("… and 28 more")
    assert "Line 43:" in all_of_it
    with qtbot.waitSignal(window.bench.solving.table_refused, timeout=240_000):
        window.bench.solving.read_table(TableRequest(tmp_path / "none.csv", window.bench.design))
    assert "does not exist" in boxes[1][0]
    assert isinstance(window.bench.design.build, StripPanel)


@pytest.mark.parametrize("name", ["box", "tube", "sphere", "open corner", "prism"])
def test_every_kind_is_drawn_and_lit(open_window: Open, qtbot: QtBot, name: str) -> None:
    window = open_window(lamp(name))
    at_rest(window, qtbot)
    view = window.drawing
    sheet = view.sheet
    assert sheet is not None
    for drawing in (sheet.plan, sheet.face, sheet.cut):
        assert drawing.rect.x >= 0
        assert drawing.rect.x + drawing.rect.width <= view.width() + 1
        assert drawing.rect.bottom <= view.height() + 1
    image = view.grab().toImage()
    middle = sheet.face.rect
    pixel = image.pixelColor(int(middle.x + 0.37 * middle.width), int(middle.y + middle.height / 2))
    assert pixel.lightness() > 20
    assert window.places.panel(CavityPanel)._about.text() == "1 emitter, 10 lm at this level"


def test_the_pointer_reads_the_face_and_names_the_emitter(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lamp())
    found = lamp_at_rest(window, qtbot)
    view, said = window.drawing, []
    view.hovered.connect(said.append)
    sheet = view.sheet
    assert sheet is not None
    face, plan = sheet.face.rect, sheet.plan.rect
    qtbot.mouseMove(view, QPoint(int(face.x + face.width / 2), int(face.y + face.height / 2)))
    qtbot.mouseMove(view, QPoint(int(plan.x + plan.width / 2), int(plan.y + plan.height / 2)))
    assert any("cd/m²" in words for words in said)
    assert any(words.startswith("emitter 1: 10 lm at 40 mm, 20 mm, 2 mm") for words in said)
    assert found.evenness.max_cd_m2 > 0


def test_sizes_are_typed_and_refused_at_the_drawing(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lamp(), lit=False)
    window.go_to("lay")
    assert window.places.currentWidget() is window.places.panel(CavityPanel)
    type_into(qtbot, field(window, "Depth"), "42")
    assert window.bench.design.loose.cavity.depth_mm == 42
    type_into(qtbot, field(window, "Width"), "20")
    bubble = window.drawing.findChild(Bubble)
    assert bubble is not None
    assert bubble.isVisible()
    assert "outside of the cavity" in bubble.text()
    assert window.bench.design.loose.cavity.width_mm == 90
    window.actions_by_key["undo"].trigger()
    assert window.bench.design.loose.cavity.depth_mm == 25


def test_another_shape_brings_its_own_sizes(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lamp(), lit=False)
    window.go_to("lay")
    shapes = next(
        box for box in window.places.panel(CavityPanel).findChildren(QComboBox) if "Shape" in box.accessibleName()
    )
    for kind in ("baffled", "channel", "tube", "open_wall", "sphere"):
        shapes.setCurrentIndex(shapes.findData(kind))
        shapes.activated.emit(shapes.currentIndex())
        assert str(window.bench.design.build.cavity.__struct_config__.tag) == kind
    assert field(window, "Diameter").text()
    window.go_to("soften")
    window.go_to("feed")
    qtbot.waitUntil(lambda: window.bench.result is not None, timeout=240_000)


def test_counts_and_sections_are_chosen(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lamp("channel"), lit=False)
    window.go_to("lay")
    section = next(
        b for b in window.places.panel(CavityPanel).findChildren(QComboBox) if "Section" in b.accessibleName()
    )
    section.activated.emit(section.findData("u"))  # too shallow for a round bottom: refused
    assert window.bench.design.loose.cavity.section == "u" or window.drawing.findChild(Bubble).isVisible()
    window.bench.replace_document(type(window.bench.document)(lamp("frustum"), window.bench.catalogue))
    type_into(qtbot, field(window, "Sides (0: round)"), "6")
    assert window.bench.design.loose.cavity.sides == 6
    type_into(qtbot, field(window, "Sides (0: round)"), "5.5")
    assert window.bench.design.loose.cavity.sides == 6


def test_the_rim_of_a_box_with_partitions_is_chosen(open_window: Open) -> None:
    cells = BaffledShape(
        columns=2, rows=2, pitch_x_mm=30.0, pitch_y_mm=30.0, depth_mm=20.0, partition_mm=1.0, partition_height_mm=15.0
    )
    window = open_window(loose_design(cells, emitter(15.0, 15.0)), lit=False)
    window.go_to("lay")
    rim = next(b for b in window.places.panel(CavityPanel).findChildren(QComboBox) if "rim" in b.accessibleName())
    assert rim.currentData() is True
    rim.activated.emit(rim.findData(False))
    assert window.bench.design.loose.cavity.rim_partition is False
    assert rim.currentData() is False
    window.bench.document.undo()
    assert rim.currentData() is True


def test_what_only_panels_have_is_not_offered(open_window: Open) -> None:
    window = open_window(lamp("open wall"), lit=False)
    for key in ("turn_rows", "tray_strip", "chart", "edit_depth", "tray_diffuser", "own_sheet"):
        assert not window.actions_by_key[key].isEnabled()
    window.bench.replace_document(type(window.bench.document)(lamp(), window.bench.catalogue))
    assert window.actions_by_key["tray_diffuser"].isEnabled()
    window.bench.replace_document(type(window.bench.document)(design(), window.bench.catalogue))
    assert window.actions_by_key["chart"].isEnabled()


def test_the_tray_shows_the_lamp_through_every_sheet(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lamp())
    at_rest(window, qtbot)
    with qtbot.waitSignal(window.bench.solving.tray_done, timeout=240_000):
        window.actions_by_key["tray_diffuser"].trigger()
    cards = window.tray._cards.values()
    assert all(card.candidate is not None and card.candidate.evaluation is not None for card in cards)
    assert len(cards) >= 20


def test_looks_and_units_follow(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lamp())
    at_rest(window, qtbot)
    before = window.drawing.grab().toImage()
    window.actions_by_key["false_colour"].trigger()
    assert window.drawing.grab().toImage() != before
    window.actions_by_key["unit"].trigger()
    window.go_to("lay")
    assert field(window, "Depth").text().endswith("in")


def test_the_chart_can_be_read_by_pitch(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    with qtbot.waitSignal(window.bench.solving.field_lit, timeout=240_000):
        window.actions_by_key["chart"].trigger()
    rows = window.chart_panel.chart.grab().toImage()
    window.chart_panel.axis.chosen.emit("pitch")
    assert window.chart_panel.chart.by_pitch
    assert window.chart_panel.chart.grab().toImage() != rows


def test_the_demo_of_loose_emitters_opens(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    window.actions_by_key["open_demo_sign"].trigger()
    assert window.bench.design.name == "Sign over the harbour door"
    assert lamp_at_rest(window, qtbot).light.layout.emitter_count == 37


def test_a_click_on_the_face_moves_the_cut(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lamp())
    at_rest(window, qtbot)
    view = window.drawing
    sheet = view.sheet
    assert sheet is not None
    before = view.grab().toImage()
    face = sheet.face.rect
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(int(face.x + 20), int(face.y + 0.2 * face.height)))
    after = view.grab().toImage()
    assert after != before
    left, top = int(sheet.profile.x), int(sheet.profile.y)
    profile = (left, top, int(sheet.profile.width), int(sheet.profile.height))
    assert after.copy(*profile) != before.copy(*profile)
