"""Many pieces of a surface at once: places, normals and areas of any of them in a few array operations, not piece by piece."""

from collections.abc import Sequence

import numpy as np

from gauze.core.layout.families.tiles import FlatTile, RoundTile, SphereTile, Tile
from gauze.core.layout.model import BoolArray, FloatArray, IndexArray


class TileSet:
    """Pieces, asked by number; ``which``, s and t of the questions have one shape, places and normals a last axis of 3 more.

    The formulas are those of the pieces themselves (:mod:`tiles`).

    Raises
    ------
    TypeError
        For a piece of a kind that it does not know.
    """

    def __init__(self, tiles: Sequence[Tile]) -> None:
        self.tiles = tuple(tiles)
        self._kind, self._row = np.zeros(len(self.tiles), int), np.zeros(len(self.tiles), int)
        kinds: tuple[list[Tile], list[Tile], list[Tile]] = ([], [], [])
        for number, tile in enumerate(self.tiles):
            kind = _kind_of(tile)
            self._kind[number], self._row[number] = kind, len(kinds[kind])
            kinds[kind].append(tile)
        makers = (_Flat, _Round, _Spheres)
        self._kinds = tuple(make(mine) if mine else None for make, mine in zip(makers, kinds, strict=True))
        self._present = [kind for kind in range(3) if kinds[kind]]

    def points(self, which: IndexArray, s: FloatArray, t: FloatArray) -> FloatArray:
        """Places."""
        return self._asked("points", which, s, t, (3,))

    def normals(self, which: IndexArray, s: FloatArray, t: FloatArray) -> FloatArray:
        """Unit normals that look into the cavity."""
        return self._asked("normals", which, s, t, (3,))

    def density(self, which: IndexArray, s: FloatArray, t: FloatArray) -> FloatArray:
        """Area per unit of s and t, mm^2."""
        return self._asked("density", which, s, t, ())

    def _asked(
        self, question: str, which: IndexArray, s: FloatArray, t: FloatArray, more: tuple[int, ...]
    ) -> FloatArray:
        if len(self._present) == 1:
            return np.asarray(getattr(self._kinds[self._present[0]], question)(self._row[which], s, t))
        answer = np.empty((*s.shape, *more))
        kind = self._kind[which]
        for number in self._present:
            mine: BoolArray = kind == number
            if mine.any():
                answer[mine] = getattr(self._kinds[number], question)(self._row[which[mine]], s[mine], t[mine])
        return answer


def _kind_of(tile: Tile) -> int:
    for number, kind in enumerate((FlatTile, RoundTile, SphereTile)):
        if isinstance(tile, kind):
            return number
    raise TypeError(f"{type(tile).__name__} is no piece that can be asked together with others")


class _Flat:
    """p = a + s (b - a) + t (d - a) + s t (a - b + c - d)."""

    def __init__(self, tiles: Sequence[FlatTile]) -> None:
        corners = np.array([tile.corners for tile in tiles])
        a, b, c, d = corners.transpose(1, 0, 2)
        self._base, self._along, self._up, self._twist = a, b - a, d - a, a - b + c - d
        self._normals = np.array([tile.normal for tile in tiles])
        here = np.einsum("nk,nk->n", np.cross(self._along, self._up), self._normals)
        along = np.einsum("nk,nk->n", np.cross(self._along, c - b), self._normals)
        up = np.einsum("nk,nk->n", np.cross(c - d, self._up), self._normals)
        self._here, self._more_along, self._more_up = here, along - here, up - here

    def points(self, row: IndexArray, s: FloatArray, t: FloatArray) -> FloatArray:
        s, t = s[..., None], t[..., None]
        return np.asarray(self._base[row] + s * self._along[row] + t * (self._up[row] + s * self._twist[row]))

    def normals(self, row: IndexArray, s: FloatArray, t: FloatArray) -> FloatArray:
        del s, t
        return np.asarray(self._normals[row])

    def density(self, row: IndexArray, s: FloatArray, t: FloatArray) -> FloatArray:
        return np.asarray(self._here[row] + s * self._more_along[row] + t * self._more_up[row])


class _Round:
    def __init__(self, tiles: Sequence[RoundTile]) -> None:
        def stacked(values: list[object]) -> FloatArray:
            return np.array(values, float)

        self._base, self._e1, self._e2 = (
            stacked([getattr(tile, name) for tile in tiles]) for name in ("base", "e1", "e2")
        )
        self._axis = stacked([tile.axis for tile in tiles])
        start, end = (stacked([getattr(tile, name) for tile in tiles]) for name in ("start_rz_mm", "end_rz_mm"))
        angles = stacked([tile.angles_rad for tile in tiles])
        self._radius, self._height = start.T
        self._wider, self._higher = (end - start).T
        self._angle, self._turn = angles[:, 0], angles[:, 1] - angles[:, 0]
        long = np.hypot(self._wider, self._higher)
        looks_in = np.array([tile.looks_in for tile in tiles])
        self._outwards, self._upwards = -looks_in * self._higher / long, looks_in * self._wider / long
        self._span = long * np.abs(self._turn)

    def _out(self, row: IndexArray, t: FloatArray) -> FloatArray:
        angle = (self._angle[row] + t * self._turn[row])[..., None]
        return np.asarray(np.cos(angle) * self._e1[row] + np.sin(angle) * self._e2[row])

    def points(self, row: IndexArray, s: FloatArray, t: FloatArray) -> FloatArray:
        height = (self._height[row] + s * self._higher[row])[..., None]
        radius = (self._radius[row] + s * self._wider[row])[..., None]
        return np.asarray(self._base[row] + height * self._axis[row] + radius * self._out(row, t))

    def normals(self, row: IndexArray, s: FloatArray, t: FloatArray) -> FloatArray:
        del s
        outwards, upwards = self._outwards[row][..., None], self._upwards[row][..., None]
        return np.asarray(outwards * self._out(row, t) + upwards * self._axis[row])

    def density(self, row: IndexArray, s: FloatArray, t: FloatArray) -> FloatArray:
        del t
        return np.asarray(self._span[row] * (self._radius[row] + s * self._wider[row]))


class _Spheres:
    def __init__(self, tiles: Sequence[SphereTile]) -> None:
        self._centre = np.array([tile.centre for tile in tiles], float)
        self._radius = np.array([tile.radius_mm for tile in tiles], float)
        polar, azimuth = (
            np.array([getattr(tile, name) for tile in tiles], float) for name in ("polar_rad", "azimuth_rad")
        )
        self._polar, self._lower = polar[:, 0], polar[:, 1] - polar[:, 0]
        self._azimuth, self._turn = azimuth[:, 0], azimuth[:, 1] - azimuth[:, 0]

    def normals(self, row: IndexArray, s: FloatArray, t: FloatArray) -> FloatArray:
        polar, azimuth = self._polar[row] + s * self._lower[row], self._azimuth[row] + t * self._turn[row]
        across = np.sin(polar)
        return -np.stack([across * np.cos(azimuth), across * np.sin(azimuth), np.cos(polar)], axis=-1)

    def points(self, row: IndexArray, s: FloatArray, t: FloatArray) -> FloatArray:
        return np.asarray(self._centre[row] - self._radius[row][..., None] * self.normals(row, s, t))

    def density(self, row: IndexArray, s: FloatArray, t: FloatArray) -> FloatArray:
        del t
        polar = self._polar[row] + s * self._lower[row]
        return np.asarray(self._radius[row] ** 2 * np.sin(polar) * np.abs(self._lower[row] * self._turn[row]))
