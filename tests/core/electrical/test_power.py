"""Volts and amps of builds as they are wired."""

from dataclasses import replace

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gauze.core.design import StripChoice
from gauze.core.design.wiring import Injection, RunSection, Wiring
from gauze.core.electrical.elements import IDLE_A, element_of, idle_curve, in_series
from gauze.core.electrical.network import network_of
from gauze.core.electrical.power import Power, power_of
from gauze.core.electrical.wires import wire_ohm
from gauze.core.families import lay_out, parts_of
from gauze.core.layout.pieces import StripPiece
from tests.builders import CATALOGUE, design
from tests.families import FAMILIES, bars, cells, family, tube

SCHEMES = ("own", "buses", "opposite", "both_ends", "in_a_row", "separate")


def powered(what: object, **choices: object) -> Power:
    layout = lay_out(what, CATALOGUE)
    found = power_of(layout.pieces, parts_of(what, layout, CATALOGUE).joints, Wiring(**choices))
    assert found is not None
    return found


def strip_of(length_mm: float, strip: str = "24v-white-120") -> object:
    return family(
        tube(length_mm=length_mm, strips=(StripChoice(strip=strip, **({"cct_k": 4000.0} if "white" in strip else {})),))
    )


def test_a_short_strip_gives_what_its_label_says() -> None:
    power = powered(strip_of(120.0), lead_mm=0.0, wire_mm2=10.0)
    assert power.least_share == pytest.approx(1.0, abs=1e-3)
    (supply,) = power.supplies
    piece = lay_out(strip_of(120.0), CATALOGUE).pieces[0]
    assert isinstance(piece, StripPiece)
    label_w = piece.strip.power_w_per_m * piece.length_mm / 1000.0
    assert supply.mean_w == pytest.approx(label_w, rel=2e-3)


def test_a_long_strip_drops_by_the_closed_form_of_leds_behind_resistors() -> None:
    """An even line of conductance g along rails of r each way: V0 + (V - V0) cosh(k (L - x)) / cosh(k L), k = sqrt(2 r g)."""
    power = powered(strip_of(4000.0), lead_mm=0.0, wire_mm2=35.0)
    piece = lay_out(strip_of(4000.0), CATALOGUE).pieces[0]
    assert isinstance(piece, StripPiece)
    (curve,) = element_of(piece).curves
    length = piece.length_mm / 1000.0
    per_m = curve.siemens / (piece.strip.segment_mm / 1000.0)
    k = np.sqrt(2.0 * piece.strip.rail_ohm_per_m * per_m)
    x = (np.arange(piece.segments) + 0.5) / piece.segments * length
    expected = curve.zero_v + (24.0 - curve.zero_v) * np.cosh(k * (length - x)) / np.cosh(k * length)
    assert power.pieces[0].volts_v == pytest.approx(expected, abs=4e-3)


def test_the_lead_drops_what_ohms_law_says() -> None:
    lead, section = 3000.0, 0.75
    power = powered(strip_of(1000.0), lead_mm=lead, wire_mm2=section)
    for one in power.wires:
        assert one.drop_v == pytest.approx(one.current_a * wire_ohm(section, lead), rel=1e-6)
        assert one.current_a == pytest.approx(power.supplies[0].peak_a, rel=1e-6)
    assert {one.wire.conductor for one in power.wires} == {"+", "\N{MINUS SIGN}"}


def test_fed_at_both_ends_a_strip_drops_far_less() -> None:
    one, both = (powered(strip_of(3000.0), scheme=scheme, wire_mm2=6.0) for scheme in ("buses", "both_ends"))
    assert 1.0 - both.least_share < 0.6 * (1.0 - one.least_share)


def test_buses_at_opposite_ends_leave_every_row_the_same() -> None:
    same, opposite = (powered(design(), scheme=scheme, wire_mm2=0.25, lead_mm=0.0) for scheme in ("buses", "opposite"))
    spread = [np.ptp([piece.share.mean() for piece in power.pieces]) for power in (same, opposite)]
    assert spread[1] < 0.3 * spread[0]


