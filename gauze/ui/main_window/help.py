"""The pages of the help menu."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox, QWidget

from gauze import __version__
from gauze.ui.main_window.actions import shortcut_rows
from gauze.ui.subject import ActionRow
from gauze.ui.text import tr


def show_shortcuts(parent: QWidget, actions: Sequence[ActionRow]) -> None:
    """Show every shortcut, in two columns."""
    text_style, keys_style = "padding-right:14px; white-space:nowrap", "padding-right:34px; white-space:nowrap"
    cells = [
        f"<td style='{text_style}'>{text}</td><td style='{keys_style}'><b>{keys}</b></td>"
        for text, keys in shortcut_rows(actions)
    ]
    half = (len(cells) + 1) // 2
    right = [*cells[half:], *["<td></td><td></td>"] * (2 * half - len(cells))]
    rows = "".join(f"<tr>{a}{b}</tr>" for a, b in zip(cells[:half], right, strict=True))
    about = tr("Tab walks through the drawing: Enter types a dimension, arrow keys move what can be moved.")
    _tell(parent, tr("Keyboard"), f"<p>{about}</p><table>{rows}</table>")


def show_about(parent: QWidget) -> None:
    """Say what this is and under which licence."""
    text = tr(
        "<b>Gauze {version}</b><br>Design diffused LED lights before the first cut.<br><br>"
        "Free software under the GNU General Public License, version 3 or later. "
        "Catalogue values are typical; measure your own."
    )
    _tell(parent, tr("About Gauze"), text.format(version=__version__))


def _tell(parent: QWidget, title: str, text: str) -> None:
    box = QMessageBox(parent)
    box.setWindowTitle(title)
    box.setTextFormat(Qt.TextFormat.RichText)
    box.setText(text)
    box.open()
