"""A build of several cavities, each lit by itself: bars, tiles, shells."""

from __future__ import annotations

import functools
import math
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from gauze.core.errors import Pause
from gauze.core.evaluate.light.face_light import Detail, FaceLight, LitChannel, Output
from gauze.core.evaluate.light.one_cavity import channels_of, view_of
from gauze.core.evaluate.light.units import light_units
from gauze.core.layout import Instance, Layout
from gauze.core.layout.model import BoolArray, FloatArray, IndexArray
from gauze.core.layout.placing import turn_of, within
from gauze.core.materials import Catalogue, Layer, Stack
from gauze.core.optics.box_light import Map
from gauze.core.optics.cavity.face import CavityFace
from gauze.core.optics.cavity.hotspots import hotspots
from gauze.core.optics.cavity.lattice import lattice_of
from gauze.core.optics.cavity.outlook import FEW_GROUPS, FEW_PARTS, Parts, illuminance_at, intensity_towards, parts_of
from gauze.core.optics.evenness import Evenness
from gauze.core.optics.kernel.parallel import THREADS
from gauze.core.optics.target import TargetMap, TargetPlane
from gauze.core.optics.uniformity import FaceView
from gauze.core.optics.visibility import Modulation
from gauze.core.words import Text

if TYPE_CHECKING:
    from scipy.spatial import cKDTree

_MOST_PARTS = 900  # of all faces together, from which the target is lit
_LEAST_PARTS = 12  # of each
_WORTH_THREADS = 20_000  # places sought, below which starting threads takes longer
_LOOKS_OUT = 0.02  # cosine from which on a place of a face is seen from the front
_MOST_CHANNELS = 12


@dataclass(frozen=True, kw_only=True)
class GroupFaceLight(FaceLight):
    """The lit faces of several cavities; ``faces`` are those of the units, the map is what is seen from the front."""

    built: Layout
    faces: tuple[CavityFace, ...]
    parts: tuple[Parts, ...]
    lux: Map

    @property
    def diffuser(self) -> Stack:
        return self.faces[0].diffuser

    @functools.cached_property
    def output(self) -> Output:
        emitted, direct, lid, error = 0.0, 0.0, 0.0, 0.0
        shares: dict[object, tuple[float, float]] = {}
        for instance in self.built.instances:
            face, unit = self.faces[instance.cavity], _unit(instance)
            if unit not in shares:
                shares[unit] = _seen_share(face, instance)
            seen = shares[unit]
            emitted += face.emitted_lm
            direct += face.direct_lm * seen[0]
            lid += face.lid_flux_lm * seen[1]
            error = max(error, abs(face.balance_error))
        given = self.built.emitted_lm if self.built.emitted_lm is not None else emitted
        return Output(given, direct, lid, self.diffuser.transmittance * lid, error)

    @property
    def channels(self) -> tuple[LitChannel, ...]:
        found: dict[tuple[Text, Text], LitChannel] = {}
        counts = [
            sum(instance.cavity == index for instance in self.built.instances)
            for index in range(len(self.built.cavities))
        ]
        for cavity, count in zip(self.built.cavities, counts, strict=True):
            for one in channels_of(cavity):
                key = (one.name, one.words)
                flux_lm = count * one.flux_lm + (found[key].flux_lm if key in found else 0.0)
                found[key] = LitChannel(
                    one.name, one.level, flux_lm, one.xyz_per_lumen, one.cct_k, one.words, one.place_group
                )
        return tuple(found.values())[:_MOST_CHANNELS]

    @property
    def illuminance_lx(self) -> Map:
        return self.lux

    @property
    def reflectances(self) -> tuple[float, float, float]:
        inside = self.built.cavity.surface.reflectances
        return inside.back, inside.wall, inside.lid

    @functools.cached_property
    def map_error(self) -> float:
        return max((face.map_error for face in self.faces), key=abs)

    @property
    def unresolved(self) -> int:
        return sum(self.faces[instance.cavity].unresolved for instance in self.built.instances)

    @property
    def opening_mm(self) -> tuple[float, float, float]:
        rows, columns = np.nonzero(self.inside)
        step = float(self.x_mm[1] - self.x_mm[0])
        deep = max(float(np.ptp(face.chart.places_mm[:, 2])) for face in self.faces)
        return (
            float(np.ptp(self.x_mm[columns])) + step,
            float(np.ptp(self.y_mm[rows])) + step,
            deep if deep > step * 1e-3 else 0.0,
        )

    @property
    def views(self) -> tuple[FaceView, ...]:
        first: dict[int, Instance] = {}
        for instance in self.built.instances:
            first.setdefault(instance.cavity, instance)
        return tuple(
            view_of(self.faces[index], self.built.cavities[index], _clip(self.faces[index], instance))
            for index, instance in first.items()
        )

    @functools.cached_property
    def face_means(self) -> FloatArray:
        means = {}
        for view, index in zip(self.views, dict.fromkeys(one.cavity for one in self.built.instances), strict=True):
            means[index] = float(view.luminance[view.inside].mean())
        return np.array([means[instance.cavity] for instance in self.built.instances])

    def intensity_cd(self, gamma_deg: FloatArray, c_deg: FloatArray) -> FloatArray:
        gamma, plane = np.meshgrid(np.radians(gamma_deg), np.radians(c_deg))
        heading = np.stack(
            [np.sin(gamma) * np.cos(plane), np.sin(gamma) * np.sin(plane), np.cos(gamma)], axis=-1
        ).reshape(-1, 3)
        total = np.zeros(len(heading))
        for instance, parts in zip(self.built.instances, self.parts, strict=True):
            total += intensity_towards(self.faces[instance.cavity], parts, heading @ turn_of(instance))
        return total.reshape(gamma.shape)

    def target_map(self, plane: TargetPlane, points: int) -> TargetMap:
        return _target(self.built, self.faces, self.parts, plane, points)


