"""Many pieces of a surface at once: places, normals and areas of any of them in one call, not piece by piece.

The formulas are those of the pieces themselves (:mod:`gauze.core.layout.families.tiles`).
"""

import ctypes
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from gauze.core.layout.families.tiles import FlatTile, RoundTile, SphereTile, Tile
from gauze.core.layout.legs import Legs
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.kernel.library import Arrays, kernel
from gauze.core.optics.kernel.parallel import in_parts, rows_from

_NUMBERS = 20  # that the kernel reads of each piece
_WORTH = 30  # pairs of anything else that one place takes as long as


class Cut(NamedTuple):
    """Patches: corners (n, 4, 3), centres of gravity and normals there (n, 3), areas and longest diagonals (n,)."""

    corners: FloatArray
    centres: FloatArray
    normals: FloatArray
    areas_mm2: FloatArray
    widths_mm: FloatArray


class Pieces:
    """Pieces, asked by number.

    ``kinds`` says of each what it is (0 flat, 1 round, 2 of a sphere), ``numbers`` all else of it, ``surfaces`` which smooth
    surface it is of. ``legs`` are those of the cavity that they enclose, where it has some.

    Raises
    ------
    TypeError
        For a piece of a kind that it does not know.
    """

    def __init__(self, tiles: Sequence[Tile], legs: Legs | None = None) -> None:
        self.tiles = tuple(tiles)
        self.legs = legs
        self.kinds, self.numbers = np.zeros(len(self.tiles), np.int32), np.zeros((len(self.tiles), _NUMBERS))
        for number, tile in enumerate(self.tiles):
            self.kinds[number], values = _described(tile)
            self.numbers[number, : len(values)] = values
        known: dict[object, int] = {}
        self.surfaces = np.array([known.setdefault(tile.surface, len(known)) for tile in self.tiles])

    def at(self, which: IndexArray, s: FloatArray, t: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Places, unit normals that look into the cavity, and area per unit of s and t in mm^2.

        ``which`` are numbers of pieces; all three have one shape, places and normals a last axis of 3 more.
        """
        shape = s.shape
        numbers = np.ascontiguousarray(which, np.int32).ravel()
        along, across = (np.ascontiguousarray(share, float).ravel() for share in (s, t))
        places, normals, density = np.empty((len(along), 3)), np.empty((len(along), 3)), np.empty(len(along))
        keep = Arrays()
        known = ctypes.c_void_p(keep.integers(self.kinds)), ctypes.c_void_p(keep.doubles(self.numbers))

        def some(part: slice) -> None:
            rows = (rows_from(values, part) for values in (numbers, along, across, places, normals, density))
            kernel().on_pieces(ctypes.c_int64(part.stop - part.start), *known, *rows)

        in_parts(some, len(along), _WORTH)
        return places.reshape(*shape, 3), normals.reshape(*shape, 3), density.reshape(shape)

    def patches(self, which: IndexArray, low: FloatArray, size: FloatArray, rule: tuple[FloatArray, FloatArray]) -> Cut:
        """Patches between the least s and t of each, ``low`` (n, 2), and as much more; ``which`` (n,) are numbers of pieces.

        Areas and centres of gravity are by a rule on each: shares of both sides (m, 2), and their weights (m,).
        """
        count, keep = len(which), Arrays()
        corners, centres, normals = (np.empty(shape) for shape in ((count, 4, 3), (count, 3), (count, 3)))
        areas, widths = np.empty(count), np.empty(count)
        kernel().patches_of(
            ctypes.c_int64(count),
            *(ctypes.c_void_p(one) for one in (keep.integers(self.kinds), keep.doubles(self.numbers))),
            *(ctypes.c_void_p(one) for one in (keep.integers(which), keep.doubles(low), keep.doubles(size))),
            ctypes.c_int64(len(rule[1])),
            *(ctypes.c_void_p(keep.doubles(one)) for one in rule),
            *(ctypes.c_void_p(one.ctypes.data) for one in (corners, centres, normals, areas, widths)),
        )
        return Cut(corners, centres, normals, areas, widths)


def _described(tile: Tile) -> tuple[int, list[float]]:
    """What a piece is, and its numbers in the order in which the kernel reads them."""
    if isinstance(tile, FlatTile):
        return 0, _flat(tile)
    if isinstance(tile, RoundTile):
        return 1, _round(tile)
    if isinstance(tile, SphereTile):
        return 2, _of_sphere(tile)
    raise TypeError(f"{type(tile).__name__} is no piece that can be asked together with others")


def _flat(tile: FlatTile) -> list[float]:
    """Base, along, up, twist: p = a + s (b - a) + t (d - a) + s t (a - b + c - d); normal; area, and more of it along and up."""
    corners = list(zip(*tile.corners.tolist(), strict=True))  # x, y and z of all four: faster than arrays of three
    along, up = [b - a for a, b, _, _ in corners], [d - a for a, _, _, d in corners]
    twist = [a - b + c - d for a, b, c, d in corners]
    here, on_second, on_fourth = tile.densities
    base = [a for a, _, _, _ in corners]
    return [*base, *along, *up, *twist, *tile.normal.tolist(), here, on_second - here, on_fourth - here]


def _round(tile: RoundTile) -> list[float]:
    """Base, e1, e2; radius, height and angle, each with what it gains at the far side; the normal's two parts; span; slants."""
    (r0, z0), (r1, z1) = tile.start_rz_mm, tile.end_rz_mm
    start, turn = tile.angles_rad[0], tile.angles_rad[1] - tile.angles_rad[0]
    lengths = [r0, r1 - r0, z0, z1 - z0, start, turn]
    return [*tile.base, *tile.e1, *tile.e2, *lengths, *tile.slope(), tile.profile_mm * abs(turn), *tile.slants]


def _of_sphere(tile: SphereTile) -> list[float]:
    """Centre and radius; polar angle and azimuth, each with what is more of it at the far side; the span."""
    lower, turn = (far - near for near, far in (tile.polar_rad, tile.azimuth_rad))
    angles = [tile.polar_rad[0], lower, tile.azimuth_rad[0], turn]
    return [*tile.centre, tile.radius_mm, *angles, tile.radius_mm**2 * abs(lower * turn)]
