"""Bounced light gathered on the points of a plane, from the cells of a parallel plane and of walls beside it.

The same separable sums as for the emitters. What depends on the shape of the box alone is kept in the
operators; applying one to a radiosity is a few small matrix products. Results are in the unit of the radiosity.
"""

import math

import numpy as np
from numpy.typing import NDArray

from gauze.core.layout.model import FloatArray
from gauze.core.optics.gaussian_sum import gaussian_cells, inverse_power

Matrix = NDArray[np.float32]
Points = tuple[FloatArray, FloatArray]


class PlaneGather:
    """From the cells of a plane to points of a parallel one: B d^2 / (pi R^4), integrated over the cells.

    Fastest where nodes and points are both symmetric about the middle of the box.
    """

    def __init__(self, nodes: Points, points: Points, distance_mm: float) -> None:
        far = math.hypot(nodes[0][-1], nodes[1][-1], distance_mm)
        space = inverse_power(4.0, distance_mm, far)
        scale = space.weight * np.exp(-space.rate * distance_mm**2) * (distance_mm**2 / math.pi)
        first = gaussian_cells(space.rate, nodes[0], points[0]).transpose(0, 2, 1)
        second = gaussian_cells(space.rate, nodes[1], points[1])
        self._first: Matrix = np.ascontiguousarray(first * scale[:, None, None].astype(np.float32))
        self._second: Matrix = second.reshape(-1, second.shape[2])

    def __call__(self, radiosity: FloatArray) -> FloatArray:
        """Return the illuminance at the points, shape (len(points[0]), len(points[1]))."""
        half = np.matmul(self._first, radiosity.astype(np.float32)[None])
        left = half.transpose(1, 0, 2).reshape(half.shape[1], -1)
        return np.asarray(left @ self._second, dtype=float)


class WallGather:
    """From two facing walls to points of a plane on which they stand: B x h / (pi R^4), integrated.

    Parameters
    ----------
    along_nodes, rise_nodes:
        Grid of the walls: along them, and away from the receiving plane, both ascending.
    away_points, along_points:
        The points: distance from the first wall, place along the walls.
    extent_mm:
        Distance between the walls.
    """

    def __init__(
        self,
        along_nodes: FloatArray,
        rise_nodes: FloatArray,
        away_points: FloatArray,
        along_points: FloatArray,
        extent_mm: float,
    ) -> None:
        far = math.hypot(extent_mm, along_nodes[-1], rise_nodes[-1])
        space = inverse_power(4.0, float(away_points.min()), far)
        rate = space.rate[:, None]
        edge = np.exp(-rate * rise_nodes[None] ** 2)
        self._rise: FloatArray = (edge[:, :-1] - edge[:, 1:]) / (2.0 * rate)
        self._along = gaussian_cells(space.rate, along_nodes, along_points)
        weight = space.weight[:, None] / math.pi
        self._away = tuple(
            weight * distance[None] * np.exp(-rate * distance[None] ** 2)
            for distance in (away_points, extent_mm - away_points)
        )

    def __call__(self, first: FloatArray, second: FloatArray) -> FloatArray:
        """Return the illuminance at the points from the radiosities of both walls, each of shape (along, rise).

        The shape is (len(away_points), len(along_points)).
        """
        total: FloatArray = np.zeros((self._away[0].shape[1], self._along.shape[2]))
        for radiosity, away in zip((first, second), self._away, strict=True):
            risen = (self._rise @ radiosity.T).astype(np.float32)
            along = np.matmul(risen[:, None, :], self._along)[:, 0]
            total += away.T @ along
        return total


class PlaneToWallsGather:
    """From the cells of a plane to points of two facing walls that stand on it: B x h / (pi R^4), integrated.

    Parameters
    ----------
    away_nodes, along_nodes:
        Grid of the plane: from the first wall to the second, and along them.
    along_points, rise_points:
        The points on the walls: along them, and away from the plane (more than zero).
    """

    def __init__(
        self, away_nodes: FloatArray, along_nodes: FloatArray, along_points: FloatArray, rise_points: FloatArray
    ) -> None:
        extent_mm = away_nodes[-1]
        far = math.hypot(extent_mm, along_nodes[-1], rise_points[-1])
        space = inverse_power(4.0, float(rise_points.min()), far)
        rate = space.rate[:, None]
        self._away = tuple(
            (np.exp(-rate * near[None] ** 2) - np.exp(-rate * far_side[None] ** 2)) / (2.0 * rate)
            for near, far_side in (
                (away_nodes[:-1], away_nodes[1:]),
                (extent_mm - away_nodes[1:], extent_mm - away_nodes[:-1]),
            )
        )
        self._along = gaussian_cells(space.rate, along_nodes, along_points)
        weight = space.weight[:, None] / math.pi
        self._rise: FloatArray = weight * rise_points[None] * np.exp(-rate * rise_points[None] ** 2)

    def __call__(self, radiosity: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return the illuminance on both walls from a radiosity of shape (away, along): (along, rise) each."""
        walls = []
        for away in self._away:
            across = (away @ radiosity).astype(np.float32)
            along = np.matmul(across[:, None, :], self._along)[:, 0]
            walls.append(np.asarray(along.T @ self._rise, dtype=float))
        return walls[0], walls[1]
