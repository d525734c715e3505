"""Form factors from points on the inner surface of a convex cavity to its patches.

Far patches count as points, near ones as polygons (Lambert's formula, exact), near ones of the same round piece, whose kernel is
smooth, as several points. In a closed convex cavity the factors of a point sum to 1; they are scaled to.

Lambert's formula: F = 1/(2 pi) sum over the edges of (angle under which the edge is seen) x (unit normal of the plane
through point and edge) . n. J. H. Lambert, Photometria (1760); any book on radiative exchange.
"""

from __future__ import annotations

import functools
import math
from collections.abc import Iterator
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.cavity.mesh import Mesh
from gauze.core.optics.cavity.symmetry import WORTH_MIRRORS, Folded, Symmetry, common_axes, symmetries
from gauze.core.optics.kernel.pairs import Near, Split, form_factors

if TYPE_CHECKING:
    from scipy import sparse

_NEAR = 3.5  # patch widths: nearer patches are polygons; farther the error of a point is below a thousandth
_BESIDE = 1.5  # patch widths: nearer on the same round piece the kernel depends on the direction, however near
_MIDPOINTS = (np.arange(4) + 0.5) / 4  # of each side of such a patch
_GAUSS_POINTS = 0.5 + np.array([-0.5, 0.5]) / math.sqrt(3.0)  # of each side of the other near ones

_CLOSED = 3e-7  # by which rows may miss their areas: single precision does

Matrix = NDArray[np.float32]


def point_factors(
    points: FloatArray,
    normals: FloatArray,
    mesh: Mesh,
    lies_in: tuple[IndexArray, IndexArray],
    pause: Pause = carry_on,
) -> Folded:
    """Factors from points to all patches, shape (len(points), mesh.count), rows summing to 1.

    ``lies_in`` says on which smooth surface and in which leg each point lies. Points and mesh that are their own
    images in a mirror are looked at on one side of it.
    """
    middle = (mesh.centres.min(axis=0) + mesh.centres.max(axis=0)) / 2.0
    worth = len(points) * mesh.count > WORTH_MIRRORS
    mirrors = common_axes((points, normals), (mesh.centres, mesh.normals), middle=middle) if worth else []
    of_points, of_mesh = symmetries(mirrors, (len(points), mesh.count))
    first = of_points.first
    surface, leg = (one[first] for one in lies_in)
    part = _factors(points[first], normals[first], mesh, (surface, leg), _splits(mesh), pause)
    return Folded(part, of_points, of_mesh, len(points))


def _factors(
    points: FloatArray,
    normals: FloatArray,
    mesh: Mesh,
    lies_in: tuple[IndexArray, IndexArray],
    splits: tuple[Split, Split] | None,
    pause: Pause,
) -> Matrix:
    middle = mesh.centres.mean(axis=0)  # near zero single precision loses nothing
    return form_factors(points, normals, *lies_in, mesh.arrays, middle, Near(_NEAR, _BESIDE, splits), pause)


def _splits(mesh: Mesh) -> tuple[Split, Split] | None:
    """Points over the patches, of those beside a point and of those near it on a round piece; none where all is flat."""
    return (_split(mesh, _MIDPOINTS), _split(mesh, _GAUSS_POINTS)) if mesh.curved.any() else None


def _split(mesh: Mesh, share: FloatArray) -> Split:
    """Points, at these shares of both sides, and normals of every patch; two arrays of shape (patches, len(share)^2, 3)."""
    size = (mesh.count, len(share) ** 2)
    along, across = (np.broadcast_to(one, size) for one in (np.repeat(share, len(share)), np.tile(share, len(share))))
    places, facing, _ = mesh.places(np.arange(mesh.count), along, across)
    return places, facing


