"""Measured distributions of emitters: intensity per lumen over gamma and C, about any axis."""

from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import FloatArray

GAMMA_DEG = np.arange(0.0, 181.0, 1.0)
C_DEG = np.arange(0.0, 361.0, 5.0)


@dataclass(frozen=True)
class DistributionTable:
    """Intensity per lumen on a regular grid: ``per_steradian`` (181, 73), gamma in degrees and C every 5 degrees."""

    per_steradian: FloatArray

    def at(self, cosine: FloatArray, c_rad: FloatArray) -> FloatArray:
        """Intensity per lumen, in 1/sr, under angles of which the cosine of gamma and C are given; bilinear."""
        gamma = np.degrees(np.arccos(np.clip(cosine, -1.0, 1.0)))
        c = np.degrees(c_rad) % 360.0 / 5.0
        row = np.minimum(gamma.astype(int), len(GAMMA_DEG) - 2)
        column = np.minimum(c.astype(int), len(C_DEG) - 2)
        down, right = gamma - row, c - column
        table = self.per_steradian
        above = table[row, column] * (1.0 - right) + table[row, column + 1] * right
        below = table[row + 1, column] * (1.0 - right) + table[row + 1, column + 1] * right
        return np.asarray(above * (1.0 - down) + below * down)


def table_of(gamma_deg: FloatArray, c_deg: FloatArray, candela: FloatArray) -> DistributionTable:
    """Bring a measured table on the grid and to one lumen.

    Parameters
    ----------
    gamma_deg, c_deg, candela:
        Shapes (g,), (c,) and (c, g). C runs over the whole turn from 0 to 360, or is the single plane 0 of a distribution that is
        alike all round. Beyond the gammas given there is no light.

    Raises
    ------
    ValueError
        When nothing is emitted.
    """
    from scipy.interpolate import RegularGridInterpolator

    if len(c_deg) == 1:
        c_deg, candela = np.array([0.0, 360.0]), np.repeat(candela, 2, axis=0)
    read = RegularGridInterpolator((c_deg, gamma_deg), candela, bounds_error=False, fill_value=0.0)
    c, gamma = np.meshgrid(C_DEG, GAMMA_DEG)
    grid = read(np.stack([c, gamma], axis=-1))
    flux = _flux(grid)
    if not flux > 0.0:
        raise ValueError("the distribution emits nothing")
    return DistributionTable(grid / flux)


def _flux(grid: FloatArray) -> float:
    """Flux of a table: the mean over C, over zones whose solid angles are exact."""
    half = np.radians(np.concatenate([[0.0], (GAMMA_DEG[1:] + GAMMA_DEG[:-1]) / 2.0, [180.0]]))
    zones = 2.0 * np.pi * -np.diff(np.cos(half))
    return float(zones @ grid[:, :-1].mean(axis=1))


def sides_of(axes: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Where C = 0 and C = 90 lie for axes of shape (..., 3): towards x as far as the axis allows, or y for an axis along x."""
    start = np.where(np.abs(axes[..., :1]) < 0.99, np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0]))
    right = start - (start * axes).sum(axis=-1, keepdims=True) * axes
    right = right / np.linalg.norm(right, axis=-1, keepdims=True)
    return right, np.cross(axes, right)


def measured_share(
    table: DistributionTable, axes: FloatArray, away: FloatArray, arriving: FloatArray, squared: FloatArray
) -> FloatArray:
    """Illuminance per lumen: I cos' / r^2 from the way to the place (..., 3), r cos' and r^2."""
    right, up = sides_of(axes)
    cosine = (away * axes).sum(axis=-1) / np.sqrt(squared)
    turn = np.arctan2((away * up).sum(axis=-1), (away * right).sum(axis=-1))
    return np.asarray(table.at(cosine, turn) * arriving / squared**1.5)
