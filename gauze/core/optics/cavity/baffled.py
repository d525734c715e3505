"""The light in a baffled box: that of :mod:`light`, cell by cell, with what passes over, under and through to other cells."""

import functools
import math
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.cavity.cell_balance import CellBalance, few_cells, like, rim_masks
from gauze.core.optics.cavity.cell_knots import pixel_variants
from gauze.core.optics.cavity.cell_mesh import HIGH, LEFT, LOW, RIGHT, rims_of, spans_of
from gauze.core.optics.cavity.cell_sums import Cells, Offset
from gauze.core.optics.cavity.cells import IN_MOTION, CellExchange, exchange_of
from gauze.core.optics.cavity.distribution import DistributionTable, sides_of
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.kernel.cells import light_past_partitions, partitions_of
from gauze.core.optics.kernel.pairs import HoldsArrays, LampArrays, SheetWeights
from gauze.core.optics.kernel.parallel import both

# of the balance, relative, the latter while a hand drags: cells with a thousandth of the brightest light are right to 0.3 %
_TOLERANCE, _COARSE_TOLERANCE = 1e-4, 1e-3
# points along each side of a patch that take direct light, by how many patterns there are: shadows have sharp edges
_SPLIT = ((8, 9), (64, 5), (math.inf, 3))
_SPLIT_IN_MOTION = 4
_PLACES_IN_PIXEL = 2  # along each side, at rest
_SAME_MM = 1e-6
_AS_BRIGHT = 1e-9  # of the brightest, by which emitters may differ and be as bright
_UPRIGHT = 1e-9  # by which the cosine of an axis may miss 1 and the emitter still face the sheet
_LEAST_DISTANCE_MM = 1e-3
Mirrors = tuple[IndexArray, IndexArray]
Places = tuple[
    FloatArray, FloatArray, FloatArray | None
]  # of a cell, their normals, and the lines between which partitions stand


