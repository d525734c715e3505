"""The pixels of a flat face as they lie in the plan: in even rows and columns, which tell the nearest to any place."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import BoolArray, FloatArray, IndexArray
from gauze.core.optics.cavity.chart import Chart

_EVEN = 1e-6  # of a pixel, by which its place may differ
_AT_AN_EDGE = 1.01  # the same, where a mitre cuts it and it stands for what is just inside


@dataclass(frozen=True)
class Lattice:
    """Pixels in rows and columns along x and y.

    ``origin_mm`` is the first pixel's place, ``step_mm`` from column to column and row to row (y may run down), and
    ``nearest_inside`` (rows, columns) the number of the pixel on the face that is nearest to each, with one more all round.
    """

    origin_mm: tuple[float, float]
    step_mm: tuple[float, float]
    nearest_inside: IndexArray
    places_mm: FloatArray  # (pixels on the face, 2)

    def nearest_on(self, x_mm: FloatArray, y_mm: FloatArray, reach_mm: float) -> tuple[BoolArray, IndexArray]:
        """The same for all places of a grid, row by row."""
        rows, columns = self.nearest_inside.shape
        (column, has_column), (row, has_row) = (
            _lines(at_mm, self.origin_mm[axis], self.step_mm[axis], count)
            for axis, (at_mm, count) in enumerate(((x_mm, columns), (y_mm, rows)))
        )
        index: IndexArray = self.nearest_inside[np.ix_(row, column)]
        away2 = (x_mm[None, :] - self.places_mm[index, 0]) ** 2 + (y_mm[:, None] - self.places_mm[index, 1]) ** 2
        hit = has_row[:, None] & has_column[None, :] & (away2 <= reach_mm**2)
        return hit.ravel(), index.ravel()

    def nearest(self, points: FloatArray, reach_mm: float) -> tuple[BoolArray, IndexArray]:
        """Which of points (n, 2) have a pixel of the face within reach, and the number of the one that is nearest."""
        column, row = (
            np.rint((points[:, axis] - self.origin_mm[axis]) / self.step_mm[axis]).astype(int) + 1 for axis in (0, 1)
        )
        rows, columns = self.nearest_inside.shape
        there = (column >= 0) & (column < columns) & (row >= 0) & (row < rows)
        index: IndexArray = self.nearest_inside[np.clip(row, 0, rows - 1), np.clip(column, 0, columns - 1)]
        away = points - self.places_mm[index]
        return there & ((away * away).sum(axis=1) <= reach_mm**2), index


def _lines(at_mm: FloatArray, origin_mm: float, step_mm: float, count: int) -> tuple[IndexArray, BoolArray]:
    """The nearest of so many lines to each place along one axis, and whether there is one so near."""
    line = np.rint((at_mm - origin_mm) / step_mm).astype(int) + 1
    return np.clip(line, 0, count - 1), (line >= 0) & (line < count)


def lattice_of(chart: Chart) -> Lattice | None:
    """Return the lattice of a flat chart whose axes are those of the plan; None for any other."""
    row, column = np.nonzero(chart.inside)
    places = chart.places_mm[:, :2]
    if len(row) < 2 or not np.all(chart.normals[:, 2] < _EVEN - 1.0):
        return None
    down = 1.0 if (places[-1, 1] - places[0, 1]) * (row[-1] - row[0]) >= 0 else -1.0
    step = float(chart.u_mm[1] - chart.u_mm[0]), down * float(chart.v_mm[1] - chart.v_mm[0])
    origin = float(places[0, 0] - column[0] * step[0]), float(places[0, 1] - row[0] * step[1])
    expected = np.stack([origin[0] + column * step[0], origin[1] + row * step[1]], axis=1)
    off = np.abs(places - expected)
    if (off > _EVEN * step[0]).mean() > 0.5 or off.max() > _AT_AN_EDGE * step[0]:
        return None
    return Lattice(origin, step, _nearest_inside(chart.inside), expected)


def _nearest_inside(inside: BoolArray) -> IndexArray:
    numbers = np.pad((np.cumsum(inside) - 1).reshape(inside.shape), 1, mode="edge")
    if inside.all():
        return numbers
    from scipy.ndimage import distance_transform_edt

    _, (row, column) = distance_transform_edt(~np.pad(inside, 1), return_indices=True)
    return np.asarray(numbers[row, column])
