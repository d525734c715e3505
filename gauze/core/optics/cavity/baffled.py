"""The light in a baffled box: that of :mod:`light`, cell by cell, with what passes over, under and through to other cells."""

import functools
import math
from collections.abc import Hashable
from dataclasses import dataclass

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.box_mesh import chebyshev_matrix, chebyshev_weights
from gauze.core.optics.cavity.cell_balance import CellBalance, rim_masks
from gauze.core.optics.cavity.cell_sums import Cells, Offset
from gauze.core.optics.cavity.cells import IN_MOTION, CellExchange, exchange_of
from gauze.core.optics.cavity.distribution import DistributionTable, sides_of
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.kernel.cells import light_past_partitions, partitions_of
from gauze.core.optics.kernel.pairs import HoldsArrays, LampArrays, SheetWeights

_TOLERANCE, _COARSE_TOLERANCE = 1e-5, 1e-3  # of the balance, relative; the latter while a hand drags
# points along each side of a patch that take direct light, by how many patterns there are: shadows have sharp edges
_SPLIT = ((8, 9), (64, 5), (math.inf, 3))
_SPLIT_IN_MOTION = 4
_PLACES_IN_PIXEL = 2  # along each side, at rest
_SAME_MM = 1e-6
_LEAST_DISTANCE_MM = 1e-3


@dataclass(frozen=True)
class Pattern(HoldsArrays):
    """Emitters that stand alike in their cells: one stands for all."""

    place_mm: FloatArray  # in its cell
    axis: FloatArray
    power: float
    table: DistributionTable | None
    columns: IndexArray
    rows: IndexArray
    flux_lm: FloatArray  # (n, k)
    size_mm: float

    @property
    def key(self) -> Hashable:
        """All that its light in the cells around depends on, but for these."""
        table = None if self.table is None else self.table.per_steradian.tobytes()
        return self.place_mm.tobytes(), self.axis.tobytes(), self.power, table, self.size_mm

    @functools.cached_property
    def lamp(self) -> LampArrays:
        """Its emitter for the kernel, in its own cell, of one lumen."""
        place, axis = self.place_mm[None], self.axis[None]
        measured = None if self.table is None else (np.zeros(1, int), [self.table.per_steradian])
        sizes_mm, power = (_LEAST_DISTANCE_MM, self.size_mm), np.array([self.power])
        return LampArrays(place, axis, power, np.ones((1, 1)), sizes_mm, sides_of(axis), measured)


@dataclass(frozen=True)
class BaffledLight:
    """Light on the lid of a baffled box; see :class:`gauze.core.optics.cavity.light.CavityLight` for what the figures mean.

    ``bounced_at_knots`` has shape (columns, rows, knots, knots, k); ``places_in_pixel`` are so many along each side of a pixel.
    """

    box: BaffledBox
    emitters: Emitters
    exchange: CellExchange
    patterns: tuple[Pattern, ...]
    bounced_at_knots: FloatArray
    lid_flux_lm: FloatArray
    direct_flux_lm: FloatArray
    balance_error: float
    corrected: float
    places_in_pixel: int

    def direct(self, pixels: int, weights: SheetWeights | None = None, pause: Pause = carry_on) -> FloatArray:
        """Direct illuminance of ``pixels`` x ``pixels`` parts of all cells, lm/mm^2: (columns, rows, y, x, k).

        Each is the mean over a few places: partitions throw shadows narrower than a pixel.
        """
        box, reach, split = self.box, self.exchange.reach, self.places_in_pixel
        count = pixels * split
        share = (np.arange(count) + 0.5) / count
        x, y = np.meshgrid(share * box.pitch_x_mm, share * box.pitch_y_mm)
        points = np.stack([x.ravel(), y.ravel(), np.full(x.size, box.depth_mm)], axis=1)
        facing = np.tile([0.0, 0.0, -1.0], (len(points), 1))
        total = np.zeros((box.columns, box.rows, pixels**2, self.emitters.flux_lm.shape[1]))
        for pattern in self.patterns:
            pause()
            shares = self.exchange.arrived(
                (pattern.key, _met(box, reach), pixels, split, None if weights is None else weights.key),
                functools.partial(_on_pixels, box, pattern, (points, facing), reach, weights, (pixels, split)),
            )
            total += _laid_out(box, pattern.flux_lm, pattern, shares, reach)
        return total.reshape(box.columns, box.rows, pixels, pixels, -1)

    def bounced(self, pixels: int) -> FloatArray:
        """Bounced illuminance at the same places."""
        box = self.box
        inset = 0.0 if box.high_mm < box.depth_mm else box.partition_mm / 2

        def matrix(pitch: float) -> FloatArray:
            share = ((np.arange(pixels) + 0.5) / pixels * pitch - inset) / (pitch - 2 * inset)
            onto = chebyshev_matrix(1.0, len(self.exchange.knots), np.clip(share, 0.0, 1.0)).copy()
            onto[(share < 0) | (share > 1)] = 0.0  # on a partition that touches the lid
            return onto

        on_x, down_y = matrix(box.pitch_x_mm), matrix(box.pitch_y_mm)[::-1]  # t runs down along y
        columns, rows, across, up, colours = self.bounced_at_knots.shape
        half = np.matmul(on_x, self.bounced_at_knots.reshape(columns, rows, across, up * colours))
        spread = np.matmul(down_y, half.reshape(columns, rows, pixels, up, colours))  # (columns, rows, x, y, k)
        return np.asarray(np.maximum(spread.swapaxes(2, 3), 0.0))


