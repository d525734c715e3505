"""Radiative exchange between rectangles with parallel edges, in closed form.

Both functions return exchange areas A_i F_ij between all cells of two graded grids at once: the
antiderivative is evaluated once at every pair of grid nodes and differenced, instead of sixteen times
for every pair of cells. J. R. Ehlert, T. F. Smith, "View factors for perpendicular and parallel
rectangular plates", Journal of Thermophysics and Heat Transfer 7 (1993) 173.
"""

import math

import numpy as np

from gauze.core.layout.model import FloatArray

_LEAST = 1e-150  # stands for zero under a logarithm and a fraction that are then multiplied by zero


def parallel_exchange(
    first_u: FloatArray, first_v: FloatArray, second_u: FloatArray, second_v: FloatArray, distance: float
) -> FloatArray:
    """Exchange areas between the cells of two parallel grids at a distance.

    Parameters
    ----------
    first_u, first_v, second_u, second_v:
        Grid nodes along two common axes, ascending, shapes (n + 1,).
    distance:
        Between the two planes, more than zero.

    Returns
    -------
    Array of shape (n_first_u, n_first_v, n_second_u, n_second_v), in squared length.
    """
    u = (first_u[:, None] - second_u[None, :])[:, None, :, None]
    v = (first_v[:, None] - second_v[None, :])[None, :, None, :]
    p = np.sqrt(v * v + distance * distance)
    q = np.sqrt(u * u + distance * distance)
    nodes = u * p * np.arctan(u / p) + v * q * np.arctan(v / q)
    nodes -= 0.5 * distance * distance * np.log(u * u + v * v + distance * distance)
    return _difference(nodes) / (2.0 * math.pi)


def perpendicular_exchange(
    first_distance: FloatArray, first_along: FloatArray, second_distance: FloatArray, second_along: FloatArray
) -> FloatArray:
    """Exchange areas between the cells of two grids in planes at right angles.

    ``*_distance`` are nodes measured from the common edge line (>= 0, ascending), ``*_along`` nodes
    along that line.

    Returns
    -------
    Array of shape (n_first_distance, n_first_along, n_second_distance, n_second_along).
    """
    squared = (first_distance[:, None] ** 2 + second_distance[None, :] ** 2)[:, None, :, None]
    along = (first_along[:, None] - second_along[None, :])[None, :, None, :]
    radius = np.sqrt(squared)
    total = squared + along * along
    angle = np.arctan(along / np.maximum(radius, _LEAST))
    logarithm = np.log(np.maximum(total, _LEAST))
    nodes = along * radius * angle - 0.25 * (squared - along * along) * logarithm
    return _difference(nodes) / (2.0 * math.pi)


def _difference(nodes: FloatArray) -> FloatArray:
    """Difference of neighbours along all four axes; plain slices, as these grids are small and many."""
    nodes = nodes[1:] - nodes[:-1]
    nodes = nodes[:, 1:] - nodes[:, :-1]
    nodes = nodes[:, :, 1:] - nodes[:, :, :-1]
    return nodes[..., 1:] - nodes[..., :-1]
