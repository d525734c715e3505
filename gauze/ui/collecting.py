"""Cyclic garbage is collected by the interface's thread only, and between two events.

Python collects in whichever thread happens to allocate. A background thread would so destroy what a closed window leaves,
pixmaps and painters' objects among it, which Qt allows its own thread only; and the interface would stop for it in mid-drag.
"""

import gc

from PyQt6.QtCore import QObject, Qt, QTimer
from PyQt6.QtWidgets import QApplication

_EVERY_MS = 500
_OLDEST = 2


def collect_due(oldest: int = _OLDEST) -> int | None:
    """Collect the oldest generation that Python would have collected by now; returns which, or None.

    ``oldest`` is the oldest that may be: all that lives is walked for the last one, tens of milliseconds in a window.
    """
    due = [
        generation
        for generation, (count, limit) in enumerate(zip(gc.get_count(), gc.get_threshold(), strict=True))
        if generation <= oldest and 0 < limit < count
    ]
    if not due:
        return None
    gc.collect(due[-1])
    return due[-1]


class Collecting(QObject):
    """Ends the collection in whichever thread, and collects every half second instead; the oldest while no hand drags."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        gc.disable()
        self._timer = QTimer(self)
        self._timer.setInterval(_EVERY_MS)
        self._timer.timeout.connect(self._collect)
        self._timer.start()

    def _collect(self) -> None:
        at_rest = QApplication.mouseButtons() == Qt.MouseButton.NoButton
        collect_due(_OLDEST if at_rest else _OLDEST - 1)
