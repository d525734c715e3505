"""Direct light of emitters in rows along a straight piece: the light of one of them, added up where each of them stands.

Along a flat piece, or a cylinder, the light of an emitter that faces square to it depends on how far along a place lies from
it, and on nothing else of its row. So it is computed for one emitter of every row, on places as far apart as the lines of the
grid, and convolved with the row. An emitter between two of these places is shared out among the eight nearest by Lagrange's
polynomials.
"""

import functools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.families.tiles import Tile
from gauze.core.layout.model import FloatArray
from gauze.core.optics.cavity.alike import alike
from gauze.core.optics.cavity.emitters import Emitters, illuminance
from gauze.core.optics.kernel.pairs import SheetWeights

Found = tuple[FloatArray, FloatArray | None]

_TAPS = 8  # places among which an emitter is shared out
_STEPS_IN_DISTANCE = (
    6.0  # the light of a Lambertian emitter so many steps away is met to 1e-4, twice as far away to 1e-6
)
_LEAST_SIZES = 2.0  # distance in sides of an emitter: nearer ones count as points, and the change to that is not smooth
_SQUARE = 1e-9  # cosine of the angle to the piece up to which an emitter faces square to it
_SAME = 1e-7  # of a piece's length, by which places may differ and be the same
_SAME_COLOUR = 1e-9  # of the flux, by which emitters of one colour may differ
_DECIMALS = 6  # of a mm, and of a direction, to which the emitters of a row are alike
_WORTH = 8.0  # times as many pairs as there are numbers to be transformed take longer


