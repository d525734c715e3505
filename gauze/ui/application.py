"""Starts the application: window, recovery, or a picture of the window without a screen."""

import argparse
import gc
import logging
import os
import signal
import socket
import sys
import traceback
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from types import FrameType, TracebackType

from PyQt6 import sip
from PyQt6.QtCore import QBuffer, QEventLoop, QSocketNotifier, QTimer
from PyQt6.QtWidgets import QApplication, QMessageBox

from gauze.core.errors import GauzeError
from gauze.core.evaluate import AT_REST
from gauze.core.formats.design_file import decode_design
from gauze.core.materials import load_catalogue
from gauze.core.words.languages import translation
from gauze.demo import demo_design_bytes
from gauze.session.autosave import find_recoverable
from gauze.session.console import BAD_INPUT, FINE, NOT_WRITTEN, SET_UP, tell
from gauze.session.document import Document
from gauze.session.settings import load_settings, recovery_folder, settings_path
from gauze.session.shelf import shelf_path
from gauze.session.solver import SolverProcess
from gauze.session.storage import check_output, write_file
from gauze.ui.collecting import Collecting
from gauze.ui.main_window import MainWindow
from gauze.ui.message import plain_box
from gauze.ui.text import told, use_translation
from gauze.ui.theme import apply_theme, icon, theme_named
from gauze.ui.workbench import Workbench

_LOG = logging.getLogger(__name__)
_LIGHT_TIMEOUT_MS = 60_000
ENDING_SIGNALS = (signal.SIGTERM, signal.SIGHUP, signal.SIGINT)


def run_application(arguments: argparse.Namespace, solver: SolverProcess) -> int:
    """Open the window, or write its picture, and return the exit code; the solver is the caller's to close."""
    if arguments.picture is not None:
        try:
            check_output(arguments.picture, tuple(file for file in [getattr(arguments, "file", None)] if file))
        except GauzeError as error:
            tell(f"gauze: {error}")
            return NOT_WRITTEN
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
    elif not _has_display():
        tell("gauze: there is no display here. For a picture of the window instead: ./run demo --picture FILE.png")
        return SET_UP
    application = QApplication(sys.argv[:1])
    application.setApplicationName("gauze")
    application.setApplicationDisplayName("Gauze")
    application.setWindowIcon(icon("lamp-desk", theme_named("dark"), "accent"))
    settings = load_settings(settings_path())
    use_translation(translation(settings.language))
    apply_theme(application, theme_named(arguments.theme or settings.theme))
    sys.excepthook = _show_defect
    path: Path | None = getattr(arguments, "file", None)
    try:
        document = _document(path)
    except GauzeError as error:
        tell(f"gauze: {error}")
        if arguments.picture is not None:
            return BAD_INPUT
        plain_box(None, QMessageBox.Icon.Warning, told(error)).exec()
        document, path = _document(None), None
    window = open_window(document, solver, arguments.theme)
    if arguments.picture is not None:
        return _write_picture(window, arguments.picture)
    window.show()
    if path is not None:
        window.bench.remember_file(path)
    found = find_recoverable(recovery_folder(), window.bench.catalogue)
    if not found and path is None and arguments.command == "open":
        QTimer.singleShot(0, window.start.open)
    if found:
        QTimer.singleShot(0, lambda: window.recovery.offer(found))
    with ending_by_signal(window) as signals:
        code = application.exec()
        return 128 + signals[0] if signals else code


_SWITCH_SECONDS = 0.001  # after which a thread that computes lets the interface have its turn


def open_window(document: Document, solver: SolverProcess, theme: str | None) -> MainWindow:
    """Make the window on a document and start to light it."""
    sys.setswitchinterval(_SWITCH_SECONDS)
    file = settings_path()
    bench = Workbench(document, solver, load_settings(file), file, recovery_folder(), shelf_path())
    window = MainWindow(bench, theme)
    bench.start()
    Collecting(window)
    gc.freeze()  # what is loaded by now stays: without this the collector walks all of it, 40 ms
    return window


@contextmanager
def ending_by_signal(window: MainWindow) -> Iterator[list[int]]:
    """Keep unsaved work and end when a signal asks for it, TERM, HUP or INT; yields a list that then holds the signal.

    Python's handlers run between two steps of Python only, which may be long after in an event loop: a socket wakes that up.
    """
    told: list[int] = []
    reader, writer = socket.socketpair()
    reader.setblocking(False)
    writer.setblocking(False)

    def end() -> None:
        with suppress(BlockingIOError):
            told.extend(reader.recv(64))
        window.bench.keeping.keep_now(window.bench.document)
        window.end(forget=False)
        QApplication.exit(0)

    notifier = QSocketNotifier(sip.voidptr(reader.fileno()), QSocketNotifier.Type.Read)
    notifier.activated.connect(end)
    before = {number: signal.signal(number, _noted) for number in ENDING_SIGNALS}
    wakeup = signal.set_wakeup_fd(writer.fileno(), warn_on_full_buffer=False)
    try:
        yield told
    finally:
        signal.set_wakeup_fd(wakeup)
        for number, handler in before.items():
            signal.signal(number, handler)
        notifier.setEnabled(False)
        reader.close()
        writer.close()


def _noted(_number: int, _frame: FrameType | None) -> None:
    """Do nothing: the socket has told the event loop."""


def _document(path: Path | None) -> Document:
    catalogue = load_catalogue()
    if path is not None:
        return Document.open(path, catalogue)
    return Document(decode_design(demo_design_bytes(), catalogue), catalogue)


def _has_display() -> bool:
    platform = os.environ.get("QT_QPA_PLATFORM", "")
    return bool(
        os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or platform.startswith(("offscreen", "vnc"))
    )


def _write_picture(window: MainWindow, path: Path) -> int:
    """Wait for the exact light and its fixes, then write the window as a PNG."""
    window.show()
    loop = QEventLoop()
    window.bench.solving.fixes_progress.connect(lambda share: loop.quit() if share >= 1.0 else None)
    window.bench.lit.connect(
        lambda result: (
            QTimer.singleShot(0, loop.quit)
            if result.evaluation.detail == AT_REST and not any(finding.fixable for finding in result.findings)
            else None
        )
    )
    QTimer.singleShot(_LIGHT_TIMEOUT_MS, loop.quit)
    loop.exec()
    QTimer.singleShot(200, loop.quit)  # for the last offers to be laid out and painted
    loop.exec()
    picture = QBuffer()
    picture.open(QBuffer.OpenModeFlag.WriteOnly)
    window.grab().save(picture, "PNG")
    window.bench.close()
    try:
        write_file(path, picture.data().data())
    except GauzeError as error:
        tell(f"gauze: {error}")
        return NOT_WRITTEN
    return FINE


def _show_defect(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
    """Tell of a defect in plain words; the details go to the log. Unsaved work is kept by the autosave."""
    _LOG.critical("".join(traceback.format_exception(kind, error, trace)))
    box = plain_box(
        None,
        QMessageBox.Icon.Critical,
        "Something went wrong inside Gauze; the last step may not have been done. Your work is kept: save it under "
        f"a new name and start Gauze again.\n\n{kind.__name__}: {error}",
    )
    box.exec()
