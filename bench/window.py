"""Figures of the real window: start to the first paint, time blocked by each event of a drag, memory.

Run by ``bench.figures`` in a process of its own; the argument is when that process was started.
"""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import itertools
import resource
import statistics
import sys
import tempfile
import time
from pathlib import Path

# the bench must neither read nor write anybody's settings
_HOME = tempfile.mkdtemp()
os.environ["XDG_CONFIG_HOME"] = os.environ["XDG_STATE_HOME"] = os.environ["XDG_DATA_HOME"] = _HOME

from PyQt6.QtCore import QEvent, QEventLoop, QPointF, Qt, QTimer
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication

from gauze.core.evaluate import AT_REST
from gauze.core.formats.design_file import decode_design
from gauze.core.materials import load_catalogue
from gauze.demo import demo_design_bytes
from gauze.session.document import Document
from gauze.session.leaving import leave
from gauze.session.solver import SolverProcess
from gauze.ui.application import open_window
from gauze.ui.canvas.hand.hand import grips_of
from gauze.ui.main_window import MainWindow
from gauze.ui.theme import apply_theme, theme_named

EVENTS = 80
EVENT_GAP_MS = 16


def wait(milliseconds: int) -> None:
    """Let the window live for a while."""
    loop = QEventLoop()
    QTimer.singleShot(milliseconds, loop.quit)
    loop.exec()


def mouse(kind: QEvent.Type, point: QPointF, buttons: Qt.MouseButton) -> QMouseEvent:
    """Make a mouse event of the left button."""
    return QMouseEvent(kind, point, point, Qt.MouseButton.LeftButton, buttons, Qt.KeyboardModifier.NoModifier)


def drag_lid(window: MainWindow) -> tuple[list[float], int]:
    """Drag the lid up and down; return the time that each event and its paint blocked, and the updates seen."""
    canvas = window.drawing
    updates = 0

    def count(_result: object) -> None:
        nonlocal updates
        updates += 1

    window.bench.lit.connect(count)
    window.bench.seen.connect(count)
    grip = grips_of(canvas)["the sheet"]
    x, y = grip.x + grip.width * 0.8, grip.y + grip.height / 2.0
    QApplication.sendEvent(canvas, mouse(QEvent.Type.MouseButtonPress, QPointF(x, y), Qt.MouseButton.LeftButton))
    blocked = []
    for index in range(EVENTS):
        point = QPointF(x, y - 20.0 * abs((index / 20.0) % 2 - 1))
        start = time.perf_counter()
        QApplication.sendEvent(canvas, mouse(QEvent.Type.MouseMove, point, Qt.MouseButton.LeftButton))
        canvas.repaint()
        blocked.append(1000.0 * (time.perf_counter() - start))
        wait(EVENT_GAP_MS)
    QApplication.sendEvent(canvas, mouse(QEvent.Type.MouseButtonRelease, QPointF(x, y), Qt.MouseButton.NoButton))
    window.bench.lit.disconnect(count)
    window.bench.seen.disconnect(count)
    return blocked, updates


def longest_gap(window: MainWindow, milliseconds: int) -> float:
    """Longest time between two beats of a 2 ms timer: how long the interface thread did not answer."""
    del window
    beats: list[float] = []
    timer = QTimer()
    timer.setInterval(2)
    timer.timeout.connect(lambda: beats.append(time.perf_counter()))
    timer.start()
    wait(milliseconds)
    timer.stop()
    return 1000.0 * max(later - earlier for earlier, later in itertools.pairwise(beats))


def proportional_mb(process_id: int) -> float:
    """Memory of a process, each page divided by the number of processes that share it."""
    for line in Path(f"/proc/{process_id}/smaps_rollup").read_text().splitlines():
        if line.startswith("Pss:"):
            return float(line.split()[1]) / 1024.0
    raise ValueError("The kernel does not tell what memory a process shares.")


def main(started: float) -> None:
    """Print the figures."""
    catalogue = load_catalogue()
    solver = SolverProcess(catalogue)
    application = QApplication([])
    apply_theme(application, theme_named("dark"))
    window = open_window(Document(decode_design(demo_design_bytes(), catalogue), catalogue), solver, "dark")
    window.show()
    application.processEvents()
    window.repaint()
    print(f"Window: start to painted {time.time() - started:.2f} s (wanted 2 s)", end="; ")
    lit = QEventLoop()
    window.bench.lit.connect(lambda result: lit.quit() if result.evaluation.detail == AT_REST else None)
    lit.exec()
    print(f"to the lit face {time.time() - started:.2f} s", end="; ")
    gap = longest_gap(window, 2500)
    blocked, updates = drag_lid(window)
    wait(1500)
    both_mb = proportional_mb(os.getpid()) + proportional_mb(solver.process_id)
    peak_mb = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024.0
    window.bench.close()
    solver.close()
    solver_mb = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024.0
    print(
        f"drag of {EVENTS} events: blocked {statistics.median(blocked):.1f} ms median, {max(blocked):.1f} ms worst, "
        f"{updates} updates seen; longest gap while fixes are searched {gap:.0f} ms; "
        f"memory {both_mb:.0f} MB with the solver's, what they share counted once (wanted 300); "
        f"peaks {peak_mb:.0f} and {solver_mb:.0f} MB"
    )


if __name__ == "__main__":
    main(float(sys.argv[1]))
    leave(0)
