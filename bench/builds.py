"""Figures of every demo in the real window: what one event of a drag blocks, and how soon it is lit.

``.venv/bin/python -m bench.builds`` prints a line for each; more design files may be named.
"""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import itertools
import statistics
import sys
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QEvent, QEventLoop, QPointF, Qt, QTimer
from PyQt6.QtWidgets import QApplication

from bench.window import mouse, wait
from gauze.core.design import Design
from gauze.core.evaluate import AT_REST
from gauze.core.formats.design_file import decode_design
from gauze.core.layout import Layout
from gauze.core.materials import Catalogue, load_catalogue
from gauze.demo import DEMOS
from gauze.session.build_edits import with_dragged
from gauze.session.document import Document
from gauze.session.leaving import leave
from gauze.session.solver import LightRequest, SolverProcess
from gauze.session.solver.work import Tell
from gauze.ui.application import open_window
from gauze.ui.canvas.drawing import Drawing
from gauze.ui.main_window import MainWindow
from gauze.ui.theme import apply_theme, theme_named

EVENTS, GAP_MS = 40, 16
_EDITS, _PAUSE_MS = 5, 400  # of which the median counts, and what a builder takes to look at each
_FOLLOWED_S, _TO_AND_FRO_S = 3.0, 2.0  # how long a hand is followed, and what it takes there and back
_REACH, _SHARE = 24.0, 0.2  # pixels back and forth, but no more than this share of a handle's value


class _Timed(SolverProcess):
    """Notes how long each picture of a drag takes, from asking to having it.

    Of a movable thing that the light does not follow, as tiles on a wall, there are none.
    """

    def __init__(self, catalogue: Catalogue) -> None:
        super().__init__(catalogue)
        self.asked: list[float] = []  # seconds

    def call(self, name: str, request: Any, tell: Tell, cancelled: Callable[[], bool]) -> Any:
        """As the solver does."""
        begun = time.perf_counter()
        result = super().call(name, request, tell, cancelled)
        if isinstance(request, LightRequest) and request.detail.in_motion:
            self.asked.append(time.perf_counter() - begun)
        return result


def until_rest(window: MainWindow, milliseconds: int = 120_000) -> tuple[float, float]:
    """Wait until the open design is lit exactly; return the seconds until it was lit at all, and until then."""
    start = time.perf_counter()
    loop = QEventLoop()
    first_s: list[float] = []

    def check() -> None:
        result = window.bench.result
        if result is not None and result.evaluation.design == window.bench.design:
            first_s.append(time.perf_counter() - start)
            if result.evaluation.detail == AT_REST:
                loop.quit()

    timer = QTimer()
    timer.timeout.connect(check)
    timer.start(5)
    QTimer.singleShot(milliseconds, loop.quit)
    loop.exec()
    timer.stop()
    exact_s = time.perf_counter() - start
    return first_s[0] if first_s else exact_s, exact_s


def places(view: Drawing) -> list[tuple[QPointF, float]]:
    """Where the first handles of a build and its last thing can be taken hold of, and how many pixels each is dragged."""
    sheet, scene = view.sheet, view.scene
    assert sheet is not None
    assert scene is not None
    found = []
    for handle in scene.layout.sketch.handles[:2]:
        window = sheet.window(handle.where)
        x = (window.x(handle.start_mm[0]) + window.x(handle.end_mm[0])) / 2
        y = (window.y(handle.start_mm[1]) + window.y(handle.end_mm[1])) / 2
        found.append((QPointF(x, y), min(_REACH, max(_SHARE * abs(handle.value) * window.scale, 1.0))))
    last = scene.layout.sketch.movable_items[-1:]
    return found + [(QPointF(sheet.plan.x(item.x_mm), sheet.plan.y(item.y_mm) + 4.0), _REACH) for item in last]


def drag(view: Drawing, start: QPointF, reach: float) -> tuple[list[tuple[float, float, float]], float]:
    """Drag back and forth.

    Returns for each move what it and its paint blocked, and how much of both this thread computed; then the longest
    silence of the event loop. All in ms.
    """
    QApplication.sendEvent(view, mouse(QEvent.Type.MouseButtonPress, start, Qt.MouseButton.LeftButton))
    blocked: list[tuple[float, float, float]] = []
    beats: list[float] = []
    beat = QTimer()
    beat.setInterval(2)
    beat.timeout.connect(lambda: beats.append(time.perf_counter()))
    beat.start()
    for index in range(EVENTS):
        share = abs((index / 10.0) % 2 - 1)
        point = start + QPointF(reach * share, -reach * share)
        begun, busy = time.perf_counter(), time.thread_time()
        QApplication.sendEvent(view, mouse(QEvent.Type.MouseMove, point, Qt.MouseButton.LeftButton))
        moved = time.perf_counter()
        view.repaint()
        painted, busy = time.perf_counter(), time.thread_time() - busy
        blocked.append((1000.0 * (moved - begun), 1000.0 * (painted - moved), 1000.0 * busy))
        wait(GAP_MS)
    beat.stop()
    QApplication.sendEvent(view, mouse(QEvent.Type.MouseButtonRelease, start, Qt.MouseButton.NoButton))
    gap = max((1000.0 * (b - a) for a, b in itertools.pairwise(beats)), default=0.0)
    return blocked, gap


