"""The drawing of builds as plain figures: dimensions on the canvas, what is under a point, where a drag leads."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QSize
from scipy.ndimage import binary_dilation, binary_erosion

from gauze.core.design.build import FamilyBuild
from gauze.core.design.channel_bar import Bar
from gauze.core.design.tile_wall import Tile
from gauze.core.evaluate import Detail, GroupFaceLight, evaluate
from gauze.core.families import lay_out
from gauze.core.layout import Layout
from gauze.core.layout.sketch import Handle, Measure, MovableItem, Sketch
from gauze.core.units import LengthUnit
from gauze.session.build_edits import with_dragged
from gauze.ui.canvas.dimensions import VIEWING, Dimension, Maker, dimensions_of
from gauze.ui.canvas.geometry import Rect, Window
from gauze.ui.canvas.hand.hold import dragged_value, handle_at, handle_rect, item_at
from gauze.ui.canvas.paint.dots import dots_in_plan, dots_of
from gauze.ui.canvas.paint.lit_faces import face_alone, following
from gauze.ui.canvas.paint.paint_views import faces_path, to_pixels
from gauze.ui.canvas.sheet import Sheet, lay_sheet
from gauze.ui.panels.versions import value_text
from tests.builders import CATALOGUE
from tests.families import FAMILIES, bars, edge_lit, family, frame, strip_display, tiles

LAYOUTS: dict[str, Layout] = {}
for _name, _build in FAMILIES.items():
    _layout = lay_out(family(_build), CATALOGUE)
    assert isinstance(_layout, Layout)
    LAYOUTS[_name] = _layout

names = st.sampled_from(sorted(LAYOUTS))
widths, heights = st.floats(560, 2400), st.floats(420, 1500)


def dimensions(sheet: Sheet, sketch: Sketch, size: tuple[float, float], unit: LengthUnit) -> list[Dimension]:
    return dimensions_of(Maker(*size, unit, lambda text: 7.0 * len(text)), sheet, sketch, 2000.0)


def sheet_of(name: str, width: float, height: float) -> Sheet:
    sketch = LAYOUTS[name].sketch
    return lay_sheet(width, height, sketch, sketch.plan_mm)


@given(names, widths, heights)
def test_every_text_stands_on_the_canvas(name: str, width: float, height: float) -> None:
    sheet = sheet_of(name, width, height)
    found = dimensions(sheet, LAYOUTS[name].sketch, (width, height), LengthUnit.MM)
    assert len(found) == len(LAYOUTS[name].sketch.measures) + 1  # and the viewing distance
    for dimension in found:
        rect = dimension.text_rect
        assert rect.x >= 0
        assert rect.right <= width
        assert rect.y >= 0
        assert rect.bottom <= height
        assert dimension.text


@given(names, widths, heights)
def test_a_seam_lies_over_the_plan_and_else_the_face_stands_apart(name: str, width: float, height: float) -> None:
    sheet = sheet_of(name, width, height)
    assert sheet.seam == LAYOUTS[name].sketch.seam
    if sheet.seam:
        assert sheet.face == sheet.plan
    else:
        assert sheet.face.rect != sheet.plan.rect
    assert sheet.plan.rect.width == pytest.approx(LAYOUTS[name].sketch.plan_mm[2] * sheet.plan.scale)
    assert sheet.cut.rect.height == pytest.approx(LAYOUTS[name].sketch.cut_mm[3] * sheet.cut.scale)


@given(names, st.floats(0.0, 1.0), st.booleans())
def test_a_handle_is_found_all_along_its_line(name: str, share: float, mirrored: bool) -> None:
    sheet = sheet_of(name, 1200.0, 800.0)
    plan = Window(sheet.plan.rect, sheet.plan.scale, sheet.plan.left_mm, sheet.plan.low_mm, mirrored)
    sheet = Sheet(plan, plan if sheet.seam else sheet.face, sheet.cut, sheet.profile, sheet.seam)
    for handle in LAYOUTS[name].sketch.handles:
        window = sheet.window(handle.where)
        a, b = (np.array(place) for place in (handle.start_mm, handle.end_mm))
        x, y = a + share * (b - a)
        found = handle_at(sheet, LAYOUTS[name].sketch, window.x(float(x)), window.y(float(y)))
        assert found is not None
        assert handle_rect(window, found).contains(window.x(float(x)), window.y(float(y)))


@given(st.floats(1, 500), st.floats(-200, 200), st.floats(-200, 200), st.sampled_from([0.5, 1.0, 2.0]))
def test_a_drag_counts_along_its_direction_only(value: float, dx: float, dy: float, gain: float) -> None:
    across = Handle("f", "n", "plan", (0.0, 0.0), (0.0, 1.0), (1.0, 0.0), value, gain)
    assert dragged_value(across, (3.0, 4.0), (3.0 + dx, 4.0 + dy), 2.0) == pytest.approx(
        max(value + gain * dx, 0.1), abs=0.051
    )
    up = Handle("f", "n", "cut", (0.0, 0.0), (1.0, 0.0), (0.0, 1.0), value, gain)
    assert dragged_value(up, (3.0, 4.0), (3.0 + dx, 4.0 + dy), 2.0) == pytest.approx(
        max(value + gain * dy, 0.1), abs=0.051
    )


@given(st.integers(1, 30), st.floats(-3.0, 3.0))
def test_what_is_near_a_cut_mark_is_taken_there(segments: int, beside: float) -> None:
    handle = Handle("f", "n", "plan", (0, 0), (0, 1), (1.0, 0.0), 500.0, 1.0, (30.0, 50.0))
    wanted = 30.0 + 50.0 * segments
    assert dragged_value(handle, (0.0, 0.0), (wanted + beside - 500.0, 0.0), 2.0) == pytest.approx(wanted)


def test_what_is_far_from_a_cut_mark_stays_where_it_is() -> None:
    handle = Handle("f", "n", "plan", (0, 0), (0, 1), (1.0, 0.0), 500.0, 1.0, (30.0, 50.0))
    assert dragged_value(handle, (0.0, 0.0), (5.0, 0.0), 2.0) == pytest.approx(505.0)
    assert dragged_value(handle, (0.0, 0.0), (-468.0, 0.0), 2.0) == pytest.approx(
        32.0
    )  # no segment at all attracts nothing


@pytest.mark.parametrize("kind", ["frame", "tiles", "tube"])
def test_what_attracts_has_room_for_its_last_segment(kind: str) -> None:
    known = family(FAMILIES[kind])
    layout = lay_out(known, CATALOGUE)
    assert isinstance(layout, Layout)
    (handle,) = [one for one in layout.sketch.handles if one.snap is not None]
    assert handle.snap is not None
    offset, step = handle.snap
    wanted = offset + 9 * step
    away = ((wanted - handle.value) / handle.gain + 0.4) * np.array(handle.direction)
    value = dragged_value(handle, (0.0, 0.0), (float(away[0]), float(away[1])), 2.0)
    after = lay_out(with_dragged(known, handle.field, value), CATALOGUE)
    assert isinstance(after, Layout)
    assert {piece.segments for piece in after.strips} == {9}
    assert max(piece.start_gap_mm + piece.end_gap_mm for piece in after.strips) < 0.01


def test_the_topmost_thing_is_found_and_none_beside() -> None:
    layout = lay_out(family(tiles()), CATALOGUE)
    assert isinstance(layout, Layout)
    sheet = lay_sheet(1200.0, 800.0, layout.sketch, layout.sketch.plan_mm)
    plan = sheet.plan
    assert item_at(sheet, layout.sketch.movable_items, plan.x(0.0), plan.y(0.0)) is layout.sketch.movable_items[0]
    assert item_at(sheet, layout.sketch.movable_items, plan.x(200.0), plan.y(0.0)) is None
    corner = layout.sketch.plan_mm  # of the hexagon's box, outside of the hexagon
    assert item_at(sheet, layout.sketch.movable_items, plan.x(corner[0] + 3), plan.y(corner[1] + 3)) is None
    square = np.array([[-5.0, -5.0], [5.0, -5.0], [5.0, 5.0], [-5.0, 5.0]])
    both = (MovableItem("a", 0, "below", 0, 0, square), MovableItem("a", 1, "above", 0, 0, square))
    assert item_at(sheet, both, plan.x(1.0), plan.y(1.0)) is both[1]


@given(st.floats(1, 8), st.floats(0, 800), st.floats(0, 600))
def test_zoom_keeps_the_point_under_the_pointer(factor: float, x: float, y: float) -> None:
    window = Window(Rect(40.0, 50.0, 400.0, 300.0), 2.0, -10.0, 5.0)
    zoomed = window.zoomed(factor, x, y)
    assert zoomed.at_mm(x, y) == pytest.approx(window.at_mm(x, y), abs=1e-6)
    assert zoomed.moved(7.0, -3.0).x(0.0) == pytest.approx(zoomed.x(0.0) + 7.0)


def test_a_held_window_keeps_scale_and_place() -> None:
    window = Window(Rect(40.0, 50.0, 400.0, 300.0), 2.0, -10.0, 5.0)
    held = window.held((-10.0, 5.0, 260.0, 150.0))
    assert held.x(30.0) == pytest.approx(window.x(30.0))
    assert held.y(30.0) == pytest.approx(window.y(30.0))
    assert held.rect.width == pytest.approx(520.0)
    mirrored = Window(window.rect, 2.0, -10.0, 5.0, mirrored=True)
    grown = mirrored.held((-10.0, 5.0, 260.0, 150.0))
    assert grown.x(30.0) == pytest.approx(mirrored.x(30.0))


def test_words_stand_for_counts_and_angles() -> None:
    sketch = Sketch(
        (0, 0, 100, 50),
        (0, 0, 100, 20),
        measures=(
            Measure("a", "Columns", 6.0, "plan", "above", 0, 100, "count", "columns"),
            Measure("b", "Tilt", 12.5, "cut", "right", 0, 20, "angle", "° up"),
            Measure("c", "Depth", 20.0, "cut", "left", 0, 20),
        ),
    )
    sheet = lay_sheet(900.0, 600.0, sketch, (0, 0, 100, 50))
    texts = {d.key: d.text for d in dimensions(sheet, sketch, (900, 600), LengthUnit.MM)}
    assert texts == {"a": "6 columns", "b": "12.5° up", "c": "20 mm", VIEWING: "seen from 2 m"}
    inches = dimensions(sheet, sketch, (900, 600), LengthUnit.INCH)
    assert inches[2].text.endswith("in")


# -- packages ------------------------------------------------------------------------------------------------------------


def test_packages_are_drawn_once_in_the_colour_of_their_channels() -> None:
    layout = lay_out(family(strip_display()), CATALOGUE)
    assert isinstance(layout, Layout)
    dots = dots_of(layout.cavity)
    assert len(dots.places_mm) == 8 * 5
    assert layout.cavity.emitter_count == 3 * 8 * 5
    assert dots_of(layout.cavity) is dots
    assert (dots.colours > 0).all()


def test_dark_packages_are_grey() -> None:
    zones = bars(bars=(Bar(length_mm=100.0, zone=1), Bar(length_mm=100.0, zone=2)))
    layout = lay_out(family(replace(zones, dark_zones=(2,))), CATALOGUE)
    assert isinstance(layout, Layout)
    dots = dots_in_plan(layout)
    dark = dots.places_mm[:, 0] > 100.0  # the second bar begins where the first ends
    assert dark.any()
    assert not dark.all()
    assert (dots.colours[dark] == 110).all()
    assert (dots.colours[~dark, 0] > 150).all()


def test_packages_of_a_frame_are_its_own() -> None:
    layout = lay_out(family(frame(5, 150.0)), CATALOGUE)
    assert isinstance(layout, Layout)
    assert len(dots_in_plan(layout).places_mm) == sum(piece.emitters for piece in layout.strips)


@pytest.mark.parametrize("build", [tiles(*(Tile(sides=6, x_mm=0.0, y_mm=0.0),)), frame(5, 150.0), bars()])
def test_the_outline_of_faces_is_where_they_are_lit(build: FamilyBuild) -> None:
    evaluation = evaluate(family(build), CATALOGUE, Detail(fineness=0.5, most_pixels=16_000, target_points=3))
    assert isinstance(evaluation.light, GroupFaceLight)
    window = Window(Rect(0.0, 0.0, 600.0, 400.0), 1.0, -300.0, -200.0)
    path = to_pixels(window).map(faces_path(evaluation.light.built))
    step = float(evaluation.x_mm[1] - evaluation.x_mm[0])
    x, y = np.meshgrid(evaluation.x_mm, evaluation.y_mm)
    deep, away = (
        binary_erosion(evaluation.inside, np.ones((3, 3))),
        ~binary_dilation(evaluation.inside, np.ones((3, 3))),
    )
    assert deep.any()
    for mask, held in ((deep, True), (away, False)):
        chosen = np.flatnonzero(mask)[:: max(mask.sum() // 400, 1)]
        places = [QPointF(window.x(float(x.flat[i])), window.y(float(y.flat[i]))) for i in chosen]
        assert {path.contains(place) for place in places} <= {held}
    assert path.boundingRect().width() == pytest.approx(evaluation.opening_mm[0], abs=3 * step)


def test_faces_follow_a_drag_that_only_stretches_the_whole() -> None:
    def laid(build: FamilyBuild) -> Layout:
        found = lay_out(family(build), CATALOGUE)
        assert isinstance(found, Layout)
        return found

    pair = (Tile(sides=4, x_mm=10.0, y_mm=20.0), Tile(sides=4, x_mm=100.0, y_mm=20.0))
    wall = tiles(*pair)
    before, larger = laid(wall), laid(wall.with_side_mm(117.0))
    way = following(before, larger)
    assert way is not None
    for old, new in zip(before.instances, larger.instances, strict=True):
        assert way.map(old.x_mm, old.y_mm) == pytest.approx((new.x_mm, new.y_mm))
    assert following(before, before) is None
    assert following(before, laid(tiles(pair[0], Tile(sides=4, x_mm=10.0, y_mm=110.0)))) is None
    assert following(before, laid(tiles(*pair, Tile(sides=4, x_mm=190.0, y_mm=20.0)))) is None
    wide = following(laid(edge_lit()), laid(edge_lit(width_mm=200.0)))
    assert wide is not None
    assert (wide.m11(), wide.m22()) == pytest.approx((200.0 / 160.0, 1.0))
    one, other = (bars(bars=(Bar(length_mm=length), Bar(length_mm=200.0))) for length in (150.0, 250.0))
    assert following(laid(one), laid(other)) is None


@pytest.mark.usefixtures("qapp")
def test_a_face_by_itself_fits_and_is_cut_out() -> None:
    detail = Detail(fineness=0.5, most_pixels=4_000, target_points=3)
    hexagon = evaluate(family(tiles(Tile(sides=6, x_mm=0.0, y_mm=0.0))), CATALOGUE, detail)
    image = face_alone(hexagon, QSize(400, 150))
    assert image.height() == 150
    assert image.width() == pytest.approx(150 * 2 / math.sqrt(3), abs=5)
    assert image.pixelColor(2, 2).alpha() == 0
    assert image.pixelColor(image.width() // 2, 75).alpha() == 255
    board = face_alone(evaluate(family(strip_display()), CATALOGUE, detail), QSize(300, 300))
    assert board.width() == 300
    assert board.pixelColor(1, 1).alpha() == 255


# -- versions --------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("path", "value", "words"),
    [
        ("build.depth_mm", 12.0, "12 mm"),
        ("build.sides", 6, "6"),
        ("build.closed", True, "yes"),
        ("build.closed", False, "no"),
        ("build.baffle", None, "none"),
        ("build.carrier", "flanks", "flanks"),
        ("build.corners_mm[1]", (10.0, 20.0), "10 mm, 20 mm"),
        ("build.show.colour", (1.0, 0.5, 0.25, 0.1, 0.2), "1, 0.5, 0.25, 0.1 …"),
    ],
)
def test_choices_are_written_as_people_read_them(path: str, value: object, words: str) -> None:
    assert value_text(path, value, LengthUnit.MM) == words


def test_a_whole_frame_is_written_by_its_choices() -> None:
    build = frame(6, 120.0)
    assert "sides 6" in value_text("build.frame", build.frame, LengthUnit.MM)
    assert math.isfinite(len(value_text("build.depth_mm", 25.4, LengthUnit.INCH)))


@given(widths, heights, st.floats(20.0, 60.0), st.lists(st.floats(400.0, 1200.0), min_size=1, max_size=4))
def test_a_magnified_part_leaves_room_for_the_title_and_the_dimensions_of_the_cut(
    width: float, height: float, depth_mm: float, lengths_mm: list[float]
) -> None:
    build = bars(depth_mm=depth_mm, bars=tuple(Bar(length_mm=round(one), gap_after_mm=40.0) for one in lengths_mm))
    sketch = lay_out(family(build), CATALOGUE).sketch
    sheet = lay_sheet(width, height, sketch, sketch.plan_mm)
    if sheet.detail is None or sheet.cut.rect.y < sheet.plan.rect.bottom:
        return
    title = 14.0  # a line of text
    above = [
        one.text_rect.y
        for one in dimensions(sheet, sketch, (width, height), LengthUnit.MM)
        if one.text_rect.bottom < sheet.cut.rect.y
    ]
    over_cut = [y for y in above if y > sheet.detail.rect.y]
    assert sheet.detail.rect.bottom <= min([sheet.cut.rect.y, *over_cut]) - title
