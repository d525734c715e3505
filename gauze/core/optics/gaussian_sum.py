"""Light kernels as short sums of Gaussians, which makes every sum over a grid of emitters separable.

An inverse power of the distance is an integral of exponentials,

    R^-p = 1/Gamma(p/2) * integral over t of t^(p/2 - 1) exp(-t R^2) dt ,

and the trapezoidal rule in u = ln t converges exponentially (G. Beylkin, L. Monzon, "On approximation
of functions by exponential sums", Applied and Computational Harmonic Analysis 19 (2005) 17). Since R^2
is a sum of squares, exp(-t R^2) is a product of one factor for each coordinate: rows of emitters are summed
with small matrix products, exactly in place and at any resolution.
"""

import functools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from gauze.core.layout.model import FloatArray

STEP = 0.6  # of u = ln t; error of the rule about 3e-5 for the powers in use (see tests)
_UPPER = 7.0  # the cut lies this far, and six widths, beyond the peak of the integrand: what is lost is below 1e-6
_NEGLIGIBLE = 1e-9  # of the value at the axis; the far terms are this small and still count there
_SYMMETRIC = 1e-9  # of the extent: nodes and centres this close to their image are symmetric
_LOWER = 9.0  # the cut at the farthest distance is exp(-9) = 1e-4 of a value that is itself small
_SHARE_NODES = 4097  # of the table of shares inside the hemisphere, over direction cosines from 0 to 1


@dataclass(frozen=True)
class GaussianSum:
    """sum_k weight_k exp(-rate_k s), s a squared distance; both arrays of shape (terms,)."""

    weight: FloatArray
    rate: FloatArray

    def __call__(self, squared_distance: FloatArray) -> FloatArray:
        """Evaluate at squared distances of any shape."""
        s = np.asarray(squared_distance, dtype=float)
        total = np.zeros_like(s)
        for weight, rate in zip(self.weight, self.rate, strict=True):
            total += weight * np.exp(-rate * s)
        return total

    def scaled(self, factor: float) -> "GaussianSum":
        """Return the sum with every weight multiplied."""
        return GaussianSum(self.weight * factor, self.rate)


def joined(sums: Sequence[GaussianSum]) -> GaussianSum:
    """Return the sum of several sums."""
    return GaussianSum(np.concatenate([part.weight for part in sums]), np.concatenate([part.rate for part in sums]))


def inverse_power(power: float, nearest: float, farthest: float) -> GaussianSum:
    """Return R^-power as a sum of Gaussians in R, good from ``nearest`` to ``farthest`` to about 1e-4 of itself.

    Parameters
    ----------
    power:
        Exponent p > 0.
    nearest, farthest:
        Range of R, in mm, nearest > 0.
    """
    half = power / 2.0
    step = STEP * min(1.0, math.sqrt(4.0 / power))  # a narrow beam makes the integrand narrow
    lowest = -2.0 * math.log(farthest) - _LOWER / half
    highest = -2.0 * math.log(nearest) + math.log(half + 6.0 * math.sqrt(half) + _UPPER)
    rate = np.exp(np.arange(lowest, highest + step, step))
    return GaussianSum(step * rate**half / math.gamma(half), rate)


def gaussian_cells(rate: FloatArray, nodes: FloatArray, centres: FloatArray) -> NDArray[np.float32]:
    """Integral of exp(-rate (x - c)^2) over each cell between nodes, for each centre.

    Where nodes and centres are both symmetric about the same middle, as they nearly always are, half of it is the other
    half's image.

    Returns
    -------
    Array of shape (len(rate), len(nodes) - 1, len(centres)).
    """
    if not _share_a_middle(nodes, centres):
        return _cells(rate, nodes, centres)
    half = (len(centres) + 1) // 2
    near = _cells(rate, nodes, centres[:half])
    far = near[:, ::-1, : len(centres) - half][:, :, ::-1]
    return np.concatenate([near, far], axis=2)


def _share_a_middle(nodes: FloatArray, centres: FloatArray) -> bool:
    twice = float(nodes[0] + nodes[-1])
    slack = _SYMMETRIC * abs(float(nodes[-1] - nodes[0]))
    off = (np.abs(places + places[::-1] - twice).max() for places in (centres, nodes))
    return all(one < slack for one in off)


def _cells(rate: FloatArray, nodes: FloatArray, centres: FloatArray) -> NDArray[np.float32]:
    from scipy.special import erf

    root = np.sqrt(rate).astype(np.float32)[:, None, None]
    primitive = erf(root * (nodes[:, None] - centres[None, :]).astype(np.float32))
    scale = np.float32(math.sqrt(math.pi) / 2.0) / root
    return np.asarray((primitive[:, 1:] - primitive[:, :-1]) * scale)


