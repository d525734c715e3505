"""A monkey at the real window: clicks, drags, keys, menus, typing, anywhere and in any order, by a seed.

``.venv/bin/python -m bench.rough.monkey --seed 1 --minutes 10`` goes over one demo after another. After each turn every edit is
undone and done again: the first must give the design that was opened, the last the one that was left. Exceptions, warnings of Qt
and logged errors count as faults.
"""

import argparse
import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import contextlib
import logging
import random
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from types import TracebackType
from typing import Any
from unittest import mock

from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, QtMsgType, qInstallMessageHandler
from PyQt6.QtGui import QMouseEvent, QWheelEvent
from PyQt6.QtPrintSupport import QPrintDialog
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QLineEdit,
    QMenu,
    QMessageBox,
    QSlider,
    QWidget,
)

from bench.rough.tally import Tally
from gauze.core.formats.design_file import encode_design
from gauze.session.leaving import leave
from gauze.ui.canvas.hand.hand import grips_of
from gauze.ui.main_window import MainWindow

HAND: Any = QTest  # its stubs take the static functions for methods
REPLACING = ("new", "open", "open_demo", "open_demo_sign", "recover", "import_emitters")
NEVER = ("quit", "full_screen", "recent")  # they end the run, or change nothing but the screen
TEXTS = (
    "32",
    "3.2 cm",
    "1 1/4 in",
    "0",
    "-5",
    "1e9",
    "nonsense",
    "",
    "50 %",
    "4000 K",
    "6",
    "0.001",
    "999999",
    "²",
    "<b>x</b>",
    "\x00",
)
KEYS = (
    Qt.Key.Key_Tab,
    Qt.Key.Key_Backtab,
    Qt.Key.Key_Return,
    Qt.Key.Key_Escape,
    Qt.Key.Key_Space,
    Qt.Key.Key_Delete,
    Qt.Key.Key_Up,
    Qt.Key.Key_Down,
    Qt.Key.Key_Left,
    Qt.Key.Key_Right,
    Qt.Key.Key_D,
    Qt.Key.Key_X,
    Qt.Key.Key_U,
    Qt.Key.Key_F,
    Qt.Key.Key_B,
    Qt.Key.Key_5,
)
_HARMLESS = ("propagateSizeHints", "This plugin does not support")


