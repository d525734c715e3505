"""The sheet of views: packed on any canvas, every dimension read and hit, what is taken hold of where it is drawn."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design import Design
from gauze.core.families import lay_out
from gauze.core.formats.design_file import decode_design
from gauze.core.layout.sketch import Sketch
from gauze.core.units import LengthUnit
from gauze.demo import DEMOS, Demo
from gauze.ui.canvas.dimensions import VIEWING, Dimension, Maker, dimension_at, dimensions_of, main_size
from gauze.ui.canvas.geometry import Rect
from gauze.ui.canvas.hand.hold import detail_frame, handle_at, line_rects, line_share, with_line
from gauze.ui.canvas.hand.stops import stops_of, tell_stop
from gauze.ui.canvas.sheet import VIEWS, Sheet, lay_sheet
from gauze.ui.view_state import ViewState
from tests.builders import CATALOGUE, design, designs

CANVAS = (880.0, 700.0)
PANEL_KEYS = {
    "build.face_width_mm",
    "build.face_height_mm",
    "build.depth_mm",
    "inner_depth",
    "build.rows.side_margin_mm",
    "build.end_margin_mm",
    "build.rows.count",
    "build.alternate_shift_mm",
    VIEWING,
}


def sketch_of(what: Design) -> Sketch:
    return lay_out(what, CATALOGUE).sketch


def dimensions(sheet: Sheet, sketch: Sketch, unit: LengthUnit = LengthUnit.MM) -> list[Dimension]:
    return dimensions_of(Maker(*CANVAS, unit, lambda text: 7.0 * len(text)), sheet, sketch, 2000.0)


def apart(one: Rect, other: Rect) -> bool:
    beside = one.right <= other.x + 1e-6 or other.right <= one.x + 1e-6
    return beside or one.bottom <= other.y + 1e-6 or other.bottom <= one.y + 1e-6


@given(designs(), st.floats(520, 3800), st.floats(400, 2100))
def test_any_panel_is_packed_on_any_canvas(candidate: Design, width: float, height: float) -> None:
    sketch = sketch_of(candidate)
    sheet = lay_sheet(width, height, sketch, sketch.plan_mm)
    for rect in (sheet.plan.rect, sheet.cut.rect):
        assert rect.x >= 0
        assert rect.y >= 0
        assert rect.right <= width
        assert rect.bottom <= height
    assert apart(sheet.plan.rect, sheet.cut.rect)
    assert apart(sheet.plan.rect, sheet.profile)
    assert apart(sheet.cut.rect, sheet.profile)


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.key)
@pytest.mark.parametrize("size", [(880.0, 690.0), (2160.0, 1330.0)])
def test_the_views_of_every_demo_use_the_room(demo: Demo, size: tuple[float, float]) -> None:
    """With their titles, dimensions and scales the views lie over most of the canvas."""
    sketch = sketch_of(decode_design(demo.read(), CATALOGUE))
    sheet = lay_sheet(*size, sketch, sketch.plan_mm)
    rects = [sheet.plan.rect, sheet.cut.rect, sheet.profile, sheet.face.rect]
    rects += [sheet.detail.rect] if sheet.detail is not None else []
    low = (min(rect.x for rect in rects), min(rect.y for rect in rects))
    high = (max(rect.right for rect in rects), max(rect.bottom for rect in rects))
    assert (high[0] - low[0]) * (high[1] - low[1]) > 0.45 * size[0] * size[1]
    assert high[1] - low[1] > 0.6 * size[1]


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.key)
@pytest.mark.parametrize("view", VIEWS)
def test_a_view_by_itself_has_the_whole_canvas(demo: Demo, view: str) -> None:
    sketch = sketch_of(decode_design(demo.read(), CATALOGUE))
    sheet = lay_sheet(*CANVAS, sketch, sketch.plan_mm, view)
    assert sheet.shows(view)
    rect = {"plan": sheet.plan.rect, "face": sheet.face.rect, "cut": sheet.cut.rect, "profile": sheet.profile}[view]
    assert rect.x >= 0
    assert rect.right <= CANVAS[0]
    assert rect.bottom <= CANVAS[1]
    assert rect.width > 0.5 * CANVAS[0] or rect.height > 0.5 * CANVAS[1]
    hidden = (
        {"plan", "face", "cut", "profile"} - {view} - ({"plan", "face"} if sketch.seam and view != "cut" else set())
    )
    assert not any(sheet.shows(other) for other in hidden if view in {"cut", "profile"})
    shown = dimensions(sheet, sketch)
    assert all(d.key != VIEWING for d in shown) == (view != "profile")


def test_a_title_leads_to_its_view() -> None:
    sketch = sketch_of(design())
    sheet = lay_sheet(*CANVAS, sketch, sketch.plan_mm)
    assert sheet.title_at(sheet.plan.rect.x + 20, sheet.plan.rect.y - 10) == "plan"
    assert sheet.title_at(sheet.cut.rect.x + 20, sheet.cut.rect.y - 10) == "cut"
    assert sheet.title_at(sheet.profile.x + 20, sheet.profile.y - 10) == "profile"
    assert sheet.title_at(1.0, CANVAS[1] - 1.0) is None


def test_a_long_thin_build_gets_a_magnified_part_that_can_be_moved() -> None:
    bars = next(demo for demo in DEMOS if demo.key == "press_bars")
    sketch = sketch_of(decode_design(bars.read(), CATALOGUE))
    sheet = lay_sheet(*CANVAS, sketch, sketch.plan_mm, detail_share=0.0)
    assert sheet.detail is not None
    assert sheet.detail.scale > 4.0 * sheet.plan.scale
    assert detail_frame(sheet.plan, sheet.detail).x == pytest.approx(sheet.plan.rect.x)
    last = lay_sheet(*CANVAS, sketch, sketch.plan_mm, detail_share=1.0)
    assert last.detail is not None
    assert detail_frame(last.plan, last.detail).right == pytest.approx(last.plan.rect.right)
    assert line_share(sheet, "detail", sheet.plan.rect.right, sheet.plan.rect.y) == 1.0
    assert lay_sheet(*CANVAS, sketch_of(design()), sketch_of(design()).plan_mm).detail is None


@given(designs())
def test_every_dimension_can_be_read_and_hit(candidate: Design) -> None:
    sketch = sketch_of(candidate)
    sheet = lay_sheet(*CANVAS, sketch, sketch.plan_mm)
    found = dimensions(sheet, sketch)
    keys = [dimension.key for dimension in found]
    assert len(set(keys)) == len(keys)
    assert set(keys) >= PANEL_KEYS
    for dimension in found:
        rect = dimension.text_rect
        assert rect.x >= 0
        assert rect.y >= 0
        assert rect.right <= CANVAS[0]
        assert rect.bottom <= CANVAS[1]
        assert dimension.text
        assert dimension.value_text
        assert tell_stop(dimension)


def test_grips_are_found_where_they_are_drawn() -> None:
    layout = lay_out(design(), CATALOGUE)
    sketch = layout.sketch
    sheet = lay_sheet(*CANVAS, sketch, sketch.plan_mm)
    lines = line_rects(sheet, 0.5, 0.5, has_seam=True)
    plan = sheet.plan
    assert lines["seam"].contains(plan.x(300.0), plan.rect.y - 10)
    assert lines["cut"].contains(plan.rect.x + 6, plan.y(200.0))
    lid = handle_at(sheet, sketch, sheet.cut.rect.x + 100, sheet.cut.rect.y - 2)
    assert lid is not None
    assert str(lid.name) == "the sheet"
    row = handle_at(sheet, sketch, plan.rect.x + 40, plan.y(layout.strips[3].start_mm[1]))
    assert row is not None
    assert str(row.name) == "row 4"
    assert handle_at(sheet, sketch, 2, 2) is None
    stops = [stop if isinstance(stop, str) else str(stop.name) for stop in stops_of([], sketch, sheet, has_seam=True)]
    assert stops == ["the sheet", "right wall", "upper wall", "row 11", "seam", "cut"]
    shown = dimensions(sheet, sketch, LengthUnit.INCH)
    assert all("in" in d.text for d in shown if d.key in {"build.depth_mm", "build.face_width_mm"})
    depth = next(d for d in shown if d.key == "build.depth_mm")
    middle = (depth.text_rect.x + depth.text_rect.width / 2, depth.text_rect.y + 5)
    assert dimension_at(shown, *middle) == depth


@pytest.mark.parametrize("demo", DEMOS, ids=lambda demo: demo.key)
def test_depth_width_and_viewing_distance_have_a_key_in_every_family(demo: Demo) -> None:
    sketch = sketch_of(decode_design(demo.read(), CATALOGUE))
    found = dimensions(lay_sheet(*CANVAS, sketch, sketch.plan_mm), sketch)
    assert main_size(found, "viewing_distance") is not None
    assert main_size(found, "depth") is not None or demo.key == "harbour_sign"


def test_lines_are_put_into_the_state() -> None:
    state = ViewState()
    assert with_line(state, "seam", 0.1).seam_share == 0.1
    assert with_line(state, "cut", 0.2).cut_share == 0.2
    assert with_line(state, "detail", 0.3).detail_share == 0.3
