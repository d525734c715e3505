"""Form factors from points on the inner surface of a convex cavity to its patches.

Far patches count as points, near ones as polygons (Lambert's formula, exact), near ones of the same round piece, whose kernel is
smooth, as several points. In a closed convex cavity the factors of a point sum to 1; they are scaled to.

Lambert's formula: F = 1/(2 pi) sum over the edges of (angle under which the edge is seen) x (unit normal of the plane
through point and edge) . n. J. H. Lambert, Photometria (1760); any book on radiative exchange.
"""

from __future__ import annotations

import math
import os
from concurrent.futures import ThreadPoolExecutor
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.cavity.mesh import Mesh

if TYPE_CHECKING:
    from scipy import sparse

_NEAR = 3.5  # patch widths: nearer patches are polygons; farther the error of a point is below a thousandth
THREADS = min(os.cpu_count() or 1, 4)
_BLOCK = 120_000  # pairs held at once: what a core's cache takes
_SPLIT = 4  # points along each side of a near patch of the same round piece

Matrix = NDArray[np.float32]


def point_factors(
    points: FloatArray, normals: FloatArray, mesh: Mesh, surface_index: IndexArray, pause: Pause = carry_on
) -> Matrix:
    """Factors from points to all patches, shape (len(points), mesh.count), rows summing to 1.

    ``surface_index`` says on which smooth surface each point lies.
    """
    result = np.empty((len(points), mesh.count), np.float32)
    block = max(1, _BLOCK // mesh.count)

    def fill(first: int) -> None:
        pause()
        part = slice(first, first + block)
        result[part] = _block(points[part], normals[part], mesh, surface_index[part])

    with ThreadPoolExecutor(THREADS) as pool:  # NumPy lets go of the interpreter while it computes
        list(pool.map(fill, range(0, len(points), block)))
    result /= result.sum(axis=1, keepdims=True)
    return result


def _block(points: FloatArray, normals: FloatArray, mesh: Mesh, surface_index: IndexArray) -> Matrix:
    factors, squared = _far_factors(points, normals, mesh)
    same = surface_index[:, None] == mesh.surface_index[None, :]
    factors[same & ~mesh.curved[None, :]] = 0.0
    near = squared < ((_NEAR * mesh.widths_mm) ** 2).astype(np.float32)
    row, column = np.nonzero(near & ~same)
    if len(row):
        factors[row, column] = polygon_factor(points[row], normals[row], mesh.corners[column])
    if mesh.curved.any():
        row, column = np.nonzero(near & same & mesh.curved[None, :])
        if len(row):
            factors[row, column] = _round_factor(points[row], normals[row], mesh, column)
    return factors


def _far_factors(points: FloatArray, normals: FloatArray, mesh: Mesh) -> tuple[Matrix, Matrix]:
    """Cos cos' A / (pi r^2) of all pairs, nothing from behind, and the squared distances; single precision does for far ones."""
    middle = mesh.centres.mean(axis=0)
    here, normal = (points - middle).astype(np.float32), normals.astype(np.float32)
    there, facing = (mesh.centres - middle).astype(np.float32), mesh.normals.astype(np.float32)
    squared = here @ (-2.0 * there.T)
    squared += (here**2).sum(axis=1)[:, None]
    squared += (there**2).sum(axis=1)[None, :]
    np.maximum(squared, np.float32(1e-6), out=squared)
    factors = normal @ there.T
    factors -= (normal * here).sum(axis=1)[:, None]
    np.maximum(factors, np.float32(0.0), out=factors)
    arriving = here @ facing.T
    arriving -= (there * facing).sum(axis=1)[None, :]
    np.maximum(arriving, np.float32(0.0), out=arriving)
    factors *= arriving
    factors /= squared
    factors /= squared
    factors *= (mesh.areas_mm2 / math.pi).astype(np.float32)
    return factors, squared


def polygon_factor(points: FloatArray, normals: FloatArray, corners: FloatArray) -> FloatArray:
    """Lambert's formula for pairs of a point and a polygon wholly in front of it.

    Parameters
    ----------
    points, normals:
        Shape (n, 3).
    corners:
        Shape (n, k, 3), in order, either way round.
    """
    away = np.ascontiguousarray((corners - points[:, None, :]).transpose(1, 2, 0))
    away /= np.maximum(np.sqrt((away**2).sum(axis=1, keepdims=True)), 1e-12)
    nx, ny, nz = np.ascontiguousarray(normals.T)
    total = np.zeros(len(points))
    for index in range(len(away)):
        (ax, ay, az), (bx, by, bz) = away[index], away[index - 1]
        cx, cy, cz = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
        sine = np.sqrt(cx * cx + cy * cy + cz * cz)
        angle = np.arctan2(sine, ax * bx + ay * by + az * bz)
        total += np.where(sine > 1e-12, angle / np.maximum(sine, 1e-12), 1.0) * (cx * nx + cy * ny + cz * nz)
    return np.asarray(np.abs(total) / (2.0 * math.pi))


def _round_factor(points: FloatArray, normals: FloatArray, mesh: Mesh, patches: IndexArray) -> FloatArray:
    """Factor to near patches of the round piece on which the points lie: the mean of the smooth kernel over some points."""
    places, facing = _split_places(mesh, np.unique(patches))
    index = np.searchsorted(np.unique(patches), patches)
    away = places[index] - points[:, None, :]
    squared = np.maximum((away**2).sum(axis=2), 1e-9)
    here = np.maximum(np.einsum("nkj,nj->nk", away, normals), 0.0)
    there = np.maximum(-np.einsum("nkj,nkj->nk", away, facing[index]), 0.0)
    return np.asarray((here * there / (math.pi * squared**2)).mean(axis=1) * mesh.areas_mm2[patches])


def _split_places(mesh: Mesh, patches: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Points and normals evenly over patches, shape (len(patches), split^2, 3)."""
    share = (np.arange(_SPLIT) + 0.5) / _SPLIT
    places = np.empty((len(patches), _SPLIT**2, 3))
    facing = np.empty_like(places)
    for number, one in enumerate(mesh.tiles):
        mine = np.flatnonzero(mesh.tile_index[patches] == number)
        if not len(mine):
            continue
        row, column = np.divmod(patches[mine] - one.first, one.shape[1])
        s = one.s_nodes[row][:, None] + np.diff(one.s_nodes)[row][:, None] * share
        t = one.t_nodes[column][:, None] + np.diff(one.t_nodes)[column][:, None] * share
        s, t = np.broadcast_arrays(s[:, :, None], t[:, None, :])
        places[mine] = one.tile.points(s, t).reshape(len(mine), -1, 3)
        facing[mine] = one.tile.normals(s, t).reshape(len(mine), -1, 3)
    return places, facing


def exchange_areas(mesh: Mesh, pause: Pause = carry_on) -> Matrix:
    """Exchange areas A_i F_ij between all patches: symmetric, the rows summing to the areas.

    Each patch's factors are the mean over its four quarters' middles; both directions are averaged, and the matrix is scaled
    from both sides until its rows sum to the areas: reciprocity and closure hold exactly.
    """
    total = np.zeros((mesh.count, mesh.count), np.float32)
    for places, facing, weight in _quarter_points(mesh):
        total += weight.astype(np.float32)[:, None] * point_factors(places, facing, mesh, mesh.surface_index, pause)
    total = (total + total.T) / 2.0
    sharp = _sharpening(mesh)
    sharpened = np.asarray(sharp.T @ (sharp.T @ total).T)
    # on patches far longer than wide the second differences may outweigh what they correct: such a mesh stays as it is
    balanced = _balanced(sharpened, mesh.areas_mm2)
    if balanced is None:
        balanced = _balanced(total, mesh.areas_mm2)
    assert balanced is not None  # nothing of it is below zero
    return balanced


def _sharpening(mesh: Mesh) -> sparse.csr_array:
    """Take a 24th of the second differences away within each piece, shape (patches, patches).

    What is drawn as steps over cells of width h is flattened: a wave of wave number k by (k h)^2 / 24, and once more where it is
    received as a mean. Applied on both sides of the exchange this gives it back.
    """
    from scipy import sparse

    of_shape = {shape: _sharpening_of(shape) for shape in {one.shape for one in mesh.tiles}}  # many pieces are alike
    return sparse.csr_array(
        sparse.block_diag([of_shape[one.shape] for one in mesh.tiles], format="csr", dtype=np.float32)
    )


def _sharpening_of(shape: tuple[int, int]) -> sparse.csr_array:
    from scipy import sparse

    along, across = (_second_difference(cells) for cells in shape)
    both = sparse.kron(along, sparse.eye_array(shape[1])) + sparse.kron(sparse.eye_array(shape[0]), across)
    return sparse.csr_array(sparse.eye_array(math.prod(shape)) - both / 24.0)


def _second_difference(cells: int) -> sparse.csr_array:
    from scipy import sparse

    step = sparse.diags_array([-np.ones(cells - 1), np.ones(cells - 1)], offsets=[0, 1], shape=(cells - 1, cells))
    return sparse.csr_array(-(step.T @ step))


def _quarter_points(mesh: Mesh) -> list[tuple[FloatArray, FloatArray, FloatArray]]:
    """The middles of the four quarters of all patches, with the areas that they stand for."""
    quarters = []
    for s_share in (0.25, 0.75):
        for t_share in (0.25, 0.75):
            places, facing, weight = [], [], []
            for one in mesh.tiles:
                ds, dt = np.diff(one.s_nodes), np.diff(one.t_nodes)
                s, t = np.meshgrid(one.s_nodes[:-1] + s_share * ds, one.t_nodes[:-1] + t_share * dt, indexing="ij")
                places.append(one.tile.points(s, t).reshape(-1, 3))
                facing.append(one.tile.normals(s, t).reshape(-1, 3))
                weight.append((one.tile.density(s, t) * np.outer(ds, dt) / 4.0).ravel())
            quarters.append((np.concatenate(places), np.concatenate(facing), np.concatenate(weight)))
    return quarters


def _balanced(symmetric: Matrix, areas_mm2: FloatArray) -> Matrix | None:
    """Scale from both sides until the rows sum to the areas; None where a row comes to nothing or less."""
    scale = np.ones(len(areas_mm2))
    for _ in range(30):
        rows = scale * (symmetric @ scale.astype(np.float32))
        if not rows.min() > 0:
            return None
        scale *= np.sqrt(areas_mm2 / rows)
    factor = scale.astype(np.float32)
    return np.asarray(symmetric * factor[:, None] * factor[None, :])
