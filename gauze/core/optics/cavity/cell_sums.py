"""Sums over the cells around each cell of a grid; of what is its own mirror image only a half or a quarter is computed."""

from __future__ import annotations

import functools
import math
from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING, TypeAlias

import numpy as np

from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.cavity.factors import Matrix
from gauze.core.optics.kernel.parallel import THREADS, in_threads
from gauze.core.optics.kernel.sums import NearPlaces

if TYPE_CHECKING:
    from scipy import sparse

Offset = tuple[int, int]
Block: TypeAlias = "Matrix | sparse.csr_array"
Cells = FloatArray  # shape (columns, rows, places of a cell, k)
_MOST_AT_ONCE = 2_000_000  # numbers gathered for one product
_MOST_KNOWN = 8  # grids of which is kept where their values are
_WORTH_THREADS = 20_000_000  # products of numbers below which handing work to threads takes longer than doing it


@dataclass(frozen=True)
class Fold:
    """A grid of cells of which only one side of its mirrors is held, left to right, low to high, or neither.

    ``images`` are, for either mirror, which place of a cell is the image of each.
    """

    columns: int
    rows: int
    mirrored: tuple[bool, bool]
    images: tuple[IndexArray, IndexArray]

    @functools.cached_property
    def held(self) -> tuple[int, int]:
        """How many columns and rows are held; one in the middle is."""
        across, up = self.mirrored
        return (self.columns + 1) // 2 if across else self.columns, (self.rows + 1) // 2 if up else self.rows

    @functools.cached_property
    def times(self) -> FloatArray:
        """How often each held cell stands in the grid, shape (columns, rows, 1)."""
        along, up = (
            np.where(mirror & (2 * np.arange(held) != count - 1), 2.0, 1.0)
            for mirror, held, count in zip(self.mirrored, self.held, (self.columns, self.rows), strict=True)
        )
        return np.asarray((along[:, None] * up[None, :])[..., None])

    def of(self, values: FloatArray) -> FloatArray:
        """What is held of values of all cells, shape (columns, rows, places, ...)."""
        columns, rows = self.held
        return values[:columns, :rows]

    def whole(self, values: FloatArray, images: tuple[IndexArray, IndexArray] | None = None) -> FloatArray:
        """The values of all cells from those that are held; ``images`` of their places, where these are others."""
        images = images or self.images
        for axis, (mirror, count) in enumerate(zip(self.mirrored, (self.columns, self.rows), strict=True)):
            if mirror:
                held = values.shape[axis]
                other = np.take(values, np.arange(count - held - 1, -1, -1), axis)[:, :, images[axis]]
                values = np.concatenate([values, other], axis)
        return values

    def padded(self, values: FloatArray, reach: int) -> FloatArray:
        """The values of the held cells, and of those as near as ``reach``: (columns, rows, places), nothing beyond the grid."""
        columns, rows, places = values.shape
        padded = np.zeros((columns + 2 * reach, rows + 2 * reach, places), np.float32)
        padded[reach : reach + columns, reach : reach + rows] = values
        beyond = [
            np.arange(count - held - 1, max(count - held - 1 - reach, -1), -1) + reach
            for count, held in zip((self.columns, self.rows), self.held, strict=True)
        ]  # the held cells whose images come next beyond the mirrors
        if self.mirrored[0]:
            last = reach + columns
            padded[last : last + len(beyond[0])] = padded[beyond[0]][:, :, self.images[0]]
        if self.mirrored[1]:
            last = reach + rows
            padded[:, last : last + len(beyond[1])] = padded[:, beyond[1]][:, :, self.images[1]]
        return padded


@dataclass(frozen=True)
class _Group:
    """Some places of a cell, and the patches of the cells around it that any of them sees.

    ``across`` and ``up`` are the offsets of the cells of these patches, ``patch`` their numbers there, and ``matrix`` how much
    of each gets to the places, shape (patches seen, places).
    """

    places: IndexArray
    across: IndexArray
    up: IndexArray
    patch: IndexArray
    matrix: FloatArray

    @classmethod
    def of(cls, blocks: dict[Offset, Matrix], places: IndexArray) -> _Group:
        own = {offset: block[places] for offset, block in blocks.items()}
        seen = {offset: np.flatnonzero(block.any(axis=0)) for offset, block in own.items()}
        offsets = np.repeat(np.array(list(seen)).reshape(-1, 2), [len(some) for some in seen.values()], axis=0)
        matrix = np.concatenate([own[offset][:, some].T for offset, some in seen.items()])
        return cls(places, offsets[:, 0], offsets[:, 1], np.concatenate(list(seen.values())), matrix)

    def after(self, shape: tuple[int, ...], reach: int) -> IndexArray:
        """How far after the first value of a cell each patch lies that is seen from the cell ``reach`` to the right and above.

        ``shape`` is that of the values, (columns, rows, patches).
        """
        return np.asarray(((self.across + reach) * shape[1] + self.up + reach) * shape[2] + self.patch).astype(np.int32)


