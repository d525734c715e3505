"""Builds in the window: typed and dragged on the drawing, chosen in the panel, started, set against their versions."""

from collections.abc import Callable
from pathlib import Path

import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QColor, QImage, QMouseEvent
from PyQt6.QtWidgets import QApplication, QComboBox, QFileDialog, QLabel, QLineEdit, QMenu, QMessageBox, QPushButton
from pytestqt.qtbot import QtBot

from gauze.core.design import StripChoice
from gauze.core.design.build import ModuleChoice, PixelOrder
from gauze.core.design.tile_wall import Tile
from gauze.core.layout.sketch import MovableItem
from gauze.demo import BEGINNINGS, demo
from gauze.ui.canvas.drawing import Drawing
from gauze.ui.canvas.hand.inline_editor import Bubble
from gauze.ui.main_window import MainWindow
from gauze.ui.panels.build_panel import BuildPanel
from gauze.ui.panels.feed import FeedPanel
from gauze.ui.panels.fields import LevelField
from tests.builders import design
from tests.families import FAMILIES, PIXELS, bars, display, edge_lit, family, head, shells, strip_display, tiles, tube
from tests.ui.helpers import at_rest

Open = Callable[..., MainWindow]


def drag(view: Drawing, start: QPointF, end: QPointF) -> None:
    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    for kind, point in (
        (QEvent.Type.MouseButtonPress, start),
        (QEvent.Type.MouseMove, (start + end) / 2),
        (QEvent.Type.MouseMove, end),
        (QEvent.Type.MouseButtonRelease, end),
    ):
        held = left if kind != QEvent.Type.MouseButtonRelease else Qt.MouseButton.NoButton
        event = QMouseEvent(kind, point, view.mapToGlobal(point), left, held, none)
        QApplication.sendEvent(view, event)


def type_dimension(view: Drawing, qtbot: QtBot, key: str, text: str) -> None:
    view.edit(key)
    editor = view._editor
    editor.selectAll()
    qtbot.keyClicks(editor, text)
    qtbot.keyClick(editor, Qt.Key.Key_Return)


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_every_family_is_drawn_in_both_themes(open_window: Open, qtbot: QtBot, name: str) -> None:
    window = open_window(family(FAMILIES[name]))
    at_rest(window, qtbot)
    view = window.drawing
    sheet = view.sheet
    assert sheet is not None
    for drawing in (sheet.plan, sheet.face, sheet.cut):
        assert drawing.rect.x >= -1
        assert drawing.rect.right <= view.width() + 1
        assert drawing.rect.bottom <= view.height() + 1
    for dimension in view.dimensions_now():
        assert dimension.text_rect.x >= 0
        assert dimension.text_rect.right <= view.width() + 1
    face = sheet.face.rect
    points = [(0.3 + 0.1 * i, 0.15 + 0.1 * j) for i in range(8) for j in range(8)]

    def shades() -> list[int]:
        image = view.grab().toImage()
        return [
            image.pixelColor(int(face.x + a * (face.width - 1)), int(face.y + b * (face.height - 1))).lightness()
            for a, b in points
        ]

    dark, ground = shades(), view.grab().toImage().pixelColor(2, 2).lightness()
    assert max(dark) > 40
    window.actions_by_key["light_theme"].trigger()
    window.go_to("lay")
    assert window.places.currentWidget() is window.places.panel(BuildPanel)
    assert (
        view.grab().toImage().pixelColor(2, 2).lightness() > ground + 100
    )  # the paper is light, and what is drawn is still lit
    assert max(shades()) > 40
    assert len(set(shades())) > 1


def test_a_dimension_is_typed_refused_and_undone(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(tube()), lit=False)
    view = window.drawing
    type_dimension(view, qtbot, "build.length_mm", "33 cm")
    assert window.bench.design.build.length_mm == 330.0
    type_dimension(view, qtbot, "build.diameter_mm", "5")
    bubble = view.findChild(Bubble)
    assert bubble is not None
    assert bubble.isVisible()
    assert "narrower" in bubble.text()
    assert window.bench.design.build.diameter_mm == 30.0
    type_dimension(view, qtbot, "build.diameter_mm", "wide")
    assert window.bench.design.build.diameter_mm == 30.0
    window.actions_by_key["undo"].trigger()
    assert window.bench.design.build.length_mm == 230.0


