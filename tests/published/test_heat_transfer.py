"""Convection and radiation against worked examples and closed forms.

Incropera & DeWitt, Fundamentals of Heat and Mass Transfer (6th edition, chapter 9, from memory). Example 9.2, a glass door of a
fireplace, 0.71 m high and 1.02 m wide, at 232 degC in a room of 23 degC: Ra = 1.813e9, Nu = 147, h = 7.0 W/(m^2 K), 1060 W.
Example 9.3, a duct 0.75 m wide and 0.3 m high at 45 degC in air of 15 degC: h = 4.23 at its sides, 5.47 on top, 2.07 below,
246 W per metre. Example 9.4, a steam pipe of 0.1 m at 165 degC in air of 23 degC: Ra = 5.073e6, Nu = 23.3, h = 7.29.
"""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.optics.colour import band_efficacy_lm_w
from gauze.core.thermal.body import Body, Stance, warmth_of
from gauze.core.thermal.convection import (
    Air,
    convection_w_m2_k,
    cylinder_nusselt,
    cylinder_w_m2_k,
    gap_w_m2_k,
    opposite_emissivity,
    radiation_w_m2_k,
    rise_of_strip_k,
    upright_nusselt,
    vent_w_k,
)

K = 273.15


def test_the_glass_door_of_a_fireplace() -> None:
    air = Air.at((232 + 23) / 2 + K)
    rayleigh = air.rayleigh(232 - 23, 0.71)
    assert rayleigh == pytest.approx(1.813e9, rel=0.01)
    assert upright_nusselt(rayleigh, air.prandtl) == pytest.approx(147, rel=0.01)
    h = convection_w_m2_k(232 + K, 23 + K, "upright", 0.71)
    assert h == pytest.approx(7.0, rel=0.01)
    assert h * 1.02 * 0.71 * (232 - 23) == pytest.approx(1060, rel=0.01)


def test_the_sides_the_top_and_the_bottom_of_a_duct() -> None:
    span_m = 0.75 / 2  # of a long strip of a plate: area over rim
    side, top, bottom = (
        convection_w_m2_k(45 + K, 15 + K, facing, length)
        for facing, length in (("upright", 0.3), ("up", span_m), ("down", span_m))
    )
    assert side == pytest.approx(4.23, rel=0.01)
    assert top == pytest.approx(5.47, rel=0.01)
    assert bottom == pytest.approx(2.07, rel=0.01)
    assert (2 * side * 0.3 + (top + bottom) * 0.75) * 30 == pytest.approx(246, rel=0.01)


def test_a_steam_pipe() -> None:
    air = Air.at((165 + 23) / 2 + K)
    rayleigh = air.rayleigh(165 - 23, 0.1)
    assert rayleigh == pytest.approx(5.073e6, rel=0.02)
    assert cylinder_nusselt(rayleigh, air.prandtl) == pytest.approx(23.3, rel=0.01)
    assert cylinder_w_m2_k(165 + K, 23 + K, 0.1) == pytest.approx(7.29, rel=0.015)


def test_radiation_is_the_difference_of_fourth_powers() -> None:
    """Stefan and Boltzmann: 5.670e-8 W/(m^2 K^4); two wide faces of 0.9 exchange 0.818 of it."""
    assert radiation_w_m2_k(350.0, 300.0, 1.0) * 50.0 == pytest.approx(5.670e-8 * (350.0**4 - 300.0**4))
    assert opposite_emissivity(0.9, 0.9) == pytest.approx(0.8182, abs=1e-4)


def test_a_gap_that_is_warm_above_only_conducts() -> None:
    """Air of 300 K conducts 0.0263 W/(m K)."""
    assert gap_w_m2_k(305.0, 295.0, 0.02, 0.3, "down") == pytest.approx(0.0263 / 0.02, rel=0.01)
    assert gap_w_m2_k(305.0, 295.0, 0.02, 0.3, "up") > gap_w_m2_k(305.0, 295.0, 0.02, 0.3, "down")


def test_a_strip_on_a_sheet_is_the_fin_equation() -> None:
    """On a sheet that conducts perfectly, the mean; on a wide one, that of two endless fins: q' = 2 sqrt(h k t) rise."""
    q, w, half, h = 10.0, 0.008, 0.02, 12.0
    assert rise_of_strip_k(q, w, half, (1e6, 1.0), h) == pytest.approx(q / (h * (w + 2 * half)), rel=1e-6)
    endless = q / (2 * math.sqrt(h * 0.13 * 0.006))
    assert rise_of_strip_k(q, 0.0, 10.0, (0.13, 0.006), h) == pytest.approx(endless, rel=1e-9)
    rises = [rise_of_strip_k(q, w, half, (k, 0.003), h) for k in (0.1, 1.0, 10.0, 200.0)]
    assert rises == sorted(rises, reverse=True)


