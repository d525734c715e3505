"""The bounced light of all cells of a baffled box, balanced: conjugate gradients, one side of a mirror where there is one."""

import math
from collections import deque
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.cavity.cell_mesh import rims_of
from gauze.core.optics.cavity.cell_sums import Cells, Fold
from gauze.core.optics.cavity.cells import CellExchange
from gauze.core.optics.cavity.conjugate import conjugate_gradients
from gauze.core.optics.cavity.fixed_point import Acceleration
from gauze.core.optics.cavity.kept import Kept

_CLOSED, _COARSELY_CLOSED = 1e-5, 1e-3  # change of the factors of closure up to which they are taken for found
_MOST_STEPS = 20  # towards them
_MOST_ROUNDS = 4000  # of balancing
_MOST_POWER = 7.0  # of e, that they may be
_LEAST_SCALE = math.exp(-_MOST_POWER)
_MOST_MET = 4  # balances kept to begin the next from
_RIM_REACHES, _RIM_CELLS = 3, 6  # distance from the rim beyond which it has no effect, in reaches and in cells
_MIRRORED = 1e-6  # of the brightest patch, by which light may differ from its mirror image and still be taken for it


def rim_masks(box: BaffledBox, exchange: CellExchange) -> FloatArray:
    """1 where a cell has a patch, by the rims at which it lies; shape (columns, rows, patches)."""
    return exchange.cell.there.T[rims_of(box.columns, box.rows)].astype(float)


# with the exchange itself, so that its identity stays its own
_SCALES: Kept[tuple[CellExchange, FloatArray]] = Kept(60_000_000, lambda kept: kept[1].nbytes)


def few_cells(box: BaffledBox, exchange: CellExchange) -> tuple[int, int]:
    """Columns and rows of the smallest box in which the rim has no effect on the cell in the middle; at most its own."""
    few = 2 * max(_RIM_REACHES * exchange.reach, _RIM_CELLS) + 1
    return min(box.columns, few), min(box.rows, few)


