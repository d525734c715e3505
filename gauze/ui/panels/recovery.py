"""Offers the unsaved work of windows that ended badly: each can be opened, saved as a copy, deleted, or left for later."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt, pyqtBoundSignal, pyqtSignal
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from gauze.core.printable import printable, printable_path
from gauze.session.autosave import Recovered
from gauze.ui.message import plain_button, plain_tip
from gauze.ui.text import tr

_LONGEST_NAME = 90


class RecoveryDialog(QDialog):
    """Lists what was found. Closing it in any way keeps everything that is still in the list."""

    open_wanted = pyqtSignal(object)  # Recovered
    copy_wanted = pyqtSignal(object)  # Recovered
    delete_wanted = pyqtSignal(object)  # Recovered

    def __init__(self, found: Sequence[Recovered], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Unsaved work found"))
        self._found: list[Recovered] = []
        about = QLabel(
            tr(
                "Gauze ended without saving this work. Open it and go on, save a copy, or leave it: it stays until you delete it."
            )
        )
        about.setWordWrap(True)
        self.works = QListWidget()
        self.works.setAccessibleName(tr("Unsaved work"))
        self.works.setAlternatingRowColors(False)
        self.works.currentRowChanged.connect(self._show_row)
        self.works.itemActivated.connect(lambda _item: self._tell(self.open_wanted))
        self.about_work = QLabel()
        self.about_work.setTextFormat(Qt.TextFormat.PlainText)
        self.about_work.setWordWrap(True)
        self.about_work.setMinimumHeight(4 * self.fontMetrics().lineSpacing())
        self.about_work.setAlignment(Qt.AlignmentFlag.AlignTop)
        self._buttons: list[QPushButton] = []
        row = QHBoxLayout()
        for words, signal in (
            (tr("Open"), self.open_wanted),
            (tr("Save a copy …"), self.copy_wanted),
            (tr("Delete …"), self.delete_wanted),
        ):
            button = QPushButton(plain_button(words))
            button.clicked.connect(lambda _checked, signal=signal: self._tell(signal))
            row.addWidget(button)
            self._buttons.append(button)
        self._buttons[0].setDefault(True)
        row.addStretch(1)
        later = QPushButton(tr("Later"))
        later.setToolTip(tr("Everything stays; File, Recover unsaved work brings this back"))
        later.clicked.connect(self.reject)
        row.addWidget(later)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 12)
        column.setSpacing(10)
        column.addWidget(about)
        column.addWidget(self.works, 1)
        column.addWidget(self.about_work)
        column.addLayout(row)
        self.resize(560, 340)
        for one in found:
            self._add(one)
        self.works.setCurrentRow(0)

    @property
    def left(self) -> tuple[Recovered, ...]:
        """What is still in the list."""
        return tuple(self._found)

    def remove(self, one: Recovered) -> None:
        """Take one out of the list: it was opened, saved or deleted. The dialog closes with the last."""
        row = self._found.index(one)
        del self._found[row]
        self.works.takeItem(row)
        self._show_row(self.works.currentRow())
        if not self._found:
            self.accept()

    def _add(self, one: Recovered) -> None:
        self._found.append(one)
        name = printable(one.design.name, _LONGEST_NAME)
        item = QListWidgetItem(f"{name}   ·   {_when(one)}")
        item.setToolTip(plain_tip(_where(one)))
        self.works.addItem(item)

    def _tell(self, signal: pyqtBoundSignal) -> None:
        row = self.works.currentRow()
        if 0 <= row < len(self._found):
            signal.emit(self._found[row])

    def _show_row(self, row: int) -> None:
        one = self._found[row] if 0 <= row < len(self._found) else None
        for button in self._buttons:
            button.setEnabled(one is not None)
        self.about_work.setText("" if one is None else about_words(one))


def about_words(one: Recovered) -> str:
    """Say where the work belongs, and what has become of its file since."""
    lines = [_where(one), tr("Last kept {when}.").format(when=_when(one))]
    if one.path is not None and not one.path.exists():
        lines.append(tr("That file is no longer there; saving will write it again."))
    elif one.file_changed():
        lines.append(tr("That file has been changed since this work began: saving will ask before it is overwritten."))
    return "\n".join(lines)


def _where(one: Recovered) -> str:
    if one.path is None:
        return tr("It was never saved to a file.")
    return tr("It belongs to {file}.").format(file=printable_path(one.path))


def _when(one: Recovered) -> str:
    return one.kept_at.astimezone().strftime("%Y-%m-%d %H:%M:%S")
