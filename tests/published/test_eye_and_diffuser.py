"""The eye's contrast sensitivity and the haze of a diffuser, against their definitions."""

import numpy as np
import pytest

from gauze.core.errors import CatalogueError
from gauze.core.materials import Diffuser
from gauze.core.optics.gaussian_sum import exact_unit_lobe, lobe_kernel, lobe_share_inside
from gauze.core.optics.target import lobe_intensity
from gauze.core.optics.visibility import (
    Modulation,
    angular_area_deg2,
    contrast_sensitivity,
    cycles_per_degree,
    dot_visibility,
)
from tests.builders import CATALOGUE


def test_sensitivity_has_the_eyes_shape() -> None:
    """It peaks at a few cycles per degree, at some hundreds, and ends near 60 (known of the eye, from memory)."""
    u = np.geomspace(0.1, 80, 400)
    curve = contrast_sensitivity(u, 100.0, 100.0)
    assert 2 < u[curve.argmax()] < 6
    assert 300 < curve.max() < 900
    assert curve[-1] < 1 < curve[np.abs(u - 40).argmin()]
    assert (contrast_sensitivity(u, 1000.0, 100.0) > contrast_sensitivity(u, 1.0, 100.0)).all()


def test_geometry_of_sight() -> None:
    assert float(cycles_per_degree(17.4551, 1000.0)) == pytest.approx(1.0, rel=1e-4)  # 1 degree at 1 m is 17.455 mm
    assert float(angular_area_deg2(1000.0, 1000.0, 500.0)) == pytest.approx(90.0**2)


def test_beyond_the_vanishing_distance_nothing_is_seen() -> None:
    ripples = [Modulation("dots", 16.7, 0.03), Modulation("rows", 50.0, 0.01)]
    seen = dot_visibility(ripples, 800.0, (600.0, 400.0))
    assert seen.worst in ripples
    assert seen.visibility(seen.vanish_distance_mm) == pytest.approx(1.0, abs=0.01)
    for farther in (1.1, 2.0, 10.0):
        assert seen.visibility(farther * seen.vanish_distance_mm) < 1.0
    assert dot_visibility([Modulation("dots", 16.7, 1e-5)], 800.0, (600.0, 400.0)).vanish_distance_mm == 0.0
    assert dot_visibility([], 800.0, (600.0, 400.0)).worst is None


@pytest.mark.parametrize("diffuser", CATALOGUE.diffusers.values(), ids=lambda diffuser: diffuser.id)
def test_the_split_has_the_stated_haze(diffuser: Diffuser) -> None:
    """ASTM D1003: haze is the share of the transmitted light that leaves by more than 2.5 degrees; by integration."""
    split = diffuser.split()
    assert split.diffuse + split.lobe + split.regular == pytest.approx(diffuser.transmittance)
    assert diffuser.absorptance >= 0
    sine = np.sin(np.radians(np.linspace(0, 2.5, 2000)))
    ring = 2 * np.pi * sine
    diffuse = np.trapezoid(split.diffuse / np.pi * ring, sine)
    gaussian = np.exp(-(sine**2) / (2 * diffuser.lobe_sigma**2)) / (2 * np.pi * diffuser.lobe_sigma**2)
    lobe = np.trapezoid(split.lobe * gaussian * ring, sine)
    haze = 1 - (diffuse + lobe + split.regular) / diffuser.transmittance
    assert haze == pytest.approx(diffuser.haze, abs=2.1e-3)


def test_an_impossible_haze_is_refused() -> None:
    odd = Diffuser(
        id="odd",
        name="Odd sheet",
        thickness_mm=1,
        sideways_spread_mm=0,
        transmittance=0.5,
        reflectance=0.4,
        haze=0.2,
        diffuse_share=0.9,
        lobe_sigma=0.3,
    )
    with pytest.raises(CatalogueError, match="Odd sheet"):
        odd.split()


@pytest.mark.parametrize("sigma", [0.1, 0.18, 0.27, 0.4])
@pytest.mark.parametrize("power", [1.0, 4.0])
def test_the_fitted_lobe_is_the_lobe(sigma: float, power: float) -> None:
    radius = np.linspace(0, 8, 900)
    exact = exact_unit_lobe(radius, power, sigma)
    fitted = lobe_kernel(power, sigma, 1.0)(radius**2)
    assert np.abs(fitted - exact).max() < 1e-3 * exact.max()


@pytest.mark.parametrize("sigma", [0.15, 0.3])
def test_the_lobe_loses_no_light(sigma: float) -> None:
    """What an emitter of one lumen sends through a lobe of unit transmittance is one lumen over the hemisphere."""
    sine = (np.arange(4000) + 0.5) / 4000
    intensity = lobe_intensity(sine, 1.0, sigma)
    # flux = integral of I over solid angle = integral of I / cos over the unit disc of direction cosines
    flux = float((intensity / np.sqrt(1 - sine**2) * 2 * np.pi * sine).sum() / 4000)
    assert flux == pytest.approx(1.0, abs=0.01)


def test_share_inside_is_what_sampling_finds() -> None:
    generator = np.random.default_rng(3)
    for beta, sigma in ((0.0, 0.4), (0.7, 0.3), (0.95, 0.2)):
        x, y = generator.normal(beta, sigma, 200_000), generator.normal(0, sigma, 200_000)
        assert float(lobe_share_inside(np.array(beta), sigma)) == pytest.approx((x**2 + y**2 < 1).mean(), abs=0.005)
