"""Where the drawings of a cavity stand: in the window, side by side, to scale."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.layout import Layout
from gauze.core.layout.families.loose import lay_out_loose
from gauze.ui.canvas.geometry import Rect, Window
from gauze.ui.canvas.sheet import face_range_mm, lay_sheet
from tests.builders import CATALOGUE, CAVITIES, emitter, loose

LAYOUTS: dict[str, Layout] = {
    name: lay_out_loose(loose(shape, emitter(*place)), CATALOGUE) for name, (shape, place) in CAVITIES.items()
}
ROUNDING = 1e-6


def apart(one: Rect, other: Rect) -> bool:
    beside = one.x + one.width <= other.x + ROUNDING or other.x + other.width <= one.x + ROUNDING
    return beside or one.bottom <= other.y + ROUNDING or other.bottom <= one.y + ROUNDING


faces = st.tuples(st.floats(-200, 0), st.floats(-200, 0), st.floats(5, 900), st.floats(5, 900))


@given(name=st.sampled_from(sorted(LAYOUTS)), width=st.floats(520, 2600), height=st.floats(400, 1500), face=faces)
def test_the_drawings_stand_in_the_window_and_not_on_each_other(name, width, height, face):
    sheet = lay_sheet(width, height, LAYOUTS[name].sketch, face)
    drawings = [sheet.plan.rect, sheet.face.rect, sheet.cut.rect]
    for rect in drawings:
        assert rect.x >= -ROUNDING
        assert rect.x + rect.width <= width + ROUNDING
        assert rect.y >= 0
        assert rect.bottom <= height + ROUNDING
    for index, one in enumerate(drawings):
        assert all(apart(one, other) for other in drawings[index + 1 :])
        assert apart(one, sheet.profile) or sheet.profile.height <= 1.0 or sheet.profile.width <= 1.0


@given(name=st.sampled_from(sorted(LAYOUTS)), width=st.floats(520, 2600), height=st.floats(400, 1500))
def test_plan_and_face_share_a_scale(name, width, height):
    layout = LAYOUTS[name]
    sheet = lay_sheet(width, height, layout.sketch, (0.0, 0.0, 80.0, 60.0))
    assert sheet.plan.scale == sheet.face.scale
    size = np.ptp(layout.cavity.surface.plan, axis=0)
    assert sheet.plan.rect.width == pytest.approx(size[0] * sheet.plan.scale)
    assert sheet.plan.rect.height == pytest.approx(size[1] * sheet.plan.scale)


def test_places_lead_to_pixels_and_back():
    window = Window(Rect(30.0, 40.0, 200.0, 100.0), 2.0, -10.0, 5.0)
    assert window.place_mm(window.x(12.5), window.y(33.0)) == pytest.approx((12.5, 33.0))
    assert window.place_mm(10.0, 50.0) is None
    assert window.place_mm(50.0, 500.0) is None
    assert window.x(np.array([-10.0, 90.0])) == pytest.approx([30.0, 230.0])
    assert window.y(np.array([5.0, 55.0])) == pytest.approx([140.0, 40.0])


def test_the_range_of_a_face_goes_to_the_edges_of_its_pixels():
    assert face_range_mm(np.array([1.0, 3.0, 5.0]), np.array([10.0, 14.0])) == pytest.approx((0.0, 8.0, 6.0, 8.0))
