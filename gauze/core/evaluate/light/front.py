"""What is seen from the front of several cavities: a map over the plan, from the faces of the units that stand in it."""

from __future__ import annotations

import functools
import math
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from gauze.core.errors import Pause
from gauze.core.layout import Instance, Layout
from gauze.core.layout.model import BoolArray, FloatArray, IndexArray
from gauze.core.layout.placing import turn_of, within
from gauze.core.optics.box_light import Map
from gauze.core.optics.cavity.face import CavityFace
from gauze.core.optics.cavity.lattice import lattice_of
from gauze.core.optics.kernel.parallel import THREADS

if TYPE_CHECKING:
    from scipy.spatial import cKDTree

_WORTH_THREADS = 20_000  # places sought, below which starting threads takes longer
LOOKS_OUT = 0.02  # cosine from which on a place of a face is seen from the front


def clip_of(instance: Instance) -> bytes | None:
    """What of a unit is seen, as a key; None for all of it."""
    return None if instance.clip_mm is None else instance.clip_mm.tobytes()


def front_axes(layout: Layout, faces: tuple[CavityFace, ...], most_pixels: int) -> tuple[FloatArray, FloatArray]:
    """Middles of the pixels over the plan, as fine as the faces are or as many as there may be."""
    left, low, width, height = layout.sketch.plan_mm
    step = max(min(face.chart.step_mm for face in faces), math.sqrt(width * height / most_pixels))
    columns, rows = max(2, math.ceil(width / step)), max(2, math.ceil(height / step))
    return left + (np.arange(columns) + 0.5) * width / columns, low + (np.arange(rows) + 0.5) * height / rows


class _Seen:
    """A unit's face from the front: the nearest place of it that looks out, for any place of its plan."""

    def __init__(self, face: CavityFace) -> None:
        looks_out = -face.chart.normals[:, 2] > LOOKS_OUT
        whole = bool(looks_out.all())
        front: IndexArray | slice = slice(None) if whole else np.flatnonzero(looks_out)
        self.places = face.chart.places_mm[front, :2]
        self.across_mm, self.up_mm = np.ascontiguousarray(self.places.T)
        self.reach_mm = face.chart.step_mm * 0.75  # half of a pixel across its corners, and a little
        self.colours = (face.basis_xyz.T @ face.luminance[front].T).astype(np.float32)
        lux = (face.direct[front] + face.bounced[front]) @ face.basis_xyz[:, 1] * 1e6
        self.lux = lux.astype(np.float32)
        self._lattice = lattice_of(face.chart) if whole else None

    def nearest_on(self, x_mm: FloatArray, y_mm: FloatArray) -> tuple[BoolArray, IndexArray] | None:
        """The same for all places of a grid, row by row; None where its pixels lie in no lattice."""
        return None if self._lattice is None else self._lattice.nearest_on(x_mm, y_mm, self.reach_mm)

    def nearest(self, points: FloatArray) -> tuple[BoolArray, IndexArray]:
        """Which points are on the face, and the nearest place of each."""
        if self._lattice is not None:
            return self._lattice.nearest(points, self.reach_mm)
        distance, index = self._tree.query(
            points, distance_upper_bound=self.reach_mm, workers=THREADS if len(points) > _WORTH_THREADS else 1
        )
        return np.isfinite(distance), np.asarray(index)

    @functools.cached_property
    def _tree(self) -> cKDTree:
        from scipy.spatial import cKDTree

        return cKDTree(self.places)


@dataclass(frozen=True)
class _Stand:
    """What the map shows of one instance: of its pixels those on the face, and the nearest place of the face for each."""

    mask: BoolArray
    nearest: IndexArray
    first_row: int
    first_column: int