class Monkey:
    """Acts on one window. Whatever asks is answered at random; files go to a folder of its own."""

    def __init__(self, window: MainWindow, seed: int, folder: Path, tally: Tally) -> None:
        self.window, self.tally, self.folder = window, tally, folder
        self.random = random.Random(seed)  # noqa: S311 - a seed is what is wanted
        self._acts: tuple[tuple[Callable[[], None], int], ...] = (
            (self.click, 20),
            (self.drag, 20),
            (self.key, 14),
            (self.menu, 8),
            (self.type_text, 14),
            (self.choose, 8),
            (self.slide, 6),
            (self.wheel, 4),
            (self.undo_or_redo, 8),
            (self.rest, 3),
        )

    def act(self) -> None:
        """Do one thing."""
        acts, weights = zip(*self._acts, strict=True)
        act = self.random.choices(acts, weights)[0]
        self.tally.done[act.__name__] += 1
        act()
        QApplication.processEvents()
        self.close_what_popped_up()

    def close_what_popped_up(self) -> None:
        """Choose from a menu that is open or leave it; close a dialog now and then."""
        popup = QApplication.activePopupWidget()
        while popup is not None:
            if isinstance(popup, QMenu) and self.random.random() < 0.5:
                actions = [
                    one for one in popup.actions() if one.isEnabled() and not one.isSeparator() and one.menu() is None
                ]
                harmless = [one for one in actions if "full" not in one.text().lower()]
                if harmless:
                    self.random.choice(harmless).trigger()
            popup.close()
            QApplication.processEvents()
            popup = QApplication.activePopupWidget()
        for dialog in self.window.findChildren(QDialog):
            if dialog.isVisible() and self.random.random() < 0.3:
                HAND.keyClick(dialog, Qt.Key.Key_Escape)

    def widget(self, kind: type[QWidget] = QWidget) -> QWidget | None:
        """Return a visible widget at random."""
        found = [one for one in self.window.findChildren(kind) if one.isVisible() and one.isEnabled()]
        return self.random.choice(found) if found else None

    def point(self, widget: QWidget) -> QPoint:
        """Return a place on it at random."""
        return QPoint(self.random.randrange(max(widget.width(), 1)), self.random.randrange(max(widget.height(), 1)))

    def target(self) -> QWidget | None:
        """Return the drawing most of the time, else any widget."""
        return self.window.drawing if self.random.random() < 0.7 else self.widget()

    def click(self) -> None:
        """Click somewhere, once or twice, with either button."""
        widget = self.target()
        if widget is None or isinstance(widget, QMenu):
            return
        button = Qt.MouseButton.RightButton if self.random.random() < 0.15 else Qt.MouseButton.LeftButton
        if self.random.random() < 0.1:
            HAND.mouseDClick(widget, button, pos=self.point(widget))
        else:
            HAND.mouseClick(widget, button, pos=self.point(widget))
            if button == Qt.MouseButton.RightButton and widget is self.window.drawing:
                where = self.point(widget)
                self.window.drawing.menu_wanted.emit(widget.mapToGlobal(where), None, None)

    def drag(self) -> None:
        """Drag over the drawing, from a handle where it has one; now and then something else happens on the way."""
        view = self.window.drawing
        start = QPointF(self._something_on_the_drawing() or self.point(view))
        mouse(view, QEvent.Type.MouseButtonPress, start)
        at = start
        for _ in range(self.random.randrange(1, 12)):
            at += QPointF(self.random.gauss(0, 25), self.random.gauss(0, 25))
            mouse(view, QEvent.Type.MouseMove, at)
            if self.random.random() < 0.06:
                self.random.choice((self.key, self.menu, self.undo_or_redo))()
        mouse(view, QEvent.Type.MouseButtonRelease, at)

    def _something_on_the_drawing(self) -> QPoint | None:
        view = self.window.drawing
        sheet, scene = view.sheet, view.scene
        if sheet is None or scene is None:
            return None
        if self.random.random() < 0.5:
            rect = self.random.choice(list(grips_of(view).values()))
            return QPoint(
                int(rect.x + rect.width * self.random.random()), int(rect.y + rect.height * self.random.random())
            )
        movable_items = scene.layout.sketch.movable_items
        if not movable_items or self.random.random() < 0.5:
            return None
        item = self.random.choice(movable_items)
        return QPoint(int(sheet.plan.x(item.x_mm)), int(sheet.plan.y(item.y_mm)))

    def key(self) -> None:
        """Press a key where the focus is."""
        widget = self.window.focusWidget() or self.window
        some = self.random.choice((Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier))
        HAND.keyClick(widget, self.random.choice(KEYS), some)

    def menu(self) -> None:
        """Choose an entry of the menus."""
        keys = [key for key, action in self.window.actions_by_key.items() if action.isEnabled() and key not in NEVER]
        key = self.random.choice(keys)
        if key in REPLACING and self.random.random() < 0.8:
            return  # or hardly an edit would be left to undo
        self.tally.done[f"menu {key}"] += 1
        self.window.actions_by_key[key].trigger()

    def type_text(self) -> None:
        """Type something into an input, and take it or leave it."""
        if self.random.random() < 0.5:
            dimensions = self.window.drawing.dimensions_now()
            if not dimensions:
                return
            self.window.drawing.edit(self.random.choice(dimensions).key)
            widget: QWidget | None = self.window.focusWidget()
        else:
            widget = self.widget(QLineEdit)
        if not isinstance(widget, QLineEdit):
            return
        widget.setFocus()
        widget.selectAll()
        widget.insert(self.random.choice(TEXTS))  # as from the clipboard, whose signs no key has
        end = self.random.choice((Qt.Key.Key_Return, Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Tab, None))
        if end is not None:
            HAND.keyClick(widget, end)

    def choose(self) -> None:
        """Choose from a box, or press a button."""
        widget = self.widget(QComboBox if self.random.random() < 0.5 else QAbstractButton)
        if isinstance(widget, QComboBox) and widget.count():
            index = self.random.randrange(widget.count())
            widget.setCurrentIndex(index)
            widget.activated.emit(index)
        elif isinstance(widget, QAbstractButton) and widget.window() is self.window:
            widget.click()

    def slide(self) -> None:
        """Move a slider."""
        widget = self.widget(QSlider)
        if isinstance(widget, QSlider):
            widget.setValue(self.random.randint(widget.minimum(), widget.maximum()))

    def wheel(self) -> None:
        """Turn the wheel over the drawing."""
        view = self.window.drawing
        at = QPointF(self.point(view))
        step = QPoint(0, self.random.choice((-240, -120, 120, 240)))
        none = Qt.MouseButton.NoButton
        phase = Qt.ScrollPhase.NoScrollPhase
        keys = Qt.KeyboardModifier.NoModifier
        event = QWheelEvent(at, view.mapToGlobal(at), QPoint(), step, none, keys, phase, False)
        QApplication.sendEvent(view, event)

    def undo_or_redo(self) -> None:
        """Take a few edits back, or bring them again."""
        document = self.window.bench.document
        for _ in range(self.random.randrange(1, 4)):
            self.random.choice((document.undo, document.redo))()

    def rest(self) -> None:
        """Let what is computed arrive."""
        HAND.qWait(self.random.randrange(20, 400))

    def there_and_back(self) -> None:
        """Undo to the start and redo to the end: the same design, and undone again the same as before."""
        document = self.window.bench.document
        walk(document.redo, lambda: document.redo_name)
        last = document.design
        self.tally.done["edits undone and redone"] += walk(document.undo, lambda: document.undo_name)
        first = document.design
        walk(document.redo, lambda: document.redo_name)
        if document.design != last or encode_design(document.design) != encode_design(last):
            self.tally.fault("redo does not give what was left", document.design.name)
        walk(document.undo, lambda: document.undo_name)
        if document.design != first:
            self.tally.fault("undo does not give the same twice", document.design.name)


