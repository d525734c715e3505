"""What faces give out, and how near their places are to emitters: sums of the kernel, as functions of arrays."""

import ctypes

import numpy as np

from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.kernel.library import Arrays, kernel
from gauze.core.optics.kernel.parallel import THREADS, in_parts, rows_from

_FEW = 1000  # places among which to look at all is faster than to sort them first


def lobes(
    heading: FloatArray, outward: FloatArray, beams: FloatArray, upright: FloatArray, weight: FloatArray, sigma: float
) -> FloatArray:
    """Light of beams that leaves parts of a face in lobes, towards each of some places or directions, shape (n, parts).

    The sum over beams of weight exp(-q^2 / (2 sigma^2)), q being how far the two ways are apart in direction cosines along the
    face: q^2 = |h - b|^2 - (h . o - b . o)^2.

    Parameters
    ----------
    heading:
        Ways that are asked for, (n, parts, 3).
    outward:
        Normals of the parts, (parts, 3).
    beams, upright, weight:
        Ways of the beams (parts, groups, 3), their cosines to the normals and their weights (parts, groups).
    """
    count, parts = heading.shape[:2]
    total = np.zeros((count, parts))
    arrays = [np.ascontiguousarray(one, np.float32) for one in (heading, outward, beams, upright, weight)]
    ways, rest = arrays[0], [ctypes.c_void_p(one.ctypes.data) for one in arrays[1:]]

    def some(part: slice) -> None:
        kernel().lobes(
            ctypes.c_int64(part.stop - part.start),
            ctypes.c_int64(parts),
            ctypes.c_int64(beams.shape[1]),
            rows_from(ways, part),
            *rest,
            ctypes.c_double(sigma),
            rows_from(total, part),
        )

    in_parts(some, count, parts * beams.shape[1])
    return total


def nearest2_mm2(points: FloatArray, places: FloatArray) -> FloatArray:
    """Squared distance of points (n, 3) from the nearest of some places (m, 3), shape (n,)."""
    if len(places) > _FEW:
        from scipy.spatial import cKDTree

        distance, _ = cKDTree(places).query(points, workers=THREADS)
        return np.asarray(distance, float) ** 2
    points, places = np.ascontiguousarray(points, float), np.ascontiguousarray(places, float)
    squared = np.empty(len(points))

    def some(part: slice) -> None:
        kernel().nearest2(
            ctypes.c_int64(part.stop - part.start),
            rows_from(points, part),
            ctypes.c_int64(len(places)),
            places.ctypes.data_as(ctypes.c_void_p),
            rows_from(squared, part),
        )

    in_parts(some, len(points), len(places))
    return squared


def sums_by_part(part: IndexArray, weight: FloatArray, values: FloatArray, parts: int) -> FloatArray:
    """Sum over each of so many parts of the weights (n,) times the values (n, k) of what belongs to it: shape (parts, k).

    Raises
    ------
    IndexError
        When a number in ``part`` (n,) is of none.
    FloatingPointError
        When a weight or value is not a finite number.
    """
    if len(part) and not 0 <= int(part.min()) <= int(part.max()) < parts:
        raise IndexError(f"parts {part.min()} to {part.max()} of {parts}")
    total, keep = np.zeros((parts, values.shape[1])), Arrays()
    kernel().sums_by_part(
        ctypes.c_int64(len(part)),
        ctypes.c_int64(values.shape[1]),
        *(ctypes.c_void_p(one) for one in (keep.integers(part), keep.doubles(weight), keep.doubles(values))),
        ctypes.c_void_p(total.ctypes.data),
    )
    return total
