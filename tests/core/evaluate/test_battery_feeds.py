"""A battery as the supply of a build, and the controller: on good builds and on bad ones."""

from typing import Any

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design import Design, StripChoice
from gauze.core.design.design import check_frame
from gauze.core.design.wiring import BatterySupply, Wiring
from gauze.core.electrical.battery_life import BatteryLife
from gauze.core.electrical.timers import timer_for
from gauze.core.errors import DesignError
from gauze.core.evaluate import Caution, Finding, State, evaluate, find, search_fixes
from gauze.core.evaluate.evaluation import WHILE_DRAGGING
from gauze.core.evaluate.stages import network_for
from gauze.core.families import lay_out
from gauze.core.formats.design_file import decode_design, encode_design
from gauze.core.materials.labels import BatteryLabel, ControllerLabel, ConverterLabel
from tests.builders import CATALOGUE
from tests.families import family, tube

CELL = BatteryLabel(id="own-cell", name="Cell", chemistry="lithium_ion", amp_hours=10.0)
PACK = msgspec.structs.replace(CELL, id="own-pack", name="Pack", cells_in_series=3)
STEP = ConverterLabel(id="own-step", name="Step", out_v=5.0, in_low_v=7.0, in_high_v=26.0, limit_a=5.0)


def white(level: float = 1.0, length_mm: float = 500.0) -> Design:
    """Half a metre of a 12 V strip."""
    return family(tube(length_mm=length_mm, strips=(StripChoice(strip="12v-white-60", cct_k=3000.0, levels=(level,)),)))


def pixels(length_mm: float = 500.0) -> Design:
    return family(tube(length_mm=length_mm, strips=(StripChoice(strip="5v-rgb-pixel-60"),)))


def wired(what: Design, **wiring: Any) -> Design:
    return msgspec.structs.replace(what, wiring=Wiring(**wiring))


def on_battery(what: Design, battery: BatteryLabel = PACK, **choice: Any) -> Design:
    return wired(what, battery=BatterySupply(battery=battery, **choice))


def life(what: Design) -> BatteryLife:
    found = network_for(what, lay_out(what, CATALOGUE), CATALOGUE).battery
    assert found is not None
    return found


def found(what: Design) -> dict[str, Finding]:
    return {one.code: one for one in find(evaluate(what, CATALOGUE, WHILE_DRAGGING)) if one.place == "feed"}


def test_hours_are_charge_over_amps_and_go_as_one_over_the_level() -> None:
    """The definition of the ampere-hour: between 10 Ah over the amps at the beginning and over those at the end."""
    own = life(on_battery(white()))
    full, half, quarter = own.runs
    assert full is not None
    assert half is not None
    assert quarter is not None
    spent_ah = PACK.amp_hours * (1.0 - full.charge_left)
    assert spent_ah / full.first_a <= full.hours <= spent_ah / full.last_a
    assert half.hours == pytest.approx(2.0 * full.hours)
    assert quarter.hours == pytest.approx(4.0 * full.hours)
    set_run = life(on_battery(white(0.5))).set_run
    assert set_run is not None
    assert set_run.hours == pytest.approx(half.hours, rel=1e-3)


def test_its_resistance_and_its_charge_show_in_the_light() -> None:
    """V = V0 - r I at the terminals, and less light of an emptier pack."""
    shown = [evaluate(on_battery(white(), charge=charge), CATALOGUE, WHILE_DRAGGING) for charge in (1.0, 0.1)]
    for evaluation in shown:
        assert evaluation.network.power is not None
        (supply,) = evaluation.network.power.supplies
        assert supply.terminal_v == pytest.approx(supply.set_v - PACK.inner_ohm * supply.peak_a, rel=1e-9)
    assert shown[0].network.power.supplies[0].set_v == pytest.approx(3 * 4.2)
    assert shown[1].output.out_lm < 0.8 * shown[0].output.out_lm


def test_a_converter_keeps_the_volts_and_the_light() -> None:
    through = life(on_battery(pixels(), converter=STEP))
    assert through.first_light == through.last_light == pytest.approx(1.0, abs=0.02)
    full = through.full_run
    assert full is not None
    assert full.last_a > full.first_a  # the same watts of fewer volts
    watts = through.on_a * STEP.out_v / STEP.gives_share
    assert full.first_a * full.first_v == pytest.approx(watts, rel=1e-6)


