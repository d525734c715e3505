"""Emitters anywhere in space, facing anywhere, and their light on points of a surface."""

import math
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.cavity.distribution import DistributionTable, measured_share
from gauze.core.optics.cavity.factors import THREADS
from gauze.core.optics.cavity.mesh import Mesh
from gauze.core.optics.cavity.symmetry import SAME, Symmetry, mirror_images, symmetries
from gauze.core.optics.product import product

_BLOCK = 400_000  # pairs of patches held at once
_PLACES_BLOCK, _EMITTERS_BLOCK = (
    60_000,
    1_500,
)  # pairs of places held at once, and emitters: what the processor has at hand
_WORTH_THREADS = 8  # blocks from which on threads share them
_LEAST_DISTANCE_MM = 0.05
_NEAR = 4.0  # patch widths: nearer patches are divided
_MOST_DIVISIONS = 6
_MOST_NEAR_PAIRS = 6_000_000

Weighing = Callable[[FloatArray, FloatArray], FloatArray]  # r cos' and r^2 -> factor


@dataclass(frozen=True)
class Emitters:
    """Emitters as points.

    Attributes
    ----------
    places_mm, axes:
        Shape (n, 3), the axes of length 1.
    power:
        m of cos^m for each, shape (n,).
    flux_lm:
        One column for each colour that is kept apart, shape (n, k).
    table:
        Which of ``tables`` each emitter's measured distribution is, shape (n,); -1 for cos^m.
    """

    places_mm: FloatArray
    axes: FloatArray
    power: FloatArray
    flux_lm: FloatArray
    table: IndexArray = field(default_factory=lambda: np.zeros(0, int))
    tables: tuple[DistributionTable, ...] = ()

    @property
    def count(self) -> int:
        """Number of emitters."""
        return len(self.power)

    def part(self, chosen: IndexArray | slice) -> "Emitters":
        """Return some of them."""
        table = self.table[chosen] if self.tables else self.table
        return Emitters(
            self.places_mm[chosen], self.axes[chosen], self.power[chosen], self.flux_lm[chosen], table, self.tables
        )

    def images(self, middle: FloatArray, axis: int) -> IndexArray | None:
        """Return for every emitter the number of its image across an axis, which gives the same light; None where one has none.

        Those with a measured distribution, which may be of any shape, have none.
        """
        if self.tables:
            return None
        image = mirror_images(self.places_mm, self.axes, middle, axis)
        if image is None or not np.array_equal(self.power, self.power[image]):
            return None
        same = np.abs(self.flux_lm - self.flux_lm[image]) <= SAME * np.abs(self.flux_lm)
        return image if same.all() else None

    def measured(self) -> list[tuple[DistributionTable, IndexArray]]:
        """Every table with the emitters that have it."""
        found = ((table, np.flatnonzero(self.table == number)) for number, table in enumerate(self.tables))
        return [(table, mine) for table, mine in found if len(mine)]


