"""What tests of the window share."""

from pytestqt.qtbot import QtBot

from gauze.core.evaluate import AT_REST, Evaluation
from gauze.ui.main_window import MainWindow


def at_rest(window: MainWindow, qtbot: QtBot) -> Evaluation:
    """Wait until the open design is lit exactly, and return its evaluation."""

    def lit() -> bool:
        result = window.bench.result
        return (
            result is not None
            and result.evaluation.design == window.bench.design
            and result.evaluation.detail == AT_REST
        )

    qtbot.waitUntil(lit, timeout=240_000)
    assert window.bench.result is not None
    return window.bench.result.evaluation
