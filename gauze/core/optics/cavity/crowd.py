"""Very many emitters: neighbours gathered where no surface is near enough to tell, and what is far from a place made smooth.

Emitters of one kind (axis, distribution, colour) in a cell of space are replaced by four points with the same flux, the same
middle and the same spread (weights and variances along the two main axes). From a cell's width and a half away the light
of the four differs from that of the many in the fourth moments only: less than 0.5 % of one cell's share, and next to
nothing of what many cells give together.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.families.tiles import FlatTile, Tile
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.cavity.alike import alike
from gauze.core.optics.cavity.emitters import Emitters, illuminance
from gauze.core.optics.cavity.grids import grid_of
from gauze.core.optics.cavity.mesh import Mesh, TileMesh
from gauze.core.optics.cavity.mirrored import illuminance_by_rows, illuminance_on
from gauze.core.optics.kernel.pairs import SheetWeights, Window
from gauze.core.optics.kernel.pieces import Pieces

if TYPE_CHECKING:
    from scipy.interpolate import RectBivariateSpline

_MOST_KINDS = 64
_MOST_CORRECTED = (0.8, 1.25)
_GAUSS = 0.5 + np.array([-0.5, 0.5]) / math.sqrt(3.0)  # Gauss's two places between 0 and 1, of the same weight
_WORTH_GATHERING = 4  # emitters in a cell: fewer stay as they are
NEAR_CLEARANCES = 4.0  # in clearances: beyond it all light is far
_NEAREST = 2.0  # clearances: within these all light is near
_FAR_CELL = 1.3  # clearances: cells in which emitters are gathered for far light
_KNOTS_IN_CLEARANCE = 1.5
_BLOCK_IN_CLEARANCE = 1.5
_WIDE_BLOCKS = 2.0  # times as wide, where few places lie in one
_PLACES_IN_BLOCK = 100  # from which on blocks are not widened
_GRID_OF_PLACES = 2  # times as many places a grid may have as are asked for
_MOST_MEASURED = 2_000  # measured emitters that are all summed in place
_LARGEST_REACH = 0.4  # of a tile: beyond it hardly any light is far
_ASKED_FOR_NEAR = 200  # places that are asked how many emitters are near
_PAIRS_WORTH_SORTING = 1_200  # pairs that are summed in the time in which a place is sorted by what is near to it
_SPLIT_FROM = 40_000_000  # pairs of places and emitters from which near and far are treated separately


def gathered(emitters: Emitters, clearance_mm: FloatArray, width_mm: float, apart: float = 1.6) -> Emitters:
    """Gather emitters in cells of a width, except those that have a surface nearer than ``apart`` times that width.

    Parameters
    ----------
    clearance_mm:
        Distance of every emitter from the nearest surface that it lights, shape (n,).
    """
    kinds = _kinds(emitters) if emitters.legs is None else None  # what stands in several legs is seen apart
    if kinds is None:
        return emitters
    free = clearance_mm >= apart * width_mm
    cells = np.floor(emitters.places_mm / width_mm)
    key = np.column_stack([cells, kinds, np.where(free, -1, np.arange(emitters.count))])
    cell = alike(key)
    which, first = cell.which, cell.first
    crowded = cell.counts > _WORTH_GATHERING
    if not crowded.any():
        return emitters
    alone = np.flatnonzero(~crowded[which])
    many = np.flatnonzero(crowded[which])
    number = np.cumsum(crowded) - 1
    points = _four_points(emitters.part(many), number[which[many]], int(crowded.sum()), first[crowded], emitters)
    return _joined(emitters.part(alone), points)


def _kinds(emitters: Emitters) -> IndexArray | None:
    """Number of each emitter's kind; None when there are too many kinds for gathering to be worth while."""
    total = np.maximum(emitters.flux_lm.sum(axis=1, keepdims=True), 1e-30)
    table = emitters.table if emitters.tables else np.full(emitters.count, -1)
    key = np.column_stack(
        [np.round(emitters.axes, 4), np.round(emitters.power, 4), table, np.round(emitters.flux_lm / total, 3)]
    )
    kinds = alike(key)
    return kinds.which if len(kinds.first) <= min(_MOST_KINDS, max(emitters.count // 8, 1)) else None


def _four_points(some: Emitters, cell: IndexArray, cells: int, first: IndexArray, whole: Emitters) -> Emitters:
    weight = np.maximum(some.flux_lm.sum(axis=1), 1e-12)
    total = np.bincount(cell, weight, cells)

    def mean(values: FloatArray) -> FloatArray:
        return np.asarray(np.bincount(cell, values * weight, cells) / total)

    middle = np.stack([mean(axis) for axis in some.places_mm.T], axis=1)
    away = some.places_mm - middle[cell]
    spread = np.empty((cells, 3, 3))
    for i in range(3):
        for j in range(i, 3):
            spread[:, i, j] = spread[:, j, i] = mean(away[:, i] * away[:, j])
    values, vectors = np.linalg.eigh(spread)
    one, other = (np.sqrt(np.maximum(values[:, k], 0.0))[:, None] * vectors[:, :, k] for k in (2, 1))
    flux = np.stack([np.bincount(cell, column, cells) for column in some.flux_lm.T], axis=1) / 4.0
    kind = whole.part(np.tile(first, 4))
    return Emitters(
        np.concatenate([middle + a * one + b * other for a in (-1, 1) for b in (-1, 1)]),
        kind.axes,
        kind.power,
        np.tile(flux, (4, 1)),
        kind.table,
        whole.tables,
        whole.size_mm,
    )


def _joined(one: Emitters, other: Emitters) -> Emitters:
    return Emitters(
        np.concatenate([one.places_mm, other.places_mm]),
        np.concatenate([one.axes, other.axes]),
        np.concatenate([one.power, other.power]),
        np.concatenate([one.flux_lm, other.flux_lm]),
        np.concatenate([one.table, other.table]),
        one.tables,
        one.size_mm,
    )


def clearance_to(tiles: tuple[Tile, ...], emitters: Emitters) -> FloatArray:
    """Distance of every emitter from the nearest piece that it can light, shape (n,)."""
    rim = np.linspace(0.0, 1.0, 5)
    s, t = (grid.ravel() for grid in np.meshgrid(rim, rim))
    nearest = np.full(emitters.count, np.inf)
    here = (emitters.places_mm * emitters.axes).sum(axis=1)
    for tile in tiles:
        places = tile.corners if isinstance(tile, FlatTile) else tile.points(s, t)
        ahead = (places @ emitters.axes.T).max(axis=0) - here
        lit = ahead > 1e-6
        if emitters.tables:
            lit |= emitters.table >= 0
        nearest = np.where(lit, np.minimum(nearest, tile.clearance_mm(emitters.places_mm)), nearest)
    return np.asarray(nearest)


def flux_of_crowd(
    mesh: Mesh, emitters: Emitters, sources: Emitters, clearance_mm: float, pause: Pause = carry_on
) -> tuple[FloatArray, float]:
    """Flux per mm^2 of every patch, shape (patches, k), and by how much the sum of each colour had to be corrected.

    Lids take it at four places a patch, Gauss's, from ``sources``; the rest in the middles, from ``emitters``: their
    patches are small where the light changes. What is missing in the sum (or too much) is shared out among the rest.
    """
    total = np.zeros((mesh.count, emitters.flux_lm.shape[1]))
    lid = np.zeros(mesh.count, bool)
    for one in mesh.tiles:
        pause()
        if one.tile.role == "lid":
            lid[one.part] = True
            total[one.part] = _gauss_means(one, sources, clearance_mm, pause)
        elif np.isfinite(clearance_to((one.tile,), emitters)).any():
            total[one.part] = illuminance(mesh.centres[one.part], mesh.normals[one.part], emitters)[0]
    areas = mesh.areas_mm2[:, None]
    emitted = emitters.flux_lm.sum(axis=0)
    on_lids, beside = (total * areas)[lid].sum(axis=0), (total * areas)[~lid].sum(axis=0)
    missed = np.abs((on_lids + beside) / np.maximum(emitted, 1e-30) - 1.0)[emitted > 0].max(initial=0.0)
    factor = np.clip((emitted - on_lids) / np.maximum(beside, 1e-30), *_MOST_CORRECTED)
    total[~lid] *= np.where(beside > 0, factor, 1.0)
    whole = (total * areas).sum(axis=0)
    return total * np.where(whole > 0, emitted / np.maximum(whole, 1e-30), 1.0), float(missed)


def _gauss_means(one: TileMesh, sources: Emitters, clearance_mm: float, pause: Pause) -> FloatArray:
    rows, columns = one.shape
    s = one.s_nodes[:-1, None] + np.diff(one.s_nodes)[:, None] * _GAUSS
    t = one.t_nodes[:-1, None] + np.diff(one.t_nodes)[:, None] * _GAUSS
    s_all, t_all = (grid.ravel() for grid in np.broadcast_arrays(s[:, :, None, None], t[None, None, :, :]))
    plain, _ = on_tile(one.tile, s_all, t_all, sources, clearance_mm, None, pause)
    weight = one.tile.density(s_all, t_all).reshape(rows, 2, columns, 2)
    grid = plain.reshape(rows, 2, columns, 2, -1)
    sums = (grid * weight[..., None]).sum(axis=(1, 3)).reshape(rows * columns, -1)
    return np.asarray(sums / weight.sum(axis=(1, 3)).reshape(-1, 1))


def on_tile(
    tile: Tile,
    s: FloatArray,
    t: FloatArray,
    emitters: Emitters,
    clearance_mm: float,
    weights: SheetWeights | None,
    pause: Pause = carry_on,
) -> tuple[FloatArray, FloatArray | None]:
    """Direct illuminance at places of a tile, plain and weighed, each of shape (n, k), in lm/mm^2.

    Near light is summed emitter by emitter. Far light, which cannot vary within less than its distance, is summed on
    a grid and interpolated. ``clearance_mm`` is how near emitters come to the tile; where few of them are near to a place,
    more of them count as near than is necessary, so that the grid can be a coarse one.
    """
    sharp = bool(emitters.tables) and emitters.count <= _MOST_MEASURED  # a cut-off may be narrower than its distance
    if sharp or len(s) * emitters.count < _SPLIT_FROM:
        return illuminance_on(tile, s, t, emitters, weights, pause)
    by_rows = illuminance_by_rows(tile, s, t, emitters, weights, pause)
    if by_rows is not None:
        return by_rows
    points, normals, _ = Pieces((tile,)).at(np.zeros(len(s), int), s, t)
    split_mm = _cheapest_split_mm(tile, points, emitters, clearance_mm)
    if split_mm is None:
        return illuminance_on(tile, s, t, emitters, weights, pause)
    near, near_seen = _near(points, normals, emitters, split_mm, weights, pause)
    far, far_seen = _far(tile, s, t, emitters, split_mm, weights)
    seen = None if near_seen is None or far_seen is None else np.maximum(near_seen + far_seen, 0.0)
    return np.maximum(near + far, 0.0), seen


def _cheapest_split_mm(tile: Tile, points: FloatArray, emitters: Emitters, clearance_mm: float) -> float | None:
    """For which clearance, the true one or more, near and far light take the fewest pairs; None where all pairs are fewer."""
    from scipy.spatial import cKDTree

    tree = cKDTree(emitters.places_mm)
    some = points[:: max(len(points) // _ASKED_FOR_NEAR, 1)]
    best, fewest = None, float(len(points) * emitters.count)
    tried_mm = clearance_mm
    while NEAR_CLEARANCES * tried_mm <= _LARGEST_REACH * max(tile.lengths_mm):
        near = tree.query_ball_point(some, (NEAR_CLEARANCES + _BLOCK_IN_CLEARANCE) * tried_mm, return_length=True)
        near_pairs = len(points) * (float(near.mean()) + _PAIRS_WORTH_SORTING)
        if near_pairs >= fewest:
            break
        pairs = near_pairs + math.prod(_far_knots(tile, tried_mm)) * emitters.count
        if pairs < fewest:
            best, fewest = tried_mm, pairs
        tried_mm *= 2.0
    return best


def _near(
    points: FloatArray,
    normals: FloatArray,
    emitters: Emitters,
    clearance_mm: float,
    weights: SheetWeights | None,
    pause: Pause,
) -> tuple[FloatArray, FloatArray | None]:
    from scipy.spatial import cKDTree

    reach = NEAR_CLEARANCES * clearance_mm
    plain = np.zeros((len(points), emitters.flux_lm.shape[1]))
    seen = np.zeros_like(plain) if weights is not None else None
    tree = cKDTree(emitters.places_mm)
    near_by = np.flatnonzero(tree.query(points, distance_upper_bound=reach)[0] < reach)
    if not len(near_by):
        return plain, seen
    which = _blocks_of(points[near_by], clearance_mm)
    order = np.argsort(which, kind="stable")
    for own in np.split(order, np.flatnonzero(np.diff(which[order])) + 1):
        pause()
        block = near_by[own]
        middle = points[block].mean(axis=0)
        radius = math.sqrt(float(((points[block] - middle) ** 2).sum(axis=1).max()))
        some = np.array(tree.query_ball_point(middle, reach + radius), int)
        if not len(some):
            continue
        part, weighed = illuminance(
            points[block], normals[block], emitters.part(some), weights, _window(clearance_mm, far=False)
        )
        plain[block] = part
        if seen is not None and weighed is not None:
            seen[block] = weighed
    return plain, seen


def _blocks_of(points: FloatArray, clearance_mm: float) -> IndexArray:
    """In which block each place lies: small ones spare pairs that are not near, wide ones are fewer where places are."""
    width_mm = _BLOCK_IN_CLEARANCE * clearance_mm
    found = alike(np.floor(points / width_mm)).which
    if len(points) < _PLACES_IN_BLOCK * (found.max() + 1):
        found = alike(np.floor(points / (_WIDE_BLOCKS * width_mm))).which
    return found


def _far(
    tile: Tile, s: FloatArray, t: FloatArray, emitters: Emitters, clearance_mm: float, weights: SheetWeights | None
) -> tuple[FloatArray, FloatArray | None]:
    from scipy.interpolate import RectBivariateSpline

    counts = _far_knots(tile, clearance_mm)
    knots = [np.linspace(0.0, 1.0, count) for count in counts]
    s_knots, t_knots = (grid.ravel() for grid in np.meshgrid(*knots, indexing="ij"))
    coarse = gathered(emitters, np.full(emitters.count, np.inf), _FAR_CELL * clearance_mm)
    window = _window(clearance_mm, far=True)
    found = illuminance(tile.points(s_knots, t_knots), tile.normals(s_knots, t_knots), coarse, weights, window)
    between = [
        None
        if grid is None
        else np.stack([_read(RectBivariateSpline(*knots, column.reshape(counts)), s, t) for column in grid.T], axis=1)
        for grid in found
    ]
    assert between[0] is not None
    return between[0], between[1]


def _far_knots(tile: Tile, clearance_mm: float) -> list[int]:
    return [max(8, math.ceil(length * _KNOTS_IN_CLEARANCE / clearance_mm) + 1) for length in tile.lengths_mm]


def _read(spline: RectBivariateSpline, s: FloatArray, t: FloatArray) -> FloatArray:
    """Read a spline at places, by rows and columns where the places are those of a grid, as pixels are: many times faster."""
    lines = grid_of(s, t)
    if lines is not None and (np.diff(lines.s) > 0).all() and (np.diff(lines.t) > 0).all():
        return lines.in_order(np.asarray(spline(lines.s, lines.t)))
    rows, row = np.unique(s, return_inverse=True)
    columns, column = np.unique(t, return_inverse=True)
    if len(rows) * len(columns) > _GRID_OF_PLACES * len(s):
        return np.asarray(spline.ev(s, t))
    return np.asarray(spline(rows, columns)[row, column])


def _window(clearance_mm: float, *, far: bool) -> Window:
    return Window(_NEAREST * clearance_mm, NEAR_CLEARANCES * clearance_mm, far)