def test_counts_and_angles_are_typed(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(shells()), lit=False)
    type_dimension(window.drawing, qtbot, "build.columns", "5 columns")
    assert window.bench.design.build.columns == 5
    type_dimension(window.drawing, qtbot, "build.columns", "5.5")
    assert window.bench.design.build.columns == 5
    window.bench.replace_document(type(window.bench.document)(family(head()), window.bench.catalogue))
    type_dimension(window.drawing, qtbot, "build.flank_deg", "30")
    assert window.bench.design.build.flank_deg == pytest.approx(30.0)


def test_the_lid_is_dragged_and_is_one_edit(open_window: Open) -> None:
    window = open_window(family(edge_lit()), lit=False)
    view = window.drawing
    sheet = view.sheet
    assert sheet is not None
    rect = sheet.cut.rect
    lid = QPointF(rect.x + rect.width / 2, rect.y)
    drag(view, lid, lid - QPointF(0.0, 10.0 * sheet.cut.scale))
    assert window.bench.design.build.depth_mm == pytest.approx(28.0, abs=0.3)
    window.actions_by_key["undo"].trigger()
    assert window.bench.design.build.depth_mm == 18.0
    assert window.bench.document.undo_name is None


def test_a_dragged_end_snaps_where_whole_segments_fit(open_window: Open) -> None:
    window = open_window(family(tube()), lit=False)
    view = window.drawing
    sheet = view.sheet
    assert sheet is not None
    rect = sheet.plan.rect
    end = QPointF(rect.right, rect.y + rect.height / 2)
    drag(view, end, end + QPointF(49.0 * sheet.plan.scale, 0.0))
    assert window.bench.design.build.length_mm == pytest.approx(280.0)  # 30 for the caps and five segments of 50


