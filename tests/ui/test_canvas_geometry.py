import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design import Design
from gauze.core.evaluate import lay_out
from gauze.core.layout import LightBox
from gauze.core.units import LengthUnit
from gauze.ui.canvas.dimensions import dimension_at, dimensions, grip_at, grips
from gauze.ui.canvas.geometry import fit_view, panned, zoomed
from gauze.ui.canvas.stops import stop_name, tab_stops
from tests.builders import CATALOGUE, design, designs


def box(width: float = 600, height: float = 400, depth: float = 32) -> LightBox:
    return LightBox(width, height, depth, 0.8, 0.8, 0.4)


@given(st.floats(20, 5000), st.floats(20, 5000), st.floats(2, 1500), st.floats(400, 3800), st.floats(400, 2100))
def test_any_design_fits_on_any_canvas(width: float, height: float, depth: float, wide: float, high: float) -> None:
    view = fit_view(wide, high, box(width, height, depth))
    plan, cut = view.plan, view.cut
    assert plan.x >= 0
    assert plan.y >= 0
    assert plan.right <= view.width
    assert plan.bottom <= view.cut_top
    assert cut.y >= view.cut_top
    assert cut.bottom <= view.height
    assert (cut.x, cut.width) == (plan.x, plan.width)  # they share their horizontal scale


@given(st.floats(-100, 700), st.floats(-100, 500))
def test_places_go_to_pixels_and_back(x_mm: float, y_mm: float) -> None:
    view = zoomed(fit_view(900, 700, box()), fit_view(900, 700, box()), 1.7, 300, 200)
    assert view.x_mm(view.x(x_mm)) == pytest.approx(x_mm, abs=1e-9)
    assert view.y_mm(view.y(y_mm)) == pytest.approx(y_mm, abs=1e-9)
    assert view.z_mm(view.z(y_mm)) == pytest.approx(y_mm, abs=1e-9)
    assert view.y(10) > view.y(20)  # up is up


def test_zoom_keeps_the_point_under_the_pointer_and_has_bounds() -> None:
    fitted = fit_view(900, 700, box())
    near = zoomed(fitted, fitted, 3.0, 300, 200)
    assert near.x_mm(300) == pytest.approx(fitted.x_mm(300))
    assert near.y_mm(200) == pytest.approx(fitted.y_mm(200))
    assert zoomed(fitted, fitted, 1e9, 0, 0).scale == pytest.approx(40 * fitted.scale)
    assert zoomed(fitted, fitted, 1e-9, 0, 0).scale == pytest.approx(0.2 * fitted.scale)
    moved = panned(fitted, 10, 20)
    assert (moved.left - fitted.left, moved.plan_bottom - fitted.plan_bottom) == (10, 20)


@given(designs())
def test_every_dimension_can_be_read_and_hit(candidate: Design) -> None:
    laid = lay_out(candidate, CATALOGUE)
    view = fit_view(880, 700, laid.box)
    found = dimensions(view, candidate, laid, LengthUnit.MM, lambda text: 7.0 * len(text))
    keys = [dimension.key for dimension in found]
    assert len(set(keys)) == len(keys)
    assert {
        "face_width",
        "face_height",
        "depth",
        "inner_depth",
        "side_margin",
        "end_margin",
        "row_count",
        "shift",
    } <= set(keys)
    assert ("spacing" in keys) == (len(laid.rows) > 1)
    for dimension in found:
        rect = dimension.text_rect
        assert rect.x >= 0
        assert rect.y >= 0
        assert rect.right <= view.width
        assert rect.bottom <= view.height
        assert dimension.text
        assert stop_name(dimension)


def test_grips_are_found_where_they_are_drawn() -> None:
    laid = lay_out(design(), CATALOGUE)
    view = fit_view(880, 700, laid.box)
    found = grips(view, laid, 0.5, 200.0)
    seam_x = view.plan.x + view.plan.width / 2
    assert grip_at(found, seam_x, view.plan.y - 10).kind == "seam"
    assert grip_at(found, view.plan.x + 100, view.cut.y - 2).kind == "lid"
    row = grip_at(found, view.plan.x + 40, view.y(laid.rows[3].across_mm))
    assert (row.kind, row.index) == ("row", 3)
    assert grip_at(found, view.plan.x + 6, view.y(200.0)).kind == "cut"
    assert grip_at(found, 2, 2) is None
    assert [stop.kind for stop in tab_stops([], found)] == ["lid", "seam", "cut", "row"]
    shown = dimensions(view, design(), laid, LengthUnit.INCH, lambda text: 7.0 * len(text))
    assert all("in" in d.text for d in shown if d.key in {"depth", "face_width"})
    depth = next(d for d in shown if d.key == "depth")
    middle = (depth.text_rect.x + depth.text_rect.width / 2, depth.text_rect.y + 5)
    assert dimension_at(shown, *middle) == depth
