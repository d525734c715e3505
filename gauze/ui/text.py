"""Texts of the interface, through Qt's translation."""

from PyQt6.QtCore import QCoreApplication


def tr(text: str) -> str:
    """Return the text in the user's language, where a translation is installed."""
    return QCoreApplication.translate("gauze", text)
