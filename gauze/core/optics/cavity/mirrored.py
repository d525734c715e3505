"""Direct light on a grid of places: by rows of emitters, or on one side of the mirrors of piece, places and emitters."""

from dataclasses import dataclass

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.families.tiles import Tile
from gauze.core.layout.model import FloatArray
from gauze.core.optics.cavity.emitter_rows import illuminance_of_rows
from gauze.core.optics.cavity.emitters import Emitters, illuminance
from gauze.core.optics.cavity.grids import grid_of
from gauze.core.optics.kernel.pairs import SheetWeights
from gauze.core.optics.kernel.pieces import Pieces

_WORTH = 1_000_000  # pairs of places and emitters below which looking for mirrors takes longer than they save
_SAME_MM = 1e-7  # of a piece's size: places that differ by no more are one
_LINES = 1e-9  # by which lines between 0 and 1 may lie beside their images
_ASKED = np.linspace(0.0, 1.0, 7)

Found = tuple[FloatArray, FloatArray | None]


@dataclass(frozen=True)
class _Lines:
    """The lines of a grid of places, ``slow`` and ``fast`` ones, ``axes`` saying which are s (0) and t (1).

    ``once`` are those of either that are not images of others, the first of them.
    """

    axes: tuple[int, int]
    lines: tuple[FloatArray, FloatArray]
    once: tuple[FloatArray, FloatArray]

    @classmethod
    def of(cls, tile: Tile, s: FloatArray, t: FloatArray, emitters: Emitters) -> "_Lines | None":
        """None where the places are no grid, or so few that looking for its mirrors takes longer than they save."""
        if len(s) * emitters.count <= _WORTH or emitters.legs is not None:
            return None
        grid = grid_of(s, t)
        if grid is None:
            return None
        slow, fast = ((grid.s, grid.t)[number] for number in grid.axes)
        slow_once, fast_once = (
            one[: (len(one) + 1) // 2] if _halved(tile, one, emitters, number) else one
            for one, number in zip((slow, fast), grid.axes, strict=True)
        )
        return cls(grid.axes, (slow, fast), (slow_once, fast_once))

    @property
    def mirrored(self) -> bool:
        """Whether some are images of others."""
        return any(len(once) < len(lines) for once, lines in zip(self.once, self.lines, strict=True))

    @property
    def places(self) -> tuple[FloatArray, FloatArray]:
        """The s and t of all places on the lines that are not images of others."""
        slow, fast = (one.ravel() for one in np.meshgrid(*self.once, indexing="ij"))
        return (slow, fast) if self.axes == (0, 1) else (fast, slow)

    def whole(self, found: Found) -> Found:
        """The light on all lines, (n, k), from that on the first of either, each (slow, fast, k)."""
        shape = len(self.lines[0]), len(self.lines[1])
        return _mirrored(found[0], shape), None if found[1] is None else _mirrored(found[1], shape)

    def by_rows(self, tile: Tile, emitters: Emitters, weights: SheetWeights | None, pause: Pause) -> Found | None:
        """The light on all lines of emitters in rows along either; None where there are none such."""
        (slow, fast), (slow_once, fast_once) = self.lines, self.once
        pairs = float(len(slow_once) * len(fast_once) * emitters.count)
        found = illuminance_of_rows(tile, (slow, fast_once), self.axes[0], emitters, weights, pairs, pause)
        if found is None:
            turned = illuminance_of_rows(tile, (fast, slow_once), self.axes[1], emitters, weights, pairs, pause)
            if turned is None:
                return None
            found = turned[0].swapaxes(0, 1), None if turned[1] is None else turned[1].swapaxes(0, 1)
        return self.whole(found)


def illuminance_on(
    tile: Tile,
    s: FloatArray,
    t: FloatArray,
    emitters: Emitters,
    weights: SheetWeights | None,
    pause: Pause = carry_on,
) -> Found:
    """Direct illuminance at places of a tile, as :func:`gauze.core.optics.cavity.emitters.illuminance`."""
    lines = _Lines.of(tile, s, t, emitters)
    by_rows = None if lines is None else lines.by_rows(tile, emitters, weights, pause)
    if by_rows is not None:
        return by_rows
    if lines is None or not lines.mirrored:
        return _at(tile, s, t, emitters, weights, pause)
    plain, seen = _at(tile, *lines.places, emitters, weights, pause)
    shape = len(lines.once[0]), len(lines.once[1]), -1
    return lines.whole((plain.reshape(shape), None if seen is None else seen.reshape(shape)))


def illuminance_by_rows(
    tile: Tile,
    s: FloatArray,
    t: FloatArray,
    emitters: Emitters,
    weights: SheetWeights | None,
    pause: Pause = carry_on,
) -> Found | None:
    """The same where the emitters stand in rows along a straight tile and the places on a grid; None elsewhere."""
    lines = _Lines.of(tile, s, t, emitters)
    return None if lines is None else lines.by_rows(tile, emitters, weights, pause)


def _at(
    tile: Tile, s: FloatArray, t: FloatArray, emitters: Emitters, weights: SheetWeights | None, pause: Pause
) -> Found:
    points, normals, _ = Pieces((tile,)).at(np.zeros(len(s), int), s, t)
    return illuminance(points, normals, emitters, weights, pause=pause)


def _mirrored(values: FloatArray, shape: tuple[int, int]) -> FloatArray:
    """Values on so many lines, (n, k), from those up to the middle, or on all, along either axis, (slow, fast, k)."""
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
