"""How even a face looks: measured as luminance meters measure it, at places set in from the rim, and the rim judged separately.

Standards of flat panel measurement (VESA FPDM and its follower IDMS, sampled uniformity; from memory) read a face at five to
thirteen places, the outer ones a tenth of its size in from the rim, with a field of a degree or two, and state the least over
the most. Here every place that is as far from the rim is read, so that none is missed, and the field is never narrower than the
ripple of the emitters, which is judged by itself. What is left out along the rim is reported as the width of the dim band there.
"""

from __future__ import annotations

import functools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gauze.core.design.cavity import Looks
from gauze.core.layout.model import BoolArray, FloatArray, IndexArray

INSET = 0.1  # of the face's shorter side, or of the length of a long one: so far from the rim the outer places lie
DIM = 0.7  # of the middle value inside: a rim below it is dim; common practice, no source
_FIELD_DEG = 1.0
_WIDEST_FIELD = 0.25  # of the shorter side, or of the length of a long face
_ACROSS = 0.5  # of a long face's width, about its middle, that is read
_SECTORS = 4
_ENOUGH_ALONG = 300  # pixels of a line that is measured, for the same reason
_ENOUGH_PIXELS = 2_500  # of a map that is measured; more are put together
_LEAST_IN_FIELD = 2.0  # pixels across a measuring place that are left
_MOSTLY = 0.5  # of a square of pixels: with more of it on the face it is


@dataclass(frozen=True)
class FaceView:
    """A face as it is measured: luminance (m, n) of pixels ``step_mm`` wide and high, and which of them are on it.

    ``looks`` says how it is looked at. What is long and narrow, its length along the columns, nobody judges across; a shell has
    no walls about it, and so no rim.
    """

    luminance: FloatArray
    inside: BoolArray
    step_mm: tuple[float, float]
    looks: Looks = "face"

    @property
    def along(self) -> bool:
        """Whether it is judged along its length only."""
        return self.looks == "length"

    @property
    def has_rim(self) -> bool:
        """Whether walls stand about it."""
        return self.looks != "shell"


@dataclass(frozen=True)
class Uniformity:
    """Sampled uniformity of the faces of a build; of several the worst.

    ``least_over_most`` is that of the measuring places, ``inset_mm`` and ``field_mm`` their distance from the rim and their
    width; ``rim_mm`` is how wide the dim band along the rim is, ``size_mm`` the side of which it takes its share;
    ``from_face_to_face`` is the least over the most of the faces' means, 1 for one.
    """

    least_over_most: float
    inset_mm: float
    field_mm: float
    rim_mm: float
    size_mm: float
    looks: Looks
    from_face_to_face: float = 1.0

    @property
    def rim_share(self) -> float:
        """Width of the dim band over the side of the face."""
        return self.rim_mm / self.size_mm


def field_mm(viewing_mm: float, widest_ripple_mm: float) -> float:
    """Width of a measuring place: one degree from where it is looked at, and no less than a ripple that is judged as such."""
    return max(viewing_mm * math.tan(math.radians(_FIELD_DEG)), widest_ripple_mm)


def uniformity_of(views: Sequence[FaceView], means: FloatArray, wanted_field_mm: float) -> Uniformity | None:
    """Measure every face; None for dark ones. ``means`` are the mean luminances of all faces of the build, shape (n,)."""
    found = [one for view in views if (one := _measured(view, wanted_field_mm)) is not None]
    if not found or not means.max() > 0.0:
        return None
    worst = min(found, key=lambda one: one.least_over_most)
    dimmest = max(found, key=lambda one: one.rim_share)
    return Uniformity(
        least_over_most=worst.least_over_most,
        inset_mm=worst.inset_mm,
        field_mm=worst.field_mm,
        rim_mm=dimmest.rim_mm,
        size_mm=dimmest.size_mm,
        looks=worst.looks,
        from_face_to_face=float(means.min() / means.max()),
    )