def light_baffled(
    box: BaffledBox,
    emitters: Emitters,
    fineness: float = 1.0,
    pause: Pause = carry_on,
    known: CellExchange | None = None,
) -> BaffledLight:
    """Compute the light on the lid; ``fineness`` 1 is exact at rest. Ends by ``pause()`` between two steps when told to.

    ``known`` is the exchange of cells like these, where it is at hand.
    """
    exchange = known or exchange_of(box, fineness, pause)
    pause()
    patterns = tuple(_patterns(box, emitters))
    in_motion = fineness <= IN_MOTION
    split = _SPLIT_IN_MOTION if in_motion else next(count for most, count in _SPLIT if len(patterns) <= most)
    direct, corrected = _direct_on_patches(box, exchange, patterns, emitters.flux_lm.shape[1], split, pause)
    pause()
    solver = CellBalance(box, exchange, in_motion=in_motion)
    total = solver.balance(direct, _TOLERANCE if fineness >= 1.0 else _COARSE_TOLERANCE)
    pause()
    lid = np.array([role == "lid" for role in exchange.cell.roles])
    area = exchange.cell.mesh.areas_mm2[:, None]
    lid_flux = (total * area)[:, :, lid].sum(axis=(0, 1, 2))
    direct_flux = (direct * area)[:, :, lid].sum(axis=(0, 1, 2))
    at_knots = _scaled(solver.gather(total), exchange, lid_flux - direct_flux)
    lost = (((1.0 - solver.rho) * solver.areas)[..., None] * total).sum(axis=(0, 1, 2))
    emitted = emitters.flux_lm.sum(axis=0)
    lit = emitted > 0
    error = float(np.abs(lost[lit] / emitted[lit] - 1.0).max(initial=0.0))
    split = _PLACES_IN_PIXEL if fineness >= 1.0 else 1
    return BaffledLight(box, emitters, exchange, patterns, at_knots, lid_flux, direct_flux, error, corrected, split)


# -- direct light --------------------------------------------------------------------------------------------------------


def _patterns(box: BaffledBox, emitters: Emitters) -> list[Pattern]:
    columns, rows = box.cell_of(emitters.places_mm)
    local = emitters.places_mm - np.stack(
        [columns * box.pitch_x_mm, rows * box.pitch_y_mm, np.zeros(len(rows))], axis=1
    )
    table = emitters.table if emitters.tables else np.full(emitters.count, -1)
    key = np.round(np.column_stack([local / _SAME_MM, emitters.axes / 1e-9, emitters.power / 1e-9, table]), 0)
    _, first, which = np.unique(key, axis=0, return_index=True, return_inverse=True)
    which = which.ravel()
    return [
        Pattern(
            local[index],
            emitters.axes[index],
            float(emitters.power[index]),
            emitters.tables[table[index]] if table[index] >= 0 else None,
            columns[which == number],
            rows[which == number],
            emitters.flux_lm[which == number],
            emitters.size_mm,
        )
        for number, index in enumerate(first)
    ]


def _met(box: BaffledBox, reach: int) -> tuple[int, int]:
    """How many cells away along x and along y light is followed: as far as it gets at once, and as there are cells."""
    return min(reach, box.columns - 1), min(reach, box.rows - 1)


def _offsets(box: BaffledBox, reach: int) -> list[Offset]:
    """All cells from which light gets to a cell at once."""
    along, up = _met(box, reach)
    return [(dx, dy) for dx in range(-along, along + 1) for dy in range(-up, up + 1)]


def _around(
    box: BaffledBox,
    pattern: Pattern,
    points: FloatArray,
    facing: FloatArray,
    reach: int,
    weights: SheetWeights | None = None,
) -> FloatArray:
    """Illuminance per lumen of a pattern's emitter on points of the cells around it, shape (offsets, points)."""
    steps = np.array([(dx * box.pitch_x_mm, dy * box.pitch_y_mm, 0.0) for dx, dy in _offsets(box, reach)])
    shifted = (points[None] + steps[:, None]).reshape(-1, 3)
    normals = np.broadcast_to(facing, (len(steps), *facing.shape)).reshape(-1, 3)
    share = light_past_partitions(shifted, normals, pattern.lamp, weights, partitions_of(box))
    return share.reshape(len(steps), len(points))


