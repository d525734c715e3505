"""Places of a cell's lid, some of them once more for cells at an open rim; and the knots at which the bounced light is found."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.box_mesh import chebyshev_matrix, chebyshev_points, chebyshev_weights
from gauze.core.optics.cavity.cell_mesh import (
    HIGH,
    LEFT,
    LOW,
    RIGHT,
    RIMS,
    diagonal_images,
    mirror_images,
    parts_of,
    rims_of,
)

_FEWEST = 3  # knots over half a partition
Side = tuple[tuple[float, float, int], ...]


@dataclass(frozen=True)
class Variants:
    """Places of a cell as they are in cells at some rims and in others.

    ``base`` (m,) is of which place each is, ``opened`` (m,) at which rims no partition stands for it, and ``chosen`` (16, places)
    which of them a cell has by its rims, -1 for none; None where every cell has the places as they are.
    """

    base: IndexArray
    opened: IndexArray
    chosen: IndexArray | None

    @classmethod
    def of(cls, near: IndexArray, *, open_rim: bool, covered: bool = False) -> Variants:
        """Of places (n,), given along which of their sides half a partition stands over them.

        ``covered``: partitions touch the lid, and nothing is there where one stands.
        """
        number = np.arange(len(near))
        if not open_rim:
            return cls(number, np.zeros(len(near), int), None)
        base, opened, chosen = [], [], np.full((RIMS, len(near)), -1)
        count = 0
        for rims in np.unique(near):
            own = number[near == rims]
            for some in parts_of(int(rims)):
                if covered and some != rims:
                    continue
                base.append(own)
                opened.append(np.full(len(own), some))
                chosen[np.ix_(np.arange(RIMS) & rims == some, own)] = count + np.arange(len(own))
                count += len(own)
        return cls(np.concatenate(base), np.concatenate(opened), chosen)

    def laid_out(self, values: FloatArray) -> FloatArray:
        """The values of every cell's places from those of all variants, (columns, rows, m, k): nothing where one has none."""
        if self.chosen is None:
            return values
        which = self.chosen[rims_of(*values.shape[:2])][..., None]
        return np.where(which < 0, 0.0, np.take_along_axis(values, np.maximum(which, 0), axis=2))


def near_sides(
    box: BaffledBox, low_mm: tuple[FloatArray, FloatArray], high_mm: tuple[FloatArray, FloatArray]
) -> IndexArray:
    """Over which half partitions of a cell rectangles reach, given from where to where along x and along y."""
    half = box.partition_mm / 2
    sides = ((LEFT, RIGHT, box.pitch_x_mm), (LOW, HIGH, box.pitch_y_mm))
    return np.asarray(
        sum(
            first * (low < half) + last * (high > pitch - half)
            for (first, last, pitch), low, high in zip(sides, low_mm, high_mm, strict=True)
        )
    )


@dataclass(frozen=True)
class LidKnots:
    """Knots on the lid of a cell: Chebyshev's in each part of its sides, x upwards and y downwards.

    A part of a side is (from, to, knots), in mm. ``places`` (m, 3) are those of all variants; ``images`` are their mirror images,
    left to right and low to high, and ``diagonal`` with x and y exchanged, None where that is none.
    """

    sides: tuple[Side, ...]
    places: FloatArray
    variants: Variants
    images: tuple[IndexArray, IndexArray]
    diagonal: IndexArray | None

    @classmethod
    def of(cls, box: BaffledBox, count: int) -> LidKnots:
        """About so many along either side."""
        touched = box.high_mm >= box.depth_mm
        half = box.partition_mm / 2
        sides: list[Side] = []
        for pitch in (box.pitch_x_mm, box.pitch_y_mm):
            inside = (half, pitch - half, count)
            if box.open_rim:
                few = max(math.ceil(count * half / (pitch - 2 * half)), _FEWEST)
                sides.append(((0.0, half, few), inside, (pitch - half, pitch, few)))
            else:
                sides.append((inside if touched else (0.0, pitch, count),))
        x, y = (
            np.concatenate([low + chebyshev_points(high - low, many) for low, high, many in side]) for side in sides
        )
        x, y = (grid.ravel() for grid in np.meshgrid(x, y[::-1], indexing="ij"))
        variants = Variants.of(near_sides(box, (x, y), (x, y)), open_rim=box.open_rim, covered=touched)
        places = np.stack([x, y, np.full(len(x), box.depth_mm)], axis=1)[variants.base]
        normals = np.tile([0.0, 0.0, -1.0], (len(places), 1))
        images = mirror_images(box, places, normals, variants.opened)
        diagonal = diagonal_images(box, places, normals, variants.opened)
        return cls(tuple(sides), places, variants, images, diagonal)

    @property
    def count(self) -> int:
        """How many they are along either side, without those over half a partition."""
        side = self.sides[0]
        return side[len(side) // 2][2]

    @property
    def shape(self) -> tuple[int, int]:
        """How many along x and along y."""
        along, up = (sum(part[2] for part in side) for side in self.sides)
        return along, up

    @property
    def areas_mm2(self) -> FloatArray:
        """The area that each stands for, (along x, along y)."""
        along, up = (
            np.concatenate([(high - low) * chebyshev_weights(count) for low, high, count in side])
            for side in self.sides
        )
        return np.outer(along, up[::-1])

    def matrices(self, box: BaffledBox, pixels: int) -> tuple[FloatArray, FloatArray]:
        """What carries values at the knots to the middles of so many pixels along x and along y, both upwards."""
        along, up = (
            _onto(side, (np.arange(pixels) + 0.5) / pixels * pitch)
            for side, pitch in zip(self.sides, (box.pitch_x_mm, box.pitch_y_mm), strict=True)
        )
        return along, up[:, ::-1]


def _onto(side: Side, wanted_mm: FloatArray) -> FloatArray:
    """Interpolation from the knots of the parts of a side: nothing outside of them, where a partition touches the lid."""
    blocks = []
    for low, high, count in side:
        share = (wanted_mm - low) / (high - low)
        block = chebyshev_matrix(1.0, count, np.clip(share, 0.0, 1.0)).copy()
        block[(share < 0) | (share > 1) if len(side) == 1 else (share < 0) | (share >= 1)] = 0.0
        blocks.append(block)
    return np.concatenate(blocks, axis=1)


def pixel_variants(box: BaffledBox, pixels: int) -> Variants:
    """The variants of so many pixels along each side of a cell, x first in order."""
    share = np.arange(pixels) / pixels
    x, y = (grid.ravel() for grid in np.meshgrid(share * box.pitch_x_mm, share * box.pitch_y_mm))
    wide, high = box.pitch_x_mm / pixels, box.pitch_y_mm / pixels
    return Variants.of(near_sides(box, (x, y), (x + wide, y + high)), open_rim=box.open_rim)
