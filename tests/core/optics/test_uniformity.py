"""Sampled uniformity on maps whose answer is known."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.optics.uniformity import FaceView, field_mm, uniformity_of

ONE = np.array([1.0])


def measured(luminance: np.ndarray, field: float = 1.0, **changes: object) -> tuple[float, float]:
    inside = changes.pop("inside", np.ones(luminance.shape, bool))
    found = uniformity_of([FaceView(luminance, inside, (1.0, 1.0), **changes)], ONE, field)
    assert found is not None
    return found.least_over_most, found.rim_mm


def test_an_even_face_is_even_and_has_no_dim_rim() -> None:
    assert measured(np.full((60, 100), 7.0)) == (pytest.approx(1.0), 0.0)


def test_one_dark_corner_does_not_condemn_a_face() -> None:
    face = np.full((60, 100), 7.0)
    face[:5, :5] = 0.5
    assert measured(face) == (pytest.approx(1.0), 0.0)


def test_a_dim_band_along_one_wall_is_measured_and_told_apart() -> None:
    face = np.full((100, 100), 10.0)
    face[:8] = 4.0
    even, rim_mm = measured(face)
    assert even == pytest.approx(1.0)
    assert rim_mm == pytest.approx(8.0, abs=0.5)


def test_a_slope_is_read_between_the_outer_places() -> None:
    ramp = np.linspace(1.0, 3.0, 200)[None, :].repeat(200, axis=0)
    even, _ = measured(ramp)
    assert even == pytest.approx(1.2 / 2.8, rel=0.02)  # a tenth of the way in from either side


def test_a_ripple_within_the_field_does_not_count() -> None:
    x = np.arange(200.0)
    face = (10.0 + 3.0 * np.sin(2 * np.pi * x / 20.0))[None, :].repeat(200, axis=0)
    assert measured(face)[0] < 0.6
    assert measured(face, field=20.0)[0] > 0.97


def test_a_long_face_is_judged_along_its_length_only() -> None:
    across = np.array([2.0, 8.0, 10.0, 10.0, 8.0, 2.0])[:, None]
    along = np.ones(400)
    along[:30] = 0.3
    even, rim_mm = measured(across * along, looks="length")
    assert even == pytest.approx(1.0)
    assert rim_mm == pytest.approx(30.0, abs=1.0)


def test_a_round_face_is_read_within_its_outline() -> None:
    x, y = np.meshgrid(np.arange(101.0) - 50, np.arange(101.0) - 50)
    radius = np.hypot(x, y)
    face = np.where(radius <= 50, 10.0 - 0.1 * radius, 99.0)
    even, rim_mm = measured(face, inside=radius <= 50)
    assert even == pytest.approx(6.0 / 10.0, rel=0.03)  # 40 of 50 from the middle
    assert rim_mm == 0.0


def test_shells_have_no_rim() -> None:
    face = np.full((50, 50), 10.0)
    face[:6] = 1.0
    assert measured(face, looks="shell")[1] == 0.0


def test_the_worst_of_several_faces_counts_and_how_they_differ() -> None:
    good, ramp = np.full((50, 50), 5.0), np.linspace(1.0, 3.0, 50)[None, :].repeat(50, axis=0)
    views = [FaceView(one, np.ones((50, 50), bool), (1.0, 1.0)) for one in (good, ramp)]
    found = uniformity_of(views, np.array([5.0, 2.0]), 1.0)
    assert found is not None
    assert found.least_over_most < 0.5
    assert found.from_face_to_face == pytest.approx(0.4)


def test_a_dark_face_has_none() -> None:
    assert uniformity_of([FaceView(np.zeros((9, 9)), np.ones((9, 9), bool), (1.0, 1.0))], np.zeros(1), 1.0) is None


@given(st.floats(100.0, 50_000.0), st.floats(0.0, 500.0))
def test_the_field_is_a_degree_and_no_less_than_the_ripple(viewing_mm: float, ripple_mm: float) -> None:
    found = field_mm(viewing_mm, ripple_mm)
    assert found >= ripple_mm
    assert found >= viewing_mm * 0.01745


@given(st.floats(0.1, 1e5), st.integers(8, 60), st.integers(8, 60))
def test_brightness_does_not_change_how_even_a_face_is(scale: float, rows: int, columns: int) -> None:
    face = 1.0 + np.random.default_rng(rows * columns).random((rows, columns))
    assert measured(scale * face, field=3.0) == pytest.approx(measured(face, field=3.0), rel=1e-6)
