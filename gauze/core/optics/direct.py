"""Direct light of a source grid: on points or cells of a plane in front of it, on the cells of a wall beside it.

All results are per lumen of the whole grid, in 1/mm^2 (illuminance) or 1/(mm^2 sr) (luminance).
"""

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from gauze.core.layout.model import FloatArray
from gauze.core.optics.gaussian_sum import GaussianSum, gaussian_cells, inverse_power
from gauze.core.optics.product import product
from gauze.core.optics.sources import SourceGrid

_MOST_EXPONENT = np.float32(40.0)
_MOST_AT_ONCE = 400_000  # numbers held at once for a block of Gaussian terms
_LEAST_CLEARANCE_MM = 0.25  # nearer than this a package counts as touching the wall


def plane_points(
    source: SourceGrid, kernel: GaussianSum, x_mm: FloatArray, y_mm: FloatArray, spread_mm: float = 0.0
) -> NDArray[np.float32]:
    """Sum a kernel in the plane over all emitters, at the crossings of ``x_mm`` and ``y_mm``.

    The size of the package is met by widening each Gaussian by the package's variance, its square
    over 12, so that a near LED counts as the small face that it is. ``spread_mm`` widens it further.

    Returns
    -------
    Array of shape (len(y_mm), len(x_mm)).
    """
    flux = source.flux
    swap = flux.shape[0] < flux.shape[1]  # contract the longer side of the grid first
    axes = [(x_mm, source.x_mm, source.package_mm[0]), (y_mm, source.y_mm, source.package_mm[1])]
    if swap:
        axes.reverse()
        flux = flux.T
    (long_p, long_s, long_w), (short_p, short_s, short_w) = axes
    short_count, terms = len(short_s), len(kernel.rate)
    long_scale, long_rate = _widened(kernel.rate, long_w, spread_mm)
    short_scale, short_rate = _widened(kernel.rate, short_w, spread_mm)
    weight = (kernel.weight * long_scale * short_scale).astype(np.float32)
    long_squared = ((long_p[:, None] - long_s[None, :]) ** 2).astype(np.float32)
    short_squared = ((short_s[:, None] - short_p[None, :]) ** 2).astype(np.float32)
    left = np.empty((len(long_p), terms, short_count), np.float32)
    right = np.empty((terms, short_count, len(short_p)), np.float32)
    block = max(1, _MOST_AT_ONCE // max(long_squared.size, short_squared.size))
    for first in range(0, terms, block):
        part = slice(first, first + block)
        long_terms = _exponentials(long_rate[part], long_squared)
        left[:, part] = product(long_terms, flux.astype(np.float32)).transpose(1, 0, 2)
        right[part] = _exponentials(short_rate[part], short_squared)
    right *= weight[:, None, None]
    result: NDArray[np.float32] = left.reshape(len(long_p), -1) @ right.reshape(-1, len(short_p))
    return result if swap else np.ascontiguousarray(result.T)


def _exponentials(rate: FloatArray, squared: NDArray[np.float32]) -> NDArray[np.float32]:
    """exp(-rate s) for all rates, cut off at 4e-18: products of smaller numbers are denormal, slow, and count for nothing."""
    exponent = rate.astype(np.float32)[:, None, None] * squared
    np.minimum(exponent, _MOST_EXPONENT, out=exponent)
    return np.asarray(np.exp(-exponent))


def _widened(rate: FloatArray, package_mm: float, spread_mm: float = 0.0) -> tuple[FloatArray, FloatArray]:
    """Scale and rate of Gaussians convolved along one axis with the package and the sideways spread."""
    widening = 1.0 + 2.0 * rate * (package_mm**2 / 12.0 + spread_mm**2)
    return 1.0 / np.sqrt(widening), rate / widening


def plane_cells(source: SourceGrid, kernel: GaussianSum, x_nodes: FloatArray, y_nodes: FloatArray) -> FloatArray:
    """Mean of a kernel over the cells between grid nodes, in closed form.

    Returns
    -------
    Array of shape (len(x_nodes) - 1, len(y_nodes) - 1).
    """
    x_scale, x_rate = _widened(kernel.rate, source.package_mm[0])
    y_scale, y_rate = _widened(kernel.rate, source.package_mm[1])
    x_part = gaussian_cells(x_rate, x_nodes, source.x_mm) * (kernel.weight * x_scale * y_scale)[:, None, None]
    y_part = gaussian_cells(y_rate, y_nodes, source.y_mm)
    half = np.matmul(x_part, source.flux[None])
    total = np.matmul(half, y_part.transpose(0, 2, 1)).sum(axis=0)
    return np.asarray(total / np.outer(np.diff(x_nodes), np.diff(y_nodes)))


def wall_cells(
    source: SourceGrid, axis: str, extent_mm: float, along_nodes: FloatArray, z_nodes: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Mean illuminance on the cells of two facing walls, in closed form along them and up them.

    E(y, z) = (m + 1)/(2 pi) z^m x_e / R^(m+3), z above the emitting faces, x_e the distance to the wall.

    Parameters
    ----------
    axis:
        ``"x"`` for the walls at x = 0 and x = extent, ``"y"`` for the other two.
    extent_mm:
        Inner size of the box between the two walls.
    along_nodes, z_nodes:
        Grid nodes along the wall and up from the back.

    Returns
    -------
    Two arrays of shape (len(along_nodes) - 1, len(z_nodes) - 1).
    """
    away, along = (source.x_mm, source.y_mm) if axis == "x" else (source.y_mm, source.x_mm)
    package_away, package_along = source.package_mm if axis == "x" else source.package_mm[::-1]
    flux = source.flux if axis == "x" else source.flux.T
    height = np.maximum(z_nodes - source.z_mm, 0.0)
    clearance = min(float(away.min()), extent_mm - float(away.max())) - package_away / 2
    farthest = math.hypot(extent_mm, along_nodes[-1], height[-1])
    m = source.power
    space = inverse_power(m + 3.0, max(clearance, _LEAST_CLEARANCE_MM), farthest)
    scale, along_rate = _widened(space.rate, package_along)
    reach = gaussian_cells(along_rate, along_nodes, along)
    rise = _power_moment(m, space.rate, height) * (space.weight * scale * (m + 1.0) / (2.0 * math.pi))[:, None]
    area = np.outer(np.diff(along_nodes), np.diff(z_nodes))
    walls = []
    for distance in (away, extent_mm - away):
        weighted = _moment_over_package(space.rate, distance, package_away) @ flux
        lit = np.matmul(reach, weighted[:, :, None])[:, :, 0]
        walls.append(np.asarray(lit.T @ rise / area))
    return walls[0], walls[1]


def _moment_over_package(rate: FloatArray, distance: FloatArray, width: float) -> FloatArray:
    """Mean of x exp(-rate x^2) over the package, which may not reach behind the wall: shape (rates, emitters)."""
    near = np.maximum(distance - width / 2, 0.0)
    far = distance + width / 2
    fall = np.exp(-rate[:, None] * near**2) - np.exp(-rate[:, None] * far**2)
    return np.asarray(fall / (2.0 * rate[:, None] * (far - near)))


def _power_moment(m: float, rate: FloatArray, nodes: FloatArray) -> FloatArray:
    """Integral of z^m exp(-rate z^2) over each cell, by the incomplete gamma function: shape (rates, cells)."""
    from scipy.special import gamma, gammainc

    half = (m + 1.0) / 2.0
    primitive: Any = gammainc(half, rate[:, None] * nodes**2) * (gamma(half) / (2.0 * rate[:, None] ** half))
    return np.asarray(np.diff(primitive, axis=1))
