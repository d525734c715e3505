"""Starting the application, in this process: recovery, bad files, defects."""

import logging
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QMessageBox
from pytestqt.qtbot import QtBot

from gauze.cli.options import parse
from gauze.core.errors import StorageError
from gauze.core.formats.design_file import encode_design
from gauze.session.document import Document
from gauze.session.solver import SolverProcess
from gauze.ui import application
from gauze.ui.application import open_window, run_application
from gauze.ui.main_window import MainWindow
from gauze.ui.workbench import Workbench
from tests.builders import CATALOGUE, design


@pytest.fixture
def _own_hook() -> Iterator[None]:
    before = sys.excepthook
    yield
    sys.excepthook = before


def test_a_window_opens_on_a_document_and_lights_it(solver: SolverProcess, qtbot: QtBot) -> None:
    window = open_window(Document(design(), CATALOGUE), solver, "light")
    qtbot.waitUntil(lambda: window.bench.result is not None, timeout=240_000)
    assert window.windowTitle().startswith("Test panel")
    window.close()  # nothing is modified: it asks nothing, and ends its threads


def test_closing_keeps_what_is_modified_until_it_is_answered(
    solver: SolverProcess, qapp: object, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert qapp is not None
    window = open_window(Document(design(), CATALOGUE), solver, None)
    window.show()
    window.bench.edit("Name", lambda what, _: application_rename(what))
    monkeypatch.setattr(QMessageBox, "exec", lambda _self: QMessageBox.StandardButton.Cancel)
    assert not window.close()
    assert window.isVisible()
    monkeypatch.setattr(QMessageBox, "exec", lambda _self: QMessageBox.StandardButton.Discard)
    assert window.close()


def application_rename(what: object) -> object:
    import msgspec

    return msgspec.structs.replace(what, name="Changed")


@pytest.mark.usefixtures("_own_hook")
def test_a_bad_file_opens_the_demo_after_saying_why(
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
    qapp: object,
    solver: SolverProcess,
) -> None:
    assert qapp is not None
    bad = tmp_path / "bad.gauze"
    bad.write_text("{}")
    said: list[str] = []
    opened: list[MainWindow] = []
    monkeypatch.setattr(QMessageBox, "exec", lambda self: said.append(self.text()))
    monkeypatch.setattr(application, "QApplication", lambda _arguments: qapp)
    monkeypatch.setattr(application, "find_recoverable", lambda *_: [])
    real = application.open_window

    def note(document: Document, solver: SolverProcess, theme: str | None) -> MainWindow:
        window = real(document, solver, theme)
        opened.append(window)
        return window

    monkeypatch.setattr(application, "open_window", note)
    monkeypatch.setattr(type(qapp), "exec", lambda *_: 0)
    assert run_application(parse(["open", str(bad)]), solver) == 0
    assert "not a Gauze design" in said[0]
    assert "not a Gauze design" in capsys.readouterr().err
    assert opened[0].bench.design.name.startswith("Proofing")
    assert bad.read_text() == "{}"
    opened[0].close()


@pytest.mark.usefixtures("_own_hook")
def test_a_defect_is_told_in_plain_words_and_logged(
    monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    said: list[str] = []
    monkeypatch.setattr(QMessageBox, "exec", lambda self: said.append(self.text()))
    with caplog.at_level(logging.CRITICAL):
        try:
            raise ZeroDivisionError("of ours")
        except ZeroDivisionError as error:
            application._show_defect(type(error), error, error.__traceback__)
    assert "Your work is kept" in said[0]
    assert "ZeroDivisionError" in caplog.text
    caplog.clear()  # this once a logged line was wanted


def test_errors_of_the_background_are_told(open_bench: Callable[..., Workbench], qtbot: QtBot) -> None:
    bench = open_bench()

    def refuse() -> None:
        raise StorageError("Could not write: the disk is full.")

    with qtbot.waitSignal(bench.failed, timeout=240_000) as told:
        bench.solving.run_export(refuse)
    assert told.args == ["Could not write: the disk is full."]


def test_a_newer_request_replaces_an_older_one(open_bench: Callable[..., Workbench], qtbot: QtBot) -> None:
    """Twenty steps of a drag: the last design is lit, exactly, and not all of the others were."""
    from gauze.session import edits

    bench = open_bench()
    lit: list[float] = []
    bench.lit.connect(lambda result: lit.append(result.evaluation.design.build.depth_mm))
    gesture = object()
    for step in range(20):
        bench.drag("Depth", lambda what, _, step=step: edits.with_build(what, depth_mm=30.0 + step), gesture)
    qtbot.waitUntil(
        lambda: (
            bench.result is not None
            and bench.result.evaluation.design == bench.design
            and bench.result.evaluation.detail.fineness == 1.0
        ),
        timeout=240_000,
    )
    assert lit[-1] == 49.0
    assert len(lit) < 20
    bench.document.undo()
    assert bench.design == design()


def test_unsaved_work_is_kept_and_dropped_when_saved(
    open_bench: Callable[..., Workbench], qtbot: QtBot, tmp_path: Path
) -> None:
    from gauze.session import edits

    bench = open_bench()
    kept = tmp_path / "recovery"
    bench.edit("Depth", lambda what, _: edits.with_build(what, depth_mm=33.0))
    qtbot.waitUntil(lambda: bool(list(kept.glob("*.keep"))), timeout=240_000)
    bench.document.save(tmp_path / "a.gauze")
    assert not list(kept.glob("*.keep"))
    assert (tmp_path / "a.gauze").read_bytes() == encode_design(bench.design)
