"""What a cavity's faces send out: to a target in front of them, and far away.

Every pixel of the chart, gathered to larger parts, sends out its even light by the cosine; what leaves in a lobe or straight on
keeps its direction: there every part takes the light of every emitter from where it comes. Many emitters are gathered by
neighbourhood first.
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.layout.cavity import Outlook
from gauze.core.layout.model import BoolArray, FloatArray, IndexArray
from gauze.core.optics.cavity.alike import alike
from gauze.core.optics.cavity.baffled import BaffledLight
from gauze.core.optics.cavity.distribution import measured_share
from gauze.core.optics.cavity.emitters import Emitters, per_lumen
from gauze.core.optics.cavity.face import TO_SI, CavityFace, Light
from gauze.core.optics.cavity.light import CavityLight
from gauze.core.optics.gaussian_sum import lobe_share_inside
from gauze.core.optics.kernel.outlook import lobes as in_lobes
from gauze.core.optics.kernel.outlook import sums_by_part
from gauze.core.optics.target import MAP_POINTS, TargetMap, TargetPlane

_FLAT_MM = 1e-6  # depth up to which a face is flat: rounding
_OUTLINE = 33  # places along each side of a piece that tell how far it reaches
_MOST_PARTS = 900  # of the faces
FEW_PARTS, FEW_GROUPS = 200, 24  # of faces and of emitters, while a hand drags
_MOST_GROUPS = 80  # of emitters
_HEAVY = 6.0  # times the mean direct flux of a part: such a part is divided
_MOST_DIVISIONS = 5
_GRAZING = 1e-9  # cosine below which a ray does not come nearer
_LEAST_MM = 1.0  # from a group of emitters to a part
_ON_IT_MM = 1e-6  # a part's distance from the piece that it lies on: rounding
_TRACE = 1e-9  # of the brightest part's direct light
_SHARPEST = 0.06  # in direction cosines: narrower light than the parts resolve is widened to it


@dataclass(frozen=True)
class Parts:
    """The faces in parts: places, outward normals, areas; even exitance and direct illuminance (lm/mm^2).

    ``most_groups`` is of how many groups of emitters the light comes that keeps its direction.
    """

    places_mm: FloatArray
    outward: FloatArray
    areas_mm2: FloatArray
    exitance: FloatArray
    direct: FloatArray
    most_groups: int


@dataclass(frozen=True)
class _Beams:
    """Light that keeps its direction: illuminance of each part by each group of emitters, and the way that it travels, (p, g)."""

    illuminance: FloatArray
    heading: FloatArray


def outlook_of(light: Light) -> Outlook:
    """Return from where and in which direction the faces look."""
    return light.box.outlook if isinstance(light, BaffledLight) else light.cavity.outlook


def target_map(face: CavityFace, plane: TargetPlane, points: int = MAP_POINTS) -> TargetMap:
    """Illuminance at even places over a plane in front of the faces, as :func:`gauze.core.optics.target.target_map`."""
    right_mm, up_mm, local, normal = plane.grid(points)
    frame = outlook_of(face.light)
    places = frame.place(local[:, 0], local[:, 1], local[:, 2])
    facing = frame.place(*(np.array([value]) for value in normal))[0] - np.array(frame.origin_mm)
    parts = parts_of(face) if points > 1 else parts_of(face, FEW_PARTS, None, FEW_GROUPS)
    lux = illuminance_at(face, parts, places, facing)
    return TargetMap(right_mm, up_mm, lux.reshape(points, points))


def illuminance_at(face: CavityFace, parts: Parts, places: FloatArray, facing: FloatArray) -> FloatArray:
    """Illuminance in lx at places (n, 3) in the cavity's frame, on a plane that looks to ``facing``."""
    heading, distance_mm = _ways(places[:, None], parts.places_mm[None])
    arriving = np.maximum(_along(heading, -facing), 0.0)
    luminance = _luminance(face, parts, heading)
    leaving = np.maximum(_along(heading, parts.outward), 0.0)
    if _lit_inside(face):
        leaving = leaving * _gets_out(face, parts, heading, distance_mm)
    return np.asarray((luminance * leaving * arriving / distance_mm**2 * parts.areas_mm2).sum(axis=1) * TO_SI)


