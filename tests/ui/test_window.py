"""The drawing in the real window, driven as a builder would: typed dimensions, drags, keys, ways of looking."""

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtPrintSupport import QPrintDialog
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QMessageBox
from pytestqt.qtbot import QtBot

from gauze.core.evaluate import AT_REST, WHILE_DRAGGING
from gauze.ui.canvas.hand.hand import grips_of
from gauze.ui.canvas.hand.inline_editor import InlineEditor
from gauze.ui.main_window import MainWindow
from gauze.ui.main_window.actions import action_rows
from gauze.ui.subjects import SUBJECTS
from tests.builders import design
from tests.ui.driving import bubble, drag, grip_point, type_into

Open = Callable[..., MainWindow]


@pytest.mark.parametrize(
    ("key", "text", "field", "value"),
    [
        ("depth", "3.2 cm", "depth_mm", 32.0),
        ("depth", "1 1/4 in", "depth_mm", 31.75),
        ("inner_depth", "40", "depth_mm", 38.5),
        ("face_width", "650,5", "face_width_mm", 650.5),
        ("face_height", "500", "face_height_mm", 500.0),
        ("end_margin", "20", "end_margin_mm", 20.0),
    ],
)
def test_dimensions_are_typed_on_the_drawing(
    open_window: Open, qtbot: QtBot, key: str, text: str, field: str, value: float
) -> None:
    window = open_window(lit=False)
    type_into(window, qtbot, key, text)
    assert getattr(window.bench.design.build, field) == pytest.approx(value)
    assert not bubble(window).isVisible()
    window.bench.document.undo()
    assert window.bench.design == design()


