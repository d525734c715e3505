"""Polygons that lie closer than the rectangles around them.

Triangles and trapeziums lie alternately upright and turned in a row: straight cuts still part them. Where a machine cuts any
shape, hexagons and discs lie in columns of which every other one is shifted by half. A row, or such a patch, is planned as the
rectangle around it; afterwards every polygon is put into its place.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.making.sheets import CutSheet, Placed, SheetPlan
from gauze.core.making.solids.shapes import area

_TINY = 1e-6
_ROUNDED_MM = 0.2  # sizes of pieces are planned in tenths
_LEAST_GAIN = 0.97  # of its width, by which a polygon follows the one before: else a row gains nothing


@dataclass(frozen=True)
class Chain:
    """Parts in a row: their ids, and the ring of each with the lower left corner of the row at the origin."""

    ids: tuple[str, ...]
    rings_mm: tuple[FloatArray, ...]

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height of the rectangle around the row."""
        every = np.concatenate(self.rings_mm)
        wide, high = every.max(axis=0).tolist()
        return wide, high


def is_convex(ring: FloatArray) -> bool:
    """Whether a ring, counter-clockwise, turns left at every corner."""
    along = np.roll(ring, -1, axis=0) - ring
    following = np.roll(along, -1, axis=0)
    return bool((along[:, 0] * following[:, 1] - along[:, 1] * following[:, 0] >= -1e-6).all())


def step_mm(ring: FloatArray, gap_mm: float) -> float:
    """How far the next polygon of a row, turned by half a turn, lies from the one before; ``gap_mm`` is left between edges.

    ``ring`` is convex, its lower left corner at the origin.
    """
    turned = ring.max(axis=0) - ring
    heights = np.unique(np.concatenate([ring[:, 1], turned[:, 1]]))
    right, left = _reach(ring, heights)[1], _reach(turned, heights)[0]
    return float((right - left).max()) + gap_mm * _slant(ring)


def _slant(ring: FloatArray) -> float:
    """By how much a gap across the flattest side edge is wider when it is measured level."""
    along = np.roll(ring, -1, axis=0) - ring
    steep = np.abs(along[:, 1]) > _TINY
    return float((np.hypot(*along.T)[steep] / np.abs(along[steep, 1])).max(initial=1.0))


