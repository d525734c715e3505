"""A profile is drawn with no more points than pixels, and loses neither a dark spot nor a bright one."""

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays

from gauze.core.evaluate.profile import Profile


def _profile(luminance: np.ndarray) -> Profile:
    return Profile(np.arange(len(luminance), dtype=float), luminance, luminance + 1.0, 0.02, 10.0)


@given(
    st.integers(1, 4000).flatmap(lambda count: arrays(np.float64, count, elements=st.floats(0.0, 1e5))),
    st.integers(1, 600),
)
def test_a_thinned_profile_keeps_its_extremes_in_their_places(luminance: np.ndarray, most: int) -> None:
    whole = _profile(luminance)
    thin = whole.thinned(most)
    assert len(thin.x_mm) <= max(most, 2)
    assert (np.diff(thin.x_mm) > 0).all()
    assert thin.luminance.min() == luminance.min()
    assert thin.luminance.max() == luminance.max()
    places = thin.x_mm.astype(int)
    assert np.array_equal(thin.luminance, luminance[places])
    assert np.array_equal(thin.trend, whole.trend[places])


def test_a_short_profile_stays_as_it_is() -> None:
    whole = _profile(np.array([3.0, 1.0, 2.0]))
    assert whole.thinned(4) is whole


def test_a_single_dark_spot_among_many_points_is_still_drawn() -> None:
    luminance = np.full(50_000, 400.0)
    luminance[31_234] = 20.0
    thin = _profile(luminance).thinned(300)
    assert thin.x_mm[thin.luminance.argmin()] == 31_234


def test_a_line_is_broken_where_no_face_is() -> None:
    x_mm = np.concatenate([np.arange(10.0), np.arange(14.0, 20.0), [40.0]])
    whole = Profile(x_mm, x_mm + 5.0, x_mm, 0.02, 10.0)
    pieces = whole.pieces()
    assert [len(piece.x_mm) for piece in pieces] == [10, 6, 1]
    assert np.array_equal(np.concatenate([piece.luminance for piece in pieces]), whole.luminance)
    assert np.array_equal(np.concatenate([piece.trend for piece in pieces]), whole.trend)
    (alone,) = Profile(*[np.array([3.0])] * 3, 0.0, 0.0).pieces()
    assert alone.x_mm.tolist() == [3.0]
