"""The real window, driven as a builder would: typed dimensions, drags, keys, fixes, trays."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QMessageBox, QPushButton
from pytestqt.qtbot import QtBot

from gauze.core.errors import StorageError
from gauze.core.evaluate import AT_REST, WHILE_DRAGGING, State
from gauze.core.formats.design_file import encode_design
from gauze.session import edits
from gauze.session.shelf import load_shelf
from gauze.ui.canvas.inline_editor import Bubble, InlineEditor
from gauze.ui.main_window import MainWindow
from gauze.ui.main_window.actions import ACTIONS
from gauze.ui.panels.fields import QuantityField
from gauze.ui.panels.findings import FindingView
from gauze.ui.panels.own_sheet import OwnSheetDialog
from gauze.ui.panels.tradeoff import Point
from gauze.ui.panels.tray import Card
from tests.builders import design, warm_and_cool

Open = Callable[..., MainWindow]


def type_into(window: MainWindow, qtbot: QtBot, key: str, text: str) -> None:
    """Click a dimension on the drawing and type."""
    dimension = next(d for d in window.canvas.dimensions_now() if d.key == key)
    middle = QPoint(int(dimension.text_rect.x + dimension.text_rect.width / 2), int(dimension.text_rect.y + 9))
    qtbot.mouseClick(window.canvas, Qt.MouseButton.LeftButton, pos=middle)
    editor = window.canvas.findChild(InlineEditor)
    assert editor is not None
    assert editor.isVisible()
    editor.selectAll()
    qtbot.keyClicks(editor, text)
    qtbot.keyClick(editor, Qt.Key.Key_Return)


def bubble(window: MainWindow) -> Bubble:
    found = window.canvas.findChild(Bubble)
    assert found is not None
    return found


def drag(window: MainWindow, qtbot: QtBot, start: QPoint, *steps: QPoint) -> None:
    qtbot.mousePress(window.canvas, Qt.MouseButton.LeftButton, pos=start)
    for step in steps:
        qtbot.mouseMove(window.canvas, step)
    qtbot.mouseRelease(window.canvas, Qt.MouseButton.LeftButton, pos=steps[-1])


def grip_point(window: MainWindow, kind: str, index: int = 0) -> QPoint:
    grip = next(g for g in window.canvas.grips_now() if g.kind == kind and (kind != "row" or g.index == index))
    if kind == "row":
        return QPoint(int(grip.rect.x + 12), int(grip.rect.y + grip.rect.height / 2))
    if kind == "lid":
        return QPoint(int(grip.rect.x + 0.8 * grip.rect.width), int(grip.rect.y + 9))
    return QPoint(int(grip.rect.x + grip.rect.width / 2), int(grip.rect.y + grip.rect.height / 2))


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
    assert window.bench.layout.spacing_mm == pytest.approx(90.0)
    type_into(window, qtbot, "spacing", "60")
    assert len(window.bench.layout.rows) == 7
    type_into(window, qtbot, "side_margin", "50")
    assert window.bench.layout.spacing_mm == pytest.approx(50.0)
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
    editor = window.canvas.findChild(InlineEditor)
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
        window.bench.lit, timeout=10_000, check_params_cb=lambda result: result.evaluation.detail == AT_REST
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
    start = grip_point(window, "row", 10)
    drag(window, qtbot, start, start + QPoint(0, 5), start + QPoint(0, 10))
    assert len(window.bench.layout.rows) == 11
    assert window.bench.layout.spacing_mm < 36


def test_dragging_seam_and_cut_changes_only_the_view(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    before = window.canvas.state
    start = grip_point(window, "seam")
    drag(window, qtbot, start, start + QPoint(60, 0))
    assert window.canvas.state.seam_share > before.seam_share
    start = grip_point(window, "cut")
    drag(window, qtbot, start, start - QPoint(0, 40))
    assert window.canvas.state.cut_share > before.cut_share
    assert window.bench.design == design()


def test_everything_on_the_drawing_is_reached_by_keyboard(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    canvas = window.canvas
    canvas.setFocus()
    said = []
    canvas.hovered.connect(said.append)
    count = len(canvas.dimensions_now())
    for _ in range(count):
        qtbot.keyClick(canvas, Qt.Key.Key_Tab)
    assert any(words.startswith("Depth") for words in said)
    qtbot.keyClick(canvas, Qt.Key.Key_Tab)
    assert said[-1].startswith("Sheet")
    qtbot.keyClick(canvas, Qt.Key.Key_Up)
    assert window.bench.design.build.depth_mm == 31.0
    qtbot.keyClick(canvas, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert window.bench.design.build.depth_mm == 41.0
    qtbot.keyClick(canvas, Qt.Key.Key_Tab)
    seam = canvas.state.seam_share
    qtbot.keyClick(canvas, Qt.Key.Key_Left)
    assert canvas.state.seam_share < seam
    qtbot.keyClick(canvas, Qt.Key.Key_Tab)
    qtbot.keyClick(canvas, Qt.Key.Key_Down)
    assert canvas.state.cut_share < 0.5
    qtbot.keyClick(canvas, Qt.Key.Key_Tab)
    assert said[-1].startswith("Outer row")
    qtbot.keyClick(canvas, Qt.Key.Key_Down)
    assert window.bench.layout.spacing_mm < 36
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
    fitted = window.canvas.grips_now()
    window.actions_by_key["zoom_in"].trigger()
    assert window.canvas.grips_now() != fitted
    drag(window, qtbot, QPoint(20, 40), QPoint(50, 60))
    window.resize(1100, 760)
    window.resize(1280, 800)
    window.actions_by_key["zoom_out"].trigger()
    window.actions_by_key["fit"].trigger()
    assert window.canvas.grips_now() == fitted


def test_hover_tells_value_and_place(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    said = []
    window.canvas.hovered.connect(said.append)
    seam = grip_point(window, "seam")
    qtbot.mouseMove(window.canvas, QPoint(seam.x() + 90, seam.y() + 60))
    assert "cd/m²" in said[-1]
    assert said[-1].startswith("x ")


def test_findings_apply_in_one_click_and_undo_in_one(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    with qtbot.waitSignal(
        window.bench.fixes_found, timeout=30_000, check_params_cb=lambda _design, code, _fixes: code == "dots"
    ):
        window.bench.start()
    view = next(v for v in window.findings.findChildren(FindingView) if "Rows show" in v.accessibleName())
    button = next(b for b in view.findChildren(QPushButton) if b.text().startswith("Depth"))
    with qtbot.waitSignal(window.bench.lit, timeout=10_000):
        qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert window.bench.result is not None
    dots = next(finding for finding in window.bench.result.findings if finding.code == "dots")
    assert dots.state is State.GOOD
    window.actions_by_key["undo"].trigger()
    assert window.bench.design == design()


def test_why_unfolds_the_working(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    view = next(v for v in window.findings.findChildren(FindingView) if "supply" in v.accessibleName())
    qtbot.waitUntil(view.isVisible)
    why = view._why
    qtbot.mouseClick(why, Qt.MouseButton.LeftButton)
    assert "80 % rule" in view._working.text()
    assert "Caution" in view._working.text()
    assert view._working.isVisible()
    qtbot.mouseClick(why, Qt.MouseButton.LeftButton)
    assert not view._working.isVisible()


def test_the_tray_shows_this_design_through_each_sheet_and_takes_one(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    with qtbot.waitSignal(window.bench.tray_done, timeout=30_000):
        window.actions_by_key["tray_diffuser"].trigger()
    cards = window.tray.findChildren(Card)
    assert len(cards) == len(window.bench.catalogue.diffusers)
    assert all("lm" in card.accessibleName() for card in cards)
    chosen = next(card for card in cards if card.candidate_id == "tracing-paper")
    with qtbot.waitSignal(window.bench.lit, timeout=10_000):
        chosen.click()
    assert window.bench.design.build.diffuser == "tracing-paper"
    assert window.bench.document.undo_name == "Sheet"
    window.tray.closed.emit()
    assert not window.tray.isVisible()


def test_the_tray_of_strips_serves_the_row_set_that_asked(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design(strips=warm_and_cool()))
    with qtbot.waitSignal(window.bench.tray_done, timeout=30_000):
        window.places.lay.tray_wanted.emit(1)
    card = next(c for c in window.tray.findChildren(Card) if c.candidate_id == "24v-white-60")
    card.click()
    assert [choice.strip for choice in window.bench.design.build.strips] == ["24v-white-120", "24v-white-60"]
    assert window.bench.design.build.strips[1].cct_k == 6500  # its white stays


def test_choices_beside_the_drawing(open_window: Open) -> None:
    window = open_window(lit=False)
    window.go_to("lay")
    window.places.lay._alternate.chosen.emit("own")
    assert [choice.cct_k for choice in window.bench.design.build.strips] == [2700.0, 6500.0]
    controls = window.places.lay._strips[1]
    controls._levels[0].moved.emit(0.4)
    assert window.bench.design.build.strips[1].levels == (0.4,)
    controls._cct.setText("5000")
    controls._cct.setModified(True)
    controls._cct.returnPressed.emit()
    assert window.bench.design.build.strips[1].cct_k == 5000
    window.places.lay._direction.chosen.emit("along_height")
    assert window.bench.design.build.row_direction == "along_height"
    window.places.soften._walls.setEditText("41 %")
    window.places.soften._walls.lineEdit().returnPressed.emit()
    assert window.bench.design.build.walls == pytest.approx(0.41)
    window.places.soften._walls.setEditText("nonsense")
    window.places.soften._walls.lineEdit().returnPressed.emit()
    assert window.bench.design.build.walls == pytest.approx(0.41)
    window.places.aim._use.chosen.emit("lighting")
    assert window.bench.design.purpose.use == "lighting"


def test_fields_take_restore_and_complain(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    window.go_to("aim")
    field = next(f for f in window.places.aim.findChildren(QuantityField) if f.accessibleName() == "Target distance")
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "2 ft")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert window.bench.design.purpose.target_distance_mm == pytest.approx(609.6)
    field.selectAll()
    qtbot.keyClicks(field, "far")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    assert "not a length" in window.places.aim.form._error.text()
    assert field.text() == "609.6 mm"
    field.selectAll()
    qtbot.keyClicks(field, "3")
    qtbot.keyClick(field, Qt.Key.Key_Escape)
    assert field.text() == "609.6 mm"
    reading = window.places.feed._reading
    reading.setText("0,6 A")
    reading.setModified(True)
    reading.returnPressed.emit()
    assert window.bench.design.measured_row_current_a == pytest.approx(0.6)
    window.places.feed._clear.click()
    assert window.bench.design.measured_row_current_a is None


def test_theme_and_unit_switch_and_are_remembered(open_window: Open) -> None:
    window = open_window()
    window.actions_by_key["light_theme"].trigger()
    window.actions_by_key["unit"].trigger()
    assert window.bench.settings.theme == "light"
    assert any(d.text.endswith(" in") for d in window.canvas.dimensions_now())
    window.actions_by_key["unit"].trigger()
    assert window.bench.settings.length_unit == "mm"


def test_ways_of_looking(open_window: Open) -> None:
    window = open_window()
    for key in ("false_colour", "brighter", "darker", "darker", "room_up", "room_up", "room_down", "seam_swap"):
        window.actions_by_key[key].trigger()
        window.canvas.repaint()
    assert window.canvas.state.false_colour
    assert window.canvas.state.exposure_stops == -0.5
    assert window.canvas.state.room_lx == 5.0
    assert window.canvas.state.seam_share == 1.0
    window.top_bar._exposure.setValue(8)
    assert window.canvas.state.exposure_stops == 2.0
    assert window.canvas.state.seam_share == 1.0


def test_every_menu_entry_can_be_chosen(open_window: Open, monkeypatch: pytest.MonkeyPatch) -> None:
    window = open_window()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: ("", ""))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: ("", ""))
    monkeypatch.setattr(QMessageBox, "exec", lambda _self: QMessageBox.StandardButton.Discard)
    for row in ACTIONS:
        if row.key and row.key not in {"quit", "recent"}:
            window.actions_by_key[row.key].trigger()
            QApplication.processEvents()
            for box in window.findChildren(QDialog):
                box.close()
    shortcuts = [row.shortcut for row in ACTIONS if row.shortcut]
    assert len(set(shortcuts)) == len(shortcuts)


def test_save_open_recent_and_drop(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(lit=False)
    target = tmp_path / "mine"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    type_into(window, qtbot, "depth", "55")
    assert window.isWindowModified()
    window.actions_by_key["save"].trigger()
    saved = tmp_path / "mine.gauze"
    assert saved.is_file()
    assert not window.isWindowModified()
    window.files.open_demo()
    assert window.bench.design.name.startswith("Proofing")
    recent = window.actions_by_key["recent"].menu()
    recent.actions()[0].trigger()
    assert window.bench.design.build.depth_mm == 55
    other = tmp_path / "other.gauze"
    other.write_bytes(encode_design(design(depth_mm=66.0)))
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(other))])
    window.dropEvent(
        QDropEvent(
            QPointF(5, 5),
            Qt.DropAction.CopyAction,
            data,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )
    )
    assert window.bench.design.build.depth_mm == 66


def test_a_file_that_cannot_be_opened_is_explained_and_what_is_open_stays(
    open_window: Open, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(lit=False)
    said = []
    monkeypatch.setattr(QMessageBox, "exec", lambda self: said.append(self.informativeText()))
    (tmp_path / "bad.gauze").write_text('{"format": "gauze-design", "format_version": 7}')
    assert not window.files.open_path(tmp_path / "bad.gauze")
    assert "newer Gauze" in said[0]
    assert window.bench.design == design()


def test_unsaved_work_is_asked_about(open_window: Open, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    window = open_window(lit=False)
    assert window.files.may_leave()
    type_into(window, qtbot, "depth", "55")
    answers = {
        QMessageBox.StandardButton.Cancel: False,
        QMessageBox.StandardButton.Discard: True,
    }
    for answer, expected in answers.items():
        monkeypatch.setattr(QMessageBox, "exec", lambda _self, answer=answer: answer)
        assert window.files.may_leave() is expected
    monkeypatch.setattr(QMessageBox, "exec", lambda _self: QMessageBox.StandardButton.Save)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: ("", ""))
    assert not window.files.may_leave()  # asked where, and thought better of it


def test_exports(open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    window = open_window()
    for key, name in (
        ("export_picture", "a.png"),
        ("export_map", "a.npz"),
        ("export_ies", "a.ies"),
        ("export_findings", "a.json"),
    ):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, name=name: (str(tmp_path / name), ""))
        window.actions_by_key[key].trigger()
        qtbot.waitUntil(lambda name=name: (tmp_path / name).exists(), timeout=10_000)
    said = []
    monkeypatch.setattr(window.files, "explain", lambda _what, why: said.append(why))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "no" / "b.png"), ""))
    window.actions_by_key["export_picture"].trigger()
    qtbot.waitUntil(lambda: bool(said), timeout=10_000)
    assert "does not exist" in said[0]


def test_findings_and_picture_go_to_the_clipboard(open_window: Open) -> None:
    window = open_window()
    window.actions_by_key["copy_findings"].trigger()
    assert "Rows show" in QApplication.clipboard().text()
    window.actions_by_key["copy_picture"].trigger()
    assert QApplication.clipboard().image().width() > 50


def test_a_disk_that_refuses_the_autosave_is_told_once(open_window: Open, monkeypatch: pytest.MonkeyPatch) -> None:
    window = open_window(lit=False)
    said = []
    window.files.explain = lambda _what, why: said.append(why)

    def refuse(*_: object) -> None:
        raise StorageError("Could not write: the disk is full.")

    monkeypatch.setattr(window.bench._autosave, "keep", refuse)
    for _ in range(3):
        window.bench._autosave_now()
    assert len(said) == 1
    assert "disk is full" in said[0]


def test_unsaved_work_is_offered_after_a_crash(
    open_window: Open, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from gauze.session.autosave import Recovered

    window = open_window(lit=False)
    kept = tmp_path / "x.keep"
    kept.write_text("kept")
    monkeypatch.setattr(QMessageBox, "question", lambda *_: QMessageBox.StandardButton.Yes)
    window.files.offer_recovery([Recovered(kept, None, design(depth_mm=88.0))])
    assert window.bench.design.build.depth_mm == 88
    assert window.isWindowModified()
    assert not kept.exists()


def test_the_name_is_edited_in_the_bar(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    window.top_bar.name.selectAll()
    qtbot.keyClicks(window.top_bar.name, "Tide board")
    qtbot.keyClick(window.top_bar.name, Qt.Key.Key_Return)
    assert window.bench.design.name == "Tide board"
    assert "Tide board" in window.windowTitle()


def test_layers_are_added_exchanged_and_taken_away(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    soften = window.places.soften
    with qtbot.waitSignal(window.bench.tray_done, timeout=60_000):
        soften._add.click()
    assert window.bench.design.build.layers == ("opal-acrylic-3", "opal-acrylic-3")
    card = next(c for c in window.tray.findChildren(Card) if c.candidate_id == "screen-film")
    with qtbot.waitSignal(window.bench.lit, timeout=10_000):
        card.click()
    assert window.bench.design.build.layers == ("opal-acrylic-3", "screen-film")
    dots = next(f for f in window.bench.result.findings if f.code == "dots")
    assert [figure.name for figure in dots.figures][-3:] == ["Layer 1", "Layer 2", "All layers"]
    soften._add.click()
    assert not soften._add.isEnabled()  # three are enough
    soften._rows[1].removed.emit()
    soften._rows[1].removed.emit()
    assert window.bench.design.build.diffuser == "opal-acrylic-3"
    qtbot.waitUntil(lambda: not window.tray.isVisible(), timeout=10_000)  # the layer that it stood for is gone


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
    assert window.bench.sheets().sheet(("own-opal-offcut",)).transmittance == pytest.approx(0.62)
    assert "measured" in window.places.soften._about.text()
    window.bench.document.undo()
    assert window.bench.design == design()
    assert load_shelf(window.bench._shelf_file) == window.bench.shelf  # kept for the next design
    with qtbot.waitSignal(window.bench.tray_done, timeout=60_000):
        window.actions_by_key["tray_diffuser"].trigger()
    own = next(c for c in window.tray.findChildren(Card) if c.candidate_id == "own-opal-offcut")
    own.click()
    assert [sheet.id for sheet in window.bench.design.own_diffusers] == ["own-opal-offcut"]


def test_a_damaged_shelf_is_told_and_put_aside(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    said = []
    window.files.explain = lambda _what, why: said.append(why)
    window.bench._shelf_file.write_text("{")
    with qtbot.waitSignal(window.bench.lit, timeout=10_000):
        window.bench.start()
    assert "put aside" in said[0]
    assert window.bench._shelf_file.with_suffix(".damaged").read_text() == "{"


def test_the_trade_off_is_charted_and_the_design_is_its_point(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    chart = window.chart_panel.chart
    with qtbot.waitSignal(window.bench.field_lit, timeout=60_000):
        window.actions_by_key["chart"].trigger()
    assert window.chart_panel.isVisible()
    here = chart.place_of(Point(30.0, 11)).toPoint()
    there = chart.place_of(Point(45.0, 14)).toPoint()
    qtbot.mousePress(chart, Qt.MouseButton.LeftButton, pos=here)
    assert window.bench.design.build.depth_mm == pytest.approx(30, abs=0.6)
    qtbot.mouseMove(chart, there)
    qtbot.mouseRelease(chart, Qt.MouseButton.LeftButton, pos=there)
    assert window.bench.design.build.depth_mm == pytest.approx(45, abs=1.0)
    assert len(window.bench.layout.rows) == 14
    chart.setFocus()
    qtbot.keyClick(chart, Qt.Key.Key_Up)
    qtbot.keyClick(chart, Qt.Key.Key_Left)
    assert len(window.bench.layout.rows) == 15
    chart.repaint()
    window.bench.document.undo()
    window.bench.document.undo()
    assert window.bench.design == design()  # the drag was one edit, the keys another
    with qtbot.waitSignal(window.bench.field_lit, timeout=60_000):
        window.bench.edit("Walls", lambda what, _: edits.with_build(what, walls=0.3))  # another field
    window.actions_by_key["tray_diffuser"].trigger()  # takes the chart's place
    assert not window.chart_panel.isVisible()


def test_the_target_is_set_beside_the_drawing_and_its_light_shown(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    window.go_to("aim")
    aim = window.places.aim
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
    qtbot.waitUntil(lambda: "lx" in aim.target_map.accessibleDescription(), timeout=10_000)
    aim.target_map.repaint()
