"""Work that must not be lost in the window: autosave, recovery, files changed elsewhere, names without endings."""

import os
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QFileDialog, QMessageBox, QPushButton
from pytestqt.qtbot import QtBot

from gauze.core.formats.design_file import encode_design
from gauze.session import edits
from gauze.session.autosave import Autosave, Recovered, find_recoverable
from gauze.session.document import Document
from gauze.ui.main_window import MainWindow
from gauze.ui.main_window import main_window as window_module
from gauze.ui.workbench import Workbench
from tests.builders import CATALOGUE, design

Open = Callable[..., MainWindow]
PATIENCE_MS = 120_000


def answer(monkeypatch: pytest.MonkeyPatch, words: str, said: list[str] | None = None) -> None:
    """Answer every box that asks by the button with these words."""

    def press(box: QMessageBox) -> int:
        if said is not None:
            said.append(f"{box.text()} {box.informativeText()}")
        button = next(one for one in box.buttons() if one.text().replace("&", "").startswith(words))
        button.click()
        return 0

    monkeypatch.setattr(QMessageBox, "exec", press)


def deepen(bench: Workbench, depth_mm: float) -> None:
    bench.edit("Depth", lambda what, _: edits.with_build(what, depth_mm=depth_mm))


def kept_in(bench: Workbench) -> list[Path]:
    return list(bench.keeping.folder.glob("*.keep"))


# -- autosave ------------------------------------------------------------------------------------------------------------


def test_edits_in_close_order_do_not_put_the_autosave_off(open_bench: Callable[..., Workbench], qtbot: QtBot) -> None:
    bench = open_bench()
    deepen(bench, 31.0)
    left = bench.keeping._later.remainingTime()
    assert 0 < left <= 2000
    for depth in range(32, 40):
        qtbot.wait(20)
        deepen(bench, float(depth))
        assert bench.keeping._later.isActive()
        assert bench.keeping._later.remainingTime() < left  # it goes on running out, whatever follows
        left = bench.keeping._later.remainingTime()
    qtbot.waitUntil(lambda: len(kept_in(bench)) == 1, timeout=PATIENCE_MS)


def test_work_is_kept_at_once_when_the_process_ends(open_bench: Callable[..., Workbench]) -> None:
    bench = open_bench()
    deepen(bench, 47.0)
    bench.keeping.keep_now(bench.document)
    bench.close(forget=False)
    (found,) = find_recoverable(bench.keeping.folder, CATALOGUE)
    assert found.design.build.depth_mm == 47.0
    found.discard()


# -- recovery ------------------------------------------------------------------------------------------------------------


def left_behind(folder: Path, *depths_mm: float, path: Path | None = None) -> list[Recovered]:
    for depth in depths_mm:
        autosave = Autosave(folder)
        document = Document.open(path, CATALOGUE) if path is not None else Document(design(), CATALOGUE)
        document.apply(edits.with_build(design(), depth_mm=depth), "Depth")
        autosave.want(document)
        autosave.write()
        autosave.leave()
    return find_recoverable(folder, CATALOGUE)


def push(window: MainWindow, words: str) -> None:
    assert window.recovery.dialog is not None
    buttons = window.recovery.dialog.findChildren(QPushButton)
    next(one for one in buttons if one.text().startswith(words)).click()


def test_escape_on_the_offer_keeps_everything(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    window.recovery.offer(left_behind(window.bench.keeping.folder, 44.0, 45.0))
    dialog = window.recovery.dialog
    assert dialog is not None
    assert dialog.works.count() == 2
    qtbot.keyClick(dialog, Qt.Key.Key_Escape)
    assert window.recovery.dialog is None
    assert len(kept_in(window.bench)) == 2
    window.actions_by_key["recover"].trigger()  # and the menu brings it back
    assert window.recovery.dialog is not None
    assert window.recovery.dialog.works.count() == 2
    push(window, "Later")


def test_work_taken_up_stays_on_the_disk_until_it_is_saved(open_window: Open, tmp_path: Path) -> None:
    window = open_window(lit=False)
    found = left_behind(window.bench.keeping.folder, 44.0, 45.0)
    window.recovery.offer(found)
    push(window, "Open")
    assert window.bench.design.build.depth_mm == found[0].design.build.depth_mm
    assert window.isWindowModified()
    assert len(kept_in(window.bench)) == 2  # a kill right now loses nothing
    assert len(find_recoverable(window.bench.keeping.folder, CATALOGUE)) == 1  # the other one, for another window
    window.bench.document.save(tmp_path / "saved.gauze")
    assert len(kept_in(window.bench)) == 1


def test_work_is_saved_as_a_copy_or_deleted_when_the_builder_says_so(
    open_window: Open, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(lit=False)
    window.recovery.offer(left_behind(window.bench.keeping.folder, 44.0, 45.0))
    dialog = window.recovery.dialog
    assert dialog is not None
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "copy"), ""))
    push(window, "Save a copy")
    assert (tmp_path / "copy.gauze").is_file()
    assert len(kept_in(window.bench)) == dialog.works.count() == 1
    answer(monkeypatch, "Cancel")
    push(window, "Delete")
    assert len(kept_in(window.bench)) == 1
    answer(monkeypatch, "Delete")
    push(window, "Delete")
    assert kept_in(window.bench) == []
    assert window.recovery.dialog is None


def test_the_offer_says_when_the_file_has_changed_since(open_window: Open, tmp_path: Path) -> None:
    window = open_window(lit=False)
    path = tmp_path / os.fsdecode(b"pan\xffel.gauze")
    path.write_bytes(encode_design(design()))
    found = left_behind(window.bench.keeping.folder, 44.0, path=path)
    path.write_bytes(encode_design(design(depth_mm=71.0)))
    window.recovery.offer(found)
    assert window.recovery.dialog is not None
    words = window.recovery.dialog.about_work.text()
    assert "has been changed since" in words
    assert "pan\\xffel.gauze" in words
    push(window, "Open")
    assert window.bench.document.changed_on_disk()  # so that saving asks


