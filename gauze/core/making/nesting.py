"""Outlines of different shapes nested into each other on a sheet, for machines that cut any shape.

Each outline, the largest first, goes to the lowest and then leftmost place where it meets none of those that lie there already,
in the way to lie that reaches least far up (bottom-left filling; E. K. Burke et al., 2006, from memory). Places are looked for
on a raster: a cell that an outline or its gap touches is taken as full, so that no two can overlap; up to two cells are given
away at every edge.
"""

import math
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import BoolArray, FloatArray
from gauze.core.making.sheets import MOST_S, CutSheet, Placed, SheetPlan, SheetSize, ring_area_mm2

MOST_NESTED = 120  # outlines: more of them take too long
_MOST_CELLS = 60_000  # of a sheet's raster
_FINEST_MM = 1.0


@dataclass(frozen=True)
class NestedShape:
    """An outline to be cut, counter-clockwise, (n, 2) in mm; ``turns`` says that quarter turns are allowed, else half ones."""

    name: str
    ring_mm: FloatArray
    turns: bool = True


@dataclass(frozen=True)
class _Way:
    """One way of an outline to lie: its ring with the lower left corner at the origin, and the cells that it takes."""

    ring: FloatArray
    cells: BoolArray


_Open = tuple[
    SheetSize, BoolArray, list[Placed]
]  # a sheet that is begun: the cells that are taken, and what lies on it


def nested(
    shapes: Sequence[NestedShape],
    sizes: Sequence[SheetSize],
    gap_mm: float,
    rim_mm: float,
    pause: Callable[[], None] = lambda: None,
    most_s: float = MOST_S,
) -> SheetPlan | None:
    """Nest outlines onto sheets, offcuts first, then the last size; None where one does not fit, or it takes too long."""
    if not shapes or len(shapes) > MOST_NESTED or not sizes:
        return None
    biggest = max(sizes, key=lambda one: one.width_mm * one.height_mm)
    cell = max(math.sqrt(biggest.width_mm * biggest.height_mm / _MOST_CELLS), _FINEST_MM)
    order = sorted(shapes, key=lambda one: -ring_area_mm2(one.ring_mm))
    ways: dict[tuple[bytes, bool], list[_Way]] = {}
    owned = sorted((one for one in sizes if one.offcut), key=lambda one: one.width_mm * one.height_mm)
    waiting = [one for size in owned for one in [size] * (size.quantity or 1)]
    bought = next((one for one in reversed(sizes) if not one.offcut), None)
    left = math.inf if bought is None or bought.quantity is None else float(bought.quantity)
    open_sheets: list[_Open] = []
    ends = time.monotonic() + most_s
    for shape in order:
        pause()
        if time.monotonic() > ends:
            return None
        key = np.round(shape.ring_mm - shape.ring_mm.min(axis=0), 3).tobytes(), shape.turns
        own = ways.setdefault(key, _ways(shape, cell, gap_mm))
        if any(_lay(shape.name, own, sheet, cell, rim_mm, pause) for sheet in open_sheets):
            continue
        candidates = [*waiting, *([bought] if bought is not None and left > 0 else [])]
        for size in candidates:
            fresh: _Open = (size, _raster(size, rim_mm, cell, _around(cell, gap_mm)), [])
            if _lay(shape.name, own, fresh, cell, rim_mm, pause):
                open_sheets.append(fresh)
                if size.offcut:
                    waiting.remove(size)
                else:
                    left -= 1
                break
        else:
            return None
    sheets = tuple(CutSheet(size, tuple(placed)) for size, _, placed in open_sheets)
    cost = sum(0.0 if one.size.offcut else one.size.price for one in sheets)
    return SheetPlan(sheets, cost, 0.0)


def _around(cell: float, gap_mm: float) -> int:
    """Cells about an outline that half of the gap may reach."""
    return math.ceil((gap_mm / 2.0 + cell * math.sqrt(0.5)) / cell)


