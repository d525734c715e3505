"""What happens in the middle of something else: another design in mid-drag, an edit while findings are read, forms made again."""

import math
import threading
from collections.abc import Callable

import pytest
from msgspec.structs import replace as replace_struct
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication, QFileDialog, QSlider
from pytestqt.qtbot import QtBot

from gauze.core.evaluate import AT_REST, WHILE_DRAGGING, Detail
from gauze.core.layout.sketch import MovableItem
from gauze.session import edits
from gauze.session.document import Document
from gauze.ui import workbench
from gauze.ui.canvas.paint import painter
from gauze.ui.canvas.sheet import face_range_mm
from gauze.ui.main_window import MainWindow
from gauze.ui.panels.build_panel import BuildPanel
from gauze.ui.panels.feed import FeedPanel
from gauze.ui.panels.fields import LevelField, QuantityField
from tests.builders import CATALOGUE, CAVITIES, design, emitter, loose_design
from tests.families import bars, cells, family, tiles, tube
from tests.ui.driving import grip_point
from tests.ui.helpers import at_rest

Open = Callable[..., MainWindow]
PATIENCE_MS = 120_000


def mouse(widget: object, kind: QEvent.Type, point: QPointF) -> None:
    left, none = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
    held = none if kind == QEvent.Type.MouseButtonRelease else left
    event = QMouseEvent(kind, point, widget.mapToGlobal(point), left, held, Qt.KeyboardModifier.NoModifier)
    QApplication.sendEvent(widget, event)


def replace(window: MainWindow, what: object) -> None:
    window.bench.replace_document(Document(what, CATALOGUE))


