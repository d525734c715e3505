"""The recipes of ARCHITECTURE.md tried on a toy: add a family, add a subject, add a layer."""

from collections.abc import Callable

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from gauze.core.design import Design, StripChoice
from gauze.core.drawing import layers
from gauze.core.evaluate import Detail, evaluate, find, search_fixes
from gauze.core.families import FAMILIES, lay_out, parts_of
from gauze.core.formats.drawing_file import encode_drawing
from gauze.session.build_edits import with_choice_at
from gauze.ui.main_window import MainWindow
from gauze.ui.subjects import SUBJECTS
from gauze.ui.workbench import Workbench
from tests import toy
from tests.builders import CATALOGUE, purpose

QUICK = Detail(fineness=0.5, most_pixels=2_000, target_points=1)


@pytest.fixture
def toy_design(monkeypatch: pytest.MonkeyPatch) -> Design:
    monkeypatch.setitem(FAMILIES, toy.ToyBox, toy.TOY)
    monkeypatch.setattr(layers, "LAYERS", (*layers.LAYERS, toy.toy_layer))
    return Design(
        name="Toy",
        purpose=purpose(),
        build=toy.ToyBox(
            width_mm=200.0,
            height_mm=100.0,
            depth_mm=20.0,
            strips=(StripChoice(strip="24v-white-120", cct_k=4000.0),),
            diffuser="opal-acrylic-3",
        ),
    )


FAMILIES.pop(toy.ToyBox)  # other tests ask every family; this process has it only while a test here runs


def test_a_family_is_lit_judged_and_fixed(toy_design: Design) -> None:
    evaluation = evaluate(toy_design, CATALOGUE, QUICK)
    assert 0.0 < evaluation.output.out_lm < evaluation.output.emitted_lm
    codes = {finding.code: finding for finding in find(evaluation)}
    assert {"dots", "evenness", "face brightness", "supply"} <= set(codes)
    shallow = with_choice_at(toy_design, "build.depth_mm", 6.0)
    fixes = search_fixes("evenness", shallow, CATALOGUE)
    assert any("Depth" in str(fix.title) for fix in fixes)


def test_a_family_has_parts_and_drawings_at_their_true_size(toy_design: Design) -> None:
    layout = lay_out(toy_design, CATALOGUE)
    parts = parts_of(toy_design, layout, CATALOGUE)
    assert [piece.id for piece in parts.pieces] == ["strip-1"]
    assert {part.id for part in parts.body} >= {"back", "wall-top"}
    assert b"200" in encode_drawing(toy_design, layout, ".svg")
    assert [layer.key for layer in layers.layers_of(toy_design, layout)] == ["parts", "toy"]


def test_a_family_is_edited_by_the_paths_of_its_choices(toy_design: Design) -> None:
    deeper = with_choice_at(toy_design, "build.depth_mm", 40.0)
    assert lay_out(deeper, CATALOGUE).cavity.shape != lay_out(toy_design, CATALOGUE).cavity.shape


def test_family_subject_and_layer_are_in_the_window(
    toy_design: Design, open_bench: Callable[..., Workbench], qtbot: QtBot
) -> None:
    bench = open_bench(toy_design)
    window = MainWindow(bench, "dark", (*SUBJECTS, toy.TOYS))
    window.closeEvent = lambda event: event.accept()
    qtbot.addWidget(window)
    window.show()
    with qtbot.waitSignal(bench.lit, timeout=240_000):
        bench.start()
    panel = window.places.panel(toy.ToyPanel)
    assert panel.words.text().endswith(" lm")
    window.actions_by_key["place_toys"].trigger()
    assert window.places.currentWidget() is panel
    window.actions_by_key["export_toy"].trigger()
    panel.command_wanted.emit("export_toy", 3)
    assert toy.SAID == [0, 3]
    window.actions_by_key["layer_toy"].trigger()
    assert "toy" in window.drawing.state.layers
    assert not window.grab().isNull()
    qtbot.keyClick(window.drawing, Qt.Key.Key_D)
    qtbot.keyClicks(window.drawing.focusWidget() or window.drawing, "35")
    qtbot.keyClick(window.drawing.focusWidget() or window.drawing, Qt.Key.Key_Return)
    assert bench.design.build.depth_mm == 35.0
    window.actions_by_key["undo"].trigger()
    assert bench.design == toy_design
