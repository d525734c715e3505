"""Pictures under a dragging hand: most of what it passes lies between two designs that are lit, and looks as if between them.

As for cavities (:mod:`gauze.core.evaluate.light.gliding`), what the hand reaches first is not lit itself, but a design some steps
ahead on the straight line on which all sizes move. What lies between that and the one before is laid out, and shown by a picture
that is mixed from theirs, pixel by pixel, as long as these two differ little: light that is displaced cannot be mixed.
"""

import dataclasses
from collections import deque
from collections.abc import Callable, Hashable, Sequence
from dataclasses import astuple, dataclass, field, replace
from typing import TypeVar

import msgspec
import numpy as np
from numpy.typing import NDArray

from gauze.core.design import Design
from gauze.core.errors import DesignError
from gauze.core.evaluate.evaluation import Detail, Evaluation
from gauze.core.evaluate.light.box import BoxFaceLight
from gauze.core.evaluate.light.cavity import CavityFaceLight
from gauze.core.evaluate.light.face_light import FaceLight
from gauze.core.evaluate.light.group import GroupFaceLight
from gauze.core.evaluate.light.sizes import sizes_in, with_sizes, without_sizes
from gauze.core.evaluate.shown import Shown
from gauze.core.layout import Layout
from gauze.core.layout.model import BoolArray, FloatArray
from gauze.core.optics.box_light import Map
from gauze.core.optics.evenness import Evenness

_MOST_APART, _LEAST_SIZE_MM = 0.05, 10.0  # of each size, by which two may differ between which pictures are mixed
_FASTEST = 4.0  # times as far apart they may be where the hand is fast: each is soon replaced
_STEPS_BETWEEN = 8.0  # of the hand, for which there is then to be room
_BOLDER = 1.2  # times as far as after a jump, with each picture
_SLOWS = 0.95  # of that room at least is left from one step to the next: a hand that turns is as fast again soon
# of the brightest place, by which a picture may leave the range that the other has nearby, each as bright on average
_MOST_UNLIKE = 0.08
_PIXELS, _PIXELS_OF_GROUP = 1, 2  # so far away that is
_COUNTING = 0.998  # of all pixels: the others may differ more
_LEAST_REACH = 0.15  # of the farthest apart: nearer than that lighting ahead spares little
_WORTH_AHEAD = 1.5  # times as far as the hand is: the same
# by which sizes, places, axes and strengths may lie beside the line; the first two by a share of its length as well: a hand that
# drags at an angle is rounded to tenths
_ASIDE, _ASIDE_MM, _OTHERWISE, _ASLANT = 1e-4, 0.08, 0.02, 0.12
_NO_FARTHER = 1.0 + 1e-6  # times the farthest that two may be apart
_MOST_EMITTERS, _MOST_LOOSE = 6_000, 200
_MOST_SEEN = 12

Number = TypeVar("Number", bound=np.generic)
Lit = tuple[Layout, FaceLight, Shown | None]
Light = Callable[[Design, Layout], Lit]


@dataclass(frozen=True)
class Picture:
    """What is seen of a design, as in :class:`gauze.core.evaluate.evaluation.Evaluation`, without all that is known of it."""

    x_mm: FloatArray
    y_mm: FloatArray
    xyz: Map
    inside: BoolArray
    evenness: Evenness
    size_mm: tuple[float, float]


def picture_in(evaluation: Evaluation) -> Picture:
    """What is seen of an evaluated design."""
    light = evaluation.light
    return Picture(light.x_mm, light.y_mm, evaluation.xyz, light.inside, light.evenness, light.size_mm)


def takes_picture(known: Evaluation, design: Design, layout: Layout) -> bool:
    """Whether a picture of a design may be put in place of that of another: they show the same kind of thing."""
    same = type(known.design.build) is type(design.build) and (known.shown is not None) == layout.shows_picture
    return same and is_fed_as(design, layout, known)


def with_picture(known: Evaluation, design: Design, layout: Layout, picture: Picture, detail: Detail) -> Evaluation:
    """Return what is known of one design with the picture of another in its place; its figures stay those of the first."""
    weight = picture.inside.astype(np.float32) / np.float32(max(picture.inside.sum(), 1))
    fields = {one.name: getattr(picture, one.name) for one in dataclasses.fields(picture)}
    light = _built_as(replace(known.light, weight=weight, **fields), layout)
    shown = None if known.shown is None else replace(known.shown, xyz=picture.xyz)
    return replace(known, design=design, detail=detail, layout=layout, light=light, shown=shown)


