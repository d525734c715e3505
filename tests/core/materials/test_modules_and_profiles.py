"""The catalogue's modules and profiles: whole, typical, and of one mind with the strips."""

import pytest

from gauze.core.errors import CatalogueError
from gauze.core.materials import Module, Profile, Strip, load_catalogue

CATALOGUE = load_catalogue()
MODULES = list(CATALOGUE.modules.values())
PROFILES = list(CATALOGUE.profiles.values())


@pytest.mark.parametrize("module", MODULES, ids=lambda one: one.id)
def test_a_module_is_whole_and_says_that_it_is_typical(module: Module) -> None:
    assert module.emitters == module.columns * module.rows
    assert module.power_w > 0
    assert module.flux_spread > 0
    assert module.source.startswith("typical")
    reach = [(count - 1) * module.pitch_mm + module.package_mm for count in (module.columns, module.rows)]
    assert reach[0] <= module.board_mm[0] + 1e-9
    assert reach[1] <= module.board_mm[1] + 1e-9
    for channel in module.channel:
        assert channel.flux_lm > 0
        coloured = channel.peak_nm is not None
        assert coloured == (channel.width_nm is not None)
        assert coloured != (channel.cct_k is not None or module.white_cct_k is not None)


USUAL_PIXELS = [
    one
    for one in MODULES
    if one.kind != "chip" and one.volts == 5.0 and len(one.channel) == 3 and one.package_mm >= 3.4
]


@pytest.mark.parametrize("module", USUAL_PIXELS, ids=lambda one: one.id)
def test_a_pixel_draws_what_the_trade_counts_with(module: Module) -> None:
    """60 mA at 5 V and full white, so 0.3 W: common practice, no source."""
    assert module.power_w / module.emitters == pytest.approx(0.3)


def test_a_pixel_of_a_grid_is_one_of_a_strip() -> None:
    strip = CATALOGUE.strip("5v-rgb-pixel-60")
    grid = CATALOGUE.module("5v-rgb-grid-8x8")
    for own, other in zip(grid.channel, strip.channel, strict=True):
        assert own.name == other.name
        assert own.flux_lm / grid.emitters == pytest.approx(other.flux_lm_per_m / strip.density_per_m, rel=0.02)
        assert own.peak_nm == other.peak_nm
        assert own.width_nm == other.width_nm


@pytest.mark.parametrize("module", [one for one in MODULES if one.kind == "chip"], ids=lambda one: one.id)
def test_a_board_of_chips_gives_what_white_leds_give(module: Module) -> None:
    """Some 110 lm/W, as the strips: typical."""
    lumens_per_watt = sum(channel.flux_lm for channel in module.channel) / module.power_w
    strips = [
        strip.flux_lm_per_m / strip.power_w_per_m
        for strip in CATALOGUE.strips.values()
        if strip.white_cct_k is not None
    ]
    assert 0.7 * min(strips) < lumens_per_watt < 1.5 * max(strips)


@pytest.mark.parametrize("profile", PROFILES, ids=lambda one: one.id)
def test_a_profile_has_what_its_section_needs(profile: Profile) -> None:
    assert profile.source.startswith("typical")
    assert (profile.bed_mm > 0) == (profile.section == "v")
    assert profile.lens_rise_mm <= profile.width_mm / 2
    if profile.section == "u":
        assert profile.depth_mm > profile.width_mm / 2


def test_what_is_not_there_is_told_with_what_is() -> None:
    with pytest.raises(CatalogueError, match="5v-rgb-grid-8x8"):
        CATALOGUE.module("nothing of the kind")
    assert len(CATALOGUE.strips) + len(CATALOGUE.modules) >= 60
    assert len({profile.name for profile in PROFILES}) == len(PROFILES) >= 20
    assert len({sheet.name for sheet in CATALOGUE.diffusers.values()}) == len(CATALOGUE.diffusers) >= 40


@pytest.mark.parametrize("strip", CATALOGUE.strips.values(), ids=lambda one: one.id)
def test_a_strip_is_what_could_be_sold(strip: Strip) -> None:
    """A package fits its pitch and its tape; whites give 65 to 145 lm/W, as the trade's do: typical, from memory."""
    assert strip.package_mm[0] <= strip.pitch_mm + 0.01
    assert strip.package_mm[1] <= strip.width_mm
    assert strip.flux_spread > 0
    for channel in strip.channel:
        if channel.peak_nm is None:
            assert 65.0 <= channel.flux_lm_per_m / channel.power_w_per_m <= 145.0
