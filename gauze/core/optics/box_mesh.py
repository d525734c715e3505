"""The graded mesh of a rectangular box: fine towards the edges, where the light changes fastest."""

import functools
import math
from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import FloatArray, IndexArray, LightBox

GRADING = 0.75  # 0: even cells; towards 1: outermost cells ever smaller


@dataclass(frozen=True)
class BoxMesh:
    """Grid nodes along x, y and z (from back to lid), symmetric about the middle of the box."""

    x_nodes: FloatArray
    y_nodes: FloatArray
    z_nodes: FloatArray


def graded_nodes(extent: float, cells: int, grading: float = GRADING) -> FloatArray:
    """Return ``cells`` + 1 nodes from 0 to ``extent``, the outermost cells narrower, the middle ones (1 + grading) wider."""
    u = np.linspace(0.0, 1.0, cells + 1)
    nodes = extent * (u - grading * np.sin(2.0 * np.pi * u) / (2.0 * np.pi))
    nodes[0], nodes[-1] = 0.0, extent
    return np.asarray(nodes)


def even_count(wanted: float, least: int, most: int) -> int:
    """Round up to an even number of cells within bounds; the parity solver needs two equal halves."""
    return int(min(max(2 * math.ceil(wanted / 2.0), least), most))


def coarse_mesh(box: LightBox, fineness: float) -> BoxMesh:
    """Return the mesh on which the bounced light is balanced; ``fineness`` 1 is the mesh at rest."""
    longest = max(box.width_mm, box.height_mm)
    most = even_count(18 * fineness, 6, 60)

    def cells(extent_mm: float) -> int:
        return even_count(most * math.sqrt(extent_mm / longest), 6, most)

    depth_cells = even_count(most * 0.6 * math.sqrt(box.inner_depth_mm / longest), even_count(6 * fineness, 4, 8), most)
    return BoxMesh(
        graded_nodes(box.width_mm, cells(box.width_mm)),
        graded_nodes(box.height_mm, cells(box.height_mm)),
        graded_nodes(box.inner_depth_mm, depth_cells),
    )


def fine_mesh(coarse: BoxMesh, fineness: float) -> BoxMesh:
    """Divide every cell of the coarse mesh so that cells are about half as wide as the box is deep.

    Finer light than that does not pass from the back to the lid.
    """
    depth_mm = coarse.z_nodes[-1]

    def divide(nodes: FloatArray, cell_mm: float, most: int) -> FloatArray:
        parts = min(max(math.ceil(float(np.diff(nodes).max()) / cell_mm), 1), most)
        steps = np.arange(parts) / parts
        inner = nodes[:-1, None] + np.diff(nodes)[:, None] * steps[None, :]
        return np.append(inner.ravel(), nodes[-1])

    cell_mm = 0.55 * depth_mm / fineness
    return BoxMesh(
        divide(coarse.x_nodes, cell_mm, 4),
        divide(coarse.y_nodes, cell_mm, 4),
        divide(coarse.z_nodes, depth_mm / (8.0 * fineness), 2),
    )


