"""What a strip panel offers at Lay beyond its drawing, and what builds show from the back and in the dark."""

from collections.abc import Callable

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QPushButton
from pytestqt.qtbot import QtBot

from gauze.core.layout import RowLayout
from gauze.ui.main_window import MainWindow
from gauze.ui.panels.build_panel import BuildPanel
from gauze.ui.panels.fields import QuantityField
from gauze.ui.panels.lay import LayPanel
from tests.builders import design, warm_and_cool
from tests.families import bars, edge_lit, family, head, indirect, tiles
from tests.ui.helpers import at_rest

Open = Callable[..., MainWindow]


def field(window: MainWindow, name: str) -> QuantityField:
    return next(
        one for one in window.places.panel(LayPanel).findChildren(QuantityField) if one.accessibleName() == name
    )


def type_into(qtbot: QtBot, into: QuantityField, text: str) -> None:
    into.setFocus()
    into.selectAll()
    qtbot.keyClick(into, Qt.Key.Key_Delete)
    qtbot.keyClicks(into, text)
    qtbot.keyClick(into, Qt.Key.Key_Return)


def laid(window: MainWindow) -> RowLayout:
    return window.bench.panel_layout


def test_rows_are_doubled_by_a_button(open_window: Open) -> None:
    window = open_window(design(), lit=False)
    window.go_to("lay")
    double = next(b for b in window.places.panel(LayPanel).findChildren(QPushButton) if b.text() == "Two side by side")
    double.click()
    assert len(laid(window).rows) == 22
    assert laid(window).lines == 11
    window.actions_by_key["undo"].trigger()
    assert len(laid(window).rows) == 11


def test_pieces_that_are_not_cut_make_the_body(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design(), lit=False)
    window.go_to("lay")
    type_into(qtbot, field(window, "Length of pieces that are not cut"), "50 cm")
    assert window.bench.design.panel.whole_piece_mm == 500.0
    assert window.bench.design.panel.face_width_mm == 500.0
    type_into(qtbot, field(window, "Length of pieces that are not cut"), "")
    assert window.bench.design.panel.whole_piece_mm is None


def test_a_band_is_kept_free_and_given_back(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design(), lit=False)
    window.go_to("lay")
    type_into(qtbot, field(window, "Free band start"), "180")
    type_into(qtbot, field(window, "Free band width"), "40")
    assert (window.bench.design.panel.free[0].start_mm, window.bench.design.panel.free[0].width_mm) == (180.0, 40.0)
    assert len(laid(window).rows) == 10
    type_into(qtbot, field(window, "Free band width"), "")
    assert window.bench.design.panel.free == ()
    assert len(laid(window).rows) == 11


@pytest.mark.parametrize("build", [edge_lit(), tiles()], ids=["edge-lit", "tiles"])
def test_from_the_back_nothing_is_lit_and_all_is_mirrored(open_window: Open, qtbot: QtBot, build: object) -> None:
    window = open_window(family(build))
    at_rest(window, qtbot)
    front = window.drawing.grab().toImage()
    window.actions_by_key["from_back"].trigger()
    assert window.actions_by_key["from_back"].isChecked()
    back = window.drawing.grab().toImage()
    assert back != front
    window.actions_by_key["from_back"].trigger()
    assert window.drawing.grab().toImage() == front


def test_own_sizes_of_a_profile_are_named_so(open_window: Open) -> None:
    window = open_window(family(bars(width_mm=17.0)), lit=False)
    window.go_to("lay")
    box = next(
        one for one in window.places.panel(BuildPanel).findChildren(QComboBox) if one.accessibleName() == "Profile"
    )
    assert box.currentText() == "own sizes"


def test_dies_of_ones_own_are_typed(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(head(back_mm=80.0)), lit=False)
    window.go_to("lay")
    dies = next(
        one for one in window.places.panel(BuildPanel).findChildren(QComboBox) if one.accessibleName() == "Dies"
    )
    dies.activated.emit(dies.findText("custom"))
    across = next(
        one
        for one in window.places.panel(BuildPanel).findChildren(QuantityField)
        if one.accessibleName() == "Dies across"
    )
    type_into(qtbot, across, "4")
    assert window.bench.design.build.dies.columns == 4
    assert window.bench.layout.cavity.emitter_count == 12


def test_a_dark_cut_has_no_profile_and_nothing_fails(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(indirect(place="wall", stance="lying", base_mm=20.0, groove_depth_mm=8.0)))
    at_rest(window, qtbot)
    view = window.drawing
    window.drawing.set_state(window.drawing.state.__class__(cut_share=0.99))
    assert not view.grab().isNull()


def test_two_strips_of_one_white_each_are_mixed_by_two_knobs(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(design(strips=warm_and_cool()), lit=False)
    window.go_to("lay")
    mix = window.places.panel(LayPanel).mix
    type_into(qtbot, mix.white, "4000")
    first, second = (choice.levels[0] for choice in window.bench.design.strips)
    assert max(first, second) == 1.0
    assert min(first, second) < 1.0
    mix.seen._slider.setValue(50)
    assert max(choice.levels[0] for choice in window.bench.design.strips) == pytest.approx(0.184, abs=2e-3)
    assert mix.white.text() == "4000 K"
    window.bench.document.undo()
    window.bench.document.undo()
    assert window.bench.design == design(strips=warm_and_cool())
    window.places.panel(LayPanel)._alternate.chosen.emit("same")
    assert mix.white.isHidden()  # one white: nothing to mix
