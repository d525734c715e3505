"""Emitters anywhere in space, facing anywhere, and their light on points of a surface."""

import functools
import math
from dataclasses import dataclass, field, replace

import numpy as np

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.legs import Legs
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.cavity.distribution import DistributionTable, sides_of
from gauze.core.optics.cavity.mesh import Mesh
from gauze.core.optics.cavity.symmetry import SAME, WORTH_MIRRORS, Symmetry, mirror_images, symmetries
from gauze.core.optics.kernel.pairs import HoldsArrays, LampArrays, SheetWeights, Window, direct_flux, direct_light

_LEAST_DISTANCE_MM = 0.05
_NEAR = 4.0  # patch widths: nearer patches are divided
MOST_DIVISIONS = 6


@dataclass(frozen=True)
class Emitters(HoldsArrays):
    """Emitters: small squares that shine.

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
    size_mm:
        Side of the square that each of them is, square to its axis; those with a measured distribution count as points.
    legs:
        Those of the cavity, where it has some, and in which of them each emitter stands. Light is asked about on places of the
        cavity's own leg.
    """

    places_mm: FloatArray
    axes: FloatArray
    power: FloatArray
    flux_lm: FloatArray
    table: IndexArray = field(default_factory=lambda: np.zeros(0, int))
    tables: tuple[DistributionTable, ...] = ()
    size_mm: float = 0.0
    legs: tuple[Legs, IndexArray] | None = None

    @property
    def count(self) -> int:
        """Number of emitters."""
        return len(self.power)

    @functools.cached_property
    def arrays(self) -> LampArrays:
        """The same for the kernel."""
        measured = (self.table, [one.per_steradian for one in self.tables]) if self.tables else None
        sizes_mm, sides = (_LEAST_DISTANCE_MM, self.size_mm), sides_of(self.axes)
        return LampArrays(self.places_mm, self.axes, self.power, self.flux_lm, sizes_mm, sides, measured, self.legs)

    def part(self, chosen: IndexArray | slice) -> "Emitters":
        """Return some of them."""
        table = self.table[chosen] if self.tables else self.table
        places_mm, axes, power = self.places_mm[chosen], self.axes[chosen], self.power[chosen]
        legs = None if self.legs is None else (self.legs[0], self.legs[1][chosen])
        return Emitters(places_mm, axes, power, self.flux_lm[chosen], table, self.tables, self.size_mm, legs)

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
    weights: SheetWeights | None = None,
    window: Window | None = None,
    pause: Pause = carry_on,
) -> tuple[FloatArray, FloatArray | None]:
    """Direct illuminance at points, in lm/mm^2, shape (len(points), k): plain, and with each emitter's share weighed.

    ``window`` multiplies all shares before either.
    """
    return direct_light(points, normals, emitters.arrays, weights, window, pause)


def per_lumen(leaving: FloatArray, arriving: FloatArray, squared: FloatArray, power: FloatArray) -> FloatArray:
    """(m + 1)/(2 pi) cos^m cos' / r^2 from r cos, r cos' and r^2."""
    if np.all(power == 1.0):
        return np.asarray(leaving * arriving / (math.pi * squared * squared))
    cosine = leaving / np.sqrt(squared)
    return np.asarray((power + 1.0) / (2.0 * math.pi) * cosine**power * arriving / squared**1.5)


def flux_shares(
    mesh: Mesh, emitters: Emitters, pause: Pause = carry_on, divisions: int = MOST_DIVISIONS
) -> tuple[FloatArray, float]:
    """Flux per mm^2 of every patch from all emitters, shape (patches, k), and by how much the sums had to be corrected.

    Near patches are divided, at most ``divisions`` times, until each part is small beside its distance. In a closed cavity all
    that an emitter gives arrives somewhere: what is missing of it (or too much) is taken as an error of its near patches and
    shared out among all.
    """
    of_emitters, of_mesh = _common_symmetry(mesh, emitters)
    some = _once(emitters, of_emitters.first, of_emitters)
    half, missed = direct_flux(mesh.arrays, some.arrays, _NEAR, divisions, pause)
    total = np.sum([half[image] for image in of_mesh.images], axis=0)
    return total / mesh.areas_mm2[:, None], missed


def _common_symmetry(mesh: Mesh, emitters: Emitters) -> tuple[Symmetry, Symmetry]:
    """The mirrors in which both the mesh and the emitters are their own images, as images of either."""
    middle = (mesh.centres.min(axis=0) + mesh.centres.max(axis=0)) / 2.0
    mirrors: list[tuple[IndexArray, ...]] = []
    for axis in range(3) if mesh.count * emitters.count > WORTH_MIRRORS else ():
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