# -- files ---------------------------------------------------------------------------------------------------------------


def test_a_name_without_its_ending_replaces_nothing_unasked(
    open_window: Open, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window()
    for key, typed, there in (
        ("save_as", "panel", "panel.gauze"),
        ("save_as", "panel v1.2", "panel v1.2.gauze"),
        ("export_ies", "lamp v1.2", "lamp v1.2.ies"),
        ("export_findings", "list", "list.txt"),
    ):
        (tmp_path / there).write_text("mine")
        names = iter([str(tmp_path / typed), ""])
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, names=names: (next(names), ""))
        said: list[str] = []
        answer(monkeypatch, "Cancel", said)
        window.actions_by_key[key].trigger()
        assert f"“{there}” already exists" in said[0]
        assert (tmp_path / there).read_text() == "mine"
        assert not (tmp_path / typed).exists()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "panel v1.2"), ""))
    answer(monkeypatch, "Replace")
    window.actions_by_key["save_as"].trigger()
    assert Document.open(tmp_path / "panel v1.2.gauze", CATALOGUE).design == window.bench.design


def test_the_kind_that_is_chosen_gives_the_ending(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "list"), "JSON (*.json)"))
    window.actions_by_key["export_findings"].trigger()
    qtbot.waitUntil((tmp_path / "list.json").is_file, timeout=PATIENCE_MS)


@pytest.fixture
def changed_elsewhere(open_window: Open, tmp_path: Path) -> MainWindow:
    window = open_window(lit=False)
    path = tmp_path / "panel.gauze"
    window.bench.document.save(path)
    deepen(window.bench, 44.0)
    path.write_bytes(encode_design(design(depth_mm=71.0)))
    return window


def on_disk(window: MainWindow) -> float:
    path = window.bench.document.path
    assert path is not None
    return float(Document.open(path, CATALOGUE).design.build.depth_mm)


def test_a_file_changed_elsewhere_is_not_overwritten_unasked(
    changed_elsewhere: MainWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = changed_elsewhere
    said: list[str] = []
    answer(monkeypatch, "Cancel", said)
    assert not window.files.save()
    assert "changed elsewhere" in said[0]
    assert on_disk(window) == 71.0
    answer(monkeypatch, "Save as another")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "beside"), ""))
    assert window.files.save()
    assert Document.open(tmp_path / "panel.gauze", CATALOGUE).design.build.depth_mm == 71.0
    assert on_disk(window) == 44.0


def test_a_file_changed_elsewhere_is_overwritten_when_told_to(
    changed_elsewhere: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    answer(monkeypatch, "Overwrite")
    assert changed_elsewhere.files.save()
    assert on_disk(changed_elsewhere) == 44.0
    assert changed_elsewhere.files.save()  # nothing to ask any more


def test_a_file_changed_elsewhere_is_compared_across_the_seam(
    changed_elsewhere: MainWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = changed_elsewhere
    answer(monkeypatch, "Compare")
    assert not window.files.save()
    assert window.versions_panel.isVisible()
    (kept,) = window.bench.design.kept
    assert kept.name.startswith("On disk")
    assert kept.build.depth_mm == 71.0
    assert window.bench.design.build.depth_mm == 44.0


def test_a_change_elsewhere_is_noticed_when_the_window_comes_to_the_front(
    open_window: Open, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(lit=False)
    path = tmp_path / "panel.gauze"
    window.bench.document.save(path)
    said: list[str] = []
    answer(monkeypatch, "Keep mine", said)
    window.files.look_for_changes()
    assert said == []
    path.write_bytes(encode_design(design(depth_mm=71.0)))
    window.files.look_for_changes()
    window.files.look_for_changes()
    assert len(said) == 1  # told once
    path.write_bytes(encode_design(design(depth_mm=72.0)) + b"\n")
    answer(monkeypatch, "Reload")
    window.files.look_for_changes()
    assert window.bench.design.build.depth_mm == 72.0


def test_saving_restyles_nothing(open_window: Open, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    window = open_window(lit=False)
    styled: list[int] = []
    monkeypatch.setattr(window_module, "apply_theme", lambda *_: styled.append(1))
    window.bench.document.path = tmp_path / "a.gauze"
    assert window.files.save()
    assert styled == []
    recent = window.actions_by_key["recent"].menu()
    assert recent is not None
    assert [action.text() for action in recent.actions()] == [str(tmp_path / "a.gauze")]
    window.actions_by_key["light_theme"].trigger()
    assert styled == [1]


def test_names_that_look_like_markup_are_shown_as_they_are(
    open_window: Open, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    boxes: list[QMessageBox] = []
    monkeypatch.setattr(QMessageBox, "exec", lambda self: boxes.append(self) or QMessageBox.StandardButton.Cancel)
    window = open_window(lit=False)
    window.bench.edit("Name", lambda what, _: edits.with_name(what, "<b>bold</b> & co"))
    assert not window.files.may_leave()
    assert not window.files.open_path(tmp_path / "<i>none</i>.gauze")
    for box in boxes:
        assert box.textFormat() == Qt.TextFormat.PlainText
    assert "<b>bold</b>" in boxes[0].text()
    window.bench.remember_file(tmp_path / "a&b.gauze")
    recent = window.actions_by_key["recent"].menu()
    assert recent is not None
    assert recent.actions()[0].text().endswith("a&&b.gauze")
    assert QApplication.instance() is not None
