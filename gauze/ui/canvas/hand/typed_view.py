"""A canvas whose dimensions are typed in place, and the way of the Tab key through them."""

import abc
from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QWidget

from gauze.core.units import LengthUnit
from gauze.ui.canvas.dimensions import Dimension, main_size
from gauze.ui.canvas.hand.inline_editor import Bubble, InlineEditor
from gauze.ui.theme import Theme
from gauze.ui.view_state import ViewState

ARROWS = {
    Qt.Key.Key_Up: (0, 1),
    Qt.Key.Key_Down: (0, -1),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Left: (-1, 0),
}
OPENING_KEYS = (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space, Qt.Key.Key_F2)


class TypedView(QWidget):
    """A drawing whose dimensions are inputs. ``_stop`` is where the keyboard stands, ``_wrong`` the dimension last refused."""

    typed = pyqtSignal(object, str)  # Dimension, text

    def __init__(self, theme: Theme, unit: LengthUnit, name: str) -> None:
        super().__init__()
        self._theme, self._unit = theme, unit
        self._state = ViewState()
        self._dimensions: list[Dimension] = []
        self._wrong: str | None = None
        self._stop: int | None = None
        self._editor = InlineEditor(self)
        self._editor.typed.connect(self._take_typed)
        self._editor.left.connect(lambda: self.setFocus(Qt.FocusReason.OtherFocusReason))
        self._bubble = Bubble(self)
        self._bubble.set_theme(theme)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(520, 330)
        self.setAccessibleName(name)

    @abc.abstractmethod
    def _stops(self) -> Sequence[Any]:
        """What Tab visits, in order."""

    @abc.abstractmethod
    def _tell_stop(self, stop: Any) -> None:
        """Say in words where the keyboard stands."""

    @property
    def unit(self) -> LengthUnit:
        """The unit in which lengths are shown."""
        return self._unit

    def dimensions_now(self) -> list[Dimension]:
        """Return the dimensions, where they stand now."""
        return list(self._dimensions)

    def edit(self, key: str) -> None:
        """Open the editor on a dimension, by its key."""
        dimension = next((d for d in self._dimensions if d.key == key), None)
        if dimension is not None:
            self._bubble.hide()
            self._editor.open_on(dimension, dimension.value_text)

    def edit_main(self, size: str) -> None:
        """Open the editor on one of the sizes that have a key in every family."""
        dimension = main_size(self._dimensions, size)
        if dimension is not None:
            self.edit(dimension.key)

    def _take_typed(self, key: str, text: str) -> None:
        dimension = next((d for d in self._dimensions if d.key == key), None)
        if dimension is not None:
            self.typed.emit(dimension, text)

    def finish_editing(self) -> None:
        """Close the editor: its value was taken."""
        if self._editor.key is not None:
            self._bubble.hide()
            self._editor.close_editor()

    def release(self) -> None:
        """Let go of what is dragged and leave what is typed: another design is shown."""
        self._bubble.hide()
        self._wrong = None
        if self._editor.key is not None:
            self._editor.close_editor()

    def refuse(self, field: str, message: str) -> None:
        """Say at the dimension concerned why a value is invalid."""
        place = next((d for d in self._dimensions if d.key == self._editor.key), None)
        place = place or next((d for d in self._dimensions if d.field == field), None)
        self._wrong = place.key if place is not None else None
        if place is not None:
            rect = place.text_rect
            self._bubble.say(message, rect.x + rect.width / 2, rect.y, rect.bottom)
        else:
            self._bubble.say(message, self.width() / 2, 40, 40)
        self.update()

    def current_stop(self) -> Any:
        """Where the keyboard stands, or None."""
        stops = self._stops()
        return stops[self._stop] if self._stop is not None and self._stop < len(stops) else None

    def focusNextPrevChild(self, next: bool) -> bool:  # noqa: N802, A002 - Qt's names
        """Walk through what can be typed and dragged before the focus leaves the drawing."""
        stops = self._stops()
        start = self._stop if self._stop is not None else (-1 if next else len(stops))
        following = start + (1 if next else -1)
        if 0 <= following < len(stops):
            self._stop = following
            self._tell_stop(stops[following])
            self.update()
            return True
        self._stop = None
        self.update()
        return super().focusNextPrevChild(next)