def test_dark_pixels_draw_too() -> None:
    """At 1 mA each: a quarter of the level lasts less than four times as long."""
    what = on_battery(pixels(), converter=STEP)
    count = sum(piece.segments for piece in lay_out(what, CATALOGUE).pieces)
    own = life(what)
    full, _, quarter = own.runs
    assert full is not None
    assert quarter is not None
    assert own.idle_share == pytest.approx(count * 0.001 / own.on_a, rel=1e-3)
    assert quarter.hours == pytest.approx(full.hours / (0.25 + 0.75 * own.idle_share), rel=1e-6)


GOOD = {
    "three cells on 12 V": on_battery(white()),
    "a cell through a converter on pixels": on_battery(pixels(), converter=STEP),
    "lead-acid on 12 V": on_battery(
        white(), msgspec.structs.replace(CELL, chemistry="lead_acid", cells_in_series=6, amp_hours=7.0)
    ),
    "wanted for less than it lasts": on_battery(white(), wanted_life_h=1.0),
    "four cells of iron phosphate on 12 V": on_battery(
        white(), msgspec.structs.replace(CELL, chemistry="lithium_iron_phosphate", cells_in_series=4)
    ),
}
BAD = {
    "six cells on 12 V": (on_battery(white(), msgspec.structs.replace(CELL, cells_in_series=6)), "too much"),
    "one cell on 12 V": (on_battery(white(), CELL), "too little"),
    "three cells on 5 V pixels": (on_battery(pixels()), "too much"),
    "a converter for other volts": (on_battery(white(), converter=STEP), "gives 5 V"),
    "a converter that takes more volts": (
        on_battery(pixels(), CELL, converter=STEP),
        "takes 7 to 26 V",
    ),
    "a converter too small": (
        on_battery(pixels(), converter=msgspec.structs.replace(STEP, limit_a=0.1)),
        "0.1 A at most",
    ),
    "more amps than its label allows": (
        on_battery(white(), msgspec.structs.replace(PACK, limit_a=0.05)),
        "label allows",
    ),
    "wanted for longer than it lasts": (on_battery(white(), wanted_life_h=1000.0), "h are wanted"),
}


@pytest.mark.parametrize("name", GOOD)
def test_a_battery_that_fits_is_good(name: str) -> None:
    battery = found(GOOD[name])["battery"]
    assert battery.state in (State.GOOD, State.WATCH)
    assert Caution.BATTERY in battery.cautions
    assert "supply" not in found(GOOD[name])  # no mains supply is asked for
    assert "over volts" not in found(GOOD[name])


@pytest.mark.parametrize("name", BAD)
def test_one_that_does_not_fails_and_says_why(name: str) -> None:
    what, why = BAD[name]
    battery = found(what)["battery"]
    assert battery.state is State.FAILS
    assert why in str(battery.sentence)
    assert all(str(figure.name) and str(figure.value) for figure in battery.figures)


def test_dimmed_as_the_fix_says_it_lasts() -> None:
    lasts_h = found(on_battery(white()))["battery"].value
    what = on_battery(white(), wanted_life_h=2.0 * lasts_h)
    assert found(what)["battery"].fixable
    (fix,) = search_fixes("battery", what, CATALOGUE)
    after = found(fix.design)["battery"]
    assert after.state is not State.FAILS
    assert after.value == pytest.approx(2.0 * lasts_h, rel=0.05)


def test_too_many_volts_fail_until_the_supply_is_set_back() -> None:
    what = wired(white(), supply_volts=18.0)
    assert found(what)["over volts"].state is State.FAILS
    (fix,) = search_fixes("over volts", what, CATALOGUE)
    assert "over volts" not in found(fix.design)
    assert "over volts" not in found(wired(white(), supply_volts=13.0))
    assert "over volts" in found(wired(pixels(), supply_volts=6.0))