def follow(window: MainWindow, start: QPointF, reach: float) -> tuple[int, int, float]:
    """Drag back and forth for a while as a hand does: a movement every 16 ms, painted when the window comes to it.

    Returns how many pictures came, how many designs there were to be seen, and the seconds.
    """
    view, pictures, designs = window.drawing, 0, 0
    last = window.bench.design

    def count(_result: object) -> None:
        nonlocal pictures
        pictures += 1

    def move() -> None:
        nonlocal designs, last
        share = abs(2.0 * (time.perf_counter() - begun) / _TO_AND_FRO_S % 2.0 - 1.0)
        point = start + QPointF(reach * share, -reach * share)
        QApplication.sendEvent(view, mouse(QEvent.Type.MouseMove, point, Qt.MouseButton.LeftButton))
        designs += window.bench.design != last
        last = window.bench.design

    window.bench.lit.connect(count)
    window.bench.seen.connect(count)
    QApplication.sendEvent(view, mouse(QEvent.Type.MouseButtonPress, start, Qt.MouseButton.LeftButton))
    begun = time.perf_counter()
    beat = QTimer()
    beat.setInterval(GAP_MS)
    beat.timeout.connect(move)
    beat.start()
    wait(round(1000.0 * _FOLLOWED_S))
    beat.stop()
    seconds = time.perf_counter() - begun
    QApplication.sendEvent(view, mouse(QEvent.Type.MouseButtonRelease, start, Qt.MouseButton.NoButton))
    window.bench.lit.disconnect(count)
    window.bench.seen.disconnect(count)
    return pictures, designs, seconds


def again(window: MainWindow, edits: int) -> tuple[float, float]:
    """Return how long it takes until the design is lit exactly again, in s: after an edit, and after one step of a drag.

    Medians over so many; 0 for a design without a handle.
    """
    view = window.drawing
    if view.scene is None or not view.scene.layout.sketch.handles:
        return 0.0, 0.0
    handle = view.scene.layout.sketch.handles[0]
    typed_s, dragged_s = [], []
    for index in range(edits):
        value = handle.value * (1.01 + 0.004 * index)

        def change(design: Design, _layout: Layout, value: float = value) -> Design:
            return with_dragged(design, handle.field, value)

        begun = time.perf_counter()
        window.bench.edit("bench", change)
        until_rest(window)
        typed_s.append(time.perf_counter() - begun)
        wait(_PAUSE_MS)
    for index in range(edits):
        begun = time.perf_counter()
        view.dragged.emit(handle, handle.value * (1.06 + 0.004 * index), f"bench {index}")
        until_rest(window)
        dragged_s.append(time.perf_counter() - begun)
        wait(_PAUSE_MS)
    return statistics.median(typed_s), statistics.median(dragged_s)


def undo_all(window: MainWindow) -> None:
    """Put the design back as it was opened, and wait until it is lit."""
    while window.bench.document.undo_name is not None:
        window.bench.document.undo()
    until_rest(window)


def figures(values: Sequence[float]) -> str:
    """Median and worst."""
    return f"{statistics.median(values):4.1f} {max(values):5.1f}"


def main(files: list[str]) -> None:
    """Print a line for each demo, and for each file that is named."""
    catalogue = load_catalogue()
    solver = _Timed(catalogue)
    application = QApplication([])
    apply_theme(application, theme_named("dark"))
    named = [(demo.key, demo.read()) for demo in DEMOS if demo.key != "proofing_panel"]
    named += [(Path(file).stem, Path(file).read_bytes()) for file in files]
    for key, data in named:
        window = open_window(Document(decode_design(data, catalogue), catalogue), solver, "dark")
        window.show()
        first_s, lit_s = until_rest(window)
        view = window.drawing
        all_blocked: list[tuple[float, float, float]] = []
        longest = 0.0
        followed: list[str] = []
        solver.asked = []
        for start, reach in places(view):
            blocked, gap = drag(view, start, reach)
            all_blocked += blocked
            longest = max(longest, gap)
            undo_all(window)
            pictures, designs, seconds = follow(window, start, reach)
            if designs:
                followed.append(f"{pictures / seconds:.0f} of {designs / seconds:.0f}")
            undo_all(window)
        typed_s, dragged_once_s = again(window, _EDITS)
        each = f"{1000.0 * statistics.median(solver.asked):4.0f} ms each" if solver.asked else "none"
        moves, paints, busy = zip(*all_blocked, strict=True)
        both = [move + paint for move, paint in zip(moves, paints, strict=True)]
        print(
            f"{key:16s} lit {first_s:5.2f} s, exactly {lit_s:5.2f} s, again {typed_s:5.2f} s after an edit, "
            f"{dragged_once_s:5.2f} s after a drag; "
            f"blocked, median and worst: a move {figures(moves)}, "
            f"its paint {figures(paints)}, both {figures(both)}, of it computing {figures(busy)} ms; "
            f"loop silent at most {longest:4.0f} ms; pictures a second of designs a second, for each handle: "
            f"{', '.join(followed) or 'none'}; {each}",
            flush=True,
        )
        window.bench.close()
        window.bench.document.on_change = lambda: None
        window.closeEvent = lambda event: event.accept()  # type: ignore[method-assign,union-attr]  # no question at the end
        window.close()
    solver.close()


if __name__ == "__main__":
    main(sys.argv[1:])
    leave(0)