def test_wires_of_their_own_leave_every_row_its_own() -> None:
    apart = powered(design(), scheme="separate")
    assert len(apart.wires) == 2 * len(apart.pieces)
    assert max(one.current_a for one in apart.wires) == pytest.approx(
        max(p.current_a.sum() for p in apart.pieces), rel=1e-6
    )


@pytest.mark.parametrize("scheme", SCHEMES)
@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_every_family_is_fed_by_every_school(name: str, scheme: str) -> None:
    what = family(FAMILIES[name])
    layout = lay_out(what, CATALOGUE)
    power = power_of(layout.pieces, parts_of(what, layout, CATALOGUE).joints, Wiring(scheme=scheme))
    if power is None:
        assert not layout.pieces
        return
    assert [piece.id for piece in power.pieces] == [piece.id for piece in layout.pieces]
    assert power.residual_a < 1e-6
    given_w = sum(one.terminal_v * one.peak_a for one in power.supplies)
    used_w = sum(float((piece.current_a * piece.volts_v[:, None]).sum()) for piece in power.pieces)
    assert 0.0 < used_w <= given_w * (1 + 1e-6)
    assert all(0.0 <= piece.share.min() <= piece.share.max() <= 1.0 + 1e-6 for piece in power.pieces)


def test_white_turns_pink_where_a_pixel_strip_runs_low() -> None:
    """Blue and green drop out before red."""
    power = powered(strip_of(4000.0, "5v-rgb-pixel-60"), wire_mm2=2.5)
    (piece,) = power.pieces
    red, green, blue = piece.share[piece.volts_v.argmin()]
    assert red > green + 0.05
    assert green == pytest.approx(blue)
    assert piece.share[0] == pytest.approx(1.0)


def test_at_part_level_the_drop_is_that_of_full_current() -> None:
    full = strip_of(2000.0)
    half = msgspec.structs.replace(
        full,
        build=msgspec.structs.replace(full.build, strips=(msgspec.structs.replace(full.strips[0], levels=(0.5,)),)),
    )
    whole, part = powered(full), powered(half)
    assert part.least_share == pytest.approx(whole.least_share)
    assert part.supplies[0].peak_a == pytest.approx(whole.supplies[0].peak_a)
    assert part.supplies[0].mean_w == pytest.approx(0.5 * whole.supplies[0].mean_w)


def test_what_is_off_draws_nothing() -> None:
    dark = bars()
    power = powered(family(msgspec.structs.replace(dark, dark_zones=(1,))))
    assert power.supplies[0].peak_a == pytest.approx(0.0, abs=1e-9)


def test_an_injection_brings_its_place_the_volts_of_the_supply() -> None:
    what = strip_of(4000.0, "5v-rgb-pixel-60")
    layout = lay_out(what, CATALOGUE)
    piece = layout.pieces[0]
    assert isinstance(piece, StripPiece)
    middle = piece.segments // 2
    without = powered(what, wire_mm2=4.0)
    fed = powered(
        what,
        wire_mm2=4.0,
        injections=(Injection(piece=piece.id, after=middle), Injection(piece=piece.id, after=piece.segments)),
    )
    assert fed.pieces[0].volts_v.min() > without.pieces[0].volts_v.min() + 0.3
    assert fed.pieces[0].volts_v[middle] > 4.3
    assert len(fed.wires) == len(without.wires) + 4


@pytest.mark.parametrize("injection", [Injection(piece="nothing", after=0), Injection(piece="strip-1", after=9999)])
def test_an_injection_on_nothing_counts_for_nothing_and_is_told(injection: Injection) -> None:
    power = powered(strip_of(500.0), injections=(injection,))
    assert power.lost == (injection,)
    assert len(power.wires) == len(powered(strip_of(500.0)).wires)
    assert powered(strip_of(500.0)).lost == ()


def test_a_supply_that_is_too_small_sags() -> None:
    power = powered(strip_of(2000.0), supply_w=10.0)
    (supply,) = power.supplies
    assert supply.limited
    assert supply.peak_a == pytest.approx(10.0 / 24.0)
    assert supply.terminal_v < 24.0