def light_group(
    layout: Layout,
    layers: tuple[Layer, ...],
    catalogue: Catalogue,
    detail: Detail,
    pause: Pause,
    known: GroupFaceLight | None = None,
) -> GroupFaceLight:
    """Light a build of several cavities, and read what is seen from the front.

    Ripples, and the places from which the target is lit, are those of one nearly alike, if it is known.
    """
    faces = light_units(layout.cavities, layers, catalogue, detail, pause)
    x_mm, y_mm = _axes(layout, faces, detail.of_cavities.most_pixels)
    xyz, lux, inside = _front(layout, faces, (x_mm, y_mm), pause, in_motion=detail.in_motion)
    weight = inside.astype(np.float32) / np.float32(max(inside.sum(), 1))
    evenness = _pooled(layout, faces)
    pause()
    _, _, wide, high = layout.sketch.plan_mm
    return GroupFaceLight(
        x_mm=x_mm,
        y_mm=y_mm,
        xyz=xyz,
        inside=inside,
        weight=weight,
        evenness=evenness,
        ripples=tuple(_plainest(layout, faces, in_motion=detail.in_motion)) if known is None else known.ripples,
        size_mm=(wide, high),
        built=layout,
        faces=faces,
        parts=tuple(_parts(layout, faces, in_motion=detail.in_motion)) if known is None else known.parts,
        lux=lux,
    )


