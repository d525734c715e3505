"""The application told to end, or killed, in the middle of work: what was done is there at the next start."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from gauze.core.formats.design_file import encode_design
from gauze.session.autosave import find_recoverable
from tests.builders import CATALOGUE, design

PATIENCE = 300.0  # seconds

WORKING = """
import sys
from pathlib import Path
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QMessageBox
from gauze.core.materials import load_catalogue
from gauze.session import edits
from gauze.session.document import Document
from gauze.session.leaving import leave
from gauze.session.solver import SolverProcess
from gauze.ui.application import ending_by_signal, open_window
solver = SolverProcess(load_catalogue())
application = QApplication([])
window = open_window(Document.open(Path(sys.argv[1]), load_catalogue()), solver, "dark")
window.show()
depth = [30.0]
told = []
def edit():
    if told:  # the window is closed: what is still waiting in the event loop is nobody's edit
        return
    depth[0] += 1.0
    window.bench.edit("Depth", lambda design, _: edits.with_build(design, depth_mm=depth[0]))
    print(depth[0], flush=True)
timer = QTimer()
timer.timeout.connect(edit)
timer.start(int(sys.argv[2]))
if sys.argv[3] == "asking":
    QTimer.singleShot(200, lambda: window.files.may_leave())
with ending_by_signal(window) as told:
    application.exec()
solver.close()
leave(128 + told[0] if told else 0)
"""


def recovery() -> Path:
    return Path(os.environ["XDG_STATE_HOME"]) / "gauze" / "recovery"


def working(file: Path, every_ms: int, how: str = "") -> subprocess.Popen[str]:
    command = [sys.executable, "-c", WORKING, str(file), str(every_ms), how]
    return subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)


@pytest.fixture
def file(tmp_path: Path) -> Path:
    path = tmp_path / "panel.gauze"
    path.write_bytes(encode_design(design()))
    return path


@pytest.mark.parametrize("number", [signal.SIGTERM, signal.SIGHUP, signal.SIGINT])
@pytest.mark.parametrize("how", ["", "asking"])
def test_the_last_edit_is_kept_when_the_process_is_told_to_end(file: Path, number: signal.Signals, how: str) -> None:
    process = working(file, 400, how)
    assert process.stdout is not None
    for _ in range(2):
        process.stdout.readline()
    process.send_signal(number)
    rest, _ = process.communicate(timeout=PATIENCE)
    assert process.returncode == 128 + number
    (found,) = find_recoverable(recovery(), CATALOGUE)
    last = float(rest.split()[-1]) if rest.split() else 32.0
    assert found.design.build.depth_mm == last
    assert found.path == file
    found.discard()


def test_edits_that_never_pause_are_kept_all_the_same(file: Path) -> None:
    process = working(file, 100)
    assert process.stdout is not None
    end = time.monotonic() + PATIENCE
    while not list(recovery().glob("*.keep")):
        assert process.stdout.readline(), "it ended"
        assert time.monotonic() < end, "nothing was kept"
    process.kill()
    process.wait()
    process.stdout.close()
    (found,) = find_recoverable(recovery(), CATALOGUE)
    assert found.design.build.depth_mm > 30.0
    found.discard()
