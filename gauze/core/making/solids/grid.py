"""The grid of partitions of a display, in one print: walls crossing each other, standing on feet where strip passes below."""

from __future__ import annotations

import numpy as np

from gauze.core.design.cavity import BaffledShape
from gauze.core.design.making import Printing
from gauze.core.layout.model import FloatArray
from gauze.core.making.solids.dividing import divided
from gauze.core.making.solids.model import PLAY_MM, Printed
from gauze.core.making.solids.shapes import area, box_about, joined, plate, united
from gauze.core.parts.bodies import rectangle
from gauze.core.words import Fixed, Text, say

LEAST_WALL_MM = 0.4  # one line of a usual nozzle; common practice, no source
_FOOT_MM = 3.0  # side of the foot under a crossing


def partition_grid(shape: BaffledShape, printing: Printing) -> Printed | None:
    """Return the grid; None where its partitions are thinner than a printer's line, or nothing joins them.

    Half a partition along the rim does; without one those that cross each other do.
    """
    crossing = shape.rows > 1 and shape.columns > 1
    joined_up = shape.columns * shape.rows > 1 if shape.rim_partition else crossing
    if shape.partition_mm < LEAST_WALL_MM or not joined_up:
        return None
    wide, high = shape.columns * shape.pitch_x_mm, shape.rows * shape.pitch_y_mm
    low, tall = shape.gap_below_mm, shape.partition_height_mm
    columns = shape.pitch_x_mm * np.arange(1, shape.columns)
    rows = shape.pitch_y_mm * np.arange(1, shape.rows)
    half = shape.partition_mm / 2.0
    rim = max(half, LEAST_WALL_MM)
    outside = area(rectangle(wide, high), -PLAY_MM)
    walls = [outside - area(rectangle(wide, high), -PLAY_MM - rim)] if shape.rim_partition else []
    walls += [area(rectangle(2.0 * half, high)).translate((float(x) - half, 0.0)) for x in columns]
    walls += [area(rectangle(wide, 2.0 * half)).translate((0.0, float(y) - half)) for y in rows]
    solids = [plate(united(walls) ^ outside, low, low + tall)]
    if low > 0:
        feet = united([box_about(place, _FOOT_MM) for place in _crossings(wide, high, columns, rows)])
        solids.append(plate(feet ^ outside, 0.0, low + min(1.0, tall)))
    middles = (shape.pitch_x_mm * (np.arange(shape.columns) + 0.5), shape.pitch_y_mm * (np.arange(shape.rows) + 0.5))
    pieces, _ = divided(joined(solids), printing.bed, (middles[0].tolist(), middles[1].tolist()))
    notes: list[Text] = [
        say("print it upright as it stands; walls of {wall} mm, no infill", wall=Fixed(shape.partition_mm, "g")),
        say("white or natural filament: the light that it reflects is what the design counts on"),
    ]
    if len(pieces) > 1:
        notes.append(say("divided in the middle of cells: glue the walls end to end"))
    return Printed("partition-grid", say("Grid of partitions"), tuple(pieces), notes=tuple(notes))


def _crossings(wide: float, high: float, columns: FloatArray, rows: FloatArray) -> list[tuple[float, float]]:
    """Where walls meet, the rim with them."""
    return [(float(x), float(y)) for x in (0.0, *columns, wide) for y in (0.0, *rows, high)]