@settings(deadline=None, max_examples=25)
@given(st.floats(0.14, 10.0), st.floats(0.0, 5000.0), st.sampled_from(SCHEMES))
def test_thicker_and_shorter_wire_never_makes_it_dimmer(section: float, lead: float, scheme: str) -> None:
    what = design()
    thin = powered(what, scheme=scheme, wire_mm2=section, lead_mm=lead)
    thick = powered(what, scheme=scheme, wire_mm2=2.0 * section, lead_mm=lead / 2.0)
    assert thick.least_share >= thin.least_share - 1e-9


def test_until_wiring_is_chosen_the_usual_wire_carries_what_flows_and_the_light_is_full() -> None:
    what = family(cells())
    layout = lay_out(what, CATALOGUE)
    joints = parts_of(what, layout, CATALOGUE).joints
    network = network_of(layout.pieces, joints, None, CATALOGUE.supply_ratings_w, None)
    assert not network.wired
    assert not network.factors
    chosen = network_of(layout.pieces, joints, network.wiring, CATALOGUE.supply_ratings_w, None)
    assert chosen.wired
    assert chosen.power is not None
    assert network.power is not None
    assert chosen.power.least_share == network.power.least_share


def test_as_many_leds_lie_in_series_as_the_volts_leave_room_for() -> None:
    assert in_series(3.0, 12.0, 9) == 3
    assert in_series(3.0, 24.0, 6) == 6
    assert in_series(3.0, 24.0, 9) == 7
    assert in_series(3.0, 5.0, 3) == 1
    assert in_series(2.1, 12.0, 3) == 3


def test_a_dark_pixel_draws_its_idle_current() -> None:
    assert idle_curve(100).share(np.array([5.0])) * 100 * IDLE_A == pytest.approx(0.1)


def test_a_replaced_piece_keeps_its_own_volts() -> None:
    """Two voltages in one build have a supply each, and share their minus."""
    layout = lay_out(design(), CATALOGUE)
    other = CATALOGUE.strip("24v-white-60")
    mixed = tuple(
        replace(piece, strip=other, segments=4) if index % 2 and isinstance(piece, StripPiece) else piece
        for index, piece in enumerate(layout.pieces)
    )
    power = power_of(mixed, (), Wiring(scheme="buses"))
    assert power is not None
    assert [one.volts for one in power.supplies] == [12.0, 24.0]
    trimmed = power_of(mixed, (), Wiring(scheme="buses", supply_volts=12.5))
    assert trimmed is not None
    assert [one.set_v for one in trimmed.supplies] == [12.5, 24.0]  # it is the one of 12 V that is meant
    for piece, own in zip(mixed, power.pieces, strict=True):
        assert isinstance(piece, StripPiece)
        assert own.volts_v.max() <= piece.strip.volts
        assert own.volts_v.min() > 0.8 * piece.strip.volts


@pytest.mark.parametrize("scheme", SCHEMES)
def test_sections_of_their_own_for_all_wires_are_as_one_section_for_all(scheme: str) -> None:
    what = design()
    thick = powered(what, scheme=scheme, wire_mm2=2.5)
    runs = dict.fromkeys((str(one.wire.start), str(one.wire.end)) for one in thick.wires)
    own = tuple(RunSection(start=start, end=end, wire_mm2=2.5) for start, end in runs)
    each = powered(what, scheme=scheme, wire_mm2=0.25, sections=own)
    assert [one.wire for one in each.wires] == [one.wire for one in thick.wires]
    assert each.least_share == pytest.approx(thick.least_share, abs=1e-9)


def test_a_lead_of_its_own_section_drops_by_ohms_law_and_the_rest_stays() -> None:
    """IEC 60228, class 5: 2.5 mm² has 7.98 ohm/km, 0.75 mm² 26.0."""
    lead = RunSection(start="supply", end="row-1 start", wire_mm2=2.5)
    power = powered(design(), scheme="buses", wire_mm2=0.75, lead_mm=2000.0, sections=(lead,))
    for one in power.wires:
        per_km = 7.98 if not one.wire.start.piece else 26.0
        assert one.drop_v == pytest.approx(one.current_a * per_km * one.wire.length_mm / 1e6, rel=1e-6)