def test_lumens_in_a_watt_are_those_of_the_observer() -> None:
    """CIE: 683 lm/W at 555 nm; V(622 nm) = 0.36, V(467 nm) = 0.08, to a few hundredths."""
    assert band_efficacy_lm_w(555.0, 5.0) == pytest.approx(683.0, rel=0.01)
    assert band_efficacy_lm_w(622.0, 5.0) == pytest.approx(683 * 0.36, rel=0.05)
    assert band_efficacy_lm_w(467.0, 5.0) == pytest.approx(683 * 0.08, rel=0.1)


BODIES = st.builds(
    Body,
    watts=st.floats(0.1, 300.0),
    back_m2=st.floats(0.0, 2.0),
    inside_m2=st.floats(0.01, 2.0),
    lid_m2=st.floats(0.01, 2.0),
    wall_m2=st.floats(0.0, 0.5),
    gap_m=st.floats(0.005, 0.2),
    height_m=st.floats(0.02, 2.0),
    span_m=st.floats(0.01, 0.5),
    back_r=st.floats(0.0, 0.1),
    lid_r=st.floats(0.0, 0.05),
    sink_w_k=st.floats(0.0, 5.0),
    vent_m2=st.floats(0.0, 0.05),
    stack_m=st.floats(0.0, 2.0),
)


@given(BODIES, st.floats(-20, 45), st.sampled_from(["upright", "face_up", "face_down"]))
def test_what_comes_in_goes_out_and_more_watts_are_warmer(body: Body, ambient_c: float, stance: Stance) -> None:
    found = warmth_of(body, ambient_c, stance)
    assert (
        found.back_w + found.lid_w + found.vent_w == pytest.approx(body.watts, rel=2e-3)
        or found.back_c > ambient_c + 590
    )
    assert found.back_c + 1e-6 >= found.inside_c >= found.lid_c - 1e-6 >= ambient_c - 2e-6
    assert found.back_outside_c <= found.back_c + 1e-6
    more = Body(**{name: getattr(body, name) for name in Body.__dataclass_fields__} | {"watts": body.watts * 1.5})
    assert warmth_of(more, ambient_c, stance).back_c >= found.back_c


@given(st.floats(300.0, 350.0), st.floats(1e-4, 0.1), st.floats(0.05, 3.0))
def test_air_through_two_openings_balances_the_pressure_of_the_warm_column(
    inside_k: float, area_m2: float, height_m: float
) -> None:
    """Bernoulli at each opening, a neutral level between: what comes in below, by weight, leaves above; sought here by bisection.

    Densities are nearly alike, so the textbook's form with half of the column at each opening is within a tenth.
    """
    room_k = 293.0
    cold, warm = 353.0 / room_k, 353.0 / inside_k

    def into(level_m: float) -> tuple[float, float]:
        column = (cold - warm) * 9.81
        below = 0.6 * area_m2 * math.sqrt(2.0 * column * level_m / cold) * cold
        above = 0.6 * area_m2 * math.sqrt(2.0 * column * (height_m - level_m) / warm) * warm
        return below, above

    low, high = 0.0, height_m
    for _ in range(60):
        middle = (low + high) / 2.0
        below, above = into(middle)
        low, high = (middle, high) if below < above else (low, middle)
    kilograms_s = into(low)[0]
    assert vent_w_k(inside_k, room_k, area_m2, height_m) == pytest.approx(kilograms_s * 1006.0, rel=0.1)


@given(BODIES, st.floats(1e-4, 0.05))
def test_wider_vents_and_a_taller_stack_never_warm_it(body: Body, more_m2: float) -> None:
    known = {name: getattr(body, name) for name in Body.__dataclass_fields__}
    before = warmth_of(body, 20.0, "upright").back_c
    assert warmth_of(Body(**known | {"vent_m2": body.vent_m2 + more_m2}), 20.0, "upright").back_c <= before + 1e-3
    assert warmth_of(Body(**known | {"stack_m": body.stack_m + 0.5}), 20.0, "upright").back_c <= before + 1e-3