def test_rows_and_spacing_drive_each_other(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    type_into(window, qtbot, "row_count", "5")
    assert window.bench.panel_layout.spacing_mm == pytest.approx(90.0)
    type_into(window, qtbot, "spacing", "60")
    assert len(window.bench.panel_layout.rows) == 7
    type_into(window, qtbot, "side_margin", "50")
    assert window.bench.panel_layout.spacing_mm == pytest.approx(50.0)
    type_into(window, qtbot, "viewing_distance", "3 m")
    assert window.bench.design.purpose.viewing_distance_mm == 3000


@pytest.mark.parametrize(
    ("key", "text", "message"),
    [
        ("depth", "0", "more than 0"),
        ("depth", "-3", "more than 0"),
        ("depth", "0.5", "height of the LEDs"),
        ("depth", "99 m", "the most is"),
        ("depth", "deep", "not a length"),
        ("row_count", "200", "do not fit"),
        ("row_count", "2.5", "whole number"),
        ("row_count", "many", "not a number"),
        ("face_width", "30", "less than one segment"),
        ("spacing", "4", "overlap"),
        ("side_margin", "1", "into the wall"),
        ("shift", "80", "through the wall"),
    ],
)
def test_bad_values_are_refused_at_the_dimension_and_the_last_good_design_stands(
    open_window: Open, qtbot: QtBot, key: str, text: str, message: str
) -> None:
    window = open_window(lit=False)
    type_into(window, qtbot, key, text)
    assert message in bubble(window).text()
    assert bubble(window).isVisible()
    assert window.bench.design == design()
    assert window.bench.document.undo_name is None
    editor = window.drawing.findChild(InlineEditor)
    assert editor is not None
    qtbot.keyClick(editor, Qt.Key.Key_Escape)
    assert not editor.isVisible()
    assert window.bench.design == design()


def test_refusals_speak_in_the_unit_in_use(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    window.actions_by_key["unit"].trigger()
    type_into(window, qtbot, "depth", "1/100")
    assert "Depth 0.01 in is less than the height of the LEDs (0.059 in)" in bubble(window).text()
    type_into(window, qtbot, "depth", "0.059")  # as it says: at least that
    assert window.bench.design.build.depth_mm == pytest.approx(1.4986)
    type_into(window, qtbot, "row_count", "200")
    assert "0.315 in strip do not fit in 15.748 in" in bubble(window).text()


def test_dragging_the_lid_changes_the_depth_coarse_then_exact(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    details = []
    window.bench.lit.connect(lambda result: details.append(result.evaluation.detail))
    start = grip_point(window, "lid")
    with qtbot.waitSignal(
        window.bench.lit, timeout=240_000, check_params_cb=lambda result: result.evaluation.detail == AT_REST
    ):
        drag(window, qtbot, start, start - QPoint(0, 6), start - QPoint(0, 12))
    assert window.bench.design.build.depth_mm > 38
    assert details[-1] == AT_REST
    assert set(details) <= {AT_REST, WHILE_DRAGGING}
    assert window.bench.result is not None
    assert window.bench.result.evaluation.design == window.bench.design
    window.bench.document.undo()  # the whole drag is one edit
    assert window.bench.design == design()


def test_dragging_a_row_changes_the_spacing(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    start = grip_point(window, "row 11")
    drag(window, qtbot, start, start + QPoint(0, 5), start + QPoint(0, 10))
    assert len(window.bench.panel_layout.rows) == 11
    assert window.bench.panel_layout.spacing_mm < 36


def test_dragging_seam_and_cut_changes_only_the_view(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    before = window.drawing.state
    start = grip_point(window, "seam")
    drag(window, qtbot, start, start + QPoint(60, 0))
    assert window.drawing.state.seam_share > before.seam_share
    start = grip_point(window, "cut")
    drag(window, qtbot, start, start - QPoint(0, 40))
    assert window.drawing.state.cut_share > before.cut_share
    assert window.bench.design == design()


def test_everything_on_the_drawing_is_reached_by_keyboard(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    canvas = window.drawing
    canvas.setFocus()
    said = []
    canvas.hovered.connect(said.append)
    count = len(canvas.dimensions_now())
    for _ in range(count):
        qtbot.keyClick(canvas, Qt.Key.Key_Tab)
    assert any(words.startswith("Depth") for words in said)
    qtbot.keyClick(canvas, Qt.Key.Key_Tab)
    assert said[-1].startswith("The sheet")
    qtbot.keyClick(canvas, Qt.Key.Key_Up)
    assert window.bench.design.build.depth_mm == 31.0
    qtbot.keyClick(canvas, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert window.bench.design.build.depth_mm == 41.0
    for name in ("Right wall", "Upper wall", "Row 11"):
        qtbot.keyClick(canvas, Qt.Key.Key_Tab)
        assert said[-1].startswith(name)
    qtbot.keyClick(canvas, Qt.Key.Key_Down)
    assert window.bench.panel_layout.spacing_mm == pytest.approx(35.8)  # the row itself by a millimetre
    qtbot.keyClick(canvas, Qt.Key.Key_Tab)
    seam = canvas.state.seam_share
    qtbot.keyClick(canvas, Qt.Key.Key_Left)
    assert canvas.state.seam_share < seam
    qtbot.keyClick(canvas, Qt.Key.Key_Tab)
    qtbot.keyClick(canvas, Qt.Key.Key_Down)
    assert canvas.state.cut_share < 0.5
    qtbot.keyClick(canvas, Qt.Key.Key_Escape)
    qtbot.keyClick(canvas, Qt.Key.Key_Tab)
    qtbot.keyClick(canvas, Qt.Key.Key_Return)
    editor = canvas.findChild(InlineEditor)
    assert editor is not None
    assert editor.isVisible()
    qtbot.keyClicks(editor, "700")
    qtbot.keyClick(editor, Qt.Key.Key_Return)
    assert window.bench.design.build.face_width_mm == 700


def test_zoom_pan_and_fit(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    fitted = grips_of(window.drawing)
    window.actions_by_key["zoom_in"].trigger()
    assert grips_of(window.drawing) != fitted
    drag(window, qtbot, QPoint(20, 40), QPoint(50, 60))
    window.resize(1100, 760)
    window.resize(1280, 800)
    window.actions_by_key["zoom_out"].trigger()
    window.actions_by_key["fit"].trigger()
    assert grips_of(window.drawing) == fitted


def test_hover_tells_value_and_place(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    said = []
    window.drawing.hovered.connect(said.append)
    seam = grip_point(window, "seam")
    qtbot.mouseMove(window.drawing, QPoint(seam.x() + 90, seam.y() + 60))
    assert "cd/m²" in said[-1]
    assert said[-1].startswith("face at ")


def test_theme_and_unit_switch_and_are_remembered(open_window: Open) -> None:
    window = open_window()
    window.actions_by_key["light_theme"].trigger()
    window.actions_by_key["unit"].trigger()
    assert window.bench.settings.theme == "light"
    assert any(d.text.endswith(" in") for d in window.drawing.dimensions_now())
    window.actions_by_key["unit"].trigger()
    assert window.bench.settings.length_unit == "mm"


def test_ways_of_looking(open_window: Open) -> None:
    window = open_window()
    for key in ("false_colour", "brighter", "darker", "darker", "room_up", "room_up", "room_down", "seam_swap"):
        window.actions_by_key[key].trigger()
        window.drawing.repaint()
    assert window.drawing.state.false_colour
    assert window.drawing.state.exposure_stops == -0.5
    assert window.drawing.state.room_lx == 5.0
    assert window.drawing.state.seam_share == 1.0
    window.top_bar._exposure.setValue(8)
    assert window.drawing.state.exposure_stops == 2.0
    assert window.drawing.state.seam_share == 1.0


def test_every_menu_entry_can_be_chosen(open_window: Open, monkeypatch: pytest.MonkeyPatch) -> None:
    window = open_window()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: ("", ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *_: ([], ""))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: ("", ""))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: "")
    monkeypatch.setattr(QPrintDialog, "exec", lambda *_: 0)
    monkeypatch.setattr(QMessageBox, "exec", lambda _self: QMessageBox.StandardButton.Discard)
    for row in action_rows(SUBJECTS):
        if row.key and row.key not in {"quit", "recent"}:
            window.actions_by_key[row.key].trigger()
            QApplication.processEvents()
            for box in window.findChildren(QDialog):
                box.close()
    shortcuts = [row.shortcut for row in action_rows(SUBJECTS) if row.shortcut]
    assert len(set(shortcuts)) == len(shortcuts)


def test_the_name_is_edited_in_the_bar(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    window.top_bar.name.selectAll()
    qtbot.keyClicks(window.top_bar.name, "Tide board")
    qtbot.keyClick(window.top_bar.name, Qt.Key.Key_Return)
    assert window.bench.design.name == "Tide board"
    assert "Tide board" in window.windowTitle()
