"""How much of a cell's light shows in its neighbours, and how even each cell is, in a baffled box."""

from dataclasses import dataclass, replace

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.model import FloatArray
from gauze.core.optics.cavity.baffled import BaffledLight, light_baffled
from gauze.core.optics.cavity.cells import exchange_of
from gauze.core.optics.cavity.face import CavityFace, Pixels, light_face

FIELD = 0.2  # of a cell's side, over which its light is averaged before its darkest place is sought; common practice, no source
# cells to either side that are lit with it, and the same while a hand drags: from one to the next less than a tenth gets on
_FARTHEST, _FARTHEST_COARSELY = 6, 2


@dataclass(frozen=True)
class Crosstalk:
    """One lit cell alone, ``column`` and ``row`` from 0.

    ``shares`` is the mean luminance of every cell over that of the lit one, shape (rows, columns). ``beside`` is the largest
    share of a cell that shares a side, ``diagonal`` of one that shares a corner; ``worst`` is the brightest place of any
    neighbour over the lit cell's mean. ``cell_evenness`` is least over mean within each lit cell, with all
    emitters on, (rows, columns); NaN in a dark one.
    """

    column: int
    row: int
    shares: FloatArray
    beside: float
    diagonal: float
    worst: float
    cell_evenness: FloatArray


def crosstalk_of(face: CavityFace, fineness: float, pause: Pause = carry_on) -> Crosstalk | None:
    """Light the cell nearest to the middle that has emitters alone; None where none gives light."""
    light = face.light
    assert isinstance(light, BaffledLight)
    box, emitters = light.box, light.emitters
    columns, rows = box.cell_of(emitters.places_mm)
    lit = emitters.flux_lm.sum(axis=1) > 0
    if not lit.any():
        return None
    away = (columns - (box.columns - 1) / 2) ** 2 + (rows - (box.rows - 1) / 2) ** 2
    chosen = int(np.argmin(np.where(lit, away, np.inf)))
    column, row = int(columns[chosen]), int(rows[chosen])
    own = (columns == column) & (rows == row)
    alone = emitters.part(np.flatnonzero(own))
    far = _FARTHEST if fineness >= 1.0 else _FARTHEST_COARSELY
    first_column, wide = _about(column, box.columns, far)
    first_row, high = _about(row, box.rows, far)
    moved = alone.places_mm - np.array([first_column * box.pitch_x_mm, first_row * box.pitch_y_mm, 0.0])
    alone = replace(alone, places_mm=moved, flux_lm=alone.flux_lm @ face.basis_xyz[:, 1:2])
    pixels = len(face.chart.u_mm) // box.columns
    white = np.array([[1.0, 1.0, 1.0]])
    exchange = light.exchange if light.own_exchange else exchange_of(box, light.fineness, pause)
    shown = light_face(
        light_baffled(replace(box, columns=wide, rows=high), alone, fineness, pause, exchange),
        face.diffuser,
        white,
        face.emitter_size_mm,
        Pixels(pixels**2 * wide * high),
        pause,
    )
    cells = _cells(shown.chart.spread_out(shown.luminance[:, 0]), wide, high)
    up, across = row - first_row, column - first_column
    lit_mean = max(float(cells[up, across].mean()), 1e-12)
    apart = np.abs(np.arange(high) - up)[:, None] + np.abs(np.arange(wide) - across)[None, :]
    corner = (np.abs(np.arange(high) - up)[:, None] == 1) & (np.abs(np.arange(wide) - across)[None, :] == 1)
    near = cells.mean(axis=(2, 3)) / lit_mean
    others = cells.max(axis=(2, 3))[apart > 0]
    shares = np.zeros((box.rows, box.columns))
    shares[first_row : first_row + high, first_column : first_column + wide] = near
    return Crosstalk(
        column,
        row,
        shares,
        float(near[apart == 1].max(initial=0.0)),
        float(near[corner].max(initial=0.0)),
        float(others.max(initial=0.0)) / lit_mean,
        _evenness(face, box.columns, box.rows, columns[lit], rows[lit]),
    )


def _about(cell: int, count: int, far: int) -> tuple[int, int]:
    """The first of the cells along one side that are lit with a cell, and how many: what is farther gets nothing that counts."""
    first = max(min(cell - far, count - 2 * far - 1), 0)
    return first, min(2 * far + 1, count)


def _cells(grid: FloatArray, columns: int, rows: int) -> FloatArray:
    """Bring a map (m, n) in cells: (rows, columns, y, x)."""
    up, across = grid.shape[0] // rows, grid.shape[1] // columns
    return np.asarray(grid.reshape(rows, up, columns, across).transpose(0, 2, 1, 3))


def _evenness(face: CavityFace, columns: int, rows: int, lit_columns: FloatArray, lit_rows: FloatArray) -> FloatArray:
    """Least over mean of each cell, averaged over a small field: an eye does not read single places of a cell."""
    from scipy.ndimage import uniform_filter

    luminance = face.chart.spread_out(face.luminance @ face.basis_xyz[:, 1])
    cells = _cells(luminance, columns, rows)
    mean = cells.mean(axis=(2, 3))
    field = max(round(FIELD * min(cells.shape[2:])), 1)
    cells = uniform_filter(cells, (1, 1, field, field), mode="nearest")
    even = np.full((rows, columns), np.nan)
    even[lit_rows, lit_columns] = (cells.min(axis=(2, 3)) / np.maximum(mean, 1e-12))[lit_rows, lit_columns]
    return even
