"""Direct light on a grid of places: where piece, places and emitters are their own mirror image, computed on one side."""

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.families.tiles import Tile
from gauze.core.layout.model import FloatArray
from gauze.core.optics.cavity.emitters import Emitters, illuminance
from gauze.core.optics.cavity.grids import grid_of
from gauze.core.optics.kernel.pairs import SheetWeights
from gauze.core.optics.kernel.pieces import Pieces

_WORTH = 1_000_000  # pairs of places and emitters below which looking for mirrors takes longer than they save
_SAME_MM = 1e-7  # of a piece's size: places that differ by no more are one
_LINES = 1e-9  # by which lines between 0 and 1 may lie beside their images
_ASKED = np.linspace(0.0, 1.0, 7)

Found = tuple[FloatArray, FloatArray | None]


def illuminance_on(
    tile: Tile,
    s: FloatArray,
    t: FloatArray,
    emitters: Emitters,
    weights: SheetWeights | None,
    pause: Pause = carry_on,
) -> Found:
    """Direct illuminance at places of a tile, as :func:`gauze.core.optics.cavity.emitters.illuminance`."""
    worth = len(s) * emitters.count > _WORTH and emitters.legs is None
    grid = grid_of(s, t) if worth else None
    if grid is None:
        return _at(tile, s, t, emitters, weights, pause)
    lines = [(grid.s, grid.t)[number] for number in grid.axes]
    halved = [_halved(tile, one, emitters, number) for one, number in zip(lines, grid.axes, strict=True)]
    if not any(halved):
        return _at(tile, s, t, emitters, weights, pause)
    some = [one[: (len(one) + 1) // 2] if half else one for one, half in zip(lines, halved, strict=True)]
    places = [one.ravel() for one in np.meshgrid(*some, indexing="ij")]
    one_s, one_t = (places[grid.axes.index(number)] for number in (0, 1))
    found = _at(tile, one_s, one_t, emitters, weights, pause)
    shape, whole = (len(some[0]), len(some[1])), (len(lines[0]), len(lines[1]))
    plain, seen = (None if values is None else _mirrored(values.reshape(*shape, -1), whole) for values in found)
    assert plain is not None
    return plain, seen


def _at(
    tile: Tile, s: FloatArray, t: FloatArray, emitters: Emitters, weights: SheetWeights | None, pause: Pause
) -> Found:
    points, normals, _ = Pieces((tile,)).at(np.zeros(len(s), int), s, t)
    return illuminance(points, normals, emitters, weights, pause=pause)


def _mirrored(values: FloatArray, shape: tuple[int, int]) -> FloatArray:
    """Values on so many lines, (n, k), from those on the lines up to the middle, or on all, along either axis."""
    (slow, fast), (rows, columns) = values.shape[:2], shape
    whole = np.empty((rows, columns, values.shape[2]))
    whole[:slow, :fast] = values
    whole[:slow, fast:] = whole[:slow, : columns - fast][:, ::-1]
    whole[slow:] = whole[: rows - slow][::-1]
    return whole.reshape(rows * columns, -1)


def _halved(tile: Tile, lines: FloatArray, emitters: Emitters, number: int) -> bool:
    """Whether what falls on the lines from 1 down is the image of what falls on those from 0 up; ``number`` 0 for s, 1 for t."""
    if len(lines) < 2 or np.abs(lines + lines[::-1] - 1.0).max() > _LINES:
        return False
    one, other = np.meshgrid(_ASKED, _ASKED)
    here = tile.points(one, other).reshape(-1, 3)
    turned = (1.0 - one, other) if number == 0 else (one, 1.0 - other)
    there = tile.points(*turned).reshape(-1, 3)
    size = float(np.ptp(here, axis=0).max())
    for axis in range(3):
        middle = (here.min(axis=0) + here.max(axis=0)) / 2.0
        image = here.copy()
        image[:, axis] = 2.0 * middle[axis] - image[:, axis]
        if np.abs(image - there).max() <= _SAME_MM * size and emitters.images(middle, axis) is not None:
            return True
    return False
