"""How tests drive the real window: typing on the drawing, dragging its grips."""

from collections.abc import Callable

from PyQt6.QtCore import QPoint, Qt
from pytestqt.qtbot import QtBot

from gauze.ui.canvas.dimensions import MAIN_SIZES, VIEWING, main_size
from gauze.ui.canvas.hand.hand import grips_of
from gauze.ui.canvas.hand.inline_editor import Bubble, InlineEditor
from gauze.ui.main_window import MainWindow

Open = Callable[..., MainWindow]

# short names for what a panel's drawing is typed into and dragged by
_KEYS = {
    "side_margin": "build.rows.side_margin_mm",
    "end_margin": "build.end_margin_mm",
    "shift": "build.alternate_shift_mm",
    "viewing_distance": VIEWING,
}
_GRIPS = {"lid": "the sheet"}


def type_into(window: MainWindow, qtbot: QtBot, key: str, text: str) -> None:
    """Click a dimension on the drawing and type; by its key, or by the short name of a main size."""
    found = window.drawing.dimensions_now()
    dimension = next((d for d in found if d.key == _KEYS.get(key, key)), None)
    if dimension is None and key in MAIN_SIZES:
        dimension = main_size(found, key)
    assert dimension is not None, key
    middle = QPoint(int(dimension.text_rect.x + dimension.text_rect.width / 2), int(dimension.text_rect.y + 9))
    qtbot.mouseClick(window.drawing, Qt.MouseButton.LeftButton, pos=middle)
    editor = window.drawing.findChild(InlineEditor)
    assert editor is not None
    assert editor.isVisible()
    editor.selectAll()
    qtbot.keyClicks(editor, text)
    qtbot.keyClick(editor, Qt.Key.Key_Return)


def bubble(window: MainWindow) -> Bubble:
    found = window.drawing.findChild(Bubble)
    assert found is not None
    return found


def drag(window: MainWindow, qtbot: QtBot, start: QPoint, *steps: QPoint) -> None:
    qtbot.mousePress(window.drawing, Qt.MouseButton.LeftButton, pos=start)
    for step in steps:
        qtbot.mouseMove(window.drawing, step)
    qtbot.mouseRelease(window.drawing, Qt.MouseButton.LeftButton, pos=steps[-1])


def grip_point(window: MainWindow, name: str) -> QPoint:
    """Where the hand takes hold of something: a handle by its name, the sheet, the seam or the line of the cut."""
    grip = grips_of(window.drawing)[_GRIPS.get(name, name)]
    share = 0.8 if name == "lid" else 0.5
    if name.startswith("row"):
        return QPoint(int(grip.x + 0.04 * grip.width), int(grip.y + grip.height / 2))
    return QPoint(int(grip.x + share * grip.width), int(grip.y + grip.height / 2))
