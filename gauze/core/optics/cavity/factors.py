"""Form factors from points on the inner surface of a convex cavity to its patches.

Far patches count as points, near ones as polygons (Lambert's formula, exact), near ones of the same round piece, whose kernel is
smooth, as several points. In a closed convex cavity the factors of a point sum to 1; they are scaled to.

Lambert's formula: F = 1/(2 pi) sum over the edges of (angle under which the edge is seen) x (unit normal of the plane
through point and edge) . n. J. H. Lambert, Photometria (1760); any book on radiative exchange.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.cavity.mesh import Mesh
from gauze.core.optics.cavity.symmetry import WORTH_MIRRORS, Folded, common_axes, symmetries
from gauze.core.optics.kernel.pairs import Near, Split, form_factors

_NEAR = 3.5  # patch widths: nearer patches are polygons; farther the error of a point is below a thousandth
_BESIDE = 1.5  # patch widths: nearer on the same round piece the kernel depends on the direction, however near
_MIDPOINTS = (np.arange(4) + 0.5) / 4  # of each side of such a patch
_GAUSS_POINTS = 0.5 + np.array([-0.5, 0.5]) / math.sqrt(3.0)  # of each side of the other near ones

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
    part = factors_from(points[first], normals[first], mesh, (surface, leg), splits_of(mesh), pause)
    return Folded(part, of_points, of_mesh, len(points))


def factors_from(
    points: FloatArray,
    normals: FloatArray,
    mesh: Mesh,
    lies_in: tuple[IndexArray, IndexArray],
    splits: tuple[Split, Split] | None,
    pause: Pause,
) -> Matrix:
    """The factors themselves, (len(points), mesh.count); ``splits`` are those of :func:`splits_of`."""
    middle = mesh.centres.mean(axis=0)  # near zero single precision loses nothing
    return form_factors(points, normals, *lies_in, mesh.arrays, middle, Near(_NEAR, _BESIDE, splits), pause)


def splits_of(mesh: Mesh) -> tuple[Split, Split] | None:
    """Points over the patches, of those beside a point and of those near it on a round piece; none where all is flat."""
    return (_split(mesh, _MIDPOINTS), _split(mesh, _GAUSS_POINTS)) if mesh.curved.any() else None


def _split(mesh: Mesh, share: FloatArray) -> Split:
    """Points, at these shares of both sides, and normals of every patch; two arrays of shape (patches, len(share)^2, 3)."""
    size = (mesh.count, len(share) ** 2)
    along, across = (np.broadcast_to(one, size) for one in (np.repeat(share, len(share)), np.tile(share, len(share))))
    places, facing, _ = mesh.places(np.arange(mesh.count), along, across)
    return places, facing
