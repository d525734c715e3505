"""The pixels of a flat face as they lie in the plan: in even rows and columns, which tell the nearest to any place."""

from __future__ import annotations

import functools
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
    axes_mm: tuple[FloatArray, FloatArray]  # x and y of the pixels on the face

    @property
    def places_mm(self) -> FloatArray:
        """Places of the pixels on the face, (n, 2)."""
        return np.stack(self.axes_mm, axis=1)

    def nearest_on(self, x_mm: FloatArray, y_mm: FloatArray, reach_mm: float) -> tuple[BoolArray, IndexArray]:
        """The same for all places of a grid, row by row."""
        rows, columns = self.nearest_inside.shape
        (column, has_column), (row, has_row) = (
            _lines(at_mm, self.origin_mm[axis], self.step_mm[axis], count)
            for axis, (at_mm, count) in enumerate(((x_mm, columns), (y_mm, rows)))
        )
        index: IndexArray = self.nearest_inside[np.ix_(row, column)]
        own_x_mm, own_y_mm = self.axes_mm
        away2 = (x_mm[None, :] - own_x_mm[index]) ** 2 + (y_mm[:, None] - own_y_mm[index]) ** 2
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
        x_mm, y_mm = self.axes_mm
        away2 = (points[:, 0] - x_mm[index]) ** 2 + (points[:, 1] - y_mm[index]) ** 2
        return there & (away2 <= reach_mm**2), index


def _lines(at_mm: FloatArray, origin_mm: float, step_mm: float, count: int) -> tuple[IndexArray, BoolArray]:
    """The nearest of so many lines to each place along one axis, and whether there is one so near."""
    line = np.rint((at_mm - origin_mm) / step_mm).astype(int) + 1
    return np.clip(line, 0, count - 1), (line >= 0) & (line < count)


def lattice_of(chart: Chart) -> Lattice | None:
    """Return the lattice of a flat chart whose axes are those of the plan; None for any other."""
    row, column = np.nonzero(chart.inside)
    x_mm, y_mm = np.ascontiguousarray(chart.places_mm[:, :2].T)
    if len(row) < 2 or not np.all(chart.normals[:, 2] < _EVEN - 1.0):
        return None
    down = 1.0 if (y_mm[-1] - y_mm[0]) * (row[-1] - row[0]) >= 0 else -1.0
    step = float(chart.u_mm[1] - chart.u_mm[0]), down * float(chart.v_mm[1] - chart.v_mm[0])
    origin = float(x_mm[0] - column[0] * step[0]), float(y_mm[0] - row[0] * step[1])
    expected = origin[0] + column * step[0], origin[1] + row * step[1]
    off = [np.abs(place - even) for place, even in zip((x_mm, y_mm), expected, strict=True)]
    uneven = np.mean([(one > _EVEN * step[0]).mean() for one in off])
    if uneven > 0.5 or max(one.max() for one in off) > _AT_AN_EDGE * step[0]:
        return None
    return Lattice(origin, step, _nearest_inside(chart.inside), expected)


def _nearest_inside(inside: BoolArray) -> IndexArray:
    return _kept_nearest_inside(inside.tobytes(), inside.shape)


@functools.lru_cache(maxsize=16)  # a hand that drags asks for the same faces again
def _kept_nearest_inside(inside_bytes: bytes, shape: tuple[int, int]) -> IndexArray:
    inside = np.frombuffer(inside_bytes, bool).reshape(shape)
    numbers = np.pad((np.cumsum(inside) - 1).reshape(inside.shape), 1, mode="edge")
    if inside.all():
        return numbers
    from scipy.ndimage import distance_transform_edt

    _, (row, column) = distance_transform_edt(~np.pad(inside, 1), return_indices=True)
    return np.asarray(numbers[row, column])
