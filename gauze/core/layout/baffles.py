"""A box divided into cells by a grid of partitions that may leave gaps above and below."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from gauze.core.design.cavity import BaffledShape
from gauze.core.layout.cavity import Outlook, Reflectances
from gauze.core.layout.model import BoolArray, FloatArray

THINNEST_MM = 0.005  # as which partitions without thickness are computed: thinner ones make the same light, to 1e-4
_EDGE_MM = 1e-4  # what a line of sight may graze

Single = NDArray[np.float32]


@dataclass(frozen=True)
class BaffledBox:
    """Cells of one pitch, corner of the first at the origin.

    Partitions of ``partition_mm`` stand on the lines between cells, from ``low_mm`` to ``high_mm`` over the back; half of one
    runs along the rim, so that all cells are alike: where partitions leave a gap, a ledge of half their thickness is left there,
    and the wall goes on above and below it.
    """

    columns: int
    rows: int
    pitch_x_mm: float
    pitch_y_mm: float
    depth_mm: float
    partition_mm: float
    low_mm: float
    high_mm: float
    reflectances: Reflectances
    shape: str = "baffled"
    section_axis: str = "x"
    lit_from_inside: bool = False

    @classmethod
    def of(cls, shape: BaffledShape, reflectances: Reflectances) -> "BaffledBox":
        """Take the sizes from a builder's choices."""
        return cls(
            shape.columns,
            shape.rows,
            shape.pitch_x_mm,
            shape.pitch_y_mm,
            shape.depth_mm,
            max(shape.partition_mm, THINNEST_MM),
            shape.gap_below_mm,
            min(shape.gap_below_mm + shape.partition_height_mm, shape.depth_mm),
            reflectances,
        )

    @property
    def width_mm(self) -> float:
        """Inner width."""
        return self.columns * self.pitch_x_mm

    @property
    def height_mm(self) -> float:
        """Inner height."""
        return self.rows * self.pitch_y_mm

    @property
    def plan(self) -> FloatArray:
        """Outline seen from the front."""
        return np.array([[0.0, 0.0], [self.width_mm, 0.0], [self.width_mm, self.height_mm], [0.0, self.height_mm]])

    @property
    def section(self) -> FloatArray:
        """Outline of the side cut."""
        return np.array([[0.0, 0.0], [self.width_mm, 0.0], [self.width_mm, self.depth_mm], [0.0, self.depth_mm]])

    @property
    def lit_lines(self) -> tuple[FloatArray, ...]:
        """What of the side cut is looked at."""
        return (self.section[[3, 2]],)

    @property
    def outlook(self) -> Outlook:
        """From the middle of the lid."""
        return Outlook((self.width_mm / 2, self.height_mm / 2, self.depth_mm))

    def cell_of(self, places: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Column and row of the cell in which places (n, 2 or 3) lie."""
        column = np.clip(np.floor(places[:, 0] / self.pitch_x_mm), 0, self.columns - 1).astype(int)
        row = np.clip(np.floor(places[:, 1] / self.pitch_y_mm), 0, self.rows - 1).astype(int)
        return column, row

    def clearance_mm(self, places: FloatArray) -> FloatArray:
        """Least distance of places from box and partitions, negative outside of the one or inside of the other; shape (n,)."""
        x, y, z = places.T
        walls = np.min([x, self.width_mm - x, y, self.height_mm - y, z, self.depth_mm - z], axis=0)
        half = self.partition_mm / 2
        beside = np.min([self._from_line(x, self.pitch_x_mm), self._from_line(y, self.pitch_y_mm)], axis=0) - half
        away = np.max([beside, self.low_mm - z, z - self.high_mm], axis=0)
        return np.asarray(np.minimum(walls, away))

    @staticmethod
    def _from_line(value: FloatArray, pitch: float) -> FloatArray:
        return np.asarray(np.abs(value - pitch * np.round(value / pitch)))

    def blocked(self, start: FloatArray, end: FloatArray) -> BoolArray:
        """Whether a partition stands between points; shapes (n, 3). Single precision does: a micrometre decides nothing."""
        first, last = (np.ascontiguousarray(places.T, np.float32) for places in (start, end))
        hit = self._blocked_by(first[0], last[0], first[2], last[2], self.pitch_x_mm)
        free = np.flatnonzero(~hit)
        first, last = first[:, free], last[:, free]
        hit[free] = self._blocked_by(first[1], last[1], first[2], last[2], self.pitch_y_mm)
        return hit

    def _blocked_by(self, a: Single, b: Single, z_a: Single, z_b: Single, pitch_mm: float) -> BoolArray:
        """Blocked by partitions square to one axis: the line's heights while it crosses one must stay above or below it."""
        half, pitch = np.float32(self.partition_mm / 2 - _EDGE_MM), np.float32(pitch_mm)
        floor, top = np.float32(self.low_mm + _EDGE_MM), np.float32(self.high_mm - _EDGE_MM)
        low, high = np.minimum(a, b), np.maximum(a, b)
        first = pitch * (np.floor((low - half) / pitch) + np.float32(1.0))  # the first that ends beyond the lower end
        crosses = first - half < high
        crosses &= np.maximum(z_a, z_b) > floor
        crosses &= np.minimum(z_a, z_b) < top
        left = np.flatnonzero(crosses)
        hit = np.zeros(len(a), bool)
        forward = b[left] >= a[left]
        z_low = np.where(forward, z_a[left], z_b[left])
        rise = np.where(forward, z_b[left], z_a[left]) - z_low
        span = np.maximum(high[left] - low[left], np.float32(_EDGE_MM))
        slope, near = rise / span, first[left] - low[left]
        while len(left):
            one = z_low + slope * np.minimum(np.maximum(near - half, np.float32(0.0)), span)
            other = z_low + slope * np.minimum(near + half, span)
            stands = (np.maximum(one, other) > floor) & (np.minimum(one, other) < top)
            hit[left[stands]] = True
            near = near + pitch
            on = np.flatnonzero(~stands & (near - half < span))
            left, z_low, slope, span, near = left[on], z_low[on], slope[on], span[on], near[on]
        return hit
