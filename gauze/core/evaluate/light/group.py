"""A build of several cavities, each lit by itself: bars, tiles, shells."""

import functools
import math
from dataclasses import dataclass

import numpy as np

from gauze.core.errors import Pause
from gauze.core.evaluate.light.face_light import Detail, FaceLight, LitChannel, Output
from gauze.core.evaluate.light.front import LOOKS_OUT, clip_of, front_axes, front_map
from gauze.core.evaluate.light.one_cavity import channels_of, view_of
from gauze.core.evaluate.light.units import light_units
from gauze.core.layout import Instance, Layout
from gauze.core.layout.model import BoolArray, FloatArray
from gauze.core.layout.placing import turn_of
from gauze.core.materials import Catalogue, Layer, Stack
from gauze.core.optics.box_light import Map
from gauze.core.optics.cavity.face import CavityFace
from gauze.core.optics.cavity.hotspots import hotspots
from gauze.core.optics.cavity.outlook import FEW_GROUPS, FEW_PARTS, Parts, illuminance_at, intensity_towards, parts_of
from gauze.core.optics.evenness import Evenness
from gauze.core.optics.kernel.parallel import both
from gauze.core.optics.target import TargetMap, TargetPlane
from gauze.core.optics.uniformity import FaceView
from gauze.core.optics.visibility import Modulation
from gauze.core.words import Text

_MOST_PARTS = 900  # of all faces together, from which the target is lit
_LEAST_PARTS = 12  # of each
_MOST_CHANNELS = 12


@dataclass(frozen=True, kw_only=True)
class GroupFaceLight(FaceLight):
    """The lit faces of several cavities; ``faces`` are those of the units, the map is what is seen from the front."""

    built: Layout
    faces: tuple[CavityFace, ...]
    parts: tuple[Parts, ...]
    lux: Map
    in_motion: bool

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

    def _ripples(self) -> tuple[Modulation, ...]:
        return tuple(_plainest(self.built, self.faces, in_motion=self.in_motion))


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
    x_mm, y_mm = front_axes(layout, faces, detail.of_cavities.most_pixels)
    axes, in_motion = (x_mm, y_mm), detail.in_motion

    def seen() -> tuple[Map, Map, BoolArray]:
        return front_map(layout, faces, axes, pause, in_motion=in_motion)

    if known is None:
        (xyz, lux, inside), parts = both(seen, lambda: tuple(_parts(layout, faces, in_motion=in_motion)))
    else:
        (xyz, lux, inside), parts = seen(), known.parts
    evenness = _pooled(layout, faces)
    weight = inside.astype(np.float32) / np.float32(max(inside.sum(), 1))
    pause()
    _, _, wide, high = layout.sketch.plan_mm
    return GroupFaceLight(
        x_mm=x_mm,
        y_mm=y_mm,
        xyz=xyz,
        inside=inside,
        weight=weight,
        evenness=evenness,
        known_ripples=None if known is None else known.ripples,
        size_mm=(wide, high),
        built=layout,
        faces=faces,
        parts=parts,
        lux=lux,
        in_motion=detail.in_motion,
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
    seen = -face.chart.normals[:, 2] > LOOKS_OUT
    clip = _clip(face, instance)
    if clip is not None:
        seen &= clip
    some: BoolArray | slice = slice(None) if seen.all() else seen
    luminance = face.luminance[some] @ face.basis_xyz[:, 1]
    weight = face.chart.areas_mm2[some] * -face.chart.normals[some, 2]
    return float((luminance * weight).sum()), float(weight.sum()), float(luminance.min()), float(luminance.max())


def _unit(instance: Instance) -> tuple[int, bytes | None]:
    """What instances have in common that look the same: their cavity, and what of it is seen."""
    return instance.cavity, clip_of(instance)


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
        hotspots(faces[number].luminance_map(), faces[number], layout.cavities[number].spacings_mm)
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