def test_a_design_opened_in_mid_drag_takes_nothing_of_the_drag(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    start = grip_point(window, "lid")
    qtbot.mousePress(window.drawing, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseMove(window.drawing, start + QPoint(0, -8))
    assert window.bench.design != design()
    other = design(depth_mm=55.0)
    replace(window, other)
    for step in range(2, 8):
        qtbot.mouseMove(window.drawing, start + QPoint(0, -8 * step))
    qtbot.mouseRelease(window.drawing, Qt.MouseButton.LeftButton, pos=start)
    assert window.bench.design == other
    assert window.bench.document.undo_name is None


def test_the_same_with_a_tile_a_slider_and_what_is_typed(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(tiles()), lit=False)
    view = window.drawing
    sheet = view.sheet
    assert sheet is not None
    tile = window.bench.layout.sketch.movable_items[0]
    at = QPointF(sheet.plan.x(tile.x_mm), sheet.plan.y(tile.y_mm))
    mouse(view, QEvent.Type.MouseButtonPress, at)
    mouse(view, QEvent.Type.MouseMove, at + QPointF(20, 0))
    other = family(tube())
    replace(window, other)
    mouse(view, QEvent.Type.MouseMove, at + QPointF(60, 20))
    mouse(view, QEvent.Type.MouseButtonRelease, at + QPointF(60, 20))
    assert window.bench.design == other

    window.go_to("lay")
    level = next(one for one in window.places.panel(BuildPanel).findChildren(LevelField) if one.isVisible())
    slider = level.findChild(QSlider)
    assert slider is not None
    middle = QPointF(slider.width() - 8, slider.height() / 2)
    mouse(slider, QEvent.Type.MouseButtonPress, middle)
    assert slider.isSliderDown()
    replace(window, family(tube(length_mm=180.0)))
    assert not slider.isSliderDown()
    mouse(slider, QEvent.Type.MouseMove, QPointF(10, slider.height() / 2))
    assert window.bench.design == family(tube(length_mm=180.0))

    window.go_to("feed")
    reading = window.places.panel(FeedPanel)._reading
    reading.setFocus()
    qtbot.keyClicks(reading, "3 A")
    replace(window, loose_design(CAVITIES["box"][0], emitter(*CAVITIES["box"][1])))
    assert window.bench.design.measured_row_current_a is None  # it was meant for another design


def test_an_editor_open_on_the_drawing_closes_with_its_design(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(lit=False)
    window.drawing.edit("depth")
    editor = window.drawing._editor
    qtbot.keyClicks(editor, "99")
    replace(window, design(depth_mm=55.0))
    assert not editor.isVisible()
    assert window.bench.design == design(depth_mm=55.0)


def test_a_form_made_anew_under_a_field_that_is_typed_in(open_window: Open, qtbot: QtBot) -> None:
    """The field loses its focus as it goes; its half-typed text is left, and nothing is shown twice."""
    window = open_window(family(bars()), lit=False)
    window.go_to("lay")
    for what in (family(tube()), loose_design(CAVITIES["tube"][0], emitter(*CAVITIES["tube"][1])), family(bars())):
        fields = [one for one in window.places.currentWidget().findChildren(QuantityField) if one.isVisible()]
        for one in fields:
            one.setFocus()
            one.selectAll()
            qtbot.keyClicks(one, "17")
        window.bench.document.apply(what, "Another build")
        assert window.bench.design == what
        window.bench.document.undo()
        window.bench.document.redo()
        assert window.bench.design == what


def test_an_edit_taken_back_while_something_is_typed_can_be_brought_again(open_window: Open, qtbot: QtBot) -> None:
    """In families without a chart the field lost its focus with every edit, and what was half typed became one."""
    window = open_window(family(bars()), lit=False)
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow, timeout=PATIENCE_MS)
    window.go_to("feed")
    window.bench.edit("Depth", lambda what, _: edits.with_build(what, depth_mm=19.0))
    field = next(one for one in window.places.currentWidget().findChildren(QuantityField) if one.isVisible())
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, "7")
    document = window.bench.document
    document.undo()
    assert field.hasFocus()
    assert field.text() == "7"
    assert (document.undo_name, document.redo_name) == (None, "Depth")


def test_findings_are_dimmed_and_leave_the_program_only_when_they_are_those_of_the_design(
    open_window: Open, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = open_window()
    at_rest(window, qtbot)
    qtbot.waitUntil(lambda: not window.findings.stale, timeout=PATIENCE_MS)
    QApplication.clipboard().setText("before")
    go = threading.Event()
    real = window.bench.solving._solver.call

    def held(name: str, *rest: object) -> object:
        if name == "light":
            go.wait(600)
        return real(name, *rest)

    monkeypatch.setattr(window.bench.solving._solver, "call", held)
    asked: list[object] = []
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: asked.append(1) or ("", ""))
    said: list[str] = []
    window.files.explain = lambda what, _why: said.append(what)
    try:
        window.bench.edit("Depth", lambda what, _: edits.with_build(what, depth_mm=71.0))
        assert window.findings.stale
        assert window.bench.exact is None
        for key in ("copy_findings", "copy_picture", "export_picture", "export_map", "export_ies", "export_findings"):
            window.actions_by_key[key].trigger()
        assert len(said) == 6
        assert asked == []
        assert QApplication.clipboard().text() == "before"
        replace(window, family(tube()))
        assert window.bench.result is None
        window.actions_by_key["copy_findings"].trigger()
        assert QApplication.clipboard().text() == "before"
    finally:
        go.set()
    at_rest(window, qtbot)
    qtbot.waitUntil(lambda: not window.findings.stale, timeout=PATIENCE_MS)
    window.actions_by_key["copy_findings"].trigger()
    assert "strip" in QApplication.clipboard().text()


def test_light_of_the_old_design_is_not_taken_for_that_of_the_new(open_window: Open, qtbot: QtBot) -> None:
    window = open_window()
    lit: list[str] = []
    window.bench.lit.connect(lambda result: lit.append(type(result.evaluation.design.build).__name__))
    gesture = object()
    for step in range(6):
        window.bench.drag("Depth", lambda what, _, step=step: edits.with_build(what, depth_mm=31.0 + step), gesture)
    replace(window, family(tube()))
    lit.clear()
    at_rest(window, qtbot)
    assert set(lit) == {"Tube"}


def test_the_focus_goes_to_the_drawing_that_is_shown(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(tube()), lit=False)
    window.activateWindow()
    for key, close in (
        ("tray_diffuser", window.tray_keeper.close),
        ("versions", window.versions_keeper.close),
    ):
        window.actions_by_key[key].trigger()
        close()
        assert window.focusWidget() is window.drawing, key
    panel = open_window()
    panel.actions_by_key["chart"].trigger()
    panel.chart_keeper.close()
    assert panel.focusWidget() is panel.drawing
    at_rest(panel, qtbot)


def test_the_outline_of_a_tile_goes_where_the_tile_was_dragged(open_window: Open) -> None:
    window = open_window(family(tiles()), lit=False)
    view = window.drawing
    sheet = view.sheet
    assert sheet is not None
    last = window.bench.layout.sketch.movable_items[-1]
    at = QPointF(sheet.plan.x(last.x_mm), sheet.plan.y(last.y_mm))
    mouse(view, QEvent.Type.MouseMove, at)
    QApplication.sendEvent(
        view,
        QMouseEvent(
            QEvent.Type.MouseMove,
            at,
            view.mapToGlobal(at),
            Qt.MouseButton.NoButton,
            Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier,
        ),
    )
    assert isinstance(view._hand._under, MovableItem)
    mouse(view, QEvent.Type.MouseButtonPress, at)
    mouse(view, QEvent.Type.MouseMove, at + QPointF(120, 90))
    mouse(view, QEvent.Type.MouseButtonRelease, at + QPointF(120, 90))
    now = next(
        one for one in window.bench.layout.sketch.movable_items if (one.kind, one.index) == (last.kind, last.index)
    )
    assert (now.x_mm, now.y_mm) != (last.x_mm, last.y_mm)
    assert view._hand._under is now
    mouse(view, QEvent.Type.MouseMove, at)  # looking again at what was looked at before compares no outlines
    window.bench.document.undo()
    assert (view._hand._under.x_mm, view._hand._under.y_mm) == (last.x_mm, last.y_mm)


def test_pictures_of_a_drag_move_the_drawing_and_leave_the_figures(open_window: Open, qtbot: QtBot) -> None:
    window = open_window(family(tube()))
    at_rest(window, qtbot)
    bench, gesture = window.bench, object()
    pictures: list[float] = []
    bench.seen.connect(lambda result: pictures.append(result.evaluation.design.build.diameter_mm))
    for step in range(1, 40):
        bench.drag("Diameter", lambda what, _, mm=30.0 + 0.05 * step: edits.with_build(what, diameter_mm=mm), gesture)
        qtbot.wait(20)
        if len(pictures) > 2:
            break
    assert pictures
    seen = max(pictures[-1], bench.result.evaluation.design.build.diameter_mm)
    bench.drag("Diameter", lambda what, _: edits.with_build(what, diameter_mm=33.0), gesture)
    scene = window.drawing.scene
    assert scene is not None
    assert scene.evaluation is not None
    assert (
        scene.evaluation.design.build.diameter_mm == seen
    )  # until the next picture comes, not what was read before it
    assert window.findings.stale
    assert bench.result is not None
    assert bench.result.findings  # a picture has none, and takes none away
    at_rest(window, qtbot)
    assert bench.exact is not None
    assert not window.findings.stale


@pytest.mark.parametrize(("soon_s", "first"), [(math.inf, AT_REST), (0.0, WHILE_DRAGGING)])
def test_an_edit_is_lit_exactly_at_once_where_that_is_quick_and_coarsely_first_where_not_or_in_a_row(
    open_window: Open, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, soon_s: float, first: Detail
) -> None:
    monkeypatch.setattr(workbench, "SOON_S", soon_s)
    window = open_window(family(cells()))
    at_rest(window, qtbot)
    asked: list[Detail] = []
    light = window.bench.solving.light
    monkeypatch.setattr(
        window.bench.solving,
        "light",
        lambda document, request: (asked.append(request.detail), light(document, request)),
    )

    def deeper(by_mm: float) -> None:
        build = window.bench.design.build
        changed = replace_struct(build, depth_mm=build.depth_mm + by_mm)  # a light that is kept would come at once
        window.bench.edit("Depth", lambda design, _layout: replace_struct(design, build=changed))

    step_mm = 1.0 if first == AT_REST else 1.3
    deeper(step_mm)
    assert asked == [first]
    deeper(step_mm)  # before the first was lit
    assert asked[-1] == WHILE_DRAGGING
    at_rest(window, qtbot)
    assert asked[-1] == AT_REST
    asked.clear()
    deeper(step_mm)
    assert asked == [first]
    replace(window, family(cells(depth_mm=24.0)))  # of another document it is not known how long it takes
    assert asked[-1] == WHILE_DRAGGING
    at_rest(window, qtbot)


def test_the_title_of_a_face_that_grows_under_the_hand_stays_above_it(
    open_window: Open, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A tube's unrolled face outgrows the view that it was laid out for; its title must not lie on it."""
    window = open_window(family(tube()))
    view = window.drawing
    before, laid_out = view.scene.evaluation.y_mm[-1], view.sheet.face.rect
    start = grip_point(window, "wall of the tube")
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    for step in range(1, 8):
        qtbot.mouseMove(view, start + QPoint(4 * step, -4 * step))
    qtbot.waitUntil(lambda: view.scene.evaluation.y_mm[-1] > before + 5.0, timeout=PATIENCE_MS)
    tops: list[float] = []
    title = painter._title
    monkeypatch.setattr(
        painter,
        "_title",
        lambda at, rect, theme, words, *rest: (
            tops.append(rect.y) if "cd/m²" in words else None,
            title(at, rect, theme, words, *rest),
        ),
    )
    view.repaint()
    high = face_range_mm(view.scene.evaluation.x_mm, view.scene.evaluation.y_mm)
    face = view.sheet.face
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=start)
    assert tops == [pytest.approx(face.y(high[1] + high[3]))]
    assert tops[0] < laid_out.y - 5.0  # so it would have been on the face where the view began
    assert face.rect.height > laid_out.height + 5.0  # and so the mark of the cut stays at its line
