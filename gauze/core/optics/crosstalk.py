"""How much of a cell's light shows in its neighbours, and how even each cell is, in a baffled box."""

from dataclasses import dataclass, replace

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.model import FloatArray
from gauze.core.optics.cavity.baffled import BaffledLight, light_baffled
from gauze.core.optics.cavity.face import CavityFace, light_face


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
    alone = replace(alone, flux_lm=alone.flux_lm @ face.basis_xyz[:, 1:2])
    pixels = len(face.chart.u_mm) // box.columns
    white = np.array([[1.0, 1.0, 1.0]])
    shown = light_face(
        light_baffled(box, alone, fineness, pause),
        face.diffuser,
        white,
        face.emitter_size_mm,
        pixels**2 * box.columns * box.rows,
        1.0,
        pause,
    )
    cells = _cells(shown.chart.spread_out(shown.luminance[:, 0]), box.columns, box.rows)
    shares = cells.mean(axis=(2, 3)) / max(float(cells[row, column].mean()), 1e-12)
    apart = np.abs(np.arange(box.rows) - row)[:, None] + np.abs(np.arange(box.columns) - column)[None, :]
    corner = (np.abs(np.arange(box.rows) - row)[:, None] == 1) & (np.abs(np.arange(box.columns) - column)[None, :] == 1)
    others = cells.max(axis=(2, 3))[apart > 0]
    return Crosstalk(
        column,
        row,
        shares,
        float(shares[apart == 1].max(initial=0.0)),
        float(shares[corner].max(initial=0.0)),
        float(others.max(initial=0.0)) / max(float(cells[row, column].mean()), 1e-12),
        _evenness(face, box.columns, box.rows, columns[lit], rows[lit]),
    )


def _cells(grid: FloatArray, columns: int, rows: int) -> FloatArray:
    """Bring a map (m, n) in cells: (rows, columns, y, x)."""
    up, across = grid.shape[0] // rows, grid.shape[1] // columns
    return np.asarray(grid.reshape(rows, up, columns, across).transpose(0, 2, 1, 3))


def _evenness(face: CavityFace, columns: int, rows: int, lit_columns: FloatArray, lit_rows: FloatArray) -> FloatArray:
    luminance = face.chart.spread_out(face.luminance @ face.basis_xyz[:, 1])
    cells = _cells(luminance, columns, rows)
    mean = cells.mean(axis=(2, 3))
    even = np.full((rows, columns), np.nan)
    even[lit_rows, lit_columns] = (cells.min(axis=(2, 3)) / np.maximum(mean, 1e-12))[lit_rows, lit_columns]
    return even