def exchange_areas(mesh: Mesh, pause: Pause = carry_on) -> Matrix:
    """Exchange areas A_i F_ij between all patches: symmetric, the rows summing to the areas.

    Each patch's factors are the mean over its four quarters' middles; both directions are averaged, and the matrix is scaled
    from both sides until its rows sum to the areas: reciprocity and closure hold exactly.
    """
    middle = (mesh.centres.min(axis=0) + mesh.centres.max(axis=0)) / 2.0
    worth = 4 * mesh.count**2 > WORTH_MIRRORS
    mirrors = common_axes((mesh.centres, mesh.normals), middle=middle) if worth else []
    (symmetry,) = symmetries(mirrors, (mesh.count,))
    first, splits = symmetry.first, _splits(mesh)
    lies_in = mesh.surface_index[first], mesh.leg[first]
    part = np.zeros((len(first), mesh.count), np.float32)
    for places, facing, weight in _quarter_points(mesh):
        factors = _factors(places[first], facing[first], mesh, lies_in, splits, pause)
        factors *= weight[first].astype(np.float32)[:, None]
        part += factors
    total = Folded(part, symmetry, symmetry, mesh.count).whole()
    total = (total + total.T) / 2.0
    sharp = _sharpening(mesh)
    sharpened = np.asarray(sharp.T @ (sharp.T @ total).T)
    # on patches far longer than wide the second differences may outweigh what they correct: such a mesh stays as it is
    found = balanced(sharpened, mesh.areas_mm2, symmetry)
    if found is None:
        found = balanced(total, mesh.areas_mm2, symmetry)
    assert found is not None  # no entry is below zero
    return found


def _sharpening(mesh: Mesh) -> sparse.csr_array:
    """Take a 24th of the second differences away within each piece, shape (patches, patches).

    What is drawn as steps over cells of width h is flattened: a wave of wave number k by (k h)^2 / 24, and once more where it is
    received as a mean. Applied on both sides of the exchange this gives it back.
    """
    return _sharpening_of_all(tuple(one.shape for one in mesh.tiles))


@functools.lru_cache(maxsize=32)
def _sharpening_of_all(shapes: tuple[tuple[int, int], ...]) -> sparse.csr_array:
    from scipy import sparse

    return sparse.csr_array(
        sparse.block_diag([_sharpening_of(shape) for shape in shapes], format="csr", dtype=np.float32)
    )


@functools.lru_cache(maxsize=256)
def _sharpening_of(shape: tuple[int, int]) -> sparse.csr_array:
    from scipy import sparse

    along, across = (_second_difference(cells) for cells in shape)
    both = sparse.kron(along, sparse.eye_array(shape[1])) + sparse.kron(sparse.eye_array(shape[0]), across)
    return sparse.csr_array(sparse.eye_array(math.prod(shape)) - both / 24.0)


def _second_difference(cells: int) -> sparse.csr_array:
    from scipy import sparse

    step = sparse.diags_array([-np.ones(cells - 1), np.ones(cells - 1)], offsets=[0, 1], shape=(cells - 1, cells))
    return sparse.csr_array(-(step.T @ step))


def _quarter_points(mesh: Mesh) -> Iterator[tuple[FloatArray, FloatArray, FloatArray]]:
    """The middles of the four quarters of all patches, with the areas that they stand for."""
    patches = np.arange(mesh.count)
    for s_share in (0.25, 0.75):
        for t_share in (0.25, 0.75):
            along, across = np.full(mesh.count, s_share), np.full(mesh.count, t_share)
            places, facing, density = mesh.places(patches, along, across)
            yield places, facing, density / 4.0


def balanced(symmetric: Matrix, areas_mm2: FloatArray, symmetry: Symmetry | None = None) -> Matrix | None:
    """Scale from both sides until the rows sum to the areas; None where the sum of a row is zero or negative.

    Under a ``symmetry`` of the matrix the rows of images sum to the same: one of them is looked at.
    """
    first: IndexArray | slice = slice(None)
    images: IndexArray | slice = slice(None)
    if symmetry is not None and len(symmetry.images) > 1:
        first, images = symmetry.first, symmetry.stands_for
    some, area, scale = symmetric[first], areas_mm2[first], np.ones(len(areas_mm2))
    for _ in range(30):
        rows = scale[first] * (some @ scale.astype(np.float32))
        if not rows.min() > 0:
            return None
        change = np.sqrt(area / rows)
        scale *= change[images]
        if np.abs(change - 1.0).max() < _CLOSED:
            break
    factor = scale.astype(np.float32)
    return np.asarray(symmetric * factor[:, None] * factor[None, :])