@dataclass(frozen=True)
class Pattern(HoldsArrays):
    """Emitters that stand alike in their cells: one stands for all."""

    place_mm: FloatArray  # in its cell
    opened: int  # the rims of its cell along which no partition stands for it
    axis: FloatArray
    power: float
    table: DistributionTable | None
    columns: IndexArray
    rows: IndexArray
    flux_lm: FloatArray  # (n, k)
    size_mm: float

    @property
    def key(self) -> Hashable:
        """All that its light in the cells around depends on, except these."""
        table = None if self.table is None else self.table.per_steradian.tobytes()
        return self.place_mm.tobytes(), self.opened, self.axis.tobytes(), self.power, table, self.size_mm

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

    ``bounced_at_knots`` has shape (columns, rows, knots along x, along y, k); ``places_in_pixel`` are so many along each side of
    one. ``own_exchange``: whether the exchange, of ``fineness``, is that of its cells, or of others nearly alike
    (:mod:`between`).
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
    fineness: float
    own_exchange: bool = True

    def __getstate__(self) -> dict[str, object]:
        """Give another process the light of many cells in half of the bytes."""
        return self.__dict__ | {"bounced_at_knots": self.bounced_at_knots.astype(np.float32)}

    def direct(
        self, pixels: int, weights: SheetWeights | None = None, pause: Pause = carry_on
    ) -> tuple[FloatArray, FloatArray | None]:
        """Direct illuminance of ``pixels`` x ``pixels`` parts of all cells, plain and weighed, lm/mm^2: (columns, rows, y, x, k).

        Each is the mean over a few places: partitions throw shadows narrower than a pixel.
        """
        box, reach, split = self.box, self.exchange.reach, self.places_in_pixel
        variants = pixel_variants(box, pixels)
        number = np.repeat(variants.base, split**2)
        within = np.tile(np.arange(split**2), len(variants.base))
        x, y = (
            (pixel + (place + 0.5) / split) / pixels * pitch
            for pixel, place, pitch in (
                (number % pixels, within % split, box.pitch_x_mm),
                (number // pixels, within // split, box.pitch_y_mm),
            )
        )
        facing = np.tile([0.0, 0.0, -1.0], (len(x), 1))
        spans = spans_of(box, np.repeat(variants.opened, split**2))
        places = np.stack([x, y, np.full(len(x), box.depth_mm)], axis=1), facing, spans
        pixel = np.arange(pixels**2).reshape(pixels, pixels)
        images = pixel[:, ::-1].ravel(), pixel[::-1].ravel()

        def mean(shares: FloatArray) -> FloatArray:
            return np.asarray(shares.reshape(len(shares), -1, split**2).mean(axis=2))

        kinds = 1 if weights is None else 2
        total = np.zeros((box.columns, box.rows, kinds * len(variants.base), self.emitters.flux_lm.shape[1]))
        for pattern in self.patterns:
            pause()
            shares = self.exchange.arrived(
                (pattern.key, _met(box, reach), pixels, split, None if weights is None else weights.key),
                functools.partial(_around, box, pattern, places, reach, weights, mean, images),
            )
            total += _laid_out(box, pattern.flux_lm, pattern, shares.reshape(len(shares), -1), reach)
        size = (box.columns, box.rows, pixels, pixels, total.shape[3])
        plain, *seen = (variants.laid_out(one).reshape(size) for one in np.split(total, kinds, axis=2))
        return plain, seen[0] if seen else None

    def bounced(self, pixels: int) -> FloatArray:
        """Bounced illuminance at the same places."""
        on_x, down_y = self.exchange.knots.matrices(self.box, pixels)
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

    ``known`` is the exchange of such cells, if it has been computed.
    """
    exchange = known or exchange_of(box, fineness, pause)
    pause()
    patterns = tuple(patterns_of(box, emitters))
    in_motion = fineness <= IN_MOTION
    split = _SPLIT_IN_MOTION if in_motion else next(count for most, count in _SPLIT if len(patterns) <= most)
    solved = _Solved.of(box, exchange, patterns)
    solver, (direct, corrected) = both(
        lambda: CellBalance(solved.box, exchange, in_motion=in_motion),
        lambda: _direct_on_patches(solved.box, exchange, solved.patterns, emitters.flux_lm.shape[1], split, pause),
    )
    total = solver.balance(direct, _TOLERANCE if fineness >= 1.0 else _COARSE_TOLERANCE)
    pause()
    lid = np.array([role == "lid" for role in exchange.cell.roles])
    areas = (solver.areas * solved.times[..., None])[..., None]
    lid_flux = (total * areas)[:, :, lid].sum(axis=(0, 1, 2))
    direct_flux = (direct * areas)[:, :, lid].sum(axis=(0, 1, 2))
    gathered = solved.spread(exchange.knots.variants.laid_out(solver.gather(total)))
    at_knots = _scaled(gathered, exchange, lid_flux - direct_flux)
    lost = ((1.0 - solver.rho)[..., None] * areas * total).sum(axis=(0, 1, 2))
    emitted = emitters.flux_lm.sum(axis=0)
    lit = emitted > 0
    error = float(np.abs(lost[lit] / emitted[lit] - 1.0).max(initial=0.0))
    split = _PLACES_IN_PIXEL if fineness >= 1.0 else 1
    return BaffledLight(
        box, emitters, exchange, patterns, at_knots, lid_flux, direct_flux, error, corrected, split, fineness
    )


@dataclass(frozen=True)
class _Solved:
    """The box whose cells are solved, with its patterns, and which of them each cell of the whole box is like.

    Where all cells are lit alike, those far from the rim have the same light: a box of a few cells has them all.
    """

    box: BaffledBox
    patterns: tuple[Pattern, ...]
    columns: IndexArray
    rows: IndexArray

    @classmethod
    def of(cls, box: BaffledBox, exchange: CellExchange, patterns: tuple[Pattern, ...]) -> "_Solved":
        columns, rows = few_cells(box, exchange)
        if (columns, rows) == (box.columns, box.rows) or not all(_is_everywhere(box, one) for one in patterns):
            return cls(box, patterns, np.arange(box.columns), np.arange(box.rows))
        column, row = (grid.ravel() for grid in np.meshgrid(np.arange(columns), np.arange(rows)))
        few = tuple(
            replace(one, columns=column, rows=row, flux_lm=np.repeat(one.flux_lm[:1], len(column), axis=0))
            for one in patterns
        )
        small = replace(box, columns=columns, rows=rows)
        return cls(small, few, like(box.columns, columns), like(box.rows, rows))

    @property
    def times(self) -> FloatArray:
        """For how many cells each that is solved stands, (columns, rows)."""
        along = np.bincount(self.columns, minlength=self.box.columns)
        return np.outer(along, np.bincount(self.rows, minlength=self.box.rows)).astype(float)

    def spread(self, values: Cells) -> Cells:
        """The values of all cells from those that are solved."""
        return np.asarray(values[np.ix_(self.columns, self.rows)])


def _is_everywhere(box: BaffledBox, pattern: Pattern) -> bool:
    """Whether an emitter of a pattern stands in every cell, all of them as bright."""
    cells = box.columns * box.rows
    if len(pattern.columns) != cells or np.ptp(pattern.flux_lm, axis=0).max() > _AS_BRIGHT * pattern.flux_lm.max():
        return False
    return len(np.unique(pattern.columns * box.rows + pattern.rows)) == cells


# -- direct light --------------------------------------------------------------------------------------------------------


def patterns_of(box: BaffledBox, emitters: Emitters) -> list[Pattern]:
    """Sort emitters by how they stand in their cells."""
    columns, rows = box.cell_of(emitters.places_mm)
    local = emitters.places_mm - np.stack(
        [columns * box.pitch_x_mm, rows * box.pitch_y_mm, np.zeros(len(rows))], axis=1
    )
    table = emitters.table if emitters.tables else np.full(emitters.count, -1)
    opened = _opened(box, local, rims_of(box.columns, box.rows)[columns, rows])
    key = np.round(np.column_stack([local / _SAME_MM, opened, emitters.axes / 1e-9, emitters.power / 1e-9, table]), 0)
    _, first, which = np.unique(key, axis=0, return_index=True, return_inverse=True)
    which = which.ravel()
    return [
        Pattern(
            local[index],
            int(opened[index]),
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


def _opened(box: BaffledBox, local: FloatArray, rims: IndexArray) -> IndexArray:
    """The rims of their cells at which places stand where there would be half a partition, if it were no rim."""
    if not box.open_rim:
        return np.zeros(len(local), int)
    half, (x, y) = box.partition_mm / 2, local[:, :2].T
    near = (
        LEFT * (x < half) | RIGHT * (x > box.pitch_x_mm - half) | LOW * (y < half) | HIGH * (y > box.pitch_y_mm - half)
    )
    return np.asarray(near & rims)


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
    at: Places,
    reach: int,
    weights: SheetWeights | None,
    summed: Callable[[FloatArray], FloatArray],
    images: Mirrors,
) -> FloatArray:
    """Light per lumen of a pattern's emitter in the cells around it, of places of a cell, ``summed`` to n: (offsets, 1 or 2, n).

    ``images`` are the mirror images of those n across x and y. Where the emitter stands in the middle of its cell what it gives
    to the left, or below, is the image of what it gives to the right, or above.
    """
    offsets = _offsets(box, reach)
    mirrored = [image if _is_central(box, pattern, at, axis) else None for axis, image in enumerate(images)]
    some = list(dict.fromkeys(_turned(offset, mirrored) for offset in offsets))
    found = {offset: summed(_at_offset(box, pattern, at, offset, weights)) for offset in some}
    return np.stack([_seen_in(found[_turned(offset, mirrored)], offset, mirrored) for offset in offsets])


def _is_central(box: BaffledBox, pattern: Pattern, at: Places, axis: int) -> bool:
    """Whether what a pattern's emitter gives to one side is the image of what it gives to the other."""
    upright = abs(float(pattern.axis[2])) > 1.0 - _UPRIGHT and pattern.table is None
    middle_mm = (box.pitch_x_mm, box.pitch_y_mm)[axis] / 2.0
    same_partitions = at[2] is None and not pattern.opened
    return bool(upright and same_partitions and abs(pattern.place_mm[axis] - middle_mm) <= _SAME_MM)


def _turned(offset: Offset, mirrored: Sequence[IndexArray | None]) -> Offset:
    """The offset of which one is the image."""
    dx, dy = (step if image is None else abs(step) for step, image in zip(offset, mirrored, strict=True))
    return dx, dy


def _seen_in(light: FloatArray, offset: Offset, mirrored: Sequence[IndexArray | None]) -> FloatArray:
    """The light at an offset from that at the one of which it is the image."""
    for step, image in zip(offset, mirrored, strict=True):
        light = light[..., image] if image is not None and step < 0 else light
    return light


def _at_offset(
    box: BaffledBox, pattern: Pattern, at: Places, offset: Offset, weights: SheetWeights | None
) -> FloatArray:
    points, facing, spans = at
    own = spans_of(box, np.array([pattern.opened]))
    shift_mm = (offset[0] * box.pitch_x_mm, offset[1] * box.pitch_y_mm, 0.0)
    return light_past_partitions(points, facing, pattern.lamp, weights, partitions_of(box), spans, own, shift_mm)


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
    at = places, facing, spans_of(box, np.repeat(exchange.cell.opened, split**2))
    rims = rim_masks(box, exchange)
    total = np.zeros((box.columns, box.rows, mesh.count, colours))
    missed = 0.0

    def flux_on_patches(shares: FloatArray) -> FloatArray:
        return np.asarray((shares.reshape(weight.shape) * weight).sum(axis=1))[None]

    for pattern in patterns:
        pause()
        fluxes = exchange.arrived(
            (pattern.key, _met(box, reach), split),
            functools.partial(_around, box, pattern, at, reach, None, flux_on_patches, exchange.images),
        )[:, 0]
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
    """Scale the gathered light to the balanced flux; shape (columns, rows, knots along x, along y, k)."""
    sums = np.einsum("p,crpk->k", exchange.knots.areas_mm2.ravel(), at_knots)
    scaled = at_knots * np.where(sums > 0, wanted / np.where(sums > 0, sums, 1.0), 1.0)
    return np.asarray(scaled.reshape(*at_knots.shape[:2], *exchange.knots.shape, -1))
