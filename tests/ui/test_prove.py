"""The place Prove in the window: log, fit, photographs, faults and practice."""

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from gauze.core.proving.fault_finder import Symptom
from gauze.core.proving.rehearsal import COURSE
from gauze.session.bench_edits import shown_bench
from gauze.ui.main_window import MainWindow
from gauze.ui.panels.prove import ProvePanel
from gauze.ui.proving.fault_window import FaultWindow
from gauze.ui.proving.photo_window import PhotoWindow
from tests.builders import design
from tests.core.proving.rendering import as_png, picture_of
from tests.core.proving.test_photo import CORNERS, HIGH, WIDE, face_of
from tests.families import bars, family

Open = Callable[..., MainWindow]
LONG = 120_000


def panel_of(window: MainWindow) -> ProvePanel:
    window.go_to("prove")
    return window.places.panel(ProvePanel)


def add(panel: ProvePanel, quantity: str, place: str, value: str, limit: str = "") -> None:
    log = panel.log
    log.quantity.setCurrentIndex(log.quantity.findData(quantity))
    log.place.setText(place)
    log.value.setText(value)
    log.limit.setText(limit)
    log.add.click()


def test_readings_are_written_judged_and_removed(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    panel = panel_of(window)
    add(panel, "volts", "supply", "12.05", "0.05 V")
    add(panel, "volts", "row-1 end", "9")
    qtbot.waitUntil(lambda: panel.found is not None and len(panel.found.rows) == 2, timeout=LONG)
    states = [panel.log.table.item(row, 2).text() for row in range(2)]
    assert "agrees" in states[0]
    assert "✓" in states[0]
    assert "off" in states[1]
    assert "✕" in states[1]
    assert "Supply" in panel.fit.text()
    assert panel.next.isVisible()
    panel.log.table.selectRow(1)
    assert "Fewer volts" in panel.log.says.text()
    assert len(window.drawing._picked) == 1
    panel.log.remove.click()
    assert [one.place for one in shown_bench(window.bench.design).readings] == ["supply"]
    panel.next.click()
    assert panel.log.place.text()
    panel.use.setEnabled(True)


@pytest.mark.parametrize(
    ("quantity", "place", "value", "said"),
    [
        ("volts", "", "1", "No place"),
        ("volts", "supply", "much", "much"),
        ("volts", "supply", "99999", "Check the unit"),
    ],
)
def test_a_reading_that_cannot_be_is_told_and_nothing_is_lost(
    open_window: Open, quantity: str, place: str, value: str, said: str
) -> None:
    window = open_window(design())
    panel = panel_of(window)
    add(panel, quantity, place, value)
    assert said in panel.log.form._error.text()
    assert panel.log.value.text() == value
    assert window.bench.design.bench is None


def test_a_reading_whose_part_is_gone_says_so(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    panel = panel_of(window)
    add(panel, "volts", "row-77", "12")
    qtbot.waitUntil(lambda: panel.found is not None and bool(panel.found.rows), timeout=LONG)
    assert "gone" in panel.log.table.item(0, 2).text()
    panel.log.table.selectRow(0)
    assert "no longer in the design" in panel.log.says.text()


def test_a_piece_is_clicked_to_be_read(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    panel = panel_of(window)
    sheet, piece = window.drawing.sheet, window.bench.layout.pieces[2]
    assert sheet is not None
    x, y = (piece.start_mm[0] + 5.0 * piece.along[0], piece.start_mm[1] + 5.0 * piece.along[1])
    where = QPointF(sheet.plan.x(x), sheet.plan.y(y)).toPoint()
    panel.log.quantity.setCurrentIndex(panel.log.quantity.findData("volts"))
    qtbot.mouseClick(window.drawing, Qt.MouseButton.LeftButton, pos=where)
    assert panel.log.place.text() == piece.id
    qtbot.waitUntil(lambda: window.bench.exact is not None, timeout=LONG)
    panel.log.quantity.setCurrentIndex(panel.log.quantity.findData("lux"))
    qtbot.mouseClick(window.drawing, Qt.MouseButton.LeftButton, pos=where)
    assert panel.log.place.text().count(",") == 1


def test_values_are_taken_into_the_design_and_come_back_by_undo(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design())
    panel = panel_of(window)
    add(panel, "volts", "supply", "11.85", "0.01")
    qtbot.waitUntil(lambda: panel.use.isEnabled(), timeout=LONG)
    panel.use.click()
    assert window.bench.design.wiring is not None
    assert window.bench.design.wiring.supply_volts == pytest.approx(11.85, abs=0.05)
    window.bench.document.undo()
    assert window.bench.design.wiring is None


def test_the_log_goes_out_and_comes_in_as_a_table(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(design())
    panel = panel_of(window)
    add(panel, "volts", "supply", "12.0")
    path = tmp_path / "log.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    panel.log.write_out.click()
    qtbot.waitUntil(path.exists, timeout=LONG)
    qtbot.waitUntil(lambda: b"supply" in path.read_bytes(), timeout=LONG)
    path.write_bytes(path.read_bytes() + b"amps,supply,1.5,,,,\n")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(path), ""))
    panel.log.read_in.click()
    assert [one.quantity for one in shown_bench(window.bench.design).readings] == ["volts", "amps"]
    told: list[str] = []
    monkeypatch.setattr(window.files, "explain", lambda _title, text: told.append(text))
    path.write_bytes(b"nonsense")
    panel.log.read_in.click()
    assert "missing" in told[0]


def test_lessons_are_kept_and_the_next_version_begins(open_window: Open) -> None:
    window = open_window(design())
    panel = panel_of(window)
    add(panel, "volts", "supply", "12.0")
    panel.lesson.setText("thicker wire")
    panel.lesson.returnPressed.emit()
    assert panel.lessons.count() == 1
    panel.begin.click()
    assert shown_bench(window.bench.design).readings == ()
    assert window.bench.design.kept[-1].bench is not None
    assert not panel.builds.isVisible()
    add(panel, "amps", "supply", "1.5")
    assert panel.builds.text().splitlines() == ["Version 1: 12 V", "this version: 1.5 A"]
    assert panel.builds.isVisible()
    panel.lessons.setCurrentRow(0)
    panel.drop.click()
    assert panel.lessons.count() == 0


# -- photographs -------------------------------------------------------------------------------------------------------


def photos_of(window: MainWindow) -> PhotoWindow:
    window.actions_by_key["photos"].trigger()
    opened = window.prove_keeper.photos
    assert opened is not None
    return opened


def test_a_photograph_is_measured_and_its_corners_are_dragged(open_window: Open, qtbot: QtBot, tmp_path: Path) -> None:
    window = open_window(design(face_width_mm=WIDE, face_height_mm=HIGH, depth_mm=80.0))
    panel_of(window)
    photos = photos_of(window)
    path = tmp_path / "face.png"
    path.write_bytes(as_png(picture_of(face_of(), CORNERS)))
    qtbot.waitUntil(lambda: window.bench.exact is not None, timeout=LONG)
    photos.add_path(path)
    qtbot.waitUntil(lambda: photos.shown is not None, timeout=LONG)
    assert photos.table.rowCount() >= 4
    assert "No EXIF" in photos.words.text()
    assert len(window.prove_keeper._of_photo()) == 9  # they count in the fit
    assert np.abs(photos.corners.corners - CORNERS).max() < 1.0
    start = photos.corners._at(photos.corners.corners[0]).toPoint()
    qtbot.mousePress(photos.corners, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseMove(photos.corners, start + QPoint(12, 8))
    photos.corners.mouseReleaseEvent(None)
    (kept,) = shown_bench(window.bench.design).photos
    assert kept.corners_px is not None
    photos.corners.setFocus()
    qtbot.keyClick(photos.corners, "3")
    qtbot.keyClick(photos.corners, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    moved = shown_bench(window.bench.design).photos[0].corners_px
    assert moved is not None
    assert moved[4] == pytest.approx(kept.corners_px[4] - 10.0, abs=0.02)
    photos.find_corners.click()
    assert shown_bench(window.bench.design).photos[0].corners_px is None
    path.unlink()
    photos._measure()
    assert "is gone" in photos.words.text()
    photos.remove.click()
    assert shown_bench(window.bench.design).photos == ()


def test_what_is_no_photograph_is_told(open_window: Open, qtbot: QtBot, tmp_path: Path) -> None:
    window = open_window(design())
    photos = photos_of(window)
    path = tmp_path / "words.png"
    path.write_bytes(b"no picture")
    qtbot.waitUntil(lambda: window.bench.exact is not None, timeout=LONG)
    photos.add_path(path)
    qtbot.waitUntil(lambda: "not a picture" in photos.words.text(), timeout=LONG)
    assert photos.table.rowCount() == 0


# -- faults ------------------------------------------------------------------------------------------------------------


def faults_of(window: MainWindow) -> FaultWindow:
    window.actions_by_key["faults"].trigger()
    opened = window.prove_keeper.faults
    assert opened is not None
    return opened


def test_a_symptom_leads_to_suspects_and_to_the_next_reading(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(bars()))
    panel_of(window)
    faults = faults_of(window)
    faults.kind.setCurrentIndex(faults.kind.findData("nothing"))
    faults.see.click()
    qtbot.waitUntil(lambda: faults.diagnosis is not None, timeout=LONG)
    assert faults.suspects.rowCount() > 0
    assert faults.remedy.text()
    assert not faults.banner.isVisible()
    faults.take_next.click()
    assert faults.place.text()
    faults.value.setText("0")
    faults.read.click()
    assert len(shown_bench(window.bench.design).readings) == 1
    faults.unsee.click()
    assert faults.symptoms == []


def test_a_case_is_practised_and_scored_and_leaves_the_design_alone(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(bars()))
    panel_of(window)
    before = window.bench.design
    faults = faults_of(window)
    index = 1 + next(number for number, one in enumerate(COURSE) if one.key == "dark-bench")
    faults.case.setCurrentIndex(index)
    faults.case.activated.emit(index)
    qtbot.waitUntil(lambda: faults.diagnosis is not None, timeout=LONG)
    assert faults.symptoms == [Symptom("nothing")]
    assert faults.banner.isVisible()
    assert "PRACTICE" in faults.banner.text()
    faults.camera.take.click()
    qtbot.waitUntil(faults.camera.picture.isVisible, timeout=LONG)
    faults.take_next.click()
    qtbot.waitUntil(lambda: len(faults.practised) == 1, timeout=LONG)
    qtbot.waitUntil(lambda: faults.suspects.item(0, 0).text().startswith("No volts"), timeout=LONG)
    faults.suspects.selectRow(0)
    faults.answer.click()
    qtbot.waitUntil(lambda: "10 of 10" in faults.score.text(), timeout=LONG)
    faults.well.click()
    qtbot.waitUntil(lambda: "Not this" in faults.score.text(), timeout=LONG)
    faults.place.setText("moon")
    faults.read.click()
    qtbot.waitUntil(lambda: "moon" in faults.problem.text(), timeout=LONG)
    assert window.bench.design == before


def test_no_words_widen_the_panel(open_window: Open, qtbot: QtBot) -> None:
    """A long place in the name of the next reading must not push the fields out of view."""
    window = open_window(design())
    panel = panel_of(window)
    add(panel, "volts", "supply", "12.0")
    qtbot.waitUntil(lambda: panel.next.isVisible(), timeout=LONG)
    before = panel.minimumSizeHint().width()
    panel.next.setText("x" * 200)
    assert panel.minimumSizeHint().width() == before
    assert before <= 330