_Bands = list[
    list[NearPlaces]
]  # where the values are that a grid's sums are made of: for bands of columns, and every group


class CellSums:
    """The sum of each of some blocks times the values of the cell at its offset, for every cell of a grid.

    Blocks have shape (places, patches). Dense ones are one matrix for each of some ``groups`` of places, from which what none of
    these sees is left out: over the partitions hardly anything is seen of what is seen under them. Packed blocks are used as
    they are.
    """

    def __init__(self, blocks: dict[Offset, Block], groups: Sequence[IndexArray] | None = None) -> None:
        self._reach = max(max(offset) for offset in blocks)
        self._packed = {offset: block for offset, block in blocks.items() if not isinstance(block, np.ndarray)}
        self._places = next(iter(blocks.values())).shape[0]
        dense = {offset: block for offset, block in blocks.items() if isinstance(block, np.ndarray)}
        self._groups = [_Group.of(dense, places) for places in groups or [np.arange(self._places)]]
        self._known: dict[Hashable, _Bands] = {}

    def __call__(self, values: Cells, fold: Fold) -> Cells:
        """Sum over the cells around each held one; ``values`` (columns, rows, patches, k) are of those that are held."""
        total = np.empty((*fold.held, self._places, values.shape[3]), np.float32)
        for colour in range(values.shape[3]):
            padded = fold.padded(values[..., colour], self._reach)
            total[..., colour] = self._dense(padded, fold)
            if self._packed:
                total[..., colour] += self._sparse(padded, fold)
        return total

    def _sparse(self, padded: FloatArray, fold: Fold) -> FloatArray:
        met = [offset for offset in self._packed if abs(offset[0]) < fold.columns and abs(offset[1]) < fold.rows]

        def part(offsets: list[Offset]) -> FloatArray:
            total = np.zeros((*fold.held, self._places), np.float32)
            for offset in offsets:
                here, there = [], []
                for step, held, count in zip(offset, fold.held, (fold.columns, fold.rows), strict=True):
                    first, last = max(0, -step), min(held, count - step)  # those that have a cell at the offset
                    here.append(slice(first, last))
                    there.append(slice(self._reach + first + step, self._reach + last + step))
                some = padded[*there]
                product = (self._packed[offset] @ some.reshape(-1, some.shape[2]).T).T
                total[*here] += product.reshape(*some.shape[:2], self._places)
            return total

        parts = in_threads(part, [met[first::THREADS] for first in range(min(THREADS, len(met)))])
        return np.asarray(sum(parts, np.zeros((*fold.held, self._places), np.float32)))

    def _dense(self, padded: FloatArray, fold: Fold) -> FloatArray:
        key = padded.shape, fold.held
        if key not in self._known:
            if len(self._known) >= _MOST_KNOWN:
                self._known.clear()
            self._known[key] = self._places_in(padded.shape, fold.held)

        def band(near: list[NearPlaces]) -> FloatArray:
            total = np.empty((near[0].shape[0], self._places), np.float32)
            for group, places in zip(self._groups, near, strict=True):
                total[:, group.places] = places.of(padded) @ group.matrix
            return total.reshape(-1, fold.held[1], self._places)

        return np.concatenate(in_threads(band, self._known[key]))

    def _places_in(self, shape: tuple[int, ...], held: tuple[int, int]) -> _Bands:
        """Where the values of so many held cells are in those of all, of the shape (columns, rows, patches)."""
        columns, rows = held
        work = columns * rows * sum(group.matrix.size for group in self._groups)
        widest = max(len(group.matrix) for group in self._groups)
        first = np.arange(math.prod(shape), step=shape[2], dtype=np.int32).reshape(shape[:2])
        bands = max(math.ceil(columns * rows * widest / _MOST_AT_ONCE), THREADS if work > _WORTH_THREADS else 1)
        bounds = np.linspace(0, columns, min(bands, columns) + 1).astype(int).tolist()
        starts = [first[slice(*bound), :rows].ravel() for bound in pairwise(bounds)]
        after = [group.after(shape, self._reach) for group in self._groups]
        return [[NearPlaces(start, one) for one in after] for start in starts]
