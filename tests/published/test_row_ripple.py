"""The ripple of a row of emitters on a plane: sums over very many of them against the closed form, for any cos^m.

Source: the Fourier transform of (1 + x^2)^-(nu + 1/2) is that of a Matern covariance, NIST DLMF 10.32.11 (Basset's integral); for
m = 1 it is (1 + k d) exp(-k d), Erdelyi, Tables of Integral Transforms I, 1.3, from memory.
"""

import math

import numpy as np
import pytest

from gauze.core.design.fields import with_field
from gauze.core.evaluate import WHILE_DRAGGING, evaluate
from gauze.core.optics.cavity.hotspots import row_ripple
from tests.builders import CATALOGUE
from tests.families import family, tiles


@pytest.mark.parametrize("power", [1.0, 2.0, 5.5, 20.0])
@pytest.mark.parametrize("distance_mm", [6.0, 10.0, 18.0])
def test_a_row_ripples_as_its_sum_does(power: float, distance_mm: float) -> None:
    pitch_mm = 10.0
    away = np.linspace(0.0, pitch_mm, 64, endpoint=False)[:, None] - np.arange(-4000, 4001) * pitch_mm
    along = (distance_mm ** (power + 1) / (away**2 + distance_mm**2) ** ((power + 3) / 2)).sum(axis=1)
    amplitude = 2.0 * abs(np.fft.rfft(along)[1]) / 64 / along.mean()
    assert row_ripple(pitch_mm, distance_mm, power) == pytest.approx(amplitude, rel=1e-6)


def test_a_lambertian_row_has_an_elementary_form() -> None:
    way = 2.0 * math.pi * 12.0 / 10.0
    assert row_ripple(10.0, 12.0) == pytest.approx(2.0 * (1.0 + way) * math.exp(-way), rel=1e-12)


def test_the_fall_off_from_a_lit_rim_is_no_ripple() -> None:
    """Tiles lit from their rims showed dots of a pitch that no strip has, until at some depth they were gone."""
    for depth_mm in (26.0, 34.0, 40.0, 42.0, 44.0):
        evaluation = evaluate(with_field(family(tiles()), "build.depth_mm", depth_mm), CATALOGUE, WHILE_DRAGGING)
        pitches = {round(one.pitch_mm, 1) for one in evaluation.dots.modulations}
        assert pitches <= {round(evaluation.layout.strips[0].strip.pitch_mm, 1)}
        assert evaluation.dots.visibility(2500.0) < 1.0
