"""What a layout consists of. Lengths in mm; x to the right, y up as seen from the front, z from the back to the lid."""

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from gauze.core.design.strip_panel import StripChoice
from gauze.core.materials import Strip

FloatArray = NDArray[np.floating[Any]]
IndexArray = NDArray[np.signedinteger[Any]]
BoolArray = NDArray[np.bool_]


@dataclass(frozen=True)
class LightBox:
    """A rectangular body: inner sizes, and the total reflectances of its faces.

    ``inner_depth_mm`` is from the back to the inner face of the lid; ``lid_reflectance`` is what the
    diffuser sends back.
    """

    width_mm: float
    height_mm: float
    inner_depth_mm: float
    back_reflectance: float
    wall_reflectance: float
    lid_reflectance: float


@dataclass(frozen=True)
class Channel:
    """One colour that is driven and dimmed together.

    ``strip_index`` and ``channel_index`` say where it comes from; white channels have a colour
    temperature, coloured ones the peak and width of their band.
    """

    name: str
    strip_index: int
    channel_index: int
    level: float
    cct_k: float | None
    peak_nm: float | None
    width_nm: float | None


@dataclass(frozen=True)
class EmitterSet:
    """Emitters that share a channel, a height and a distribution.

    Attributes
    ----------
    x_mm, y_mm:
        Places, shape (n,).
    flux_lm:
        Flux of each at the chosen level, shape (n,).
    z_mm:
        Height of the emitting faces above the back.
    package_mm:
        Size of the emitting face along x and along y.
    continuous:
        True for a strip whose emitters merge in a line.
    piece, segment:
        Number of the row on which each lies, and of its segment, shape (n,).
    """

    channel: Channel
    x_mm: FloatArray
    y_mm: FloatArray
    flux_lm: FloatArray
    z_mm: float
    half_angle_deg: float
    package_mm: tuple[float, float]
    continuous: bool
    piece: IndexArray
    segment: IndexArray


@dataclass(frozen=True)
class Row:
    """One piece of strip laid in one line.

    ``id`` names it by its place across the face, so that row 6 stays row 6 when another is left out. ``start_mm`` and
    ``length_mm`` run along the row, ``across_mm`` is the middle of the strip. ``start_gap_mm`` and ``end_gap_mm`` are what the
    snapping to cut marks leaves between the strip and the wanted end margin; negative where a shifted row reaches into the
    margin. ``line`` is the number of the row's place across the face; two that lie close together share one.
    """

    id: str
    index: int
    strip_index: int
    strip: Strip
    choice: StripChoice
    start_mm: float
    length_mm: float
    across_mm: float
    segments: int
    emitters: int
    start_gap_mm: float
    end_gap_mm: float
    line: int = 0

    @property
    def end_mm(self) -> float:
        """Where the strip ends, along the row."""
        return self.start_mm + self.length_mm


@dataclass(frozen=True)
class RowLayout:
    """Everything in its place. ``spacing_mm`` is 0 for a single row; ``lines`` is how many places across there are for rows."""

    box: LightBox
    rows: tuple[Row, ...]
    row_direction: Literal["along_width", "along_height"]
    spacing_mm: float
    side_margin_mm: float
    end_margin_mm: float
    emitters: tuple[EmitterSet, ...]
    emitter_plane_mm: float
    lines: int

    @property
    def emitter_count(self) -> int:
        """Number of LED packages (channels in one package count once)."""
        return sum(row.emitters for row in self.rows)
