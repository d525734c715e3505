"""Standards in the window: chosen in Aim, told over the findings, drawn in the chart and beside the profile."""

from collections.abc import Callable

import pytest
from pytestqt.qtbot import QtBot

from gauze.core.evaluate import AT_REST, State, evaluate
from gauze.core.evaluate.profile import profile_at
from gauze.core.evaluate.standards import choosable_standards, neighbours_of, standard_of
from gauze.ui.main_window import MainWindow
from gauze.ui.panels.aim import AimPanel
from tests.builders import CATALOGUE, design, with_purpose
from tests.families import FAMILIES, family

Open = Callable[..., MainWindow]


def choose(window: MainWindow, text: str) -> None:
    box = window.places.panel(AimPanel)._standard
    index = next(index for index in range(box.count()) if box.itemText(index) == text)
    box.setCurrentIndex(index)
    box.activated.emit(index)


def dots_of(window: MainWindow) -> State:
    return next(finding.state for finding in window.bench.result.findings if finding.code == "dots")


def test_a_standard_is_chosen_judged_by_told_and_undone(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design(depth_mm=20.0))
    aim = window.places.panel(AimPanel)
    assert aim._standard.currentText() == "clean (usual)"
    assert window.findings._verdict.text() == "1 thing to change"
    assert dots_of(window) is State.FAILS
    with qtbot.waitSignal(window.bench.lit, timeout=240_000):
        choose(window, "soft")
    assert window.bench.design.purpose.standard == "soft"
    assert "wall decoration" in aim._meaning.text()
    assert dots_of(window) is State.GOOD
    assert window.findings._verdict.text() == "Ready to build"
    choose(window, "by a camera")
    assert window.bench.design.purpose.viewer == "camera"
    assert aim._limit.isEnabled()
    choose(window, "clean (usual)")
    assert window.bench.design.purpose.standard is None
    assert window.bench.design.purpose.viewer == "eye"
    for _ in range(3):
        window.actions_by_key["undo"].trigger()
    assert window.bench.design == design(depth_mm=20.0)
    assert aim._standard.currentText() == "clean (usual)"


@pytest.mark.parametrize(
    ("name", "usual"),
    [("tube", "clean"), ("tiles", "soft"), ("balls", "soft"), ("cells", "crisp"), ("strip rows", "soft")],
)
def test_what_is_usual_follows_the_family_and_the_use(name: str, usual: str) -> None:
    one = family(FAMILIES[name])
    assert standard_of(one).key == usual
    lighting = with_purpose(one, use="lighting")
    assert standard_of(lighting).key == ("crisp" if usual == "crisp" else "light_only")
    assert ("crisp" in {one.key for one in choosable_standards(one)}) == (usual == "crisp")


def test_the_neighbours_are_the_standards_that_an_eye_decides_but_one() -> None:
    assert [one.key for one in neighbours_of(design())] == ["reference", "soft"]
    assert neighbours_of(design({"viewer": "camera"})) == ()


def test_the_band_of_the_profile_is_as_wide_as_the_standard_allows(open_window: Open) -> None:
    evaluation = open_window(design({"standard": "reference"}, row_direction="along_height")).bench.result.evaluation
    strict = profile_at(evaluation, 200.0)
    mild = profile_at(evaluate(design({"standard": "clean"}, row_direction="along_height"), CATALOGUE, AT_REST), 200.0)
    assert strict is not None
    assert mild is not None
    assert mild.threshold == pytest.approx(12.0 * strict.threshold, rel=1e-6)