def like(count: int, few: int) -> IndexArray:
    """For each of so many cells in a row the one of fewer that is as far from the nearer end, as far as that counts."""
    place = np.arange(count)
    return np.where(place <= count // 2, np.minimum(place, few // 2), np.maximum(few - (count - place), few // 2))


@dataclass(frozen=True)
class _Met:
    """One colour's direct and whole illuminance of a box, from which the balance of one much like it begins."""

    direct: FloatArray
    total: FloatArray


_MET: deque[_Met] = deque(maxlen=_MOST_MET)
_LAST_SCALES: dict[tuple[int, ...], FloatArray] = {}  # by shape, of what was met last; begun from while a hand drags


def forget_balances() -> None:
    """Drop what the next balance would begin from, as a benchmark wants it."""
    _MET.clear()
    _LAST_SCALES.clear()


class CellBalance:
    """Balances the bounced light of all cells: conjugate gradients on E = E0 + F rho E, as in :mod:`transport`.

    ``in_motion`` is for what is replaced at once: begun from what was met last, and closed to a thousandth. Where either ends
    depends on where it began by no more than that.
    """

    def __init__(self, box: BaffledBox, exchange: CellExchange, *, in_motion: bool = False) -> None:
        self.box, self.exchange, self.in_motion = box, exchange, in_motion
        mesh = exchange.cell.mesh
        self.there = rim_masks(box, exchange)
        self.areas = mesh.areas_mm2 * self.there
        self.rho = np.array([box.reflectances.of(role) for role in exchange.cell.roles]) * np.ones_like(self.there)
        self.scale = _SCALES.get((id(exchange), box.columns, box.rows), lambda: (exchange, self._scaling()))[1]

    def _scaling(self) -> FloatArray:
        """Factors that make the exchange areas of every patch sum to its area; they depend on the geometry alone.

        Far from the rim all cells have the same: those of a smaller box are used for all.
        """
        box = self.box
        columns, rows = few_cells(box, self.exchange)
        if (columns, rows) != (box.columns, box.rows):
            small = CellBalance(replace(box, columns=columns, rows=rows), self.exchange, in_motion=self.in_motion).scale
            return np.asarray(small[np.ix_(like(box.columns, columns), like(box.rows, rows))])
        shape = self.there.shape
        scale: FloatArray = np.ones_like(self.there)
        if self.in_motion and shape in _LAST_SCALES:
            scale = _LAST_SCALES[shape]
        fold = self._fold((True, True))
        scale, there, areas = fold.of(scale), fold.of(self.there), fold.of(self.areas)
        enough = _COARSELY_CLOSED if self.in_motion else _CLOSED
        power, faster = np.log(np.maximum(scale, _LEAST_SCALE)), Acceleration()
        for _ in range(_MOST_STEPS):
            scale = np.exp(power) * there
            sums = scale * self.exchange.sums(scale[..., None], fold)[..., 0]
            seen = sums > 0
            residual = np.where(seen, 0.5 * np.log(np.where(seen, areas, 1.0) / np.where(seen, sums, 1.0)), 0.0)
            if np.abs(residual).max(initial=0.0) < enough:
                break
            power = np.clip(faster.next(power, residual), -_MOST_POWER, _MOST_POWER)
        scale = fold.whole(np.where(seen, scale, 0.0))
        if self.in_motion:
            if len(_LAST_SCALES) >= _MOST_MET:
                _LAST_SCALES.clear()
            _LAST_SCALES[shape] = scale
        return scale

    def _fold(self, mirrored: tuple[bool, bool]) -> Fold:
        return Fold(self.box.columns, self.box.rows, mirrored, self.exchange.images)

    def _fold_of(self, values: FloatArray) -> Fold:
        """Which side of the mirrors to hold of values of all patches, (columns, rows, patches): the rest are mirror images."""
        within = _MIRRORED * float(np.abs(values).max(initial=0.0))
        across, up = self.exchange.images
        return self._fold(
            (
                bool(np.abs(values - values[::-1][:, :, across]).max(initial=0.0) <= within),
                bool(np.abs(values - values[:, ::-1][:, :, up]).max(initial=0.0) <= within),
            )
        )

    def balance(self, direct: Cells, tolerance: float) -> Cells:
        """Return the whole illuminance of every patch."""
        total = np.empty_like(direct)
        for colour in range(direct.shape[3]):
            own = direct[..., colour] * self.there
            total[..., colour] = direct[..., colour] + self._bounced(own, tolerance)
        return total

    def _bounced(self, direct: FloatArray, tolerance: float) -> FloatArray:
        """Bounced illuminance of every patch, of one colour; where the light is its own mirror image one side of it is solved."""
        fold = self._fold_of(direct)
        there, areas, scale, own = (fold.of(values) for values in (self.there, self.areas, self.scale, direct))
        rho = fold.of(self.rho) * there
        # single precision does for steps that end at a ten thousandth: what they are asked of is in it, too
        weight = (np.where(there > 0, areas * rho, 1.0) * fold.times).astype(np.float32)
        shape = own.shape

        leaving, counted = (scale * rho).astype(np.float32), (scale * rho * fold.times).astype(np.float32)

        def arriving(values: FloatArray) -> FloatArray:
            """What arrives of what all patches reflect, but for the scale of those on which it does."""
            return self.exchange.sums((leaving * values)[..., None], fold)[..., 0]

        def apply(column: FloatArray) -> FloatArray:
            e = column.reshape(shape)
            return np.asarray(weight * e - counted * arriving(e)).reshape(-1, 1)

        begin = fold.of(self._begin(direct)) if self.in_motion else own
        wanted, start = (np.asarray(one, np.float32).reshape(-1, 1) for one in (weight * own, begin))
        diagonal = np.where(weight > 0, weight, 1.0).ravel()
        column, settled = conjugate_gradients(apply, wanted, start, diagonal, tolerance, _MOST_ROUNDS)
        if not settled:
            raise ArithmeticError(f"the bounced light did not balance in {_MOST_ROUNDS} steps")
        solved = column.reshape(shape)
        if self.in_motion:
            _MET.append(_Met(direct, fold.whole(solved)))
        return fold.whole(scale * arriving(solved) / np.where(areas > 0, areas, 1.0) * (areas > 0))

    def _begin(self, direct: FloatArray) -> FloatArray:
        """The direct light and as much bounced light as there was where the direct light was most alike."""
        alike = [one for one in tuple(_MET) if one.direct.shape == direct.shape]
        if not alike:
            return direct
        nearest = min(alike, key=lambda one: float(np.abs(one.direct - direct).sum()))
        brighter = float(direct.sum()) / max(float(nearest.direct.sum()), 1e-30)
        return np.asarray((direct + (nearest.total - nearest.direct) * brighter) * self.there)

    def gather(self, total: Cells) -> Cells:
        """Bounced illuminance at all variants of the knots of every lid, shape (columns, rows, m, k)."""
        images = self.exchange.knots.images
        both = self._fold((True, True))
        seen = both.whole(self.exchange.knot_sums(both.of(self.there)[..., None], both), images)
        leaving = (self.rho * self.there)[..., None] * total
        fold = self._fold_of(leaving)
        return fold.whole(self.exchange.knot_sums(fold.of(leaving), fold), images) / np.maximum(seen, 1e-6)
