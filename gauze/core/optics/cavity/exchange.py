"""Exchange areas between the patches of a cavity: how much of the light of each gets to each other one at once."""

import functools
import math
from collections.abc import Iterator

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.cavity.factors import Matrix, factors_from, splits_of
from gauze.core.optics.cavity.fixed_point import Acceleration
from gauze.core.optics.cavity.mesh import Mesh
from gauze.core.optics.cavity.symmetry import WORTH_MIRRORS, Folded, common_axes, symmetries
from gauze.core.optics.kernel.exchange import FoldedRows, sharpened, symmetrised

_CLOSED = 3e-7  # by which rows may miss their areas: single precision does
_CLOSED_ENOUGH = 0.1  # by which they may miss where the steps do not converge: sharpening is worth more than that
_MOST_STEPS = 30  # towards that


def exchange_areas(mesh: Mesh, pause: Pause = carry_on) -> Folded:
    """Exchange areas A_i F_ij between all patches: symmetric, the rows summing to the areas.

    Each patch's factors are the mean over its four quarters' middles; both directions are averaged, and the matrix is scaled
    from both sides until its rows sum to the areas: reciprocity and closure hold to rounding, closure less well where a shallow
    cavity has sharp rims.

    What is drawn as steps over patches of width h is flattened: a wave of wave number k by (k h)^2 / 24, and once more where it
    is received as a mean. A 24th of the second differences, taken away within each piece on both sides, gives it back.
    """
    middle = (mesh.centres.min(axis=0) + mesh.centres.max(axis=0)) / 2.0
    worth = 4 * mesh.count**2 > WORTH_MIRRORS
    mirrors = common_axes((mesh.centres, mesh.normals), middle=middle) if worth else []
    (symmetry,) = symmetries(mirrors, (mesh.count,))
    first, splits = symmetry.first, splits_of(mesh)
    lies_in = mesh.surface_index[first], mesh.leg[first]
    part = np.zeros((len(first), mesh.count), np.float32)
    for places, facing, weight in _quarter_points(mesh):
        factors = factors_from(places[first], facing[first], mesh, lies_in, splits, pause)
        factors *= weight[first].astype(np.float32)[:, None]
        part += factors
    rows = FoldedRows(first, symmetry.stands_for, symmetry.image_of, symmetry.turned)
    part = symmetrised(part, rows)
    neighbours = neighbours_of(tuple(one.shape for one in mesh.tiles))

    def of(some: Matrix) -> Folded:
        return Folded(some, symmetry, symmetry, mesh.count)

    # on patches far longer than wide, or wider than the cavity is deep, the second differences may outweigh what they correct:
    # such a mesh stays as it is
    found = balanced(of(sharpened(part, rows, neighbours)), mesh.areas_mm2)
    if found is None:
        found = balanced(of(part), mesh.areas_mm2, enough=math.inf)
    assert found is not None  # no entry is below zero
    return found


@functools.lru_cache(maxsize=32)
def neighbours_of(shapes: tuple[tuple[int, int], ...]) -> IndexArray:
    """The patches before and after each along s and t within its piece, itself at an edge; (patches, 4)."""
    found, first = [], 0
    for along, across in shapes:
        patch = first + np.arange(along * across).reshape(along, across)
        beside = [
            np.concatenate([patch[:1], patch[:-1]]),
            np.concatenate([patch[1:], patch[-1:]]),
            np.concatenate([patch[:, :1], patch[:, :-1]], axis=1),
            np.concatenate([patch[:, 1:], patch[:, -1:]], axis=1),
        ]
        found.append(np.stack([one.ravel() for one in beside], axis=1))
        first += along * across
    return np.concatenate(found)


def _quarter_points(mesh: Mesh) -> Iterator[tuple[FloatArray, FloatArray, FloatArray]]:
    """The middles of the four quarters of all patches, with the areas that they stand for."""
    patches = np.arange(mesh.count)
    for s_share in (0.25, 0.75):
        for t_share in (0.25, 0.75):
            along, across = np.full(mesh.count, s_share), np.full(mesh.count, t_share)
            places, facing, density = mesh.places(patches, along, across)
            yield places, facing, density / 4.0


def balanced(exchange: Folded, areas_mm2: FloatArray, enough: float = _CLOSED_ENOUGH) -> Folded | None:
    """Scale a symmetric exchange from both sides until its rows sum to the areas.

    None where a row sums to zero or less, or to what misses its area by more than ``enough`` in the end.
    """
    images, area = exchange.rows.stands_for, areas_mm2[exchange.rows.first]
    power: FloatArray = np.zeros(len(area))
    faster = Acceleration()
    for _ in range(_MOST_STEPS):
        scale = np.exp(power)
        rows = scale * (exchange.part @ scale[images].astype(np.float32))
        if not rows.min() > 0:
            return None
        missing = 0.5 * np.log(area / rows)
        power = faster.next(power, missing)
        miss = float(np.abs(missing).max())
        if miss < _CLOSED:
            break
    if miss > enough:
        return None
    return exchange.scaled(np.exp(power)[images].astype(np.float32))
