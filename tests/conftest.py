"""What all tests share: no display, no settings of anybody's, and nothing left running."""

import faulthandler
import gc
import logging
import os
import threading
from collections.abc import Callable, Iterator
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import pytest
from _pytest.faulthandler import fault_handler_stderr_fd_key
from hypothesis import HealthCheck, settings
from pytestqt.qtbot import QtBot

from gauze.core.design import Design
from gauze.core.materials import Catalogue
from gauze.core.optics.kernel.parallel import POOL
from gauze.session.document import Document
from gauze.session.settings import Settings
from gauze.session.solver import SolverProcess
from gauze.ui.collecting import collect_due
from gauze.ui.main_window import MainWindow
from gauze.ui.workbench import Workbench
from tests.builders import CATALOGUE, design

settings.register_profile(
    "gauze",
    deadline=None,
    derandomize=True,
    max_examples=25,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much],
)
settings.load_profile("gauze")


def pytest_sessionstart(session: pytest.Session) -> None:
    """Of a crash only the thread that crashed is printed: among dozens that wait it would be lost, or cut away."""
    faulthandler.enable(file=session.config.stash[fault_handler_stderr_fd_key], all_threads=False)
    gc.disable()  # a background thread must not destroy what the windows of former tests have left


@pytest.fixture(autouse=True)
def _own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))


@pytest.fixture(autouse=True)
def _garbage_is_collected_here() -> Iterator[None]:
    yield
    collect_due()


@pytest.fixture(autouse=True)
def _no_threads_left() -> Iterator[None]:
    before = set(threading.enumerate())
    yield
    left = [
        thread.name
        for thread in set(threading.enumerate()) - before
        if thread.is_alive() and not thread.name.startswith(POOL)
    ]
    assert not left, f"threads left running: {left}"


@pytest.fixture(autouse=True)
def _no_warnings_logged(caplog: pytest.LogCaptureFixture) -> Iterator[None]:
    yield
    logged = [record.getMessage() for record in caplog.get_records("call") if record.levelno >= logging.WARNING]
    assert not logged, f"unexpected warnings in the log: {logged}"


@pytest.fixture
def catalogue() -> Catalogue:
    return CATALOGUE


@pytest.fixture(scope="session")
def solver() -> Iterator[SolverProcess]:
    """One real process for all windows, as starting it takes a second."""
    process = SolverProcess(CATALOGUE)
    yield process
    process.close()


@pytest.fixture
def open_bench(qapp: object, solver: SolverProcess, tmp_path: Path) -> Iterator[Callable[..., Workbench]]:
    assert qapp is not None  # signals need the application
    benches: list[Workbench] = []

    def make(what: Design | None = None) -> Workbench:
        document = Document(what if what is not None else design(), CATALOGUE)
        bench = Workbench(
            document, solver, Settings(), tmp_path / "settings.json", tmp_path / "recovery", tmp_path / "shelf.json"
        )
        benches.append(bench)
        return bench

    yield make
    for bench in benches:
        bench.close()


@pytest.fixture
def open_window(qtbot: QtBot, open_bench: Callable[..., Workbench]) -> Callable[..., MainWindow]:
    def make(what: Design | None = None, *, lit: bool = True) -> MainWindow:
        bench = open_bench(what)
        window = MainWindow(bench, "dark")
        # closing is the bench's own fixture's; a modified document would ask
        window.closeEvent = lambda event: event.accept()
        qtbot.addWidget(window)
        window.show()
        if lit:
            bench.start()
            qtbot.waitUntil(lambda: bench.exact is not None, timeout=240_000)  # a coarse light may come before it
        return window

    return make
