"""Two whites by two knobs: CIE lightness against its published values, and there and back again."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design import StripChoice
from gauze.core.errors import DesignError
from gauze.core.evaluate import WHILE_DRAGGING, evaluate
from gauze.core.families import lay_out
from gauze.core.materials import load_catalogue
from gauze.core.optics.colour import uv_1976, white_point
from gauze.core.optics.mixing import STEADY_DELTA_UV, levels_of_mix, mix_of, seen_of, share_of, whites_xyz
from gauze.session.mixing_edits import whites_of, with_mix
from tests.builders import CATALOGUE, design, warm_and_cool

STRIP = load_catalogue().strip("24v-two-white-240")
XYZ = whites_xyz(STRIP)
assert XYZ is not None


@pytest.mark.parametrize(
    ("share", "lightness"), [(1.0, 100.0), (0.1842, 50.0), (0.01126, 10.0), (0.008856, 8.0), (0.0, 0.0)]
)
def test_how_bright_it_looks_is_the_lightness_of_cie_1976(share: float, lightness: float) -> None:
    """CIE 15: L* = 50 at Y / Yn = 0.1842, 8 at 0.008856."""
    assert 100 * seen_of(share) == pytest.approx(lightness, abs=0.02)
    assert share_of(lightness / 100) == pytest.approx(share, abs=1e-4)


@given(st.floats(0.0, 1.0))
def test_there_and_back(seen: float) -> None:
    assert seen_of(share_of(seen)) == pytest.approx(seen, abs=1e-4)


@given(st.floats(2720, 6450), st.floats(0.05, 1.0))
def test_a_white_that_is_set_is_the_white_that_is_made(cct_k: float, seen: float) -> None:
    levels = levels_of_mix(XYZ, cct_k, seen)
    assert levels is not None
    mix = mix_of(XYZ, levels)
    assert mix is not None
    assert mix.cct_k == pytest.approx(cct_k, rel=2e-3)
    assert mix.seen == pytest.approx(seen, abs=1e-3)
    assert mix.range_k == (pytest.approx(2700, rel=2e-3), pytest.approx(6500, rel=2e-3))


def test_below_where_it_is_steady_the_colour_jumps() -> None:
    levels = np.array(levels_of_mix(XYZ, 3000.0, 1.0))
    mix = mix_of(XYZ, tuple(levels))
    assert mix is not None
    wanted = uv_1976(levels @ XYZ)
    for share in np.linspace(mix.steady_from, 1.0, 200):
        off = np.hypot(*(uv_1976(np.round(share * levels * 255) @ XYZ) - wanted))
        assert off <= 1.5 * STEADY_DELTA_UV
    dim = np.round(0.3 * mix.steady_from * levels * 255)
    assert dim.sum() == 0 or np.hypot(*(uv_1976(dim @ XYZ) - wanted)) > STEADY_DELTA_UV


def test_other_whites_other_strips_and_the_dark_have_no_mix() -> None:
    assert levels_of_mix(XYZ, 2000.0, 0.5) is None
    assert mix_of(XYZ, (0.0, 0.0)) is None
    assert whites_xyz(load_catalogue().strip("24v-white-120")) is None
    assert whites_xyz(load_catalogue().strip("24v-rgb-two-white-60")) is None
    what = design(strips=(StripChoice(strip=STRIP.id),))
    with pytest.raises(DesignError, match="not between the two whites"):
        with_mix(what, lay_out(what, CATALOGUE), CATALOGUE, 0, 9000.0, 0.5)
    mixed = with_mix(what, lay_out(what, CATALOGUE), CATALOGUE, 0, 4000.0, 1.0)
    assert max(mixed.strips[0].levels) == 1.0


@pytest.mark.parametrize("cct_k", [3000.0, 4000.0, 5500.0])
def test_two_strips_that_alternate_are_mixed_to_the_white_that_the_engine_finds(cct_k: float) -> None:
    """Rows of both reach the sheet nearly alike: the white of the whole is what was set, to what their places make of it."""
    what = design(strips=warm_and_cool())
    mixed = with_mix(what, lay_out(what, CATALOGUE), CATALOGUE, None, cct_k, 0.7)
    whites = whites_of(mixed, lay_out(mixed, CATALOGUE), CATALOGUE, None)
    assert whites is not None
    assert whites.mix is not None
    assert whites.mix.cct_k == pytest.approx(cct_k, rel=2e-3)
    assert whites.mix.seen == pytest.approx(0.7, abs=2e-3)
    found = white_point(evaluate(mixed, CATALOGUE, WHILE_DRAGGING).xyz.reshape(3, -1).mean(axis=1))
    assert found is not None
    assert found.cct_k == pytest.approx(cct_k, rel=0.03)


def test_strips_that_are_no_two_whites_have_no_knobs() -> None:
    same = design(strips=(warm_and_cool()[0],) * 2)
    colours = design(strips=(StripChoice(strip="24v-rgb-two-white-60"), warm_and_cool()[0]))
    for what in (same, colours, design()):
        assert whites_of(what, lay_out(what, CATALOGUE), CATALOGUE, None) is None
    what = design(strips=warm_and_cool())
    with pytest.raises(DesignError, match="whites of the two strips"):
        with_mix(what, lay_out(what, CATALOGUE), CATALOGUE, None, 12_000.0, 0.5)