def mean_over_cells(
    values: FloatArray, fine: tuple[FloatArray, FloatArray], coarse: tuple[FloatArray, FloatArray]
) -> FloatArray:
    """Average over the coarse cells that the fine ones divide, by area; exact."""
    weighted = values * np.outer(np.diff(fine[0]), np.diff(fine[1]))
    rows, columns = len(coarse[0]) - 1, len(coarse[1]) - 1
    summed = weighted.reshape(rows, len(values) // rows, columns, values.shape[1] // columns).sum(axis=(1, 3))
    return np.asarray(summed / np.outer(np.diff(coarse[0]), np.diff(coarse[1])))


def centres(nodes: FloatArray) -> FloatArray:
    """Return the middle of every cell."""
    return np.asarray((nodes[1:] + nodes[:-1]) / 2.0)


def linear_matrix(known: FloatArray, wanted: FloatArray) -> FloatArray:
    """Matrix that carries values at ascending points to others, linearly; beyond the ends the line is drawn on."""
    left = np.clip(np.searchsorted(known, wanted) - 1, 0, len(known) - 2)
    share = (wanted - known[left]) / (known[left + 1] - known[left])
    matrix = np.zeros((len(wanted), len(known)))
    rows = np.arange(len(wanted))
    matrix[rows, left] = 1.0 - share
    matrix[rows, left + 1] = share
    return matrix


def sharpened_points(values: FloatArray) -> FloatArray:
    """Make up for the smoothing that comes of drawing values at the centres of cells as steps.

    A wave of wave number k is weakened by (k h)^2 / 24 on cells of width h; taking a 24th of the second
    difference away gives that back. On a smoothly graded mesh the second difference is that of the wave.
    """
    return _sharpened(values, 24.0)


def sharpened_means(values: FloatArray) -> FloatArray:
    """Do as :func:`sharpened_points` for means over cells, which have been smoothed once already."""
    return _sharpened(values, 12.0)


def _sharpened(values: FloatArray, divisor: float) -> FloatArray:
    result = values.copy()
    for source, target in ((values, result), (values.T, result.T)):
        step = (source[1:] - source[:-1]) / divisor
        target[:-1] -= step
        target[1:] += step
    return result


def chebyshev_points(extent: float, count: int) -> FloatArray:
    """Return the Chebyshev points of the first kind on 0 to ``extent``, ascending."""
    angle = np.pi * (np.arange(count) + 0.5) / count
    return np.asarray(extent * (1.0 - np.cos(angle)) / 2.0)


def chebyshev_weights(count: int) -> FloatArray:
    """Weights that give the mean over the interval of values at :func:`chebyshev_points` (Fejer's first rule)."""
    angle = np.pi * (np.arange(count) + 0.5) / count
    order = np.arange(1, count // 2 + 1)
    series = (np.cos(2.0 * np.outer(angle, order)) / (4.0 * order**2 - 1.0)).sum(axis=1)
    return np.asarray((1.0 - 2.0 * series) / count)


def chebyshev_matrix(extent: float, count: int, wanted: FloatArray) -> FloatArray:
    """Matrix that carries values at :func:`chebyshev_points` to ``wanted`` by barycentric interpolation.

    J.-P. Berrut, L. N. Trefethen, "Barycentric Lagrange interpolation", SIAM Review 46 (2004) 501, eq. 5.3.
    """
    return _kept_matrix(
        extent, count, np.ascontiguousarray(wanted, float).tobytes()
    )  # a picture asks for the same pixels again


_OVERSAMPLED = 16  # even places in the angle of Chebyshev's points, for each of these


def chebyshev_at(values: FloatArray, wanted: FloatArray, column: IndexArray) -> FloatArray:
    """Values at scattered places of (0, 1) from those at :func:`chebyshev_points`, (points, columns, k): shape (n, k).

    ``column`` (n,) is of which column each is read. The interpolant is a sum of cosines of the angle whose cosine is the place:
    it is found at even angles, sixteen times as many as there are points, and read between them by cubics. These are off by at
    most 3/128 (pi/16)^4 of the fastest cosine's share (Lagrange's remainder), which is negligible for smooth functions.
    """
    count = _OVERSAMPLED * len(values)
    angles = np.arange(count + 1) * np.pi / count
    even = np.tensordot(chebyshev_matrix(1.0, len(values), 0.5 - 0.5 * np.cos(angles)), values, axes=(1, 0))
    around = np.concatenate([even[1:2], even, even[-2:-4:-1]])  # cosines are even about both ends
    place = np.arccos(np.clip(1.0 - 2.0 * wanted, -1.0, 1.0)) * (count / np.pi)
    first = np.minimum(place.astype(int), count - 1)
    x = (place - first)[:, None]
    taps = (
        -x * (x - 1) * (x - 2) / 6,
        (x + 1) * (x - 1) * (x - 2) / 2,
        -(x + 1) * x * (x - 2) / 2,
        (x + 1) * x * (x - 1) / 6,
    )
    return np.asarray(sum(tap * around[first + index, column] for index, tap in enumerate(taps)))


@functools.lru_cache(maxsize=24)
def _kept_matrix(extent: float, count: int, wanted_bytes: bytes) -> FloatArray:
    wanted, points = np.frombuffer(wanted_bytes), chebyshev_points(extent, count)
    weight = np.sin(np.pi * (np.arange(count) + 0.5) / count) * (-1.0) ** np.arange(count)
    matrix: FloatArray = wanted[:, None] - points[None, :]
    with np.errstate(divide="ignore", invalid="ignore"):  # a place that is one of the points: its row is made below
        np.divide(weight, matrix, out=matrix)
        matrix /= matrix.sum(axis=1, keepdims=True)
    nearest = np.minimum(np.searchsorted((points[1:] + points[:-1]) / 2.0, wanted), count - 1)
    on_point = np.abs(wanted - points[nearest]) < 1e-12 * extent
    matrix[on_point] = np.eye(count)[nearest[on_point]]
    matrix.flags.writeable = False
    return matrix
