"""Flicker by a standard's limits, and bands on camera by counting.

Source: IEEE Std 1789-2015, recommended practices 1 to 3, from memory: low risk below 0.08 f percent from 90 Hz, no limit above
1250 Hz; no observable effect below 0.0333 f percent, no limit above 3000 Hz.
"""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gauze.core.electrical.pulses import band_contrast, low_risk_percent, modulation_percent, no_effect_percent


@pytest.mark.parametrize(
    ("hertz", "low_risk", "no_effect"),
    [
        (50.0, 1.25, 0.5),
        (100.0, 8.0, 3.33),
        (120.0, 9.6, 4.0),
        (1000.0, 80.0, 33.3),
        (1250.0, 100.0, 41.6),
        (2000.0, math.inf, 66.6),
        (4000.0, math.inf, math.inf),
    ],
)
def test_limits_are_those_of_the_standard(hertz: float, low_risk: float, no_effect: float) -> None:
    assert low_risk_percent(hertz) == pytest.approx(low_risk)
    assert no_effect_percent(hertz) == pytest.approx(no_effect, rel=2e-3)


def test_pulses_modulate_all_of_the_light() -> None:
    assert [modulation_percent(duty) for duty in (0.0, 0.3, 1.0)] == [0.0, 100.0, 0.0]


@settings(deadline=None, max_examples=60)
@given(st.floats(60.0, 3000.0), st.floats(0.0005, 0.04), st.floats(0.05, 0.95))
def test_bands_are_those_that_are_counted(hertz: float, exposure_s: float, duty: float) -> None:
    """Of many starts over one period, the light that an exposure gathers, by adding up short steps."""
    steps = 400
    count = max(round(exposure_s * hertz * steps), 1)
    wave = np.tile(np.arange(steps) < round(duty * steps), math.ceil(count / steps) + 2).astype(float)
    sums = np.concatenate([[0.0], np.cumsum(wave)])
    gathered = sums[count : count + steps] - sums[:steps]
    counted = np.ptp(gathered) / max(gathered.max() + gathered.min(), 1e-9)
    assert band_contrast(hertz, exposure_s, duty) == pytest.approx(counted, abs=0.03)


def test_whole_periods_leave_no_bands() -> None:
    for periods in (1, 2, 8, 40):
        assert band_contrast(400.0, periods / 400.0, 0.3) == pytest.approx(0.0, abs=1e-9)
    assert band_contrast(400.0, 0.2 / 400.0, 0.3) == 1.0  # shorter than the dark between two pulses
