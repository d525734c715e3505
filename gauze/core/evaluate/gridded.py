"""The light of a face averaged over the cells of any grid, to compare with measurements and other programs."""

from dataclasses import dataclass

import numpy as np

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.layout.model import FloatArray

FINE_IN_CELL = 4  # pixels of the map along a side of a cell, from which its average is taken


@dataclass(frozen=True)
class Grid:
    """Edges of cells, rising, in mm on the face: ``x_mm`` (n + 1,) and ``y_mm`` (m + 1,)."""

    x_mm: FloatArray
    y_mm: FloatArray

    @property
    def finest_mm(self) -> float:
        """Side of the smallest cell."""
        return float(min(np.diff(self.x_mm).min(), np.diff(self.y_mm).min()))


@dataclass(frozen=True)
class CellAverages:
    """Averages over the part of each cell that lies on a face, nothing where none does.

    ``illuminance_lx`` (m, n) on the inner face, ``xyz`` (3, m, n) with Y in cd/m^2, ``covered`` (m, n) the share of a cell that
    lies on a face.
    """

    grid: Grid
    illuminance_lx: FloatArray
    xyz: FloatArray
    covered: FloatArray


def face_grid(evaluation: Evaluation) -> Grid:
    """Return the grid of the map itself: the edges of its pixels."""
    return Grid(_edges(evaluation.x_mm), _edges(evaluation.y_mm))


def cell_averages(evaluation: Evaluation, grid: Grid) -> CellAverages:
    """Average the map over cells: every pixel counts by the part of it that lies in the cell, so that flux is kept."""
    across = _overlaps(grid.x_mm, _edges(evaluation.x_mm))
    up = _overlaps(grid.y_mm, _edges(evaluation.y_mm))
    inside = evaluation.inside.astype(float)
    area = up @ inside @ across.T
    there = area > 1e-12 * float(np.outer(np.diff(grid.y_mm), np.diff(grid.x_mm)).max())
    whole = np.where(there, area, 1.0)

    def mean(values: FloatArray) -> FloatArray:
        averages: FloatArray = np.where(there, up @ (values * inside) @ across.T / whole, 0.0)
        return averages

    return CellAverages(
        grid=grid,
        illuminance_lx=mean(np.asarray(evaluation.illuminance_lx, float)),
        xyz=np.stack([mean(np.asarray(plane, float)) for plane in evaluation.xyz]),
        covered=np.asarray(area / np.outer(np.diff(grid.y_mm), np.diff(grid.x_mm))),
    )


def _edges(middles: FloatArray) -> FloatArray:
    step = float(middles[1] - middles[0])
    return np.append(middles - step / 2.0, middles[-1] + step / 2.0)


def _overlaps(cells: FloatArray, pixels: FloatArray) -> FloatArray:
    """Length that every cell (rows) shares with every pixel (columns)."""
    near = np.maximum(cells[:-1, None], pixels[None, :-1])
    far = np.minimum(cells[1:, None], pixels[None, 1:])
    return np.asarray(np.maximum(far - near, 0.0))