def walk(step: Callable[[], None], name: Callable[[], str | None]) -> int:
    """Take steps as long as there is one; return how many."""
    steps = 0
    while name() is not None:
        step()
        steps += 1
    return steps


def mouse(widget: QWidget, kind: QEvent.Type, point: QPointF) -> None:
    """Send an event of the left button."""
    left, none = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
    held = none if kind == QEvent.Type.MouseButtonRelease else left
    event = QMouseEvent(kind, point, widget.mapToGlobal(point), left, held, Qt.KeyboardModifier.NoModifier)
    QApplication.sendEvent(widget, event)


@contextlib.contextmanager
def watched(tally: Tally, monkey: Monkey) -> Iterator[None]:
    """Count what goes wrong; answer what asks at random; let no dialog wait."""

    class Log(logging.Handler):
        def emit(self, record: logging.LogRecord) -> None:
            tally.fault(f"logged: {record.getMessage()[:160]}", "")

    def hook(_kind: type[BaseException], error: BaseException, _trace: TracebackType | None) -> None:
        tally.error(error, "in the window")

    def qt(_kind: QtMsgType, _context: object, text: str | None) -> None:
        if text and not any(harmless in text for harmless in _HARMLESS):
            tally.fault(f"Qt: {text[:160]}", "")

    def answer(box: QMessageBox) -> int:
        buttons = box.buttons()
        button = monkey.random.choice(buttons) if buttons else None
        tally.done["boxes answered"] += 1
        if button is not None:
            button.click()
            return int(box.standardButton(button))
        return 0

    def save_name(*_: object) -> tuple[str, str]:
        names = ("panel", "panel v1.2", "other.gauze", "x.txt", "missing/x", "")
        name = monkey.random.choice(names)
        return (str(monkey.folder / name) if name else "", "")

    def open_name(*_: object) -> tuple[str, str]:
        files = sorted(str(path) for path in monkey.folder.iterdir())
        return (monkey.random.choice([*files, ""]), "")

    folders = str(monkey.folder), str(monkey.folder / "missing"), ""
    # mock.patch puts back what a class itself held: what getattr gives of Qt's methods no longer binds to an object
    replaced = (
        mock.patch.object(sys, "excepthook", hook),
        mock.patch.object(QMessageBox, "exec", answer),
        mock.patch.object(QMessageBox, "open", answer),
        mock.patch.object(QFileDialog, "getSaveFileName", save_name),
        mock.patch.object(QFileDialog, "getOpenFileName", open_name),
        mock.patch.object(QFileDialog, "getOpenFileNames", side_effect=lambda *_: ([open_name()[0]], "")),
        mock.patch.object(QPrintDialog, "exec", return_value=0),
        mock.patch.object(QFileDialog, "getExistingDirectory", side_effect=lambda *_: monkey.random.choice(folders)),
    )
    log = Log(logging.WARNING)
    handler = qInstallMessageHandler(qt)
    logging.getLogger().addHandler(log)
    try:
        with contextlib.ExitStack() as stack:
            for one in replaced:
                stack.enter_context(one)
            yield
    finally:
        qInstallMessageHandler(handler)
        logging.getLogger().removeHandler(log)


def main() -> None:
    """Go over the demos until the time is up."""
    from bench.rough.opened import windows  # noqa: PLC0415 - it makes the application, which a test has already

    parser = argparse.ArgumentParser()
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--minutes", type=float, default=10.0)
    parser.add_argument("--acts", type=int, default=120, help="in each turn")
    arguments = parser.parse_args()
    tally = Tally()
    end = time.monotonic() + 60.0 * arguments.minutes
    with tempfile.TemporaryDirectory() as folder:
        for turn, window in enumerate(windows(Path(folder))):
            monkey = Monkey(window, arguments.seed + turn, Path(folder), tally)
            tally.done["turns"] += 1
            with watched(tally, monkey):
                for _ in range(arguments.acts):
                    monkey.act()
                monkey.there_and_back()
            if time.monotonic() > end:
                break
    print(tally.report(f"monkey, seed {arguments.seed}"))
    leave(int(bool(tally.faults)))


if __name__ == "__main__":
    main()