def plane_kernel(power: float, depth_mm: float, farthest_mm: float) -> GaussianSum:
    """Illuminance on a plane at ``depth_mm`` from an emitter of 1 lm, as a sum of Gaussians in the plane.

    E(r) = (m + 1)/(2 pi) d^(m+1) / (r^2 + d^2)^((m+3)/2), in lm/mm^2.
    """
    far = math.hypot(depth_mm, farthest_mm)
    space = inverse_power(power + 3.0, depth_mm, far)
    factor = (power + 1.0) / (2.0 * math.pi) * depth_mm ** (power + 1.0)
    weight = factor * space.weight * np.exp(-space.rate * depth_mm**2)
    kept = weight > _NEGLIGIBLE * weight.sum()
    return GaussianSum(weight[kept], space.rate[kept])


def lobe_kernel(power: float, sigma: float, depth_mm: float) -> GaussianSum:
    """Luminance seen straight on through a scattering lobe of unit transmittance, from an emitter of 1 lm.

    The lobe is shift-invariant in direction cosines (Harvey and Shack): with the light arriving at
    beta = sin(theta) = r / R and leaving straight on,

        L(r) = E(r) exp(-beta^2 / (2 sigma^2)) / (2 pi sigma^2 N(beta)) ,

    where N(beta) is the share of the lobe about beta that lies inside the hemisphere (the
    renormalisation near grazing). In lm/(mm^2 sr).
    """
    unit = _unit_lobe_kernel(power, sigma)
    return GaussianSum(unit.weight / depth_mm**2, unit.rate / depth_mm**2)


def lobe_share_inside(beta: FloatArray, sigma: float) -> FloatArray:
    """Share of a Gaussian lobe about direction cosine ``beta`` that lies inside the unit disc.

    A non-central chi-square distribution with two degrees of freedom; many are read from a table, to a millionth.
    """
    if np.size(beta) > _SHARE_NODES:
        return _read_share(np.asarray(beta), sigma)
    return _exact_share_inside(np.asarray(beta), sigma)


def _exact_share_inside(beta: FloatArray, sigma: float) -> FloatArray:
    from scipy.special import chndtr

    return np.asarray(chndtr(1.0 / sigma**2, 2.0, (beta / sigma) ** 2))


def _read_share(beta: FloatArray, sigma: float) -> FloatArray:
    """Between even nodes, on straight lines."""
    place = np.clip(beta, 0.0, 1.0) * (_SHARE_NODES - 1)
    first = np.minimum(place.astype(np.int32), _SHARE_NODES - 2)
    share, step = _share_table(sigma)
    return np.asarray(share[first] + step[first] * (place - first))


@functools.lru_cache(maxsize=32)
def _share_table(sigma: float) -> tuple[FloatArray, FloatArray]:
    """The share at even nodes from 0 to 1, and how much more it is at the next."""
    share = _exact_share_inside(np.linspace(0.0, 1.0, _SHARE_NODES), sigma)
    return share, np.append(np.diff(share), 0.0)


def exact_unit_lobe(radius: FloatArray, power: float, sigma: float) -> FloatArray:
    """Return the lobe kernel at depth 1 as defined, not as fitted; ``radius`` of any shape."""
    squared = np.asarray(radius, dtype=float) ** 2
    beta = np.sqrt(squared / (1.0 + squared))
    illuminance = (power + 1.0) / (2.0 * math.pi) * (1.0 + squared) ** (-(power + 3.0) / 2.0)
    lobe = np.exp(-(beta**2) / (2.0 * sigma**2)) / (2.0 * math.pi * sigma**2)
    return np.asarray(illuminance * lobe / lobe_share_inside(beta, sigma))


@functools.lru_cache(maxsize=64)
def _unit_lobe_kernel(power: float, sigma: float) -> GaussianSum:
    """Fit the kernel at depth 1 by least squares; the error is below 1e-3 of the peak (see tests)."""
    fastest = 1.0 / (2.0 * sigma**2) + (power + 3.0) / 2.0
    rate = np.geomspace(0.03, 1.8 * fastest, 16)
    width = 1.0 / math.sqrt(fastest)
    radius = np.concatenate([np.linspace(0.0, 4.0 * width, 240), np.geomspace(4.0 * width, 60.0, 120)])
    target = exact_unit_lobe(radius, power, sigma)
    basis = np.exp(-np.outer(radius**2, rate))
    weight, *_ = np.linalg.lstsq(basis, target, rcond=1e-7)
    return GaussianSum(weight, rate)
