"""Windows on one design of the demo scene after another, with settings and kept work of their own."""

import itertools
import os
from collections.abc import Iterator
from pathlib import Path

from PyQt6.QtWidgets import QApplication

from gauze.core.formats.design_file import decode_design
from gauze.core.materials import load_catalogue
from gauze.demo import DEMOS
from gauze.session.document import Document
from gauze.session.solver import SolverProcess
from gauze.ui.application import open_window
from gauze.ui.main_window import MainWindow
from gauze.ui.theme import apply_theme, theme_named


def windows(folder: Path) -> Iterator[MainWindow]:
    """Open a window on each demo, round and round; each is closed without a question when the next is asked for."""
    for name in ("CONFIG", "STATE", "DATA"):
        os.environ[f"XDG_{name}_HOME"] = str(folder / name.lower())
    application = QApplication([])
    apply_theme(application, theme_named("dark"))
    catalogue = load_catalogue()
    solver = SolverProcess(catalogue)
    try:
        for demo in itertools.cycle(DEMOS):
            window = open_window(Document(decode_design(demo.read(), catalogue), catalogue), solver, None)
            window.show()
            try:
                yield window
            finally:
                window.end()
                window.hide()
                window.deleteLater()
                QApplication.processEvents()
    finally:
        solver.close()