def is_fed_as(design: Design, laid: Layout, other: Evaluation) -> bool:
    """Whether a design has the pieces of another, as long as there, wired alike, and stands where that does."""
    if (design.wiring, design.surroundings) != (other.design.wiring, other.design.surroundings):
        return False
    return [(one.id, one.emitters) for one in laid.pieces] == [(one.id, one.emitters) for one in other.layout.pieces]


def _built_as(light: FaceLight, layout: Layout) -> FaceLight:
    """The light with the bodies of another layout about it."""
    if isinstance(light, CavityFaceLight | GroupFaceLight):
        return replace(light, built=layout)
    if isinstance(light, BoxFaceLight) and layout.rows_in_box is not None:
        return replace(light, layout=layout.rows_in_box)
    return light


@dataclass(frozen=True)
class _Seen:
    """A design as it was seen: its sizes, where everything is, and how emitters look and shine."""

    sizes: FloatArray
    places_mm: FloatArray
    shining: FloatArray
    lit: Lit

    def apart(self, sizes: FloatArray) -> float:
        """How far sizes are from its own."""
        return _apart(self.sizes, sizes)

    @property
    def light(self) -> FaceLight:
        """Its light."""
        return self.lit[1]


@dataclass
class _Path:
    """What has been seen of designs that differ in their sizes alone, and how far apart two of them may be to be mixed."""

    kind: Hashable
    seen: deque[_Seen] = field(default_factory=lambda: deque(maxlen=_MOST_SEEN))
    farthest: dict[bytes, float] = field(default_factory=dict)  # by which sizes change: as far as pictures are alike
    careful: float = 1.0  # share of it that is gone after a jump, until enough has been mixed again
    served: int = 1  # pictures mixed since one was lit ahead
    last: FloatArray | None = None
    wanted: float = 1.0

    def follow(self, sizes: FloatArray) -> None:
        """Go on to where the hand is now: the faster it is, the farther apart they may be."""
        if self.last is not None:
            room = max(_STEPS_BETWEEN * _apart(self.last, sizes), _SLOWS * self.wanted)
            self.wanted = min(max(room, 1.0), _FASTEST)
        self.last = sizes

    def holds(self, one: _Seen, other: _Seen, sizes: FloatArray) -> bool:
        """Whether sizes lie between two that are not too far apart."""
        near = one.apart(other.sizes) <= _NO_FARTHER * self._most(one.sizes, other.sizes)
        return near and _share_of(one, other, sizes) is not None

    def reach(self, one: FloatArray, other: FloatArray) -> float:
        """How far apart where the sizes change that differ between two."""
        return self._most(one, other) * self.careful

    def _most(self, one: FloatArray, other: FloatArray) -> float:
        return min(self.farthest.get(_changing(one, other), _FASTEST), self.wanted)

    def shorten(self, one: FloatArray, other: FloatArray, reach: float) -> None:
        """Let that be no more than ``reach`` from now on."""
        changing = _changing(one, other)
        self.farthest[changing] = min(self.farthest.get(changing, _FASTEST), reach)


def _apart(one: FloatArray, other: FloatArray) -> float:
    """How far sizes are from others, in the farthest that two may be apart while the hand is slow."""
    return float((np.abs(other - one) / np.maximum(np.abs(one), _LEAST_SIZE_MM)).max()) / _MOST_APART


def _changing(one: FloatArray, other: FloatArray) -> bytes:
    """Which sizes differ."""
    return bytes((one != other).tobytes())


_PATHS: deque[_Path] = deque(maxlen=1)  # one hand drags at a time


def forget_pictures() -> None:
    """Drop what is kept, as a benchmark wants it."""
    _PATHS.clear()


def picture_of(design: Design, layout: Layout, light: Light, lay: Callable[[Design], Layout | None]) -> Lit:
    """Return what is seen of a design for a hand in motion: mixed from two that are known, or its own ``light``.

    ``lay`` lays another design out as far as it can be shown with the same figures, or returns None.
    """
    if not _may_be_mixed(layout):
        return light(design, layout)
    path, sizes = _path_of(design)
    path.follow(sizes)
    mixed = _between(path, tuple(path.seen), sizes, layout)
    if mixed is not None:
        path.served += 1
        path.careful = min(path.careful * _BOLDER, 1.0)
        return mixed
    nearest = min(path.seen, key=lambda one: one.apart(sizes), default=None)
    if path.served == 0:  # it was lit for nothing: the hand went elsewhere
        path.careful /= 2.0
        path.served = 1
    if nearest is not None and _is_worth_it(path, nearest, sizes, layout):
        reach = path.reach(nearest.sizes, sizes)
        farther = nearest.sizes + (sizes - nearest.sizes) * (reach / nearest.apart(sizes))
        ahead = _lit_with(design, farther, light, lay)
        if ahead is not None:
            path.seen.append(ahead)
            mixed = _between(path, (nearest, ahead), sizes, layout)
            if mixed is not None:
                path.served = 0
                return mixed
        path.careful /= 2.0
    path.careful = min(path.careful * _BOLDER, 1.0)
    own = light(design, layout)
    path.seen.append(_Seen(sizes, *_stands(own[0]), own))
    return own


