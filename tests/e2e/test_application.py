"""The application from its command line on, in processes of its own."""

import json
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
from PIL import Image

from gauze.core.formats.design_file import encode_design
from tests.builders import design

GAUZE = [sys.executable, "-m", "gauze"]


def run(arguments: list[str], **environment: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [*GAUZE, *arguments],
        capture_output=True,
        text=True,
        timeout=600,
        env={**os.environ, **environment},
        check=False,
    )


@pytest.mark.parametrize("theme", ["dark", "light"])
def test_the_demo_gives_a_picture_of_the_window_without_a_display(tmp_path: Path, theme: str) -> None:
    result = run(["demo", "--picture", str(tmp_path / "p.png"), "--theme", theme], QT_QPA_PLATFORM="", DISPLAY="")
    assert result.returncode == 0, result.stderr
    with Image.open(tmp_path / "p.png") as picture:
        assert picture.size == (1280, 800)
        colours = picture.convert("RGB").getcolors(maxcolors=1_000_000)
    assert colours is not None
    assert len(colours) > 500  # the lit face is in it


def test_without_a_display_the_demo_says_so_and_offers_the_picture() -> None:
    result = run(["demo"], QT_QPA_PLATFORM="", DISPLAY="", WAYLAND_DISPLAY="")
    assert result.returncode == 4
    assert "--picture" in result.stderr


def test_a_bad_file_is_explained_and_no_picture_written(tmp_path: Path) -> None:
    (tmp_path / "bad.gauze").write_text("{}")
    result = run(["open", str(tmp_path / "bad.gauze"), "--picture", str(tmp_path / "p.png")])
    assert result.returncode == 2
    assert "not a Gauze design" in result.stderr
    assert not (tmp_path / "p.png").exists()


def test_a_picture_that_cannot_be_written_is_explained(tmp_path: Path) -> None:
    result = run(["demo", "--picture", str(tmp_path / "nowhere" / "p.png")])
    assert result.returncode == 3
    assert "Could not write" in result.stderr


def is_running(process_id: int) -> bool:
    try:
        state = Path(f"/proc/{process_id}/stat").read_text().rpartition(")")[2].split()[0]
    except FileNotFoundError:
        return False
    return state != "Z"  # ended, and only not yet collected by whoever has inherited it


KILLED = """
import sys
from pathlib import Path
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication
from gauze.session import edits
from gauze.ui.application import open_window
from gauze.session.document import Document
from gauze.session.solver import SolverProcess
from gauze.core.materials import load_catalogue
solver = SolverProcess(load_catalogue())
print(solver.process_id, flush=True)
application = QApplication([])
window = open_window(Document.open(Path(sys.argv[1]), load_catalogue()), solver, "dark")
window.show()
window.bench.edit("Depth", lambda design, _: edits.with_build(design, depth_mm=77.0))
application.exec()
"""


def test_work_survives_a_kill_and_the_solver_ends_with_the_window(tmp_path: Path) -> None:
    file = tmp_path / "panel.gauze"
    file.write_bytes(encode_design(design()))
    command = [sys.executable, "-c", KILLED, str(file)]
    process = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
    assert process.stdout is not None
    solver = int(process.stdout.readline())
    kept = Path(os.environ["XDG_STATE_HOME"]) / "gauze" / "recovery"
    deadline = time.monotonic() + 300
    while not list(kept.glob("*.keep")) and time.monotonic() < deadline:
        time.sleep(0.1)
    process.send_signal(signal.SIGKILL)
    process.wait()
    process.stdout.close()
    deadline = time.monotonic() + 300
    while is_running(solver):
        assert time.monotonic() < deadline, "the solver is still there"
        time.sleep(0.05)
    files = list(kept.glob("*.keep"))
    assert len(files) == 1
    text = json.loads(json.loads(files[0].read_bytes())["design"])
    assert text["build"]["depth_mm"] == 77.0
    assert json.loads(file.read_bytes())["build"]["depth_mm"] == 30.0  # the file on disk stays as it was saved
