"""Words from outside (names of designs, sheets and files) shown as they are: never read as markup or as a shortcut's mark."""

from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox, QWidget


def plain_box(parent: QWidget | None, icon: QMessageBox.Icon, text: str, more: str = "") -> QMessageBox:
    """Return a box with plain text, to be given its buttons and shown."""
    box = QMessageBox(parent)
    box.setIcon(icon)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(text)
    box.setInformativeText(more)
    return box


def plain_tip(text: str) -> str:
    """Return a text for a tool tip, which Qt would take for markup where it looks like it."""
    return f"<span>{escape(text)}</span>" if "<" in text else text


def plain_button(text: str) -> str:
    """Return a text for a button or a menu, in which an ampersand marks a shortcut."""
    return text.replace("&", "&&")
