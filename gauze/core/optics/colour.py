"""Colour by the CIE 1931 tables: emitters to XYZ, chromaticity to CCT and Duv, mixtures."""

import functools
import math
from dataclasses import dataclass
from importlib import resources

import numpy as np

from gauze.core.layout.model import Channel, FloatArray

SECOND_RADIATION_CONSTANT_M_K = 1.438776877e-2  # exact in the SI since 2019: h c / k
LEAST_CCT_K, MOST_CCT_K = 1000.0, 25_000.0
WHITE_DUV = 0.006  # ANSI C78.377, from memory: within this a light passes for white
_WHITE_RESIDUAL = 0.003  # of the white, below which three channels count as having met it
_FWHM_TO_SIGMA = 1.0 / (2.0 * math.sqrt(2.0 * math.log(2.0)))


@functools.cache
def _observer() -> tuple[FloatArray, FloatArray]:
    text = resources.files("gauze.core.optics").joinpath("data", "cie_1931_2_degree.csv").read_text("utf-8")
    rows = [line.split(",") for line in text.splitlines() if line and line[0].isdigit()]
    table = np.array(rows, dtype=float)
    return table[:, 0], table[:, 1:].T


def xyz_of_spectrum(power_at_nm: FloatArray) -> FloatArray:
    """XYZ with Y = 1 of spectral power on the table's wavelengths, 360 to 830 nm by 5; shape (..., 95) to (..., 3)."""
    _, observer = _observer()
    xyz = power_at_nm @ observer.T
    return np.asarray(xyz / xyz[..., 1:2])


def planck_spectrum(temperature_k: FloatArray | float) -> FloatArray:
    """Relative spectral power of a black body, shape (..., 95)."""
    wavelength_nm, _ = _observer()
    exponent = SECOND_RADIATION_CONSTANT_M_K / (wavelength_nm * 1e-9 * np.asarray(temperature_k)[..., None])
    return np.asarray((wavelength_nm / 560.0) ** -5.0 / np.expm1(exponent))


def planck_xyz(temperature_k: FloatArray | float) -> FloatArray:
    """XYZ with Y = 1 of a black body, shape (..., 3)."""
    return xyz_of_spectrum(planck_spectrum(temperature_k))


def band_xyz(peak_nm: float, width_nm: float) -> FloatArray:
    """XYZ with Y = 1 of a Gaussian band of the given full width at half maximum, shape (3,)."""
    wavelength_nm, _ = _observer()
    sigma = width_nm * _FWHM_TO_SIGMA
    return xyz_of_spectrum(np.exp(-((wavelength_nm - peak_nm) ** 2) / (2.0 * sigma**2)))


@functools.lru_cache(maxsize=256)  # asked for every piece of a build
def band_efficacy_lm_w(peak_nm: float, width_nm: float) -> float:
    """Lumens in a watt of light of a Gaussian band: 683 lm/W times the band's mean of V(lambda)."""
    wavelength_nm, observer = _observer()
    power = np.exp(-((wavelength_nm - peak_nm) ** 2) / (2.0 * (width_nm * _FWHM_TO_SIGMA) ** 2))
    return float(683.0 * (power @ observer[1]) / power.sum())


def xyz_of_chromaticity(x: float, y: float) -> FloatArray:
    """XYZ with Y = 1 of CIE 1931 x and y; y must be more than 0."""
    return np.array([x / y, 1.0, (1.0 - x - y) / y])


def channel_xyz(channel: Channel) -> FloatArray:
    """XYZ with Y = 1 of a channel: a Planckian white of its CCT, or its band; shape (3,)."""
    if channel.peak_nm is not None and channel.width_nm is not None:
        return band_xyz(channel.peak_nm, channel.width_nm)
    if channel.cct_k is None:
        raise ValueError(f"channel {channel.name!r} has neither a colour temperature nor a band")
    return planck_xyz(channel.cct_k)


def uv_1960(xyz: FloatArray) -> FloatArray:
    """CIE 1960 u, v, in which CCT and Duv are defined; shape (..., 3) to (..., 2)."""
    xyz = np.asarray(xyz)
    denominator = xyz @ np.array([1.0, 15.0, 3.0])
    return np.asarray(xyz[..., :2] * np.array([4.0, 6.0]) / denominator[..., None])