def _parts(layout: Layout, faces: tuple[CavityFace, ...], *, in_motion: bool) -> list[Parts]:
    """Of each instance the places of its face from which it lights what is in front."""
    whole, *groups = (FEW_PARTS, FEW_GROUPS) if in_motion else (_MOST_PARTS,)
    most = max(whole // len(layout.instances), _LEAST_PARTS)
    by_unit: dict[object, Parts] = {}
    found = []
    for instance in layout.instances:
        key = _unit(instance)
        if key not in by_unit:
            face = faces[instance.cavity]
            by_unit[key] = parts_of(face, most, _clip(face, instance), *groups)
        found.append(by_unit[key])
    return found


def _axes(layout: Layout, faces: tuple[CavityFace, ...], most_pixels: int) -> tuple[FloatArray, FloatArray]:
    """Middles of the pixels over the plan, as fine as the faces are or as many as there may be."""
    left, low, width, height = layout.sketch.plan_mm
    step = max(min(face.chart.step_mm for face in faces), math.sqrt(width * height / most_pixels))
    columns, rows = max(2, math.ceil(width / step)), max(2, math.ceil(height / step))
    return left + (np.arange(columns) + 0.5) * width / columns, low + (np.arange(rows) + 0.5) * height / rows


class _Seen:
    """A unit's face from the front: the nearest place of it that looks out, for any place of its plan."""

    def __init__(self, face: CavityFace) -> None:
        looks_out = -face.chart.normals[:, 2] > _LOOKS_OUT
        whole = bool(looks_out.all())
        front: IndexArray | slice = slice(None) if whole else np.flatnonzero(looks_out)
        self.places = face.chart.places_mm[front, :2]
        self.reach_mm = face.chart.step_mm * 0.75  # half of a pixel across its corners, and a little
        self.colours = (face.luminance[front] @ face.basis_xyz).astype(np.float32)
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


def _front(
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
        geometry = id(layout.cavities[instance.cavity].shape), len(one.places), instance.turn_deg, _unit(instance)[1]
        if in_motion and geometry in known:
            stand = _moved(*known[geometry], instance, axes)
        else:
            stand = _stand(one, instance, axes)
            known[geometry] = instance, stand
        mask, nearest, rows, columns = _on_map(stand, shape)
        inside[rows, columns] |= mask
        xyz[:, rows, columns][:, mask] = one.colours[nearest].T
        lux[rows, columns][mask] = one.lux[nearest]
    return xyz, lux, inside


def _stand(one: _Seen, instance: Instance, axes: tuple[FloatArray, FloatArray]) -> _Stand:
    x_mm, y_mm = axes
    turn = turn_of(instance)[:2, :2]
    corners = one.places @ turn.T + [instance.x_mm, instance.y_mm]
    low, high = corners.min(axis=0) - one.reach_mm, corners.max(axis=0) + one.reach_mm
    columns = slice(*np.searchsorted(x_mm, [low[0], high[0]]))
    rows = slice(*np.searchsorted(y_mm, [low[1], high[1]]))
    x, y = x_mm[columns] - instance.x_mm, y_mm[rows] - instance.y_mm
    upright = one.nearest_on(x, y) if instance.turn_deg == 0.0 and instance.clip_mm is None else None
    if upright is not None:
        hit, nearest = upright
    else:
        across, up = np.meshgrid(x, y)
        local = np.stack([across.ravel(), up.ravel()], axis=1) @ turn
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


def _pooled(layout: Layout, faces: tuple[CavityFace, ...]) -> Evenness:
    """Evenness by the faces themselves, as seen from the front: pixels of the map that lie across a rim do not count."""
    total, area, least, most = 0.0, 0.0, math.inf, 0.0
    known: dict[object, tuple[float, float, float, float]] = {}
    for instance in layout.instances:
        key = _unit(instance)
        if key not in known:
            known[key] = _figures_of(faces[instance.cavity], instance)
        own_total, own_area, own_least, own_most = known[key]
        total, area, least, most = total + own_total, area + own_area, min(least, own_least), max(most, own_most)
    mean = total / max(area, 1e-12)
    return Evenness(
        min_over_mean=least / mean if mean > 0 else 0.0,
        min_over_max=least / most if most > 0 else 0.0,
        mean_cd_m2=mean,
        min_cd_m2=least,
        max_cd_m2=most,
    )


def _figures_of(face: CavityFace, instance: Instance) -> tuple[float, float, float, float]:
    """Luminance times area, area as seen from the front, least and most luminance of what of a face is seen."""
    seen = -face.chart.normals[:, 2] > _LOOKS_OUT
    clip = _clip(face, instance)
    if clip is not None:
        seen &= clip
    luminance = (face.luminance[seen] @ face.basis_xyz)[:, 1]
    weight = face.chart.areas_mm2[seen] * -face.chart.normals[seen, 2]
    return float((luminance * weight).sum()), float(weight.sum()), float(luminance.min()), float(luminance.max())


def _unit(instance: Instance) -> tuple[int, bytes | None]:
    """What instances have in common that look the same: their cavity, and what of it is seen."""
    return instance.cavity, None if instance.clip_mm is None else instance.clip_mm.tobytes()


def _clip(face: CavityFace, instance: Instance) -> BoolArray | None:
    return None if instance.clip_mm is None else face.within(instance.clip_mm)


def _seen_share(face: CavityFace, instance: Instance) -> tuple[float, float]:
    """Shares of a face's direct and whole flux that its stand lets be seen."""
    clip = _clip(face, instance)
    if clip is None:
        return 1.0, 1.0
    shares = []
    for light in (face.direct, face.direct + face.bounced):
        flux = (light @ face.basis_xyz[:, 1]) * face.chart.areas_mm2
        shares.append(float(flux[clip].sum() / max(float(flux.sum()), 1e-30)))
    return shares[0], shares[1]


def _plainest(layout: Layout, faces: tuple[CavityFace, ...], *, in_motion: bool) -> list[Modulation]:
    """The ripples of the unit that has the strongest; while a hand is at work one of each geometry is looked at."""
    asked = {
        id(cavity.places_mm) if in_motion else number: number
        for number, cavity in reversed([*enumerate(layout.cavities)])
    }
    found = [
        hotspots(faces[number].xyz()[1].astype(float), faces[number], layout.cavities[number].spacings_mm)
        for number in asked.values()
    ]
    return max(found, key=lambda ripples: max((one.amplitude for one in ripples), default=0.0))


def _target(
    layout: Layout, faces: tuple[CavityFace, ...], parts: tuple[Parts, ...], plane: TargetPlane, points: int
) -> TargetMap:
    """Illuminance over the target, from all stands; straight in front is in front of the plan's middle."""
    left, low, width, height = layout.sketch.plan_mm
    front = max(float(face.chart.places_mm[:, 2].max()) for face in faces)
    right_mm, up_mm, local, facing = plane.grid(points)
    places = local + np.array([left + width / 2, low + height / 2, front])
    lux = np.zeros(len(places))
    alike: dict[object, list[int]] = {}
    for number, instance in enumerate(layout.instances):
        alike.setdefault((_unit(instance), instance.turn_deg), []).append(number)
    for numbers in alike.values():  # what stands alike is asked together, each from where it stands
        first = layout.instances[numbers[0]]
        turn = turn_of(first)
        stands = np.array([[layout.instances[number].x_mm, layout.instances[number].y_mm, 0.0] for number in numbers])
        seen_from = ((places[None] - stands[:, None]) @ turn).reshape(-1, 3)
        each = illuminance_at(faces[first.cavity], parts[numbers[0]], seen_from, facing @ turn)
        lux += each.reshape(len(numbers), -1).sum(axis=0)
    return TargetMap(right_mm, up_mm, lux.reshape(points, points))
