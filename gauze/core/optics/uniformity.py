"""How even a face looks: measured as luminance meters measure it, at places set in from the rim, and the rim told apart.

Standards of flat panel measurement (VESA FPDM and its follower IDMS, sampled uniformity; from memory) read a face at five to
thirteen places, the outer ones a tenth of its size in from the rim, with a field of a degree or two, and state the least over
the most. Here every place that is as far from the rim is read, so that none is missed, and the field is never narrower than the
ripple of the emitters, which is judged by itself. What is left out along the rim is told as the width of the dim band there.
"""

from __future__ import annotations

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
    if view.along:
        view = _as_line(view)
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
    values, weight = view.luminance * view.inside, view.inside.astype(float)
    for axis, step_mm in enumerate(view.step_mm[::-1]):
        values, weight = (_running_sum(one, axis, width_mm / step_mm) for one in (values, weight))
    return np.asarray(values / np.maximum(weight, 1e-9))


def _running_sum(values: FloatArray, axis: int, width: float) -> FloatArray:
    """Sum over (not whole) ``width`` pixels about each, by the running total between their edges."""
    count = values.shape[axis]
    if count == 1 or width <= 1.0:
        return values
    total = np.concatenate([np.zeros_like(values.take([0], axis)), np.cumsum(values, axis=axis)], axis=axis)
    middle = np.arange(count) + 0.5

    def until(edge: FloatArray) -> FloatArray:
        whole = np.clip(np.floor(edge).astype(int), 0, count - 1)
        part = np.clip(edge, 0.0, float(count)) - whole
        shape = [1, 1]
        shape[axis] = count
        return np.asarray(total.take(whole, axis) + part.reshape(shape) * values.take(whole, axis))

    return until(middle + width / 2.0) - until(middle - width / 2.0)


def _dim_rim_mm(view: FaceView, depth_mm: FloatArray, limit: float) -> float:
    """Width of the band along the rim, on the side where it is widest, whose mean stays below ``limit``."""
    rows, columns = np.nonzero(view.inside)
    values, depth = view.luminance[rows, columns], depth_mm[rows, columns]
    sector = _sectors(view, rows, columns)
    step_mm = max(view.step_mm) if not view.along else view.step_mm[0]
    layer = (depth / step_mm).astype(int)
    widest = 0.0
    for one in range(_SECTORS):
        mine = sector == one
        if not mine.any():
            continue
        counts = np.bincount(layer[mine])
        there = np.flatnonzero(counts)
        means = np.bincount(layer[mine], values[mine])[there] / counts[there]
        bright = np.flatnonzero(means >= limit)
        if not len(bright):
            widest = max(widest, float(there[-1] + 1) * step_mm)
        elif bright[0] > 0:
            first = int(bright[0])
            share = (limit - means[first - 1]) / (means[first] - means[first - 1])
            low, high = there[first - 1] + 0.5, there[first] + 0.5
            widest = max(widest, float(low + share * (high - low)) * step_mm)
    return widest


def _sectors(view: FaceView, rows: IndexArray, columns: IndexArray) -> IndexArray:
    """Which of its sides each pixel belongs to: the four of its outline's rectangle, by its diagonals; of a line the two ends."""
    right = (columns - (columns.min() + columns.max()) / 2.0) / max(float(np.ptp(columns)), 1.0)
    if view.along:
        return np.asarray((right > 0).astype(int))
    up = (rows - (rows.min() + rows.max()) / 2.0) / max(float(np.ptp(rows)), 1.0)
    return np.asarray(np.where(np.abs(right) > np.abs(up), np.where(right > 0, 0, 1), np.where(up > 0, 2, 3)))