def _raster(size: SheetSize, rim_mm: float, cell: float, around: int) -> BoolArray:
    """Cells of a sheet within its rim, none of them taken, and a few about it: rows of y, columns of x."""
    wide, high = size.width_mm - 2.0 * rim_mm, size.height_mm - 2.0 * rim_mm
    rows, columns = (max(math.floor(side / cell + 1e-9), 0) + 2 * around for side in (high, wide))
    return np.zeros((rows, columns), bool)


def _ways(shape: NestedShape, cell: float, gap_mm: float) -> list[_Way]:
    ring = shape.ring_mm
    found, known = [], set()
    for quarter in range(0, 4, 1 if shape.turns else 2):
        cosine, sine = round(math.cos(quarter * math.pi / 2)), round(math.sin(quarter * math.pi / 2))
        own = ring @ np.array([[cosine, sine], [-sine, cosine]])
        own = own - own.min(axis=0)
        start = int(np.lexsort((own[:, 1].round(3), own[:, 0].round(3)))[0])
        key = (np.roll(own, -start, axis=0).round(3) + 0.0).tobytes()
        if key not in known:
            known.add(key)
            found.append(_Way(own, cells_of(own, cell, gap_mm)))
    return found


def cells_of(ring: FloatArray, cell: float, gap_mm: float) -> BoolArray:
    """Cells that an outline and half of the gap about it touch, with as many free ones about it as the gap may reach.

    A cell is touched where its middle lies inside, or nearer to the outline than half of the gap and half of its diagonal.
    """
    near, around = gap_mm / 2.0 + cell * math.sqrt(0.5), _around(cell, gap_mm)
    wide, high = ring.max(axis=0).tolist()
    x, y = ((np.arange(-around, max(math.ceil(side / cell - 1e-9), 1) + around) + 0.5) * cell for side in (wide, high))
    points = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    taken = np.zeros(len(points), bool)
    inside = np.zeros(len(points), bool)
    for start, end in zip(ring, np.roll(ring, -1, axis=0), strict=True):
        side = end - start
        away = points - start
        share = np.clip(away @ side / max(float(side @ side), 1e-12), 0.0, 1.0)
        taken |= np.hypot(*(away - share[:, None] * side).T) < near
        crosses = (start[1] > points[:, 1]) != (end[1] > points[:, 1])
        rise = end[1] - start[1] if end[1] != start[1] else 1.0
        inside ^= crosses & (points[:, 0] < start[0] + (points[:, 1] - start[1]) / rise * side[0])
    return np.asarray((taken | inside).reshape(len(y), len(x)))


def _lay(
    name: str,
    ways: Sequence[_Way],
    sheet: tuple[SheetSize, BoolArray, list[Placed]],
    cell: float,
    rim_mm: float,
    pause: Callable[[], None],
) -> bool:
    """Lay an outline on a sheet where it reaches least far up; whether there is room for it."""
    _, taken, placed = sheet
    best: tuple[tuple[float, int], _Way, int, int] | None = None
    for way in ways:
        pause()
        spot = _lowest(taken, way.cells)
        if spot is not None:
            row, column = spot
            rank = (row * cell + float(way.ring[:, 1].max()), column)
            if best is None or rank < best[0]:
                best = rank, way, row, column
    if best is None:
        return False
    _, way, row, column = best
    tall, broad = way.cells.shape
    taken[row : row + tall, column : column + broad] |= way.cells
    ring = way.ring + np.array([column * cell + rim_mm, row * cell + rim_mm])
    (x0, y0), (x1, y1) = ring.min(axis=0).tolist(), ring.max(axis=0).tolist()
    placed.append(Placed(name, x0, y0, x1 - x0, y1 - y0, ring))
    return True


def _lowest(taken: BoolArray, cells: BoolArray) -> tuple[int, int] | None:
    """Row and column of the lowest, then leftmost place where cells meet none that are taken; None where there is none."""
    from scipy.signal import fftconvolve

    if cells.shape[0] > taken.shape[0] or cells.shape[1] > taken.shape[1]:
        return None
    hits = fftconvolve(taken.astype(np.float32), cells[::-1, ::-1].astype(np.float32), mode="valid")
    free = hits < 0.5
    if not free.any():
        return None
    row = int(np.argmax(free.any(axis=1)))
    return row, int(np.argmax(free[row]))
