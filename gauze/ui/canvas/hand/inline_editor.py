"""The small editor that opens on a dimension, and the message that hangs below it when a value is invalid."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent
from PyQt6.QtWidgets import QLabel, QLineEdit, QWidget

from gauze.ui.canvas.dimensions import Dimension
from gauze.ui.theme import Theme

_WIDTH = 118
_BUBBLE_WIDTH = 300


class InlineEditor(QLineEdit):
    """A line edit in place of a dimension's text. Enter takes the value, Escape leaves it."""

    typed = pyqtSignal(str, str)  # key, text
    left = pyqtSignal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._dimension: Dimension | None = None
        self._initial = ""
        self.hide()

    @property
    def key(self) -> str | None:
        """Key of the dimension that is being edited, if any."""
        return self._dimension.key if self._dimension is not None else None

    def open_on(self, dimension: Dimension, value_text: str) -> None:
        """Open over a dimension with its value selected."""
        self._dimension = dimension
        self._initial = value_text
        rect = dimension.text_rect
        width = max(_WIDTH, int(rect.width))
        parent = self.parentWidget()
        assert parent is not None
        x = min(max(int(rect.x + rect.width / 2 - width / 2), 2), max(parent.width() - width - 2, 2))
        self.setGeometry(x, int(rect.y) - 3, width, int(rect.height) + 8)
        self.setAccessibleName(dimension.name)
        self.setText(value_text)
        self.selectAll()
        self.show()
        self.setFocus(Qt.FocusReason.OtherFocusReason)

    def close_editor(self) -> None:
        """Close without taking the value."""
        self._dimension = None
        self.hide()
        self.left.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802 - Qt's name
        """Take or leave the value."""
        assert event is not None
        if event.key() == Qt.Key.Key_Escape:
            self.close_editor()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take()
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:  # noqa: N802 - Qt's name
        """Take a changed value when the focus moves on within the window; an unchanged one is left."""
        super().focusOutEvent(event)
        if event is not None and event.reason() in (
            Qt.FocusReason.PopupFocusReason,
            Qt.FocusReason.ActiveWindowFocusReason,
        ):
            return
        if self._dimension is not None:
            if self.text().strip() == self._initial:
                self.close_editor()
            else:
                self._take()
                if self._dimension is not None:  # refused: the message has been shown, the old value stands
                    self.close_editor()

    def _take(self) -> None:
        if self._dimension is not None:
            self.typed.emit(self._dimension.key, self.text())


class Bubble(QLabel):
    """A message at the item concerned; the view takes it away with the next key or click."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWordWrap(True)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setObjectName("error")
        self.setMargin(8)
        self.hide()

    def set_theme(self, theme: Theme) -> None:
        """Take the colours of a theme."""
        self.setStyleSheet(
            f"background: {theme.raised}; color: {theme.text}; border: 1px solid {theme.fails}; border-radius: 4px;"
        )

    def say(self, text: str, x: float, top: float, bottom: float) -> None:
        """Show a message below a place, or above it where there is no room."""
        parent = self.parentWidget()
        assert parent is not None
        self.setText(text)
        self.setFixedWidth(min(_BUBBLE_WIDTH, parent.width() - 8))
        height = self.heightForWidth(self.width())
        self.setFixedHeight(height)
        left = min(max(int(x - self.width() / 2), 4), max(parent.width() - self.width() - 4, 4))
        y = int(bottom) + 6 if bottom + height + 8 < parent.height() else int(top) - height - 6
        self.move(left, max(y, 4))
        self.raise_()
        self.show()