def test_the_keyboard_walks_types_and_nudges(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(edge_lit()), lit=False)
    view = window.drawing
    view.setFocus()
    said: list[str] = []
    view.hovered.connect(said.append)
    for _ in range(len(view.dimensions_now()) + 1):
        qtbot.keyClick(view, Qt.Key.Key_Tab)
    assert "Enter to type" in said[0]
    assert "arrow keys" in said[-1]
    width = window.bench.design.build.width_mm
    qtbot.keyClick(view, Qt.Key.Key_Right)
    qtbot.keyClick(view, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert window.bench.design.build.width_mm == pytest.approx(width + 11.0)
    qtbot.keyClick(view, Qt.Key.Key_Backtab)
    qtbot.keyClick(view, Qt.Key.Key_Return)
    assert view._editor.isVisible()
    qtbot.keyClick(view._editor, Qt.Key.Key_Escape)
    assert not view._editor.isVisible()


def test_a_tile_is_dragged_to_another_edge(open_window: Open) -> None:
    pair = (Tile(sides=4, x_mm=0.0, y_mm=0.0), Tile(sides=4, x_mm=90.0, y_mm=0.0))
    window = open_window(family(tiles(*pair)), lit=False)
    view = window.drawing
    sheet = view.sheet
    assert sheet is not None
    start = QPointF(sheet.plan.x(90.0), sheet.plan.y(20.0))
    drag(view, start, QPointF(sheet.plan.x(-5.0), sheet.plan.y(100.0)))
    moved = window.bench.design.build.tiles[1]
    assert (moved.x_mm, moved.y_mm) == pytest.approx((0.0, 90.0))
    window.actions_by_key["undo"].trigger()
    assert window.bench.design.build.tiles == pair


def test_the_menu_of_a_tile_adds_and_removes(open_window: Open) -> None:
    window = open_window(family(tiles(branches=True)), lit=False)
    view = window.drawing
    item = window.bench.layout.sketch.movable_items[0]
    assert isinstance(item, MovableItem)
    view.menu_wanted.emit(QPoint(10, 10), view.dimensions_now()[0], item)
    menus = [one for one in window.findChildren(QMenu) if any("beside" in action.text() for action in one.actions())]
    menu = menus[0]
    texts = {action.text(): action for action in menu.actions()}
    assert any(text.startswith("Type ") for text in texts)
    texts["Add hexagon beside"].trigger()
    assert len(window.bench.design.build.tiles) == 2
    menu.close()


def test_the_seam_and_the_cut_follow_the_hand(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(edge_lit()))
    at_rest(window, qtbot)
    view = window.drawing
    sheet = view.sheet
    assert sheet is not None
    face = sheet.face.rect
    handle = QPointF(face.x + window.drawing.state.seam_share * face.width, face.y - 10)
    drag(view, handle, handle + QPointF(0.2 * face.width, 0.0))
    assert window.drawing.state.seam_share == pytest.approx(0.62, abs=0.02)
    cut = QPointF(face.x + 4, face.bottom - window.drawing.state.cut_share * face.height)
    drag(view, cut, cut + QPointF(0.0, 0.2 * face.height))
    assert window.drawing.state.cut_share == pytest.approx(0.3, abs=0.02)


def test_zoom_pan_and_the_back(open_window: Open) -> None:
    window = open_window(family(bars()), lit=False)
    view = window.drawing
    before = view.sheet
    assert before is not None
    window.actions_by_key["zoom_in"].trigger()
    zoomed = view.sheet
    assert zoomed is not None
    assert zoomed.plan.scale > before.plan.scale
    drag(view, QPointF(5.0, 5.0), QPointF(25.0, 15.0))
    panned = view.sheet
    assert panned is not None
    assert panned.plan.rect.x == pytest.approx(zoomed.plan.rect.x + 20.0)
    window.actions_by_key["fit"].trigger()
    assert view.sheet == before
    window.actions_by_key["from_back"].trigger()
    turned = view.sheet
    assert turned is not None
    assert turned.plan.mirrored
    assert turned.plan.x(0.0) > turned.plan.x(100.0)
    assert turned.plan.at_mm(turned.plan.x(30.0), 100.0)[0] == pytest.approx(30.0)


def test_choices_in_the_panel_change_the_build(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(bars()), lit=False)
    window.go_to("lay")
    panel = window.places.panel(BuildPanel)

    def box(name: str) -> QComboBox:
        return next(one for one in panel.findChildren(QComboBox) if one.accessibleName() == name)

    profiles = box("Profile")
    profiles.activated.emit(profiles.findText("Wide channel, 24 × 14 mm"))
    assert window.bench.design.build.width_mm == 24.0
    shape = box("Shape")
    shape.activated.emit(shape.findText("closed frame"))
    assert window.bench.design.build.frame is not None
    shape = box("Shape")
    shape.activated.emit(shape.findText("free path, mitred"))
    assert len(window.bench.design.build.corners_mm) == 3
    window.actions_by_key["undo"].trigger()
    window.actions_by_key["undo"].trigger()
    number = next(one for one in panel.findChildren(QLineEdit) if one.accessibleName() == "Bars end to end")
    number.setFocus()
    number.selectAll()
    qtbot.keyClicks(number, "3")
    qtbot.keyClick(number, Qt.Key.Key_Return)
    assert len(window.bench.design.build.bars) == 3


def test_modules_and_their_levels_are_chosen(open_window: Open) -> None:
    window = open_window(family(head()), lit=False)
    window.go_to("lay")
    pick = next(
        one for one in window.places.panel(BuildPanel).findChildren(QComboBox) if one.accessibleName() == "Module"
    )
    pick.activated.emit(pick.findData("12v-chips-2x2"))
    assert window.bench.design.build.module.module == "12v-chips-2x2"
    field = window.places.panel(BuildPanel).findChildren(LevelField)[-1]
    field.moved.emit(0.5)
    assert window.bench.design.build.module.levels == (0.5,)


def test_texts_and_pictures_are_shown(
    open_window: Open, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window(family(strip_display()), lit=False)
    window.go_to("lay")
    panel = window.places.panel(BuildPanel)
    shows = next(one for one in panel.findChildren(QComboBox) if one.accessibleName() == "Shows")
    shows.activated.emit(shows.findText("a text"))
    line = next(one for one in panel.findChildren(QLineEdit) if one.accessibleName() == "Text")
    line.setFocus()
    qtbot.keyClicks(line, "OPEN")
    qtbot.keyClick(line, Qt.Key.Key_Return)
    assert window.bench.design.build.show.text == "OPEN"
    image = QImage(40, 20, QImage.Format.Format_RGB32)
    image.fill(QColor("red"))
    image.save(str(tmp_path / "red.png"))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / "red.png"), ""))
    button = next(one for one in panel.findChildren(QPushButton) if one.text().startswith("Choose a picture"))
    button.click()
    assert window.bench.design.build.show.picture[0].startswith("ff0000")
    (tmp_path / "broken.png").write_bytes(b"\x89PNG nothing")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / "broken.png"), ""))
    told: list[str] = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: told.append(box.text()))
    window.files.choose_picture()
    assert "was not read" in told[0]
    window.bench.replace_document(type(window.bench.document)(design(), window.bench.catalogue))
    window.files.choose_picture()  # nothing to show it: nothing happens
    assert len(told) == 1