def _measured(view: FaceView, wanted_field_mm: float) -> Uniformity | None:
    view = _thinned(_as_line(view) if view.along else view, wanted_field_mm)
    depth_mm = _from_rim_mm(view)
    size_mm = float(view.inside.sum() * view.step_mm[0]) if view.along else 2.0 * float(depth_mm.max(initial=0.0))
    if size_mm <= 0.0:
        return None
    inset_mm = INSET * size_mm if view.has_rim else 0.0
    width_mm = min(wanted_field_mm, _WIDEST_FIELD * size_mm)
    smooth = _averaged(view, width_mm)
    places = smooth[view.inside & (depth_mm >= inset_mm)]
    most = float(places.max(initial=0.0))
    if most <= 0.0:
        return None
    rim_mm = _dim_rim_mm(view, depth_mm, DIM * float(np.median(places))) if view.has_rim else 0.0
    return Uniformity(float(places.min()) / most, inset_mm, width_mm, rim_mm, size_mm, view.looks)


def _as_line(view: FaceView) -> FaceView:
    """A long face as the line along its length: the mean over the middle of its width."""
    rows = np.flatnonzero(view.inside.any(axis=1))
    middle, half = (rows[0] + rows[-1]) / 2.0, _ACROSS / 2.0 * (rows[-1] - rows[0] + 1)
    read = view.inside & (np.abs(np.arange(len(view.inside)) - middle) <= max(half, 0.5))[:, None]
    counts = read.sum(axis=0)
    line = np.where(counts > 0, (view.luminance * read).sum(axis=0) / np.maximum(counts, 1), 0.0)
    return FaceView(line[None], (counts > 0)[None], view.step_mm, view.looks)


