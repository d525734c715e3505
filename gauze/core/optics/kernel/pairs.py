"""What the kernel sums over pairs, as functions of arrays."""

import ctypes
from collections.abc import Hashable
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from gauze.core.errors import Pause, carry_on
from gauze.core.layout.legs import Legs
from gauze.core.layout.model import BoolArray, FloatArray, IndexArray
from gauze.core.optics.kernel.library import (
    Arrays,
    Lamps,
    Patches,
    Seen,
    Splits,
    Weights,
    finite,
    given_mitres,
    kernel,
)
from gauze.core.optics.kernel.parallel import in_parts, rows_from
from gauze.core.optics.kernel.pieces import Pieces

_MOST_COLUMNS = 3  # three colours, or X, Y and Z


@dataclass(frozen=True)
class SheetWeights:
    """Luminance straight on per illuminance, by the angle under which light comes in: what a sheet makes of it.

    ``by_squared_sine`` is a table over the squared sine of the angle, in even steps from 0 to 1, in single precision. ``regular``
    is the share that keeps its direction: each emitter is seen as a lobe of its own size, ``emitter_variance_mm2``.
    """

    by_squared_sine: NDArray[np.float32]
    regular: float
    emitter_variance_mm2: float

    @property
    def key(self) -> Hashable:
        """The same, to find what was computed with it."""
        return self.by_squared_sine.tobytes(), self.regular, self.emitter_variance_mm2

    def __call__(self, arriving: FloatArray, squared: FloatArray) -> FloatArray:
        """Factor of each pair of place and emitter, from r cos' and r^2."""
        squared_sine = 1.0 - arriving * arriving / squared
        steps = len(self.by_squared_sine) - 1
        factor = self.by_squared_sine[(np.maximum(squared_sine, 0.0) * steps).astype(np.int32)]
        if self.regular > 0:
            variance = self.emitter_variance_mm2 / squared
            factor = factor + self.regular / (2.0 * np.pi * variance) * np.exp(-squared_sine / (2.0 * variance))
        return np.asarray(factor)


@dataclass(frozen=True)
class Window:
    """Light of emitters within ``first_mm``, none of those beyond ``last_mm``, smooth in between; or, ``far``, all but that."""

    first_mm: float
    last_mm: float
    far: bool


class LampArrays:
    """Emitters for the kernel: places and axes (n, 3), power of cos^m (n,), flux (n, k), the side of their emitting squares.

    ``right`` and ``up`` (n, 3) are the sides of these, and towards C = 0 and 90 of a measured distribution. ``measured`` says
    which of its tables (181, 73) each one's is, -1 for cos^m; None where none is. ``sizes_mm`` are the least distance that
    counts, and that side.
    """

    def __init__(
        self,
        places_mm: FloatArray,
        axes: FloatArray,
        power: FloatArray,
        flux_lm: FloatArray,
        sizes_mm: tuple[float, float],
        sides: tuple[FloatArray, FloatArray],
        measured: tuple[IndexArray, list[FloatArray]] | None = None,
        legs: tuple[Legs, IndexArray] | None = None,
    ) -> None:
        self.count, self.columns = flux_lm.shape
        if self.columns > _MOST_COLUMNS:
            raise ValueError(f"{self.columns} columns of flux: the kernel holds {_MOST_COLUMNS}")
        self._arrays = keep = Arrays()
        least_distance_mm, size_mm = sizes_mm
        table: NDArray[np.generic] = np.full(self.count, -1)
        tables: FloatArray = np.zeros((1, 1))
        if measured is not None:
            table, tables = measured[0], np.stack(measured[1])
        self.given = Lamps(
            self.count,
            self.columns,
            *(keep.doubles(values) for values in (places_mm, axes, power, flux_lm)),
            keep.integers(table),
            *(keep.doubles(side) for side in sides),
            keep.singles(tables),
            least_distance_mm**2,
            size_mm,
            *((None, None, 0) if legs is None else (given_mitres(legs[0], keep), keep.integers(legs[1]), legs[0].own)),
        )