def _ways(to: FloatArray, start: FloatArray, least_mm: float = 0.0) -> tuple[FloatArray, FloatArray]:
    """The ways from places to others, (..., 3), of length 1, and how long they are, ``least_mm`` or more; in single precision."""
    away = [(to[..., axis] - start[..., axis]).astype(np.float32) for axis in range(3)]
    distance = np.sqrt(away[0] ** 2 + away[1] ** 2 + away[2] ** 2)
    if least_mm > 0.0:
        distance = np.maximum(distance, np.float32(least_mm))
    heading = np.empty((*distance.shape, 3), np.float32)
    for axis, one in enumerate(away):
        np.divide(one, distance, out=heading[..., axis])
    return heading, distance


def _along(heading: FloatArray, axis: FloatArray) -> FloatArray:
    """Products of ways (..., 3) with axes (3,) or (k, 3), these being those of the last number but one."""
    x, y, z = (part.astype(np.float32) for part in np.moveaxis(axis, -1, 0))
    return np.asarray(heading[..., 0] * x + heading[..., 1] * y + heading[..., 2] * z)


def intensity_cd(face: CavityFace, gamma_deg: FloatArray, c_deg: FloatArray) -> FloatArray:
    """Luminous intensity far away, shape (len(c_deg), len(gamma_deg)); gamma from the outlook's axis, C 0 to its right."""
    gamma, plane = np.meshgrid(np.radians(gamma_deg), np.radians(c_deg))
    frame = outlook_of(face.light)
    local = np.stack([np.sin(gamma) * np.cos(plane), np.sin(gamma) * np.sin(plane), np.cos(gamma)], axis=-1).reshape(
        -1, 3
    )
    heading = frame.place(local[:, 0], local[:, 1], local[:, 2]) - np.array(frame.origin_mm)
    return intensity_towards(face, parts_of(face), heading).reshape(gamma.shape)


def intensity_towards(face: CavityFace, parts: Parts, heading: FloatArray) -> FloatArray:
    """Luminous intensity in cd far away in directions (n, 3) of the cavity's frame."""
    towards = np.broadcast_to(heading[:, None, :], (len(heading), len(parts.areas_mm2), 3))
    leaving = np.maximum(heading @ parts.outward.T, 0.0)
    if _lit_inside(face):
        leaving = leaving * _gets_out(face, parts, towards, np.full(leaving.shape, np.inf))
    return np.asarray((_luminance(face, parts, towards) * leaving * parts.areas_mm2).sum(axis=1))


def _lit_inside(face: CavityFace) -> bool:
    """Whether what is looked at are walls of the cavity, which may stand in each other's way."""
    return isinstance(face.light, CavityLight) and face.light.cavity.lit_from_inside


def _gets_out(face: CavityFace, parts: Parts, heading: FloatArray, distance_mm: FloatArray) -> FloatArray:
    """1 where light of a part passes an opening before it meets another wall, or is where it goes before either; (n, parts).

    The cavity is convex: a ray meets first the piece whose plane it meets first.
    """
    assert isinstance(face.light, CavityLight)
    nearest = np.full(heading.shape[:2], np.inf)
    open_ahead = np.zeros(heading.shape[:2], bool)
    for tile in face.light.cavity.tiles:
        middle = np.array([0.5])
        normal = tile.normals(middle, middle)[0]
        rate = -(heading @ normal)  # by which the ray comes nearer to the piece's plane
        above = tile.clearance_mm(parts.places_mm)[None, :]
        with np.errstate(divide="ignore", invalid="ignore"):
            reach = np.where((rate > _GRAZING) & (above > _ON_IT_MM), above / rate, np.inf)
        first = reach < nearest
        nearest = np.where(first, reach, nearest)
        open_ahead = np.where(first, tile.role == "opening", open_ahead)
    return np.asarray((open_ahead | (distance_mm < nearest)).astype(float))


def opening_mm(light: Light) -> tuple[float, float, float]:
    """Width, height and depth of the lit faces as seen along the outlook's axis."""
    if isinstance(light, BaffledLight):
        return light.box.width_mm, light.box.height_mm, 0.0
    frame = light.cavity.outlook
    axes = np.array([frame.right, frame.up, np.cross(frame.right, frame.up)])
    s, t = (grid.ravel() for grid in np.meshgrid(*2 * [np.linspace(0.0, 1.0, _OUTLINE)]))
    places = np.concatenate([tile.points(s, t) for tile in light.cavity.lids])
    width, height, depth = np.ptp(places @ axes.T, axis=0)
    return float(width), float(height), float(depth) if depth > _FLAT_MM else 0.0