def _thinned(view: FaceView, wanted_field_mm: float) -> FaceView:
    """Put pixels together, means over squares of them, as far as the field is some of them wide."""
    rows, columns = view.inside.shape
    in_field = int(wanted_field_mm / max(view.step_mm) / _LEAST_IN_FIELD)
    most = columns // _ENOUGH_ALONG if view.along else math.isqrt(rows * columns // _ENOUGH_PIXELS)
    across = max(min(most, in_field), 1)
    down = 1 if view.along else across
    if across == 1:
        return view
    low, left = (rows % down) // 2, (columns % across) // 2  # what does not fill a square is left out, on both sides
    part = np.s_[low : low + rows // down * down, left : left + columns // across * across]

    def means(values: FloatArray) -> FloatArray:
        squares = values[part].reshape(rows // down, down, columns // across, across)
        return np.asarray(np.einsum("idja->ij", squares, dtype=float) / (down * across))

    step_mm = (view.step_mm[0] * across, view.step_mm[1] * down)
    if view.inside.all():
        luminance = means(view.luminance)
        return FaceView(luminance, np.ones(luminance.shape, bool), step_mm, view.looks)
    there = means(view.inside.astype(float))
    luminance = means(view.luminance * view.inside) / np.maximum(there, 1e-9)
    return FaceView(luminance, there > _MOSTLY, step_mm, view.looks)


def _from_rim_mm(view: FaceView) -> FloatArray:
    """How far every pixel's middle is from the rim; of a line from its ends."""
    rows, columns = view.inside.shape
    if view.along:
        there = np.flatnonzero(view.inside[0])
        place = np.arange(columns)
        ends = (place - there[0], there[-1] - place) if len(there) else (place - columns, place - columns)
        return np.asarray((np.minimum(*ends) + 0.5) * view.step_mm[0])[None]
    if view.inside.all():
        across, up = (
            (np.minimum(np.arange(count), np.arange(count)[::-1]) + 0.5) * step
            for count, step in zip((columns, rows), view.step_mm, strict=True)
        )
        return np.minimum(across[None, :], up[:, None])
    from scipy.ndimage import distance_transform_edt

    distance = distance_transform_edt(np.pad(view.inside, 1), sampling=view.step_mm[::-1])[1:-1, 1:-1]
    return np.asarray(distance - 0.5 * min(view.step_mm))


def _averaged(view: FaceView, width_mm: float) -> FloatArray:
    """Mean over a square of this width about every place, of what lies on the face."""
    rows, columns = view.inside.shape
    down, across = _window(rows, width_mm / view.step_mm[1]), _window(columns, width_mm / view.step_mm[0])
    values, weight = (down @ one @ across for one in (view.luminance * view.inside, view.inside.astype(float)))
    return np.asarray(values / np.maximum(weight, 1e-9))


@functools.lru_cache(maxsize=8)
def _window(count: int, width: float) -> FloatArray:
    """How much of each of so many pixels lies within (not whole) ``width`` pixels about each, shape (count, count)."""
    place = np.arange(count)
    half = max(width, 1.0) / 2.0
    overlap = np.minimum(place[:, None] + half, place[None, :] + 0.5) - np.maximum(place[:, None] - half, place - 0.5)
    return np.asarray(np.clip(overlap, 0.0, 1.0))


def _dim_rim_mm(view: FaceView, depth_mm: FloatArray, limit: float) -> float:
    """Width of the band along the rim, on the side where it is widest, whose mean stays below ``limit``."""
    step_mm = max(view.step_mm) if not view.along else view.step_mm[0]
    if view.inside.all():
        cell, counts = _whole_layers(*view.inside.shape, view.step_mm, view.looks)
        values = view.luminance.ravel()
    else:
        cell, counts = _layers(view.inside, depth_mm, step_mm, along=view.along)
        values = view.luminance[view.inside]
    sums = np.bincount(cell, values, counts.size).reshape(counts.shape)
    return max(
        _dim_until(np.flatnonzero(count), total[count > 0] / count[count > 0], limit) * step_mm
        for count, total in zip(counts, sums, strict=True)
    )


@functools.lru_cache(maxsize=8)
def _whole_layers(rows: int, columns: int, step_mm: tuple[float, float], looks: Looks) -> tuple[IndexArray, IndexArray]:
    """The layers of a face that fills its map; kept, as a hand that drags leaves them as they are."""
    whole = FaceView(np.zeros((rows, columns)), np.ones((rows, columns), bool), step_mm, looks)
    return _layers(whole.inside, _from_rim_mm(whole), step_mm[0] if whole.along else max(step_mm), along=whole.along)


def _layers(inside: BoolArray, depth_mm: FloatArray, step_mm: float, *, along: bool) -> tuple[IndexArray, IndexArray]:
    """For every pixel on the face the number of its side and layer from the rim, as one; how many each has, (sides, layers)."""
    rows, columns = np.nonzero(inside)
    layer = (depth_mm[rows, columns] / step_mm).astype(int)
    layers = int(layer.max()) + 1
    cell = _sectors(rows, columns, along=along) * layers + layer
    return cell, np.bincount(cell, minlength=_SECTORS * layers).reshape(_SECTORS, layers)


def _dim_until(there: IndexArray, means: FloatArray, limit: float) -> float:
    """How many layers from the rim inwards stay below a limit, to a part of one."""
    bright = np.flatnonzero(means >= limit)
    if not len(bright):
        return float(there[-1] + 1) if len(there) else 0.0
    first = int(bright[0])
    if first == 0:
        return 0.0
    share = (limit - means[first - 1]) / (means[first] - means[first - 1])
    low, high = there[first - 1] + 0.5, there[first] + 0.5
    return float(low + share * (high - low))


def _sectors(rows: IndexArray, columns: IndexArray, *, along: bool) -> IndexArray:
    """Which of its sides each pixel belongs to: the four of its outline's rectangle, by its diagonals; of a line the two ends."""
    right = (columns - (columns.min() + columns.max()) / 2.0) / max(float(np.ptp(columns)), 1.0)
    if along:
        return np.asarray((right > 0).astype(int))
    up = (rows - (rows.min() + rows.max()) / 2.0) / max(float(np.ptp(rows)), 1.0)
    return np.asarray(np.where(np.abs(right) > np.abs(up), np.where(right > 0, 0, 1), np.where(up > 0, 2, 3)))