def illuminance(
    points: FloatArray,
    normals: FloatArray,
    emitters: Emitters,
    weighing: Weighing | None = None,
    window: Weighing | None = None,
) -> tuple[FloatArray, FloatArray | None]:
    """Direct illuminance at points, in lm/mm^2, shape (len(points), k): plain, and with each emitter's share weighed.

    ``window`` multiplies all shares before either.
    """
    plain = np.zeros((len(points), emitters.flux_lm.shape[1]))
    seen = np.zeros_like(plain) if weighing is not None else None
    parts = [emitters.part(slice(one, one + _EMITTERS_BLOCK)) for one in range(0, emitters.count, _EMITTERS_BLOCK)]
    fluxes = [some.flux_lm.astype(np.float32) for some in parts]
    block = max(1, _PLACES_BLOCK // max((some.count for some in parts), default=1))

    def fill(first: int) -> None:
        part = slice(first, first + block)
        for some, flux in zip(parts, fluxes, strict=True):
            share, arriving, squared = _shares(points[part], normals[part], some, np.float32)
            if window is not None:
                share *= window(arriving, squared)
            plain[part] += product(share, flux)
            if seen is not None and weighing is not None:
                share *= weighing(arriving, squared)
                seen[part] += product(share, flux)

    blocks = range(0, len(points), block)
    if len(blocks) < _WORTH_THREADS:
        for first in blocks:
            fill(first)
    else:
        with ThreadPoolExecutor(THREADS) as pool:  # NumPy lets go of the interpreter while it computes
            list(pool.map(fill, blocks))
    return plain, seen


def _shares(
    points: FloatArray, normals: FloatArray, emitters: Emitters, kind: type[np.floating[Any]] = np.float64
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Illuminance per lumen of every emitter at every point, r cos' and r^2, in single or double precision."""
    middle = points.mean(axis=0)  # near zero the differences of squares below lose nothing
    points, places = (points - middle).astype(kind), (emitters.places_mm - middle).astype(kind)
    normals, axes = normals.astype(kind), emitters.axes.astype(kind)
    squared = (points**2).sum(axis=1)[:, None] + (places**2).sum(axis=1)[None, :] - 2.0 * points @ places.T
    np.maximum(squared, _LEAST_DISTANCE_MM**2, out=squared)
    leaving = points @ axes.T - (places * axes).sum(axis=1)[None, :]
    arriving = normals @ places.T - (normals * points).sum(axis=1)[:, None]
    np.maximum(leaving, 0.0, out=leaving)
    np.maximum(arriving, 0.0, out=arriving)
    share = per_lumen(leaving, arriving, squared, emitters.power[None, :].astype(kind))
    for table, mine in emitters.measured():
        away = points[:, None, :] - places[None, mine, :]
        share[:, mine] = measured_share(table, emitters.axes[mine], away, arriving[:, mine], squared[:, mine])
    return share, arriving, squared


def per_lumen(leaving: FloatArray, arriving: FloatArray, squared: FloatArray, power: FloatArray) -> FloatArray:
    """(m + 1)/(2 pi) cos^m cos' / r^2 from r cos, r cos' and r^2."""
    if np.all(power == 1.0):
        return np.asarray(leaving * arriving / (math.pi * squared * squared))
    cosine = leaving / np.sqrt(squared)
    return np.asarray((power + 1.0) / (2.0 * math.pi) * cosine**power * arriving / squared**1.5)


def flux_shares(mesh: Mesh, emitters: Emitters, pause: Pause = carry_on) -> tuple[FloatArray, float]:
    """Flux per mm^2 of every patch from all emitters, shape (patches, k), and by how much the sums had to be corrected.

    Near patches are divided until each part is small beside its distance. In a closed cavity all that an emitter gives arrives
    somewhere: what is missing of it (or too much) is taken as an error of its near patches and shared out among all.
    """
    total = np.zeros((mesh.count, emitters.flux_lm.shape[1]))
    missed = 0.0
    block = max(1, _BLOCK // mesh.count)
    of_emitters, of_mesh = _common_symmetry(mesh, emitters)
    chosen = of_emitters.first
    for first in range(0, len(chosen), block):
        pause()
        some = _once(emitters, chosen[first : first + block], of_emitters)
        share = _shares(mesh.centres, mesh.normals, some)[0] * mesh.areas_mm2[:, None]
        _refine_near(share, mesh, some)
        sums = share.sum(axis=0)
        missed = max(missed, float(np.abs(sums - 1.0).max(initial=0.0)))
        total += (share / np.maximum(sums, 1e-6)) @ some.flux_lm
    total = np.sum([total[image] for image in of_mesh.images], axis=0)
    return total / mesh.areas_mm2[:, None], missed


def _common_symmetry(mesh: Mesh, emitters: Emitters) -> tuple[Symmetry, Symmetry]:
    """The mirrors in which both the mesh and the emitters are their own images, as images of either."""
    middle = (mesh.centres.min(axis=0) + mesh.centres.max(axis=0)) / 2.0
    mirrors = []
    for axis in range(3):
        of_emitters = emitters.images(middle, axis)
        if of_emitters is not None:
            of_mesh = mirror_images(mesh.centres, mesh.normals, middle, axis)
            if of_mesh is not None:
                mirrors.append((of_emitters, of_mesh))
    of_lamps, of_patches = symmetries(mirrors, (emitters.count, mesh.count))
    return of_lamps, of_patches


def _once(emitters: Emitters, chosen: IndexArray, symmetry: Symmetry) -> Emitters:
    """Emitters that stand for their images: what lies in a mirror is its own image, and counts once however often it is met."""
    met = np.zeros(len(chosen))
    for image in symmetry.images:
        met += image[chosen] == chosen
    some = emitters.part(chosen)
    return replace(some, flux_lm=some.flux_lm / met[:, None])


def _refine_near(share: FloatArray, mesh: Mesh, emitters: Emitters) -> None:
    """Replace the shares of near patches by sums over parts of them, in place."""
    away2 = ((mesh.centres**2).sum(axis=1)[:, None] + (emitters.places_mm**2).sum(axis=1)[None, :]) - 2.0 * (
        mesh.centres @ emitters.places_mm.T
    )
    patch, emitter = np.nonzero(away2 < (_NEAR * mesh.widths_mm[:, None]) ** 2)
    if not len(patch):
        return
    corrected = np.zeros(len(patch))
    owner = np.arange(len(patch))
    low = np.zeros((len(patch), 2))
    size = np.ones((len(patch), 2))
    for division in range(_MOST_DIVISIONS):
        done, values, far = _parts(
            mesh, emitters, patch, emitter, owner, low, size, last=division == _MOST_DIVISIONS - 1
        )
        np.add.at(corrected, owner[done], values[done])
        owner, low, size = owner[far], low[far], size[far]
        if not len(owner) or 4 * len(owner) > _MOST_NEAR_PAIRS:
            np.add.at(corrected, owner, values[far])
            break
        owner = np.repeat(owner, 4)
        half = np.repeat(size, 4, axis=0) / 2.0
        corner = np.tile(np.array([[0.0, 0.0], [0.0, 1.0], [1.0, 0.0], [1.0, 1.0]]), (len(low), 1))
        low = np.repeat(low, 4, axis=0) + corner * half
        size = half
    share[patch, emitter] = corrected


def _parts(
    mesh: Mesh,
    emitters: Emitters,
    patch: IndexArray,
    emitter: IndexArray,
    owner: IndexArray,
    low: FloatArray,
    size: FloatArray,
    *,
    last: bool,
) -> tuple[IndexArray, FloatArray, IndexArray]:
    """Flux per lumen on parts of patches: which are done, their values, which are to be divided further."""
    patches, whom = patch[owner], emitter[owner]
    middle = low + size / 2.0
    places, facing = mesh.places(patches, middle[:, 0], middle[:, 1])
    areas = mesh.densities(patches, middle[:, 0], middle[:, 1]) * size.prod(axis=1)
    away = places - emitters.places_mm[whom]
    squared = np.maximum((away**2).sum(axis=1), _LEAST_DISTANCE_MM**2)
    leaving = np.maximum((away * emitters.axes[whom]).sum(axis=1), 0.0)
    arriving = np.maximum(-(away * facing).sum(axis=1), 0.0)
    values = per_lumen(leaving, arriving, squared, emitters.power[whom])
    for number, table in enumerate(emitters.tables):
        mine = np.flatnonzero(emitters.table[whom] == number)
        values[mine] = measured_share(table, emitters.axes[whom[mine]], away[mine], arriving[mine], squared[mine])
    values *= areas
    coarse = (mesh.widths_mm[patches] * size.max(axis=1)) ** 2 > 0.25 * squared
    if last:
        coarse[:] = False
    return np.flatnonzero(~coarse), values, np.flatnonzero(coarse)