@pytest.mark.parametrize(
    ("wiring", "field"),
    [
        (Wiring(battery=BatterySupply(battery=PACK), supply_w=60.0), "wiring.battery"),
        (
            Wiring(battery=BatterySupply(battery=msgspec.structs.replace(PACK, cutoff_v=50.0))),
            "wiring.battery.battery.cutoff_v",
        ),
        (
            Wiring(battery=BatterySupply(battery=msgspec.structs.replace(PACK, amp_hours=0.0))),
            "wiring.battery.battery.amp_hours",
        ),
        (Wiring(battery=BatterySupply(battery=PACK, charge=2.0)), "wiring.battery.charge"),
        (
            Wiring(controller=ControllerLabel(id="own-c", name="c", most_pixels=1, timer_dividers="1 eight")),
            "wiring.controller.timer_dividers",
        ),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(wiring: Wiring, field: str) -> None:
    with pytest.raises(DesignError) as refused:
        check_frame(msgspec.structs.replace(white(), wiring=wiring))
    assert refused.value.field == field


def test_a_file_carries_the_battery_and_the_controller() -> None:
    controller = ControllerLabel(id="own-c", name="Box", most_pixels=300, timer_mhz=16.0, timer_dividers="1 8 64")
    what = on_battery(white(), converter=STEP, charge=0.5, wanted_life_h=4.0)
    assert what.wiring is not None
    what = msgspec.structs.replace(what, wiring=msgspec.structs.replace(what.wiring, controller=controller))
    assert decode_design(encode_design(what), CATALOGUE) == what


def test_the_controller_is_judged_by_pixels_lines_and_cap() -> None:
    def controller(**entries: Any) -> Finding:
        label = ControllerLabel(**({"id": "own-c", "name": "c", "most_pixels": 1000} | entries))
        return found(wired(pixels(), controller=label))["controller"]

    assert controller().state is State.GOOD
    assert "to 5 V" in str(controller().sentence)
    assert "to 5 V" not in str(controller(logic_v=5.0).sentence)
    assert controller(most_pixels=10).state is State.FAILS
    assert controller(frames_per_s=10.0).state is State.WATCH
    assert "leaves" in str(controller(cap_ma=100.0).sentence)
    assert "leaves" not in str(controller(cap_ma=100_000.0).sentence)
    rates = [found(wired(pixels(5000.0), controller=label))["data rate"].value for label in (None, _of_lines(4))]
    assert rates[1] > 3 * rates[0]


def _of_lines(lines: int) -> ControllerLabel:
    return ControllerLabel(id="own-c", name="c", most_pixels=1000, outputs=lines)


def test_a_build_without_pixels_is_dimmed_by_its_timer() -> None:
    timer = ControllerLabel(
        id="own-c", name="c", most_pixels=1, timer_mhz=16.0, timer_bits=16, timer_dividers="1, 8, 64"
    )
    dims = found(wired(white(0.5), controller=timer, pwm_hz=1000.0))
    assert dims["controller"].state is State.GOOD
    assert "16000 steps" in str(dims["controller"].sentence)
    assert any("divider 1, top 15999" in str(figure.value) for figure in dims["flicker"].figures)
    slow = msgspec.structs.replace(timer, timer_bits=8)
    assert found(wired(white(0.5), controller=slow, pwm_hz=100.0))["controller"].state is State.FAILS
    assert found(wired(white(0.5), controller=slow))["controller"].state is State.NOTE


@pytest.mark.parametrize(
    ("bits", "wanted_hz", "divider", "top", "made_hz"),
    [
        (16, 50.0, 8, 39_999, 50.0),  # 16e6 / (8 x 40000): the pulses of a model servo, common practice
        (16, 1000.0, 1, 15_999, 1000.0),
        (8, 976.5625, 64, 255, 976.5625),  # 16e6 / (64 x 256), the usual rate of an 8-bit timer at 16 MHz, from memory
        (8, 62_500.0, 1, 255, 62_500.0),  # the same undivided
    ],
)
def test_known_timer_settings(bits: int, wanted_hz: float, divider: int, top: int, made_hz: float) -> None:
    """Of a clock of 16 MHz with dividers 1, 8, 64, 256, 1024."""
    setting = timer_for(16e6, bits, (1, 8, 64, 256, 1024), wanted_hz)
    assert setting is not None
    assert (setting.divider, setting.top) == (divider, top)
    assert setting.frequency_hz == pytest.approx(made_hz)


@given(
    st.floats(1e5, 1e9), st.integers(1, 24), st.sets(st.integers(1, 4096), min_size=1, max_size=6), st.floats(1.0, 1e6)
)
def test_a_timer_comes_as_near_as_a_step_and_no_divider_gives_more_steps(
    clock_hz: float, bits: int, dividers: set[int], wanted_hz: float
) -> None:
    setting = timer_for(clock_hz, bits, tuple(dividers), wanted_hz)
    fitting = [one for one in dividers if 2 <= round(clock_hz / (one * wanted_hz)) <= 2**bits]
    if setting is None:
        assert not fitting
        return
    assert setting.divider == min(fitting)
    assert 2 <= setting.steps <= 2**bits
    assert setting.frequency_hz == pytest.approx(clock_hz / (setting.divider * setting.steps))
    assert abs(clock_hz / (setting.divider * wanted_hz) - setting.steps) <= 0.5 + 1e-6