def parts_of(
    face: CavityFace, most: int = _MOST_PARTS, seen: BoolArray | None = None, groups: int = _MOST_GROUPS
) -> Parts:
    """Gather the pixels of the faces into about ``most`` parts; ``seen`` says which pixels count, None that all do.

    ``groups`` are into how many the emitters are gathered.
    """
    chart = face.chart
    some = np.flatnonzero(seen) if seen is not None else slice(None)
    direct, bounced = (light[some] @ face.basis_xyz[:, 1] for light in (face.direct, face.bounced))
    weight = chart.areas_mm2[some]
    which = _divided(face, some, direct * weight, most)
    areas = np.asarray(np.bincount(which, weight), float)

    def mean(values: FloatArray) -> FloatArray:
        return np.asarray(sums_by_part(which, weight, values, len(areas)) / areas[:, None])

    places, outward = mean(chart.places_mm[some]), mean(chart.normals[some])
    if not _lit_inside(face):
        outward = -outward
    even = face.diffuser.transmittance * bounced + face.diffuser.diffuse * direct
    exitance, arriving = mean(np.stack([even, direct], axis=1)).T
    return Parts(places, outward / np.linalg.norm(outward, axis=1, keepdims=True), areas, exitance, arriving, groups)


def _divided(face: CavityFace, some: IndexArray | slice, flux: FloatArray, most: int) -> IndexArray:
    """Number the part of every pixel: squares of one width, divided where much direct ``flux`` falls that keeps its direction.

    Near an emitter that direction turns within a short way.
    """
    chart = face.chart

    def of_pixels(columns: IndexArray, rows: IndexArray) -> IndexArray:
        """Numbers of the pixels from those of the chart's columns and of its rows, added."""
        return np.asarray((rows[:, None] + columns)[chart.inside][some])

    widest = max(math.sqrt(len(flux) / most), 1.0) * chart.step_mm
    column, row = (_lines(place, widest) for place in (chart.u_mm, chart.v_mm))
    column, row = column - column.min(), row - row.min()
    high, wide = int(row.max()) + 1, int(column.max()) + 1
    square = of_pixels(column * high, row)
    which = _compressed(chart.lid[some] * (wide * high) + square if chart.lid.any() else square)
    if face.diffuser.regular <= 0 and not face.diffuser.lobes:
        return which
    width = widest
    of_width = np.ones(len(flux), bool)  # what may still be divided, each part of it as wide as ``width``
    for _ in range(_MOST_DIVISIONS):
        of_width &= (np.bincount(which, flux) > _HEAVY * flux.sum() / most)[which]
        width /= 2.0
        if 2.0 * width <= 1.5 * chart.step_mm or not of_width.any():
            break
        quarter = of_pixels(2 * (_lines(chart.u_mm, width) & 1), _lines(chart.v_mm, width) & 1)
        which = _compressed(4 * which + np.where(of_width, quarter, 0))
    return which


def _lines(place_mm: FloatArray, width_mm: float) -> IndexArray:
    return np.asarray(np.floor(place_mm / width_mm), int)


def _compressed(numbers: IndexArray) -> IndexArray:
    """The same with no number left out; none is far beyond how many there are."""
    there = np.bincount(numbers) > 0
    return np.asarray((np.cumsum(there) - 1)[numbers])


def _luminance(face: CavityFace, parts: Parts, heading: FloatArray) -> FloatArray:
    """Luminance of every part towards places or directions, lm/(mm^2 sr); ``heading`` (n, parts, 3), the result (n, parts)."""
    total: FloatArray = np.broadcast_to(parts.exitance / math.pi, heading.shape[:2]).copy()
    sheet = face.diffuser
    lobes = [(lobe.transmittance, max(lobe.sigma, _SHARPEST)) for lobe in sheet.lobes]
    if sheet.regular > 0:
        lobes.append((sheet.regular, _SHARPEST))
    if not lobes:
        return total
    beams = _beams(face, parts)
    upright = _along(beams.heading, parts.outward[:, None])
    sine = np.sqrt(np.maximum(1.0 - upright**2, 0.0))
    for transmittance, sigma in lobes:
        strength = beams.illuminance * transmittance / (2.0 * math.pi * sigma**2) / lobe_share_inside(sine, sigma)
        total += in_lobes(heading, parts.outward, beams.heading, upright, strength, sigma)
    return total