def uv_1976(xyz: FloatArray) -> FloatArray:
    """CIE 1976 u', v', in which colour differences are judged; shape (..., 3) to (..., 2)."""
    return np.asarray(uv_1960(xyz) * np.array([1.0, 1.5]))


def levels_for_white(channel_xyz_full: FloatArray, cct_k: float) -> FloatArray | None:
    """Find levels of the channels, the highest 1, whose mixture has a colour temperature.

    Two channels are mixed until the CCT is met (it may lie off the locus); three or more are set to the colour of a black
    body, by least squares with no level below zero.

    Parameters
    ----------
    channel_xyz_full:
        XYZ of each channel's light at full level, shape (n, 3), n >= 2.

    Returns
    -------
    Levels of shape (n,), or None when the channels do not reach that white.
    """
    if len(channel_xyz_full) == 2:
        return _two_levels(channel_xyz_full, cct_k)
    from scipy.optimize import nnls

    target = planck_xyz(cct_k)
    scale = channel_xyz_full[:, 1].sum()
    levels, residual = nnls(channel_xyz_full.T / scale, target)
    if residual > _WHITE_RESIDUAL * float(np.linalg.norm(target)) or levels.max() <= 0:
        return None
    return np.asarray(levels / levels.max())


def _two_levels(channel_xyz_full: FloatArray, cct_k: float) -> FloatArray | None:
    """Mix by reciprocal CCT, which runs steadily from the one channel's white to the other's."""
    from scipy.optimize import brentq

    def miss(share: float) -> float:
        point = white_point((1.0 - share) * channel_xyz_full[0] + share * channel_xyz_full[1])
        return math.nan if point is None else 1e6 / point.cct_k - 1e6 / cct_k

    first, last = miss(0.0), miss(1.0)
    if math.isnan(first) or math.isnan(last) or first * last > 0:
        return None
    share = float(brentq(miss, 0.0, 1.0, xtol=1e-5))
    levels = np.array([1.0 - share, share])
    return np.asarray(levels / levels.max())


@functools.cache
def _locus() -> tuple[FloatArray, FloatArray]:
    """Planckian locus at equal steps of reciprocal temperature: (1/K, u v)."""
    reciprocal = np.linspace(1.0 / MOST_CCT_K, 1.0 / LEAST_CCT_K, 1921)
    return reciprocal, uv_1960(planck_xyz(1.0 / reciprocal))


@dataclass(frozen=True)
class WhitePoint:
    """``cct_k``, and ``duv``: distance from the Planckian locus in CIE 1960, positive above it (greenish)."""

    cct_k: float
    duv: float

    @property
    def looks_white(self) -> bool:
        """Whether the light passes for white."""
        return abs(self.duv) < WHITE_DUV


def white_point(xyz: FloatArray) -> WhitePoint | None:
    """Return CCT and Duv of one colour, or None beyond 0.05 from the locus, where CCT has no meaning.

    The nearest point of a finely divided locus (half a mired), found on the chord between its
    neighbours.
    """
    if not np.asarray(xyz)[1] > 0:
        return None
    reciprocal, locus = _locus()
    uv = uv_1960(np.asarray(xyz, dtype=float))
    nearest = int(np.argmin(((locus - uv) ** 2).sum(axis=1)))
    first = min(max(nearest - 1, 0), len(locus) - 3)
    chord = locus[first + 2] - locus[first]
    share = float((uv - locus[first]) @ chord / (chord @ chord))
    cct_k = 1.0 / (reciprocal[first] + share * (reciprocal[first + 2] - reciprocal[first]))
    foot = uv_1960(planck_xyz(cct_k))
    offset = uv - foot
    duv = math.copysign(float(np.hypot(*offset)), float(offset[1]))
    outside = not LEAST_CCT_K <= cct_k <= MOST_CCT_K
    return None if abs(duv) > 0.05 or outside else WhitePoint(float(cct_k), duv)