def _reach(ring: FloatArray, heights: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Leftmost and rightmost place of a convex ring at some heights."""
    low, high = np.full(len(heights), np.inf), np.full(len(heights), -np.inf)
    for (ax, ay), (bx, by) in zip(ring, np.roll(ring, -1, axis=0), strict=True):
        if abs(by - ay) < _TINY:
            at = np.abs(heights - ay) < _TINY
            found = np.array([ax, bx])
            low[at], high[at] = np.minimum(low[at], found.min()), np.maximum(high[at], found.max())
            continue
        share = (heights - ay) / (by - ay)
        at = (share >= -_TINY) & (share <= 1.0 + _TINY)
        x = ax + share * (bx - ax)
        low[at], high[at] = np.minimum(low[at], x[at]), np.maximum(high[at], x[at])
    return low, high


def chains_of(ids: Sequence[str], ring: FloatArray, room_mm: float, gap_mm: float) -> list[Chain]:
    """Put parts of one shape into rows, each as long as there is room; none where rows gain nothing over rectangles."""
    ring = ring - ring.min(axis=0)
    wide = float(ring[:, 0].max())
    if len(ids) < 2 or not is_convex(ring):
        return []
    step = step_mm(ring, gap_mm)
    if step > _LEAST_GAIN * (wide + gap_mm):
        return []
    most = max(math.floor((room_mm - wide) / step + _TINY) + 1, 1)
    turned = ring.max(axis=0) - ring
    found = []
    for first in range(0, len(ids), most):
        own = tuple(ids[first : first + most])
        rings = tuple((turned if index % 2 else ring) + np.array([index * step, 0.0]) for index in range(len(own)))
        found.append(Chain(own, rings))
    return found


def patches_of(
    ids: Sequence[str], ring: FloatArray, room_mm: tuple[float, float], gap_mm: float, *, turns: bool = True
) -> list[Chain]:
    """Put parts of one shape into shifted columns, as many as there is room for on a sheet; none where that gains nothing.

    Of both ways to lay the shape, upright and (where it ``turns``) on its side, the one that more fit of is taken.
    """
    if len(ids) < 2 or not is_convex(ring):
        return []
    ring = ring - ring.min(axis=0)
    aside = np.stack([ring[:, 1].max() - ring[:, 1], ring[:, 0]], axis=1)
    ways = [(one, _grid(one, room_mm, gap_mm)) for one in ((ring, aside) if turns else (ring,))]
    shape, places = max(ways, key=lambda way: len(way[1]))
    if len(places) <= max(_rectangles(one, room_mm, gap_mm) for one, _ in ways):
        return []
    return [
        Chain(tuple(own), tuple(shape + place for place in places[: len(own)]))
        for first in range(0, len(ids), len(places))
        if (own := ids[first : first + len(places)])
    ]


def _rectangles(ring: FloatArray, room_mm: tuple[float, float], gap_mm: float) -> int:
    """How many of the rectangle around a ring fit beside and over each other."""
    across, up = (
        math.floor((room + gap_mm) / (float(side) + gap_mm) + _TINY)
        for room, side in zip(room_mm, ring.max(axis=0), strict=True)
    )
    return across * up


def _grid(ring: FloatArray, room_mm: tuple[float, float], gap_mm: float) -> list[FloatArray]:
    """Places of the lower left corners, column by column; every other column is half a place higher."""
    wide, high = ring.max(axis=0).tolist()
    rise = high + gap_mm
    grown = ring if gap_mm == 0.0 else np.asarray(area(ring, gap_mm / 2.0).to_polygons()[0])
    step = max(_beside(grown, rise / 2.0), _beside(grown, -rise / 2.0), (wide + gap_mm) / 2.0)
    if step >= _LEAST_GAIN * (wide + gap_mm) or wide > room_mm[0] or high > room_mm[1]:
        return []
    found: list[FloatArray] = []
    for column in range(math.floor((room_mm[0] - wide) / step + _TINY) + 1):
        low = rise / 2.0 if column % 2 else 0.0
        rows = max(math.floor((room_mm[1] - low - high) / rise + _TINY) + 1, 0)
        found += [np.array([column * step, low + row * rise]) for row in range(rows)]
    return found


def _beside(ring: FloatArray, shift_mm: float) -> float:
    """How far a copy of a convex ring, shifted upwards by so much, lies to the right of it where they touch."""
    other = ring + np.array([0.0, shift_mm])
    low, high = max(ring[:, 1].min(), other[:, 1].min()), min(ring[:, 1].max(), other[:, 1].max())
    if low >= high:
        return 0.0
    heights = np.unique(np.concatenate([ring[:, 1], other[:, 1], [low, high]]))
    heights = heights[(heights >= low - _TINY) & (heights <= high + _TINY)]
    return float((_reach(ring, heights)[1] - _reach(other, heights)[0]).max())


def taken_apart(plan: SheetPlan, chains: dict[str, Chain]) -> SheetPlan:
    """Put every polygon of the rows of a plan into its place."""
    sheets = tuple(replace(sheet, placed=tuple(_apart(sheet, chains))) for sheet in plan.sheets)
    return replace(plan, sheets=sheets)


def _apart(sheet: CutSheet, chains: dict[str, Chain]) -> Iterator[Placed]:
    for one in sheet.placed:
        chain = chains.get(one.name)
        if chain is None:
            yield one
            continue
        wide, high = chain.size_mm
        upright = abs(one.width_mm - wide) + abs(one.height_mm - high) < _ROUNDED_MM
        for part, ring in zip(chain.ids, chain.rings_mm, strict=True):
            lying = ring if upright else np.stack([ring[:, 1], wide - ring[:, 0]], axis=1)
            own = lying + np.array([one.x_mm, one.y_mm])
            (x0, y0), (x1, y1) = own.min(axis=0).tolist(), own.max(axis=0).tolist()
            yield Placed(part, x0, y0, x1 - x0, y1 - y0, own)