def _beams(face: CavityFace, parts: Parts) -> _Beams:
    if isinstance(face.light, BaffledLight):
        return _beams_of_nearest(face, parts)
    emitters = _grouped(face.light.emitters, face.basis_xyz[:, 1], parts.most_groups)
    heading, distance_mm = _ways(parts.places_mm[:, None], emitters.places_mm[None], _LEAST_MM)
    squared = distance_mm**2
    leaving, arriving = (
        np.maximum(_along(heading, axes) * distance_mm, 0.0) for axes in (emitters.axes, parts.outward[:, None])
    )
    share = per_lumen(leaving, arriving, squared, emitters.power[None, :])
    for table, mine in emitters.measured():
        away = heading[:, mine] * distance_mm[:, mine, None]
        share[:, mine] = measured_share(table, emitters.axes[mine], away, arriving[:, mine], squared[:, mine])
    return _Beams(_as_bright_as(share * emitters.flux_lm[:, 0], emitters, parts, heading), heading)


def _as_bright_as(estimate: FloatArray, emitters: Emitters, parts: Parts, heading: FloatArray) -> FloatArray:
    """Give every part the direct light that its pixels have, divided among the groups as in the estimate at its middle.

    A beam may be narrower than a part and miss its middle: such light is taken as that of the group that looks there most nearly.
    """
    total = estimate.sum(axis=1)
    known = total > _TRACE * float(total.max(initial=0.0))
    shares = estimate / np.where(known, total, 1.0)[:, None]
    missed = np.flatnonzero(~known)
    if len(missed):
        looks = _along(heading[missed], emitters.axes) * (emitters.flux_lm[:, 0] > 0)
        shares[missed] = 0.0
        shares[missed, looks.argmax(axis=1)] = 1.0
    return np.asarray(shares * parts.direct[:, None])


def _beams_of_nearest(face: CavityFace, parts: Parts) -> _Beams:
    """In a baffled box: all direct light of a part as coming from the emitter nearest to it, which is that of its cell."""
    from scipy.spatial import cKDTree

    _, nearest = cKDTree(face.light.emitters.places_mm[:, :2]).query(parts.places_mm[:, :2])
    away = parts.places_mm - face.light.emitters.places_mm[nearest]
    return _Beams(parts.direct[:, None], (away / np.linalg.norm(away, axis=1, keepdims=True))[:, None, :])


def _grouped(emitters: Emitters, luminous: FloatArray, most: int) -> Emitters:
    """Gather emitters that are neighbours and look the same way, at their mean place; one column, their luminous flux."""
    flux: FloatArray = emitters.flux_lm @ luminous
    if emitters.count <= most:
        return replace(emitters, flux_lm=flux[:, None])
    size = np.ptp(emitters.places_mm, axis=0)
    width = float(np.sqrt(np.prod(np.sort(size)[1:]) / most)) or float(size.max()) / most
    table = emitters.table if emitters.tables else np.zeros(emitters.count, int)
    places = np.floor(emitters.places_mm / max(width, 1e-6))
    key = np.column_stack([places, np.round(emitters.axes * 2.0), np.round(emitters.power), table])
    group = alike(key)
    which, first = group.which, group.first
    weight = np.maximum(flux, 1e-12)
    total = np.bincount(which, weight)

    def mean(values: FloatArray) -> FloatArray:
        return np.asarray(np.bincount(which, values * weight) / total)

    turned = np.stack([mean(axis) for axis in emitters.axes.T], axis=1)
    return Emitters(
        np.stack([mean(axis) for axis in emitters.places_mm.T], axis=1),
        turned / np.linalg.norm(turned, axis=1, keepdims=True),
        mean(emitters.power),
        np.asarray(np.bincount(which, flux), float)[:, None],
        table[first],
        emitters.tables,
    )