def keep_picture(design: Design, lit: Lit) -> None:
    """Let what was lit with figures of its own, in the middle of a drag, be one between which pictures are mixed."""
    if _may_be_mixed(lit[0]):
        path, sizes = _path_of(design)
        path.seen.append(_Seen(sizes, *_stands(lit[0]), lit))


def _path_of(design: Design) -> tuple[_Path, FloatArray]:
    """What has been seen of designs that differ from one in its sizes alone, and these.

    Wired otherwise, or elsewhere, all LEDs of a design may be as much brighter or dimmer.
    """
    fed = design.wiring, design.surroundings, design.measured_row_current_a
    kind = without_sizes(design.build), design.own_diffusers, design.own_lamps, fed
    if not _PATHS or _PATHS[0].kind != kind:
        _PATHS.append(_Path(kind))
    return _PATHS[0], np.array(list(sizes_in(design.build)))


def _is_worth_it(path: _Path, nearest: _Seen, sizes: FloatArray, layout: Layout) -> bool:
    """Whether lighting a design ahead spares anything: nothing where the hand is fast, or where units are moved that stay lit."""
    apart, reach = nearest.apart(sizes), path.reach(nearest.sizes, sizes)
    if reach < _LEAST_REACH or not 0.0 < apart * _WORTH_AHEAD < reach:
        return False
    before = nearest.lit[0].cavities
    return len(before) != len(layout.cavities) or any(
        one.shape != other.shape or not np.array_equal(one.places_mm, other.places_mm)
        for one, other in zip(before, layout.cavities, strict=True)
    )


def _may_be_mixed(layout: Layout) -> bool:
    if layout.rows_in_box is not None or layout.shows_picture or len(layout.emitter_numbers) > _MOST_LOOSE:
        return False
    return sum(one.emitter_count for one in layout.cavities) <= _MOST_EMITTERS


def _lit_with(design: Design, sizes: FloatArray, light: Light, lay: Callable[[Design], Layout | None]) -> _Seen | None:
    """A design lit with other sizes; None where there is none such."""
    try:
        other = msgspec.structs.replace(design, build=with_sizes(design.build, iter(sizes.tolist())))
        layout = lay(other)
    except DesignError:
        return None
    if layout is None:
        return None
    lit = light(other, layout)
    return _Seen(sizes, *_stands(lit[0]), lit)


def _stands(layout: Layout) -> tuple[FloatArray, FloatArray]:
    """Where all emitters and units are, in mm; how emitters look and shine, and units are turned."""
    places: list[FloatArray] = []
    shining: list[FloatArray] = []
    for cavity in layout.cavities:
        places.append(cavity.places_mm.ravel())
        brightest = max(float(cavity.flux_lm.max(initial=0.0)), 1e-30)
        shining += [cavity.axes.ravel(), cavity.flux_lm / brightest]
    places.append(np.array([(one.x_mm, one.y_mm) for one in layout.instances]).ravel())
    shining.append(np.radians([one.turn_deg for one in layout.instances]))
    return np.concatenate(places), np.concatenate(shining)


def _between(path: _Path, seen: Sequence[_Seen], sizes: FloatArray, layout: Layout) -> Lit | None:
    """What is mixed from the two nearest to each other that have sizes between them; None where no two have, or differ much."""
    found = []
    for index, one in enumerate(seen):
        for other in seen[index + 1 :]:
            share = _share_of(one, other, sizes) if path.holds(one, other, sizes) else None
            if share is not None:
                found.append((one.apart(other.sizes), index, one, other, share))
    stands = _stands(layout) if found else None
    for apart, _, one, other, share in sorted(found, key=lambda pair: pair[:2]):
        assert stands is not None
        if not _lies_between(one, other, share, stands):
            continue
        unlike = _unlike(one.light, other.light)
        if unlike <= _MOST_UNLIKE:
            return _mixed(one, other, share, layout)
        path.shorten(one.sizes, other.sizes, apart * _MOST_UNLIKE / unlike)
    return None


