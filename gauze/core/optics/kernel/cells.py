"""Light between the cells of a box with partitions, past which it is seen or not."""

import ctypes
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from gauze.core.layout.baffles import GRAZE_MM, BaffledBox
from gauze.core.layout.model import FloatArray
from gauze.core.optics.kernel.library import Arrays, Partitions, finite, kernel
from gauze.core.optics.kernel.pairs import LampArrays, PatchArrays, SheetWeights, given_weights
from gauze.core.optics.kernel.parallel import in_parts, rows_from

_SLOW = 20  # times as long as of other work a pair takes


def partitions_of(box: BaffledBox) -> Partitions:
    """The partitions of a box, less what a line of sight may graze."""
    half = box.partition_mm / 2.0 - GRAZE_MM
    return Partitions(box.pitch_x_mm, box.pitch_y_mm, half, box.low_mm + GRAZE_MM, box.high_mm - GRAZE_MM)


def light_past_partitions(
    points: FloatArray,
    normals: FloatArray,
    lamp: LampArrays,
    weights: SheetWeights | None,
    walls: Partitions,
    spans: FloatArray | None = None,
    own_span: FloatArray | None = None,
    shift_mm: tuple[float, float, float] = (0.0, 0.0, 0.0),
) -> FloatArray:
    """Illuminance per lumen of one emitter at points (n, 3), shifted: plain and, if asked for, weighed, shape (1 or 2, n).

    There is none where a partition stands in the way.

    ``spans`` (n, 4) are the lines between which partitions stand for each before the shift, ``own_span`` (4,) those for the
    emitter: the last without one before it along x and y, and the first without one after it, in mm; None where they stand on
    every line.
    """
    points, normals = (finite(np.ascontiguousarray(one, float)) for one in (points, normals))
    shares, keep = np.empty((1 if weights is None else 2, len(points))), Arrays()
    between = None if spans is None else np.ascontiguousarray(spans, float)
    how = given_weights(weights, None, keep)
    own, shift = None if own_span is None else keep.doubles(own_span), keep.doubles(np.array(shift_mm))

    def some(part: slice) -> None:
        kernel().past_partitions(
            ctypes.c_int64(part.stop - part.start),
            *(rows_from(values, part) for values in (points, normals)),
            None if between is None else rows_from(between, part),
            ctypes.c_void_p(shift),
            ctypes.byref(lamp.given),
            ctypes.c_void_p(own),
            *(ctypes.byref(one) for one in (how, walls)),
            rows_from(shares[0], part),
            None if weights is None else rows_from(shares[1], part),
        )

    in_parts(some, len(points), _SLOW)
    return shares


@dataclass(frozen=True)
class Looks:
    """How closely the patches of a cell are looked at.

    ``quarters`` (patches, 4, 3) are the middles of their quarters and ``shares`` (patches, 4) what these are of their areas; a
    patch that is seen in part is looked at in ``closely`` x ``closely`` places. Nearer than ``near_widths`` of its widths it
    counts as a polygon; what is seen under less than ``grazing_mm`` of r cos is not seen. ``spans`` (patches, 4) are the lines
    between which partitions stand for each, as for :func:`light_past_partitions`.
    """

    quarters: FloatArray
    shares: FloatArray
    closely: int
    near_widths: float
    grazing_mm: float
    spans: FloatArray | None = None


def cell_factors(
    points: FloatArray,
    normals: FloatArray,
    spans: FloatArray | None,
    patches: PatchArrays,
    looks: Looks,
    looked_at: tuple[int, ...],
    shift_mm: tuple[float, float, float],
    walls: Partitions,
) -> NDArray[np.float32]:
    """Factors from points (n, 3) of one cell to the patches of another, which is shifted, past the partitions: (n, patches).

    ``looked_at`` are the quarters that are sought, ``spans`` (n, 4) as of the patches.
    """
    points, normals = np.ascontiguousarray(points, float), np.ascontiguousarray(normals, float)
    factors, keep = np.empty((len(points), patches.count), np.float32), Arrays()
    sought = np.zeros(4, np.uint8)
    sought[list(looked_at)] = 1
    known = [keep.doubles(looks.quarters), keep.doubles(looks.shares), keep.flags(sought)]
    shift = keep.doubles(np.array(shift_mm))
    kernel().cell_factors(
        ctypes.c_int64(len(points)),
        *(ctypes.c_void_p(keep.doubles(values)) for values in (points, normals)),
        None if spans is None else ctypes.c_void_p(keep.doubles(spans)),
        ctypes.byref(patches.given),
        None if looks.spans is None else ctypes.c_void_p(keep.doubles(looks.spans)),
        *(ctypes.c_void_p(one) for one in (*known, shift)),
        ctypes.byref(walls),
        ctypes.c_double(looks.near_widths),
        ctypes.c_double(looks.grazing_mm),
        ctypes.c_int64(looks.closely),
        ctypes.c_void_p(factors.ctypes.data),
    )
    return factors