def _on_pixels(
    box: BaffledBox,
    pattern: Pattern,
    at: tuple[FloatArray, FloatArray],
    reach: int,
    weights: SheetWeights | None,
    counts: tuple[int, int],
) -> FloatArray:
    """The mean of each pixel from places in it, so many pixels along each side and so many places along each of theirs."""
    (pixels, split), shares = counts, _around(box, pattern, *at, reach, weights)
    return np.asarray(shares.reshape(-1, pixels, split, pixels, split).mean(axis=(2, 4)).reshape(len(shares), -1))


def _on_patches(
    box: BaffledBox, pattern: Pattern, at: tuple[FloatArray, FloatArray], reach: int, weight: FloatArray
) -> FloatArray:
    """The flux on each patch from its places, which stand for so much of it, (patches, places)."""
    shares = _around(box, pattern, *at, reach)
    return np.asarray((shares.reshape(len(shares), *weight.shape) * weight).sum(axis=2))


def _laid_out(box: BaffledBox, flux_lm: FloatArray, pattern: Pattern, shares: FloatArray, reach: int) -> Cells:
    """Light of all emitters of a pattern: in every cell that of those around it, by one product; ``shares`` (offsets, places)."""
    columns, rows, colours = box.columns, box.rows, flux_lm.shape[1]
    flux = np.zeros((columns + 2 * reach, rows + 2 * reach, colours))
    np.add.at(flux, (pattern.columns + reach, pattern.rows + reach), flux_lm)
    near = np.stack(
        [flux[reach - dx : reach - dx + columns, reach - dy : reach - dy + rows] for dx, dy in _offsets(box, reach)]
    )
    light = near.reshape(len(near), -1).T @ shares
    return np.moveaxis(light.reshape(columns, rows, colours, -1), 3, 2)


def _direct_on_patches(
    box: BaffledBox, exchange: CellExchange, patterns: tuple[Pattern, ...], colours: int, split: int, pause: Pause
) -> tuple[Cells, float]:
    """Direct flux per mm^2 of every patch of every cell, each emitter's sum corrected to its flux."""
    mesh, reach = exchange.cell.mesh, exchange.reach
    places, facing, weight = _sample_points(exchange, split)
    rims = rim_masks(box, exchange)
    total = np.zeros((box.columns, box.rows, mesh.count, colours))
    missed = 0.0
    for pattern in patterns:
        pause()
        fluxes = exchange.arrived(
            (pattern.key, _met(box, reach), split),
            functools.partial(_on_patches, box, pattern, (places, facing), reach, weight),
        )
        landed = np.zeros(len(pattern.columns))
        for (dx, dy), flux in zip(_offsets(box, reach), fluxes, strict=True):
            columns, rows = pattern.columns + dx, pattern.rows + dy
            inside = (columns >= 0) & (columns < box.columns) & (rows >= 0) & (rows < box.rows)
            landed[inside] += rims[columns[inside], rows[inside]] @ flux
        missed = max(missed, float(np.abs(landed - 1.0).max()))
        corrected = pattern.flux_lm / np.maximum(landed, 1e-6)[:, None]
        total += _laid_out(box, corrected, pattern, fluxes / mesh.areas_mm2, reach)
    return total * rims[..., None], missed


def _sample_points(exchange: CellExchange, split: int) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Points over all patches, (patches * split^2, 3), their normals, and the area that each stands for, (patches, split^2)."""
    mesh = exchange.cell.mesh
    share, size = (np.arange(split) + 0.5) / split, (mesh.count, split**2)
    along, across = np.broadcast_to(np.repeat(share, split), size), np.broadcast_to(np.tile(share, split), size)
    places, normals, density = mesh.places(np.arange(mesh.count), along, across)
    return places.reshape(-1, 3), normals.reshape(-1, 3), density / split**2


def _scaled(at_knots: Cells, exchange: CellExchange, wanted: FloatArray) -> FloatArray:
    """Scale the gathered light to the balanced flux; shape (columns, rows, knots, knots, k)."""
    lid = next(one.tile for one in exchange.cell.mesh.tiles if one.tile.role == "lid")
    count = len(exchange.knots)
    area = float(lid.density(np.array(0.5), np.array(0.5)))
    weight = np.outer(chebyshev_weights(count), chebyshev_weights(count)).ravel() * area
    sums = np.einsum("p,crpk->k", weight, at_knots)
    scaled = at_knots * np.where(sums > 0, wanted / np.where(sums > 0, sums, 1.0), 1.0)
    return np.asarray(scaled.reshape(*at_knots.shape[:2], count, count, -1))
