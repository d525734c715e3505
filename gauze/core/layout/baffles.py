"""A box divided into cells by a grid of partitions that may leave gaps above and below."""

from dataclasses import dataclass

import numpy as np

from gauze.core.design.cavity import BaffledShape
from gauze.core.layout.cavity import Outlook, Reflectances
from gauze.core.layout.model import FloatArray, IndexArray

THINNEST_MM = 0.005  # as which partitions without thickness are computed: thinner ones make the same light, to 1e-4
LEAST_GAP_MM = 0.01  # narrower gaps at a partition count as closed: they come from adding up sizes
GRAZE_MM = 1e-4  # what a line of sight may graze


@dataclass(frozen=True)
class BaffledBox:
    """Cells of one pitch, corner of the first at the origin.

    Partitions of ``partition_mm`` stand on the lines between cells, from ``low_mm`` to ``high_mm`` over the back. Half of one
    runs along the rim, so that all cells are alike: where partitions leave a gap, a ledge of half their thickness is left there,
    and the wall goes on above and below it. With an ``open_rim`` none does: cells there reach to the wall, and are larger by that
    half.
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
    open_rim: bool = False

    @classmethod
    def of(cls, shape: BaffledShape, reflectances: Reflectances) -> "BaffledBox":
        """Take the sizes from a builder's choices."""
        top_mm = shape.gap_below_mm + shape.partition_height_mm
        return cls(
            shape.columns,
            shape.rows,
            shape.pitch_x_mm,
            shape.pitch_y_mm,
            shape.depth_mm,
            max(shape.partition_mm, THINNEST_MM),
            shape.gap_below_mm if shape.gap_below_mm >= LEAST_GAP_MM else 0.0,
            top_mm if top_mm <= shape.depth_mm - LEAST_GAP_MM else shape.depth_mm,
            reflectances,
            open_rim=shape.partition_mm > THINNEST_MM and not shape.rim_partition,
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

    def cell_of(self, places: FloatArray) -> tuple[IndexArray, IndexArray]:
        """Column and row of the cell in which places (n, 2 or 3) lie."""
        column = np.clip(np.floor(places[:, 0] / self.pitch_x_mm), 0, self.columns - 1).astype(int)
        row = np.clip(np.floor(places[:, 1] / self.pitch_y_mm), 0, self.rows - 1).astype(int)
        return column, row

    def clearance_mm(self, places: FloatArray) -> FloatArray:
        """Least distance of places from box and partitions, negative outside of the one or inside of the other; shape (n,)."""
        x, y, z = places.T
        walls = np.min([x, self.width_mm - x, y, self.height_mm - y, z, self.depth_mm - z], axis=0)
        half = self.partition_mm / 2
        lines = ((x, self.pitch_x_mm, self.columns), (y, self.pitch_y_mm, self.rows))
        beside = np.min([self._from_line(*line) for line in lines], axis=0) - half
        away = np.max([beside, self.low_mm - z, z - self.high_mm], axis=0)
        return np.asarray(np.minimum(walls, away))

    def _from_line(self, value: FloatArray, pitch: float, cells: int) -> FloatArray:
        """Distance from the nearest line on which a partition stands."""
        if not self.open_rim:
            return np.asarray(np.abs(value - pitch * np.round(value / pitch)))
        if cells == 1:
            return np.full(value.shape, np.inf)
        return np.asarray(np.abs(value - pitch * np.clip(np.round(value / pitch), 1, cells - 1)))