class HoldsArrays:
    """What holds arrays for the kernel beside its fields: left behind when it goes to another process, then made again."""

    def __getstate__(self) -> dict[str, object]:
        """Return all but those."""
        return {
            name: value for name, value in self.__dict__.items() if not isinstance(value, (LampArrays, PatchArrays))
        }


def given_weights(weights: SheetWeights | None, window: Window | None, keep: Arrays) -> Weights:
    """What a sheet makes of light, and which counts, for the kernel; ``keep`` keeps what it holds."""
    return Weights(
        None if weights is None else keep.singles(weights.by_squared_sine),
        0 if weights is None else len(weights.by_squared_sine) - 1,
        0.0 if weights is None else weights.regular,
        0.0 if weights is None else weights.emitter_variance_mm2,
        0 if window is None else 1 + window.far,
        0.0 if window is None else window.first_mm**2,
        0.0 if window is None else 1.0 / (window.last_mm**2 - window.first_mm**2),
    )


def direct_light(
    points: FloatArray,
    normals: FloatArray,
    lamps: LampArrays,
    weights: SheetWeights | None = None,
    window: Window | None = None,
    pause: Pause = carry_on,
) -> tuple[FloatArray, FloatArray | None]:
    """Direct illuminance at points (n, 3), in lm/mm^2, shape (n, k): plain, and with each emitter's share weighed.

    Raises
    ------
    FloatingPointError
        When a place is not a finite number.
    """
    points, normals = (finite(np.ascontiguousarray(one, float)) for one in (points, normals))
    plain = np.zeros((len(points), lamps.columns))
    seen = None if weights is None else np.zeros_like(plain)
    keep = Arrays()
    how = given_weights(weights, window, keep)

    def some(part: slice) -> None:
        kernel().direct_light(
            ctypes.c_int64(part.stop - part.start),
            *(rows_from(values, part) for values in (points, normals)),
            ctypes.byref(lamps.given),
            ctypes.byref(how),
            rows_from(plain, part),
            None if seen is None else rows_from(seen, part),
        )

    in_parts(some, len(points), lamps.count, pause)
    return plain, seen


@dataclass(frozen=True)
class PatchArrays:
    """The patches of a mesh for the kernel, with what keeps its arrays alive."""

    given: Patches
    count: int
    arrays: Arrays


class MeshLike(Protocol):
    """What of a mesh the kernel reads; see :class:`gauze.core.optics.cavity.mesh.Mesh`."""

    @property
    def corners(self) -> FloatArray:
        """Corners of every patch."""

    @property
    def centres(self) -> FloatArray:
        """Middles."""

    @property
    def normals(self) -> FloatArray:
        """Normals in the middles."""

    @property
    def areas_mm2(self) -> FloatArray:
        """Areas."""

    @property
    def widths_mm(self) -> FloatArray:
        """Longest diagonals."""

    @property
    def surface_index(self) -> IndexArray:
        """Number of the smooth surface."""

    @property
    def curved(self) -> BoolArray:
        """Whether that is round."""

    @property
    def tile_index(self) -> IndexArray:
        """Number of the piece."""

    @property
    def low_st(self) -> FloatArray:
        """Least s and t on the piece."""

    @property
    def size_st(self) -> FloatArray:
        """How far it reaches along both."""

    @property
    def leg(self) -> IndexArray:
        """Number of the leg of the cavity."""

    @property
    def pieces(self) -> Pieces:
        """The pieces of the surface."""


def patch_arrays(mesh: MeshLike) -> PatchArrays:
    """Bring a mesh in the kernel's order."""
    keep = Arrays()
    given = Patches(
        len(mesh.areas_mm2),
        *(keep.doubles(one) for one in (mesh.corners, mesh.centres, mesh.normals, mesh.areas_mm2, mesh.widths_mm)),
        keep.integers(mesh.surface_index),
        keep.flags(mesh.curved),
        keep.integers(mesh.tile_index),
        *(keep.doubles(one) for one in (mesh.low_st, mesh.size_st)),
        keep.integers(mesh.pieces.kinds),
        keep.doubles(mesh.pieces.numbers),
        given_mitres(mesh.pieces.legs, keep),
        _seen(mesh, mesh.pieces.legs, keep),
    )
    return PatchArrays(given, len(mesh.areas_mm2), keep)


