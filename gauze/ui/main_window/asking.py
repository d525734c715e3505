"""Asks where a file is to be written. The name gets its ending before anything is replaced, and replacing is asked about."""

import os
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from gauze.core.printable import printable_path
from gauze.ui.message import plain_box
from gauze.ui.text import tr


def ask_where(parent: QWidget, title: str, suggested: Path, kinds: str, endings: tuple[str, ...]) -> Path | None:
    """Return where to write, with one of the endings; None when nothing was chosen.

    The dialog itself asks about the name that was typed. Where the ending makes another name of it, that one is asked about here.
    """
    start = suggested
    while True:
        name, kind = QFileDialog.getSaveFileName(parent, title, str(start), kinds)
        if not name:
            return None
        path = with_ending(name, kind, endings)
        if path == Path(name) or not os.path.lexists(path) or may_replace(parent, path):
            return path
        start = path


def with_ending(name: str, kind: str, endings: tuple[str, ...]) -> Path:
    """Return the path typed with an ending: its own where it is one of them, else that of the kind chosen, else the first.

    A full stop in a name, as in ``panel v1.2``, is no ending.
    """
    path = Path(name)
    if path.suffix.lower() in endings:
        return path
    chosen = next((ending for ending in endings if f"*{ending})" in kind), endings[0])
    return path.with_name(path.name + chosen)


def may_replace(parent: QWidget, path: Path) -> bool:
    """Ask whether a file may be replaced."""
    box = plain_box(
        parent,
        QMessageBox.Icon.Warning,
        tr("“{name}” already exists.").format(name=printable_path(path.name)),
        tr("It is in {folder}. Replacing it overwrites what it holds.").format(folder=printable_path(path.parent)),
    )
    replace = box.addButton(tr("Replace"), QMessageBox.ButtonRole.AcceptRole)
    cancel = box.addButton(QMessageBox.StandardButton.Cancel)
    box.setDefaultButton(cancel)
    box.exec()
    return box.clickedButton() is replace


def file_name(name: str) -> str:
    """Return a name for a file from that of a design."""
    kept = "".join(letter if letter.isalnum() or letter in " -_" else "" for letter in name).strip()
    return kept.replace(" ", "-").lower()[:80] or "design"
