"""Colour against an independent library (colour-science) and the standards that it carries."""

import numpy as np
import pytest

from gauze.core.layout.model import Channel
from gauze.core.optics.appearance import BRADFORD, D65_XYZ, XYZ_TO_SRGB, Viewing, true_colour
from gauze.core.optics.colour import (
    band_xyz,
    channel_xyz,
    planck_xyz,
    uv_1960,
    uv_1976,
    white_point,
    xyz_of_spectrum,
)

pytestmark = pytest.mark.filterwarnings("ignore")  # the library warns of extras that it does not find
colour = pytest.importorskip("colour", reason="the reference library is in the development lock")


def xy_of(xyz: np.ndarray) -> np.ndarray:
    return xyz[:2] / xyz.sum()


def from_uv(u: float, v: float) -> np.ndarray:
    """XYZ with Y = 1 of CIE 1960 u, v."""
    x, y = 3 * u / (2 * u - 8 * v + 4), 2 * v / (2 * u - 8 * v + 4)
    return np.array([x / y, 1.0, (1 - x - y) / y])


def test_the_observer_is_the_cie_1931_table() -> None:
    table = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"]
    shape = colour.SpectralShape(360, 830, 5)
    values = table.copy().align(shape).values
    for index in (10, 25, 40, 60):
        line = np.zeros(95)
        line[index] = 1.0
        assert xyz_of_spectrum(line) == pytest.approx(values[index] / values[index, 1], rel=1e-6)


@pytest.mark.parametrize("cct_k", [1800, 2200, 2700, 3000, 4000, 5000, 6500, 10_000])
@pytest.mark.parametrize("duv", [-0.012, -0.005, 0.0, 0.004, 0.012])
def test_cct_and_duv_agree_to_5_kelvin_and_half_a_thousandth(cct_k: float, duv: float) -> None:
    u, v = colour.temperature.CCT_to_uv_Ohno2013([cct_k, duv])
    point = white_point(from_uv(float(u), float(v)))
    assert point is not None
    assert point.cct_k == pytest.approx(cct_k, abs=5.0)
    assert point.duv == pytest.approx(duv, abs=5e-4)
    theirs = colour.temperature.uv_to_CCT_Ohno2013([float(u), float(v)])
    assert point.cct_k == pytest.approx(float(theirs[0]), abs=5.0)
    assert point.duv == pytest.approx(float(theirs[1]), abs=5e-4)


@pytest.mark.parametrize("cct_k", [2200.0, 2700.0, 4000.0, 6500.0])
def test_planckian_whites_agree(cct_k: float) -> None:
    spectrum = colour.sd_blackbody(cct_k, colour.SpectralShape(360, 830, 5))
    theirs = colour.XYZ_to_xy(colour.sd_to_XYZ(spectrum, method="Integration"))
    assert xy_of(planck_xyz(cct_k)) == pytest.approx(theirs, abs=3e-5)


def test_coordinates_agree() -> None:
    xyz = np.array([0.4, 1.0, 0.7])
    assert uv_1976(xyz) == pytest.approx(colour.xy_to_Luv_uv(colour.XYZ_to_xy(xyz)), abs=1e-9)
    assert uv_1960(xyz) == pytest.approx(colour.UCS_to_uv(colour.XYZ_to_UCS(xyz)), abs=1e-9)


def test_srgb_and_bradford_are_the_standards() -> None:
    assert pytest.approx(colour.RGB_COLOURSPACES["sRGB"].matrix_XYZ_to_RGB, abs=5e-4) == XYZ_TO_SRGB
    assert pytest.approx(colour.CHROMATIC_ADAPTATION_TRANSFORMS["Bradford"], abs=1e-6) == BRADFORD
    white = colour.xy_to_XYZ(colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"])
    assert np.array(D65_XYZ) == pytest.approx(white, abs=3e-4)


def test_the_neutral_white_shows_as_grey() -> None:
    xyz = planck_xyz(4000.0).astype(np.float32)[:, None, None]
    red, green, blue = (int(value) for value in true_colour(xyz, Viewing(2.0, 0.0, 0.0))[0, 0])
    assert max(red, green, blue) - min(red, green, blue) <= 1
    assert green == pytest.approx(round(255 * (1.055 * 0.5 ** (1 / 2.4) - 0.055)), abs=1)  # IEC 61966-2-1


def test_mixed_whites_lie_on_the_straight_line_off_the_locus() -> None:
    mixed = 0.5 * planck_xyz(2700.0) + 0.5 * planck_xyz(6500.0)
    point = white_point(mixed)
    assert point is not None
    assert point.duv < -0.004  # below the locus: pinkish
    ends = [uv_1960(planck_xyz(value)) for value in (2700.0, 6500.0)]
    middle = uv_1960(mixed)
    chord, offset = ends[1] - ends[0], middle - ends[0]
    assert abs(chord[0] * offset[1] - chord[1] * offset[0]) < 1e-9  # mixtures stay on the chord, also in u v


def test_colours_far_from_white_have_no_colour_temperature() -> None:
    assert white_point(band_xyz(467.0, 25.0)) is None
    assert white_point(np.zeros(3)) is None


def test_a_band_has_its_dominant_wavelength() -> None:
    """The chromaticity of a narrow band lies at the spectral locus of its peak."""
    narrow = xy_of(band_xyz(530.0, 5.0))
    locus = colour.XYZ_to_xy(colour.wavelength_to_XYZ(530.0))
    assert narrow == pytest.approx(locus, abs=0.01)


def test_a_channel_without_colour_is_refused() -> None:
    channel = Channel("odd", 0, 0, 1.0, None, None, None)
    with pytest.raises(ValueError, match="neither"):
        channel_xyz(channel)
