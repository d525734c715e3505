"""Labels: any sufficient combination comes to the same thing, and two that contradict each other are refused."""

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design.labels import likes_of, read_label
from gauze.core.errors import DesignError
from gauze.core.materials import load_catalogue
from gauze.core.materials.labels import (
    KINDS,
    BatteryLabel,
    ConverterLabel,
    ModuleLabel,
    ProfileStock,
    SheetStock,
    StripLabel,
    SupplyLabel,
    Thing,
    WireLabel,
)
from gauze.session.new_things import new_thing

CATALOGUE = load_catalogue()
LIKE = CATALOGUE.strip("12v-white-60")


def reel(**entries: object) -> StripLabel:
    return StripLabel(id="own-reel", name="Reel", like=LIKE.id, **entries)


@pytest.mark.parametrize(
    "entries",
    [
        {"watts_per_m": 9.6},
        {"reel_m": 5.0, "watts": 48.0},
        {"amps_per_m": 0.8},
        {"reel_m": 5.0, "amps": 4.0},
        {"reel_m": 5.0, "amps": 4.0, "watts_per_m": 9.6, "watts": 48.0},
    ],
)
def test_however_the_watts_are_stated_they_are_the_same(entries: dict[str, float]) -> None:
    """18 W at 12 V is 1.5 A: label watts over volts are label amps."""
    assert reel(**entries).strip(LIKE).power_w_per_m == pytest.approx(9.6)


def test_what_a_label_leaves_out_is_typical_and_says_so() -> None:
    label = reel(reel_m=5.0, leds=600.0)
    strip = label.strip(LIKE)
    assert strip.density_per_m == pytest.approx(120.0)
    assert strip.power_w_per_m == pytest.approx(2 * LIKE.power_w_per_m)  # twice the LEDs of the same kind
    assert strip.flux_lm_per_m == pytest.approx(2 * LIKE.flux_lm_per_m)
    said = {str(one.name): one for one in label.statements(LIKE)}
    assert not said["LEDs"].typical
    assert all(said[name].typical for name in ("Watts", "Lumens", "Volts", "Width"))
    assert "typical" in str(said["Watts"].how)
    assert "typical" in strip.source


@given(
    reel_m=st.floats(0.5, 50),
    watts_per_m=st.floats(1.0, 30.0),
    efficacy=st.floats(20.0, 180.0),
    density=st.floats(10.0, 480.0),
    colours=st.sampled_from(["12v-white-60", "24v-rgbw-60", "24v-two-white-240", "5v-rgb-pixel-60"]),
)
def test_a_label_of_the_reel_and_one_of_the_metre_say_the_same(
    reel_m: float, watts_per_m: float, efficacy: float, density: float, colours: str
) -> None:
    like = CATALOGUE.strip(colours)
    by_reel = StripLabel(
        id="own-a",
        name="a",
        like=colours,
        reel_m=reel_m,
        watts=watts_per_m * reel_m,
        leds=density * reel_m,
        lumens=efficacy * watts_per_m * reel_m,
    ).strip(like)
    by_metre = StripLabel(
        id="own-a", name="a", like=colours, watts_per_m=watts_per_m, leds_per_m=density, lumens_per_watt=efficacy
    ).strip(like)
    for strip in (by_reel, by_metre):
        assert strip.power_w_per_m == pytest.approx(watts_per_m)
        assert strip.flux_lm_per_m == pytest.approx(efficacy * watts_per_m)
        assert strip.density_per_m == pytest.approx(density)
        assert strip.package_mm[0] < strip.pitch_mm
        shares = [one.flux_lm_per_m / strip.flux_lm_per_m for one in strip.channel]
        assert shares == pytest.approx([one.flux_lm_per_m / like.flux_lm_per_m for one in like.channel])


@pytest.mark.parametrize(
    ("thing", "field"),
    [
        (reel(watts_per_m=9.6, reel_m=5.0, watts=24.0), "watts"),
        (reel(watts_per_m=9.6, amps_per_m=2.0), "amps_per_m"),
        (reel(leds_per_m=60.0, reel_m=5.0, leds=600.0), "leds"),
        (reel(lumens_per_m=5000.0, watts_per_m=5.0), "lumens_per_m"),
        (reel(reel_m=0.01, leds=600.0), "leds"),
        (SupplyLabel(id="own-b", name="b", volts=12.0), "amps"),
        (SupplyLabel(id="own-b", name="b", volts=12.0, amps=5.0, watts=120.0), "watts"),
        (SupplyLabel(id="own-b", name="b", volts=500.0, amps=5.0), "volts"),
        (BatteryLabel(id="own-c", name="c", chemistry="lithium_ion", amp_hours=0.0), "amp_hours"),
        (BatteryLabel(id="own-c", name="c", chemistry="lithium_ion", amp_hours=2.0, cutoff_v=5.0), "cutoff_v"),
        (ConverterLabel(id="own-d", name="d", out_v=5.0, in_low_v=20.0, in_high_v=9.0, limit_a=3.0), "in_high_v"),
        (WireLabel(id="own-e", name="e"), "section_mm2"),
        (WireLabel(id="own-e", name="e", gauge=18, section_mm2=2.5), "gauge"),
        (SheetStock(id="own-f", name="f", like="velvet", width_mm=10.0, height_mm=10.0), "like"),
        (ProfileStock(id="own-g", name=" ", like="usual-15", width_mm=9.0, depth_mm=9.0, length_mm=9.0), "name"),
        (ModuleLabel(id="own-h", name="h", like="5v-rgb-cord-pixel", lumens=1e5, watts=0.1), "lumens"),
        (reel(on_hand=float("nan")), "on_hand"),
    ],
)
def test_what_cannot_be_is_refused_at_its_entry(thing: Thing, field: str) -> None:
    with pytest.raises(DesignError) as told:
        read_label(thing, CATALOGUE)
    assert told.value.field == field


def test_a_wire_by_its_gauge_has_the_section_of_the_standard() -> None:
    """ASTM B258: AWG 18 is 0.823 mm2."""
    assert WireLabel(id="own-e", name="e", gauge=18).area_mm2 == pytest.approx(0.823, abs=5e-4)
    clad = WireLabel(id="own-e", name="e", gauge=18, copper=False)
    assert clad.as_copper_mm2 < 0.7 * clad.area_mm2


@pytest.mark.parametrize("kind", KINDS, ids=lambda kind: kind.__name__)
def test_every_kind_can_be_begun(kind: type) -> None:
    thing = new_thing(kind, "New", "own-new", CATALOGUE)
    assert read_label(thing, CATALOGUE) or kind is SheetStock
    assert ("like" in kind.__struct_fields__) == bool(likes_of(kind, CATALOGUE))
    assert msgspec.json.decode(msgspec.json.encode(thing), type=kind) == thing