def front_map(
    layout: Layout,
    faces: tuple[CavityFace, ...],
    axes: tuple[FloatArray, FloatArray],
    pause: Pause,
    *,
    in_motion: bool,
) -> tuple[Map, Map, BoolArray]:
    """Colour and illuminance of what is seen from the front, and where a face is.

    While a hand is at work, what looks alike and is turned alike is looked up once, and stands on whole pixels.
    """
    x_mm, y_mm = axes
    shape = (len(y_mm), len(x_mm))
    xyz, lux, inside = np.zeros((3, *shape), np.float32), np.zeros(shape, np.float32), np.zeros(shape, bool)
    seen = [_Seen(face) for face in faces]
    known: dict[object, tuple[Instance, _Stand]] = {}
    for instance in layout.instances:
        pause()
        one = seen[instance.cavity]
        geometry = id(layout.cavities[instance.cavity].shape), len(one.places), instance.turn_deg, clip_of(instance)
        if in_motion and geometry in known:
            stand = _moved(*known[geometry], instance, axes)
        else:
            stand = _stand(one, instance, axes)
            known[geometry] = instance, stand
        mask, nearest, rows, columns = _on_map(stand, shape)
        inside[rows, columns] |= mask
        for shown, colour in zip(xyz[:, rows, columns], one.colours, strict=True):
            shown[mask] = colour[nearest]
        lux[rows, columns][mask] = one.lux[nearest]
    return xyz, lux, inside


def _stand(one: _Seen, instance: Instance, axes: tuple[FloatArray, FloatArray]) -> _Stand:
    x_mm, y_mm = axes
    turn = turn_of(instance)[:2, :2]
    columns, rows = (
        slice(*np.searchsorted(middles_mm, [at_mm + place.min() - one.reach_mm, at_mm + place.max() + one.reach_mm]))
        for middles_mm, at_mm, place in (
            (x_mm, instance.x_mm, turn[0, 0] * one.across_mm + turn[0, 1] * one.up_mm),
            (y_mm, instance.y_mm, turn[1, 0] * one.across_mm + turn[1, 1] * one.up_mm),
        )
    )
    x, y = x_mm[columns] - instance.x_mm, y_mm[rows] - instance.y_mm
    upright = one.nearest_on(x, y) if instance.turn_deg == 0.0 and instance.clip_mm is None else None
    if upright is not None:
        hit, nearest = upright
    else:
        across, up = (grid.ravel() for grid in np.meshgrid(x, y))
        local = np.stack([turn[0, i] * across + turn[1, i] * up for i in range(2)]).T
        hit, nearest = one.nearest(local)
        if instance.clip_mm is not None:
            hit &= within(local, instance.clip_mm)
    return _Stand(hit.reshape(len(y), len(x)), nearest[hit], rows.start, columns.start)


def _moved(first: Instance, stand: _Stand, instance: Instance, axes: tuple[FloatArray, FloatArray]) -> _Stand:
    """The same a whole number of pixels away, as near as that comes."""
    x_mm, y_mm = axes
    right = round((instance.x_mm - first.x_mm) / float(x_mm[1] - x_mm[0]))
    up = round((instance.y_mm - first.y_mm) / float(y_mm[1] - y_mm[0]))
    return replace(stand, first_row=stand.first_row + up, first_column=stand.first_column + right)


def _on_map(stand: _Stand, shape: tuple[int, int]) -> tuple[BoolArray, IndexArray, slice, slice]:
    """Its mask, nearest places, rows and columns, as far as they lie on the map."""
    high, wide = stand.mask.shape
    rows = slice(max(stand.first_row, 0), min(stand.first_row + high, shape[0]))
    columns = slice(max(stand.first_column, 0), min(stand.first_column + wide, shape[1]))
    if rows.stop - rows.start == high and columns.stop - columns.start == wide:
        return stand.mask, stand.nearest, rows, columns
    kept = (
        slice(rows.start - stand.first_row, max(rows.stop - stand.first_row, 0)),
        slice(columns.start - stand.first_column, max(columns.stop - stand.first_column, 0)),
    )
    left = np.zeros(stand.mask.shape, bool)
    left[kept] = stand.mask[kept]
    return stand.mask[kept], stand.nearest[left[stand.mask]], rows, columns