@dataclass(frozen=True)
class _Straight:
    """A grid along a straight piece: ``count`` lines ``step_mm`` apart, and the places on the first, (n, 3), with normals."""

    count: int
    step_mm: float
    direction: FloatArray
    places_mm: FloatArray
    normals: FloatArray

    @classmethod
    def of(cls, tile: Tile, along: FloatArray, across: FloatArray, axis: int) -> "_Straight | None":
        """The lines ``along`` s (``axis`` 0) or t (1) of a tile; None where it is not straight that way, or they are uneven."""
        steps = np.diff(along)
        if len(steps) < _TAPS or steps[0] == 0.0 or np.ptp(steps) > _SAME * abs(steps[0]):
            return None
        asked = along[[0, len(along) // 2, -1]]
        grids = np.meshgrid(asked, across, indexing="ij")
        s, t = grids if axis == 0 else grids[::-1]
        places, normals = tile.points(s, t), tile.normals(s, t)
        way = places[-1, 0] - places[0, 0]
        length_mm = float(np.linalg.norm(way))
        shares = (asked - asked[0]) / (asked[-1] - asked[0])
        straight = np.abs(places - places[0] - shares[:, None, None] * way).max() <= _SAME * length_mm
        if length_mm <= 0.0 or not straight or np.abs(normals - normals[0]).max() > _SAME:
            return None
        return cls(len(along), length_mm / len(steps), way / length_mm, places[0], normals[0])

    def divided(self, finer: int) -> "_Straight":
        """The same with so many steps in place of one."""
        return replace(self, count=(self.count - 1) * finer + 1, step_mm=self.step_mm / finer)

    def at(self, steps: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Places so many steps on from the first line, and their normals, each (n * steps, 3)."""
        places = self.places_mm[:, None] + (steps * self.step_mm)[:, None] * self.direction
        return places.reshape(-1, 3), np.repeat(self.normals, len(steps), axis=0)


@dataclass(frozen=True)
class _Row:
    """Emitters that differ in flux (n, k), and in how far from the first line they stand: ``one`` is moved to there."""

    stands_mm: FloatArray
    flux_lm: FloatArray
    one: Emitters
    nearest_mm: float  # to the piece, of a Lambertian emitter whose light changes as fast

    @classmethod
    def of(cls, some: Emitters, grid: _Straight) -> "_Row":
        along_mm = (some.places_mm - grid.places_mm[0]) @ grid.direction
        own = some.places_mm[:1] - along_mm[0] * grid.direction
        way = _across(grid.places_mm - own, grid.direction)
        lit = (way @ some.axes[0] > 0.0) & ((way * grid.normals).sum(axis=1) < 0.0)
        away_mm = float(np.linalg.norm(way[lit], axis=1).min(initial=math.inf))
        one = replace(some.part(slice(0, 1)), places_mm=own, flux_lm=np.ones((1, 1)))
        narrow = math.sqrt((float(some.power[0]) + 3.0) / 4.0)
        return cls(along_mm, some.flux_lm, one, away_mm / narrow)


def illuminance_of_rows(
    tile: Tile,
    lines: tuple[FloatArray, FloatArray],
    axis: int,
    emitters: Emitters,
    weights: SheetWeights | None,
    pairs: float,
    pause: Pause = carry_on,
) -> Found | None:
    """Direct illuminance on a grid of a tile, plain and weighed, each of shape (lines along, lines across, k).

    ``lines`` are those along the rows, s for ``axis`` 0 and t for 1, and those across. None where piece, grid or emitters are
    not such, and where the ``pairs`` of place and emitter are so few that computing them is faster.
    """
    if emitters.tables or emitters.legs is not None or (weights is not None and weights.regular > 0.0):
        return None
    grid = _Straight.of(tile, *lines, axis)
    if grid is None or np.abs(emitters.axes @ grid.direction).max() > _SQUARE:
        return None
    key = np.column_stack([_across(emitters.places_mm, grid.direction), emitters.axes, emitters.power])
    kinds = alike(np.round(key, _DECIMALS))
    mixed = _Mixed.of(emitters.flux_lm)
    numbers = 2 * grid.count * len(lines[1]) * (1 if weights is None else 2) * (len(kinds.first) + mixed.parts.shape[1])
    if pairs < _WORTH * numbers:
        return None
    apart = replace(emitters, flux_lm=mixed.parts)
    rows = [_Row.of(apart.part(np.flatnonzero(kinds.which == kind)), grid) for kind in range(len(kinds.first))]
    nearest_mm = min(row.nearest_mm for row in rows)
    finer = max(math.ceil(_STEPS_IN_DISTANCE * grid.step_mm / max(nearest_mm, grid.step_mm)), 1)
    if nearest_mm < max(_LEAST_SIZES * emitters.size_mm, grid.step_mm) or pairs < _WORTH * numbers * finer:
        return None
    plain, seen = (
        None if one is None else one[..., ::finer] for one in _convolved(grid.divided(finer), rows, weights, pause)
    )
    assert plain is not None
    return mixed.whole(plain), None if seen is None else mixed.whole(seen)


@dataclass(frozen=True)
class _Mixed:
    """Flux of emitters in the fewest ``parts``, (n, r), and the ``mix``, (r, k), that makes their colours of these."""

    parts: FloatArray
    mix: FloatArray

    @classmethod
    def of(cls, flux_lm: FloatArray) -> "_Mixed":
        levels, sizes, mix = np.linalg.svd(flux_lm, full_matrices=False)
        rank = max(int((sizes > _SAME_COLOUR * sizes[0]).sum()), 1)
        if rank == flux_lm.shape[1]:
            return cls(flux_lm, np.eye(rank))
        return cls(levels[:, :rank] * sizes[:rank], mix[:rank])

    def whole(self, light: FloatArray) -> FloatArray:
        """Light of the colours, (lines along, lines across, k), from (lines across, r, lines along), which has traces below 0."""
        whole = light if len(self.mix) == self.mix.shape[1] else np.matmul(self.mix.T.astype(light.dtype), light)
        return np.moveaxis(np.maximum(whole, 0.0, out=whole), 2, 0)


def _across(vectors: FloatArray, direction: FloatArray) -> FloatArray:
    """The parts of vectors at right angles to a direction."""
    return vectors - (vectors @ direction)[:, None] * direction


def _convolved(grid: _Straight, rows: Sequence[_Row], weights: SheetWeights | None, pause: Pause) -> Found:
    """The light of all parts of the rows' flux, plain and weighed, each (lines across, parts, lines along)."""
    from scipy import fft

    stands = np.concatenate([row.stands_mm for row in rows]) / grid.step_mm
    first = math.floor(float(stands.min())) - _TAPS // 2 + 1
    reached = math.floor(float(stands.max())) + _TAPS // 2 - first + 1  # places among which emitters are shared out
    whole = fft.next_fast_len(grid.count + reached - 1, real=True)
    apart = np.arange(whole) - first
    apart[grid.count :] -= whole  # a place lies that many steps from what stands at the first one reached
    farthest = int(np.abs(apart).max())
    steps, which = np.arange(farthest + 1.0), np.abs(apart)
    sums: list[FloatArray | None] = [None, None]
    for row in rows:
        pause()
        standing = fft.rfft(_standing(row, grid.step_mm, first, reached), whole, axis=0)
        found = illuminance(*grid.at(steps), row.one, weights, pause=pause)
        for kind, light in enumerate(found):
            if light is not None:
                of_one = fft.rfft(light.reshape(-1, farthest + 1).astype(np.float32)[:, which], axis=1)
                product = of_one[:, None] * standing.T  # (lines across, k, frequencies)
                before = sums[kind]
                sums[kind] = product if before is None else before + product
    plain, seen = (None if one is None else fft.irfft(one, whole, axis=2)[..., : grid.count] for one in sums)
    assert plain is not None
    return plain, seen


def _standing(row: _Row, step_mm: float, first: int, reached: int) -> FloatArray:
    """Flux at the places that a row's emitters are shared out among, from the ``first`` on: (reached, k)."""
    stands = row.stands_mm / step_mm
    before = np.floor(stands).astype(int) - _TAPS // 2 + 1
    shares = _lagrange(stands - before)
    standing = np.zeros((reached, row.flux_lm.shape[1]), np.float32)
    places = before[:, None] - first + np.arange(_TAPS)
    np.add.at(standing, places, shares[..., None] * row.flux_lm[:, None])
    return standing


def _lagrange(at: FloatArray) -> FloatArray:
    """Lagrange's polynomials of the knots 0, 1, 2 ... at some places, (n, knots)."""
    knots = np.arange(_TAPS)
    away = at[:, None] - knots
    others = [np.delete(away, knot, axis=1).prod(axis=1) for knot in knots]
    return np.stack(others, axis=1) / _scales()


@functools.cache
def _scales() -> FloatArray:
    """The products of the differences of each knot from all others."""
    knots = np.arange(_TAPS)
    return np.array([np.prod(knot - np.delete(knots, knot)) for knot in knots], float)
