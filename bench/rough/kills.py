"""Kills the application at random moments while it edits and saves, by a seed, and looks at what is left.

``.venv/bin/python -m bench.rough.kills --seed 1 --minutes 10``. Faults are: a file that cannot be read or holds what was never
saved, work older than ``KEPT_WITHIN_S`` that is in neither the file nor the kept work, and, after a signal that can be heard, any
edit lost.
"""

import argparse
import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import random
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from bench.rough.tally import Tally
from gauze.core.errors import GauzeError
from gauze.core.materials import load_catalogue
from gauze.demo import demo
from gauze.session.autosave import find_recoverable
from gauze.session.document import Document

KEPT_WITHIN_S = 3.0  # 1.5 s until an autosave begins, and what it takes on a machine that is busy
_DEMO = "rack_tube"
_LOUD = (signal.SIGTERM, signal.SIGHUP, signal.SIGINT)

WORKING = """
import random, sys, time
from pathlib import Path
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication
from gauze.core.materials import load_catalogue
from gauze.session.build_edits import with_choice_at
from gauze.session.document import Document
from gauze.session.solver import SolverProcess
from gauze.ui.application import ending_by_signal, open_window
draw = random.Random(int(sys.argv[2]))
solver = SolverProcess(load_catalogue())
application = QApplication([])
window = open_window(Document.open(Path(sys.argv[1]), load_catalogue()), solver, "dark")
window.show()
bench = window.bench
count = [0]
def act():
    timer.setInterval(draw.choice((5, 30, 120, 400)))
    if draw.random() < 0.15:
        before = bench.design.purpose.viewing_distance_mm
        window.files.save()
        print("saved", before, time.time(), flush=True)
    else:
        count[0] += 1
        value = 1000.0 + count[0]
        bench.edit("Distance", lambda design, _: with_choice_at(design, "purpose.viewing_distance_mm", value))
        print("edited", value, time.time(), flush=True)
timer = QTimer()
timer.timeout.connect(act)
timer.start(10)
with ending_by_signal(window) as told:
    application.exec()
solver.close()
"""


def one_kill(seed: int, number: signal.Signals, folder: Path, tally: Tally) -> None:
    """Let it work, end it at a random moment, and look."""
    draw = random.Random(seed)  # noqa: S311 - a seed is what is wanted
    catalogue = load_catalogue()
    file = folder / "work.gauze"
    file.write_bytes(demo(_DEMO).read())
    first = Document.open(file, catalogue)
    environment = {
        **os.environ,
        **{f"XDG_{name}_HOME": str(folder / name.lower()) for name in ("CONFIG", "STATE", "DATA")},
    }
    command = [sys.executable, "-c", WORKING, str(file), str(seed)]
    process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, env=environment)
    assert process.stdout is not None
    lines = [process.stdout.readline()]
    time.sleep(draw.uniform(0.0, 4.0))
    killed = time.time()
    process.send_signal(number)
    rest, _ = process.communicate(timeout=300)
    lines += rest.splitlines()
    tally.done[number.name] += 1
    done = [line.split() for line in lines if line.count(" ") == 2]
    edited = [(float(value), float(when)) for what, value, when in done if what == "edited"]
    _look(file, first, edited, killed, folder, tally, loud=number in _LOUD)


def _look(
    file: Path,
    first: Document,
    edited: list[tuple[float, float]],
    killed: float,
    folder: Path,
    tally: Tally,
    *,
    loud: bool,
) -> None:
    catalogue = load_catalogue()
    try:
        saved = Document.open(file, catalogue).design.purpose.viewing_distance_mm
    except GauzeError as error:
        tally.fault("the file cannot be read", str(error))
        return
    known = {value for value, _ in edited} | {first.design.purpose.viewing_distance_mm}
    if saved not in known and saved != max(known) + 1:
        tally.fault("the file holds what was never there", str(saved))
    strays = [path.name for path in folder.iterdir() if path.name.startswith(".work")]
    tally.done["unfinished files beside it"] += len(strays)
    found = find_recoverable(folder / "state" / "gauze" / "recovery", catalogue)
    held = [saved, *(one.design.purpose.viewing_distance_mm for one in found)]
    for one in found:
        one.discard()
    tally.done["kept work found"] += len(found)
    if len(found) > 1:
        tally.fault("one window left several kept works", str(held))
    newest = max((value for value in held if value in known or value > 1000.0), default=0.0)
    due = [value for value, when in edited if loud or when < killed - KEPT_WITHIN_S]
    if due and newest < max(due):
        tally.fault("an edit was lost", f"{max(due)} of {killed:.1f}, held {held}")
    for path in strays:
        (folder / path).unlink()


def rounds(seed: int, tally: Tally, going_on: Callable[[], bool]) -> None:
    """Kill until told to stop: mostly what cannot be heard."""
    draw = random.Random(seed)  # noqa: S311 - a seed is what is wanted
    with tempfile.TemporaryDirectory() as folder:
        while going_on():
            number = signal.SIGKILL if draw.random() < 0.7 else draw.choice(_LOUD)
            one_kill(draw.randrange(2**31), number, Path(folder), tally)


def main() -> None:
    """Kill until the time is up."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--minutes", type=float, default=10.0)
    arguments = parser.parse_args()
    tally = Tally()
    end = time.monotonic() + 60.0 * arguments.minutes
    rounds(arguments.seed, tally, lambda: time.monotonic() < end)
    print(tally.report(f"kills, seed {arguments.seed}"))
    sys.exit(bool(tally.faults))


if __name__ == "__main__":
    main()
