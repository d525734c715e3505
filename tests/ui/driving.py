"""How tests drive the real window: typing on the drawing, dragging its grips."""

from collections.abc import Callable

from PyQt6.QtCore import QPoint, Qt
from pytestqt.qtbot import QtBot

from gauze.ui.canvas.inline_editor import Bubble, InlineEditor
from gauze.ui.main_window import MainWindow

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
