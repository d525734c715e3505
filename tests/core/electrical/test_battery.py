"""A battery that is emptied: closed forms, and what must hold of any."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.electrical.battery import open_circuit_v, run_time, through_converter
from gauze.core.materials.labels import BatteryLabel

PACK = BatteryLabel(id="own-p", name="p", chemistry="lithium_ion", cells_in_series=3, amp_hours=5.0)


def test_amp_hours_over_amps_are_hours() -> None:
    """The definition of the ampere-hour: 5 Ah at 0.5 A last 10 h, whatever the volts."""
    run = run_time(PACK, lambda _volts: 0.5)
    assert run is not None
    assert run.hours == pytest.approx(10.0, rel=0.02)
    assert run.first_v == pytest.approx(12.6 - PACK.inner_ohm * 0.5)


def test_a_resistor_takes_the_current_that_ohm_says() -> None:
    """I = V0 / (R + r), at the beginning and at the end."""
    ohm = 6.0
    run = run_time(PACK, lambda volts: volts / ohm)
    assert run is not None
    assert run.first_a == pytest.approx(12.6 / (ohm + PACK.inner_ohm), rel=1e-6)


def test_through_a_converter_the_energy_of_the_pack_is_what_comes_out() -> None:
    """Watts times hours over the efficiency are the volt-ampere-hours of the pack, less what its resistance takes."""
    import numpy as np

    watts, efficiency = 3.0, 0.9
    run = run_time(PACK, through_converter(watts, efficiency))
    assert run is not None
    mean_v = float(open_circuit_v(PACK, np.linspace(0.0, 1.0, 2001)).mean())
    assert run.hours * watts / efficiency == pytest.approx(mean_v * PACK.amp_hours, rel=0.03)


@given(st.floats(0.05, 5.0), st.floats(0.1, 1.0), st.integers(1, 4))
def test_more_cells_and_less_load_last_longer(amps: float, share: float, parallel: int) -> None:
    more = BatteryLabel(
        id="own-p",
        name="p",
        chemistry="lead_acid",
        cells_in_series=6,
        cells_in_parallel=parallel,
        amp_hours=7.0 * parallel,
    )
    one = run_time(
        BatteryLabel(id="own-p", name="p", chemistry="lead_acid", cells_in_series=6, amp_hours=7.0), lambda _: amps
    )
    many, dimmed = run_time(more, lambda _: amps), run_time(more, lambda _: amps, share)
    assert one is not None
    assert many is not None
    assert dimmed is not None
    assert many.hours >= one.hours * 0.99
    assert dimmed.hours == pytest.approx(many.hours / share, rel=1e-6)


def test_a_pack_that_cannot_hold_its_volts_says_so() -> None:
    weak = BatteryLabel(id="own-w", name="w", chemistry="alkaline", cells_in_series=4, amp_hours=0.5)
    assert run_time(weak, lambda _volts: 8.0) is None
    assert run_time(weak, through_converter(60.0, 0.9)) is None
    assert run_time(PACK, lambda _volts: 0.0) is None  # nothing is drawn: there is no end to tell


def test_a_higher_end_leaves_charge() -> None:
    run = run_time(PACK, lambda _volts: 0.5, least_v=11.4)
    assert run is not None
    assert 0.3 < run.charge_left < 0.8
    assert run.last_v >= 11.4