def _seen(mesh: MeshLike, legs: Legs | None, keep: Arrays) -> Seen:
    """The patches as they are seen past mitres; nothing for a cavity without."""
    if legs is None:
        return Seen()
    a, b, c, d = mesh.corners.transpose(1, 2, 0)
    sides = np.stack([(b - a + c - d) / 2.0, (d - a + c - b) / 2.0])  # (2, 3, n)
    normals, walls = legs.mitres[:, :3], legs.walls[:, :, :3]
    return Seen(
        len(mesh.areas_mm2),
        keep.integers(mesh.leg),
        keep.singles(normals @ mesh.centres.T - legs.mitres[:, 3, None]),
        keep.singles(normals @ sides),
        keep.singles(legs.walls[:, :, 3, None] - walls @ mesh.centres.T),
        keep.singles(-(walls @ sides[:, None])),
    )


def direct_flux(
    patches: PatchArrays, lamps: LampArrays, near_widths: float, divisions: int, pause: Pause = carry_on
) -> tuple[FloatArray, float]:
    """Flux of all emitters on every patch, (patches, k), each emitter's sum corrected to what it emits; and how far one was off.

    Patches within ``near_widths`` of their widths are divided, at most so many times, until their parts are small beside
    their distance.
    """
    totals: list[FloatArray] = []
    missed: list[float] = []

    def some(part: slice) -> None:
        total, own = np.zeros((patches.count, lamps.columns)), np.empty(patches.count)
        missed.append(
            kernel().direct_flux(
                ctypes.byref(patches.given),
                ctypes.byref(lamps.given),
                ctypes.c_int64(part.start),
                ctypes.c_int64(part.stop),
                ctypes.c_double(near_widths),
                ctypes.c_int64(divisions),
                own.ctypes.data_as(ctypes.c_void_p),
                total.ctypes.data_as(ctypes.c_void_p),
            )
        )
        totals.append(total)

    in_parts(some, lamps.count, patches.count, pause)
    return np.sum(totals, axis=0), max(missed, default=0.0)


Split = tuple[FloatArray, FloatArray]  # places and normals over every patch, (patches, points, 3)
_NO_SPLIT: Split = np.zeros((1, 0, 3)), np.zeros((1, 0, 3))


@dataclass(frozen=True)
class Near:
    """How near patches are taken: those nearer than ``widths`` of their widths as polygons.

    Those of the round piece on which the point itself lies as the points of the first of ``splits``, where they are within
    ``beside_widths``, or of the second; None where nothing is round.
    """

    widths: float
    beside_widths: float
    splits: tuple[Split, Split] | None


def form_factors(
    points: FloatArray,
    normals: FloatArray,
    surface: IndexArray,
    leg: IndexArray,
    patches: PatchArrays,
    middle: FloatArray,
    near: Near,
    pause: Pause = carry_on,
) -> NDArray[np.float32]:
    """Factors from points (n, 3), each on a surface and in a leg of that number, to all patches: (n, patches), rows summing to 1.

    ``middle`` is a place about which single precision does for the rest.
    """
    points, normals = np.ascontiguousarray(points, float), np.ascontiguousarray(normals, float)
    surface32, leg32 = (np.ascontiguousarray(one, np.int32) for one in (surface, leg))
    factors = np.empty((len(points), patches.count), np.float32)
    keep, about = Arrays(), np.ascontiguousarray(middle, float)
    beside, around = (
        Splits(
            places.shape[1], keep.singles((places - about).transpose(0, 2, 1)), keep.singles(facing.transpose(0, 2, 1))
        )
        for places, facing in near.splits or (_NO_SPLIT, _NO_SPLIT)
    )

    def some(part: slice) -> None:
        kernel().form_factors(
            ctypes.c_int64(part.stop - part.start),
            *(rows_from(values, part) for values in (points, normals, surface32, leg32)),
            ctypes.byref(patches.given),
            about.ctypes.data_as(ctypes.c_void_p),
            ctypes.c_double(near.widths),
            ctypes.c_double(near.beside_widths),
            ctypes.byref(beside),
            ctypes.byref(around),
            rows_from(factors, part),
        )

    in_parts(some, len(points), patches.count, pause)
    return factors