def _share_of(one: _Seen, other: _Seen, sizes: FloatArray) -> float | None:
    """How far on the way from one to the other sizes are; None where they are beside it."""
    way, away = other.sizes - one.sizes, sizes - one.sizes
    squared = float(way @ way)
    share = float(away @ way) / squared if squared > 0.0 else 0.0
    beside = _ASIDE * np.maximum(np.abs(sizes), 1.0) + _ASLANT * float(np.abs(way).max()) * (way != 0.0)
    aside = np.abs(away - share * way) > beside
    return None if not 0.0 <= share <= 1.0 or aside.any() else share


def _lies_between(one: _Seen, other: _Seen, share: float, stands: tuple[FloatArray, FloatArray]) -> bool:
    """Whether everything is as far on the way as the sizes are: what is rounded, or counted, jumps."""
    places_mm, shining = stands
    alike = one.places_mm.shape == other.places_mm.shape == places_mm.shape
    if not alike or not one.shining.shape == other.shining.shape == shining.shape:
        return False
    way_mm, way = other.places_mm - one.places_mm, other.shining - one.shining
    beside_mm = max(_ASIDE_MM, _ASLANT * float(np.abs(way_mm).max(initial=0.0)))
    on_line = np.abs(places_mm - one.places_mm - share * way_mm).max(initial=0.0) <= beside_mm
    shines = np.abs(shining - one.shining - share * way).max(initial=0.0) <= _OTHERWISE
    return bool(on_line and shines) and type(one.light) is type(other.light)


def _unlike(one: FaceLight, other: FaceLight) -> float:
    """By how much a picture leaves the range of the other nearby, of the brightest place, both as bright on average.

    What is displaced by a pixel may be mixed, and by two where units stand on whole pixels; what is displaced farther would be
    seen twice. A few pixels do not count: at the rims of units single ones show what is beside.
    """
    from scipy.ndimage import maximum_filter, minimum_filter

    shape = one.inside.shape
    both = one.inside & _on_grid(other.inside, shape)
    near = 1 + 2 * (_PIXELS_OF_GROUP if isinstance(one, GroupFaceLight) else _PIXELS)
    first, second = (_on_grid(light.xyz[1], shape) / max(light.evenness.mean_cd_m2, 1e-30) for light in (one, other))
    beyond = [
        np.maximum(mine - maximum_filter(its, near), minimum_filter(its, near) - mine)[both]
        for mine, its in ((first, second), (second, first))
    ]
    most = max(float(np.quantile(by, _COUNTING)) for by in beyond) if both.any() else 0.0
    return max(most, 0.0) / max(float(first.max()), 1e-30)


def _on_grid(values: NDArray[Number], shape: tuple[int, ...]) -> NDArray[Number]:
    """The values of a map on one of another number of rows and columns, each from where it lies in the whole."""
    if values.shape[-2:] == shape[-2:]:
        return values
    rows, columns = (
        np.floor((np.arange(count) + 0.5) * known / count).astype(int)
        for count, known in zip(shape[-2:], values.shape[-2:], strict=True)
    )
    return values[..., rows[:, None], columns]


def _mixed(one: _Seen, other: _Seen, share: float, layout: Layout) -> Lit:
    """A light with the picture between two, on the grid of the nearer, of which is the rest that no picture shows."""
    start, end = one.light, other.light
    near = end if share > 0.5 else start
    both = _on_grid(start.inside & _on_grid(end.inside, start.inside.shape), near.inside.shape)
    first, second = (_on_grid(light.xyz, near.inside.shape) for light in (start, end))

    def mix(before: FloatArray, after: FloatArray) -> FloatArray:
        return np.asarray((1.0 - share) * before + share * after)

    evenness = Evenness(*mix(np.array(astuple(start.evenness)), np.array(astuple(end.evenness))).tolist())
    wide, high = mix(np.array(start.size_mm), np.array(end.size_mm)).tolist()
    light = replace(
        near,
        x_mm=_axis(start.x_mm, end.x_mm, share, len(near.x_mm)),
        y_mm=_axis(start.y_mm, end.y_mm, share, len(near.y_mm)),
        xyz=np.where(both, first + np.float32(share) * (second - first), near.xyz),
        evenness=evenness,
        size_mm=(wide, high),
    )
    return layout, _built_as(light, layout), None


def _axis(start_mm: FloatArray, end_mm: FloatArray, share: float, count: int) -> FloatArray:
    """The middles of so many pixels between those of two axes."""
    steps = [float(axis_mm[1] - axis_mm[0]) for axis_mm in (start_mm, end_mm)]
    edges = [
        np.array([axis_mm[0] - step / 2.0, axis_mm[-1] + step / 2.0])
        for axis_mm, step in zip((start_mm, end_mm), steps, strict=True)
    ]
    low, high = (1.0 - share) * edges[0] + share * edges[1]
    return np.asarray(low + (np.arange(count) + 0.5) * (high - low) / count)