def test_strips_of_a_build_come_from_the_tray(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(tube()), lit=False)
    with qtbot.waitSignal(window.bench.solving.tray_done, timeout=120_000):
        window.actions_by_key["tray_strip"].trigger()
    cards = window.tray._cards
    assert len(cards) == len(window.bench.catalogue.strips)
    window.tray.chosen.emit(cards["24v-white-60"].candidate)
    assert window.bench.design.build.strips[0].strip == "24v-white-60"


# -- start place and versions ---------------------------------------------------------------------------------------------


def test_the_start_place_lights_every_kind_and_starts_one(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    window.actions_by_key["new"].trigger()
    place = window.start.place
    assert place is not None
    assert len(place.cards) == len(BEGINNINGS) >= 10
    qtbot.waitUntil(lambda: place.cards[0].is_lit and place.cards[2].is_lit, timeout=240_000)
    tube_card = next(card for card in place.cards if card.demo.key == "rack_tube")
    tube_card.click()
    assert window.start.place is None
    assert window.bench.design.name == "New tube"
    assert window.bench.document.path is None
    window.actions_by_key["new"].trigger()  # pictures that are known are there at once
    again = window.start.place
    assert again is not None
    assert again.cards[0].is_lit
    again.demo_wanted.emit(demo("stair_tiles"))
    assert window.bench.design.name == "Tiles at the stairs"
    again.reject()


def test_recent_designs_are_offered_where_one_starts(open_window: Open, tmp_path: Path) -> None:
    window = open_window(family(tube()), lit=False)
    window.bench.document.save(tmp_path / "mine.gauze")
    window.bench.remember_file(tmp_path / "mine.gauze")
    window.start.open()
    place = window.start.place
    assert place is not None
    place.file_wanted.emit(tmp_path / "mine.gauze")
    assert window.bench.document.path == tmp_path / "mine.gauze"
    place.reject()


@pytest.mark.parametrize("make", [lambda: family(bars()), design])
def test_a_kept_version_is_set_against_the_design_across_the_seam(
    open_window: Open, qtbot: QtBot, make: Callable[[], object]
) -> None:
    window = open_window(make())
    at_rest(window, qtbot)
    window.actions_by_key["keep_version"].trigger()
    assert window.versions_panel.isVisible()
    qtbot.waitUntil(lambda: window.versions_keeper._other is not None, timeout=240_000)
    same = window.drawing.grab().toImage()
    assert "Nothing differs" in window.versions_panel._differences.text()
    window.bench.edit("Depth", lambda one, _: _deeper(one))
    at_rest(window, qtbot)
    qtbot.waitUntil(lambda: "Depth" in window.versions_panel._differences.text(), timeout=240_000)
    assert window.drawing.grab().toImage() != same
    assert "→" in window.versions_panel._findings.text() or "<tr>" in window.versions_panel._findings.text()
    deeper = window.bench.design.build
    window.versions_panel.take_up_wanted.emit(0)
    assert window.bench.design.build != deeper
    window.versions_panel.forget_wanted.emit(0)
    assert window.bench.design.kept == ()
    assert "Nothing is kept" in window.versions_panel._differences.text()
    window.versions_panel.closed.emit()
    assert not window.versions_panel.isVisible()


def _deeper(one):
    return replace(one, build=replace(one.build, depth_mm=one.build.depth_mm + 20.0))


def test_pixels_of_a_strip_make_every_family_that_takes_strip(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(tube(strips=PIXELS)))
    at_rest(window, qtbot)
    window.go_to("feed")
    assert "5 V" in window.places.panel(FeedPanel)._table.text()


def test_light_that_lags_behind_a_drag_is_told_and_goes_with_the_drawing(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(tiles(Tile(sides=4, x_mm=0.0, y_mm=0.0), Tile(sides=4, x_mm=90.0, y_mm=0.0))))
    at_rest(window, qtbot)
    view = window.drawing
    status = window.statusBar()
    assert status is not None
    assert "exact" in {label.text() for label in status.findChildren(QLabel)}
    sheet, scene = view.sheet, view.scene
    assert sheet is not None
    assert scene is not None
    handle = next(one for one in scene.layout.sketch.handles if one.field == "build.side_mm")
    start = QPointF(sheet.cut.x(handle.start_mm[0]), sheet.cut.y(handle.start_mm[1] / 2 + handle.end_mm[1] / 2))
    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    for kind, point in ((QEvent.Type.MouseButtonPress, start), (QEvent.Type.MouseMove, start - QPointF(16.0, 0.0))):
        QApplication.sendEvent(view, QMouseEvent(kind, point, view.mapToGlobal(point), left, left, none))
    assert window.bench.result is not None
    assert window.bench.result.evaluation.design != window.bench.design
    assert "exact" not in {label.text() for label in status.findChildren(QLabel)}
    after = view.sheet
    assert after is not None
    assert view.scene is not None
    assert window.bench.design.build.side_mm < 85.0
    image = view.grab().toImage()
    right_mm = 90.0 + 45.0 - 4.0  # where the second tile was lit, and is no longer
    beside = image.pixelColor(int(after.plan.x(right_mm)), int(after.plan.y(0.0)) + 9)
    last = view.scene.layout.instances[1]
    on_it = image.pixelColor(int(after.plan.x(last.x_mm + 10.0)), int(after.plan.y(0.0)) + 9)
    assert on_it.lightness() > beside.lightness() + 60


def test_the_order_of_a_boards_pixels_is_chosen_and_undone(open_window: Open) -> None:
    window = open_window(family(display(module=ModuleChoice(module="5v-rgb-grid-8x8"))), lit=False)
    window.go_to("lay")
    controls = window.places.panel(BuildPanel)._module
    assert controls is not None
    order = controls._order
    assert order is not None
    order.start.setCurrentIndex(order.start.findData("upper_right"))
    order.start.activated.emit(order.start.currentIndex())
    order.lines.setCurrentIndex(3)
    order.lines.activated.emit(order.lines.currentIndex())
    module = window.bench.design.module
    assert module is not None
    assert module.order == PixelOrder(start="upper_right", by="columns", zigzag=True)
    window.bench.document.undo()
    window.bench.document.undo()
    assert order.start.currentData() == "lower_left"
    assert order.lines.currentIndex() == 0


def test_two_whites_are_mixed_by_two_knobs(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(tube(strips=(StripChoice(strip="24v-two-white-240"),), diameter_mm=60.0)), lit=False)
    window.go_to("lay")
    mix = window.places.panel(BuildPanel)._strips[0].mix
    assert mix is not None

    def white(text: str) -> None:
        mix.white.setFocus()
        mix.white.selectAll()
        qtbot.keyClicks(mix.white, text)
        qtbot.keyClick(mix.white, Qt.Key.Key_Return)

    white("9000")
    bubble = window.drawing.findChild(Bubble)
    assert bubble is not None
    assert not bubble.isHidden()
    white("3500")
    assert bubble.isHidden()  # what was refused is settled
    warm, cool = window.bench.design.strips[0].levels
    assert warm == 1.0
    assert 0.3 < cool < 0.7
    mix.seen._slider.setValue(50)
    dimmer = window.bench.design.strips[0].levels
    assert max(dimmer) == pytest.approx(0.184, abs=2e-3)  # half as bright to the eye
    assert mix.white.text() == "3500 K"
    window.bench.document.undo()
    window.bench.document.undo()
    assert window.bench.design.strips[0].levels == ()
