"""The window and files: open, save, export, the clipboard, what is unsaved."""

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QApplication, QFileDialog, QMessageBox
from pytestqt.qtbot import QtBot

from gauze.core.errors import StorageError
from gauze.core.formats.design_file import encode_design
from gauze.ui.main_window import MainWindow
from tests.builders import design
from tests.ui.driving import type_into

Open = Callable[..., MainWindow]


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
        qtbot.waitUntil(lambda name=name: (tmp_path / name).exists(), timeout=120_000)
    said = []
    monkeypatch.setattr(window.files, "explain", lambda _what, why: said.append(why))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "no" / "b.png"), ""))
    window.actions_by_key["export_picture"].trigger()
    qtbot.waitUntil(lambda: bool(said), timeout=120_000)
    assert "does not exist" in said[0]


def test_findings_and_picture_go_to_the_clipboard(open_window: Open) -> None:
    window = open_window()
    window.actions_by_key["copy_findings"].trigger()
    assert "the rows are" in QApplication.clipboard().text()
    window.actions_by_key["copy_picture"].trigger()
    assert QApplication.clipboard().image().width() > 50


def test_a_disk_that_refuses_the_autosave_is_told_once(
    open_window: Open, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(lit=False)
    said, tried = [], []
    window.files.explain = lambda _what, why: said.append(why)

    def refuse(*_: object) -> None:
        tried.append(1)
        raise StorageError("Could not write: the disk is full.")

    monkeypatch.setattr(window.bench.keeping._autosave, "write", refuse)
    window.bench.keeping.follow(window.bench.document)
    for count in range(1, 4):
        window.bench.keeping._write()
        qtbot.waitUntil(lambda count=count: len(tried) == count, timeout=240_000)
    qtbot.waitUntil(lambda: bool(said), timeout=240_000)
    qtbot.wait(50)
    assert len(said) == 1
    assert "disk is full" in said[0]


def test_a_damaged_shelf_is_told_and_put_aside(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    said = []
    window.files.explain = lambda _what, why: said.append(why)
    window.bench._shelf_file.write_text("{")
    with qtbot.waitSignal(window.bench.lit, timeout=120_000):
        window.bench.start()
    assert "put aside" in said[0]
    assert window.bench._shelf_file.with_suffix(".damaged").read_text() == "{"
