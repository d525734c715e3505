"""Layout of the channel bar: straight bars end to end, or the sides of a mitred frame or path, each a channel lit by itself.

Round a mitre the light of the next side comes in. Each side is lit with its neighbours straightened out: as far as they are seen
round the corner they go on in a line, and what lies beyond the mitre is not seen.
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.design.channel_bar import (
    ChannelBar,
    bed_height_mm,
    path_of,
    turns_deg,
)
from gauze.core.design.numbering import numbers_of
from gauze.core.errors import DesignError
from gauze.core.layout.built import Instance, Layout
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.families.channel_sketch import channel_sketch
from gauze.core.layout.inner import inner_faces
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import (
    StripPiece,
    emitter_size_mm,
    filled,
    laid_strip,
    pitches_of,
    sources_of,
    turned_strip,
)
from gauze.core.layout.shapes import surface_of
from gauze.core.materials import Catalogue

_ROUND_THE_CORNER = 3.0  # of width and depth together: as far as a neighbour's light is followed


@dataclass(frozen=True)
class Corner:
    """A mitre: where, how sharp, and how far the last LEDs of its two sides are from each other along the strip."""

    x_mm: float
    y_mm: float
    turn_deg: float
    between_leds_mm: float
    pitch_mm: float


@dataclass(frozen=True, kw_only=True)
class ChannelLayout(Layout):
    """A channel bar in place, with its corners."""

    corners: tuple[Corner, ...] = ()


def lay_out_channel_bar(build: ChannelBar, catalogue: Catalogue) -> ChannelLayout:
    """Lay out checked choices; raises :class:`gauze.core.errors.DesignError` where a piece of strip does not fit."""
    return _bars(build, catalogue) if build.bars else _mitred(build, catalogue)


def _lanes_mm(build: ChannelBar, catalogue: Catalogue) -> list[float]:
    """Places across of strips side by side."""
    width = catalogue.strip(build.strips[0].strip).width_mm
    return [(lane - (build.side_by_side - 1) / 2.0) * width for lane in range(build.side_by_side)]


def _strips_in(
    build: ChannelBar, catalogue: Catalogue, name: str, start_mm: float, room_mm: float, field: str, zone: int
) -> list[StripPiece]:
    """Strips side by side in a bar or side of some name, along its own x."""
    choice = build.strips[0]
    lanes = _lanes_mm(build, catalogue)
    height = bed_height_mm(build, len(lanes) * catalogue.strip(choice.strip).width_mm)
    return [
        laid_strip(
            catalogue,
            choice,
            (start_mm, lane_mm, height),
            (1.0, 0.0, 0.0),
            (0.0, 0.0, 1.0),
            room_mm,
            field,
            id=f"{name}/strip-{lane}",
            zone=zone,
            lit=zone not in build.dark_zones,
        )
        for lane, lane_mm in enumerate(lanes, start=1)
    ]


def _cavity(build: ChannelBar, catalogue: Catalogue, length_mm: float, strips: list[StripPiece]) -> CavityLayout:
    shape = build.cavity(length_mm)
    surface = surface_of(shape, inner_faces(build, catalogue))
    sources = sources_of(strips, build.strips)
    strip = strips[0].strip
    return filled(shape, surface, sources, emitter_size_mm([strip]), "build.width_mm", pitches_of(strip))


def _bars(build: ChannelBar, catalogue: Catalogue) -> ChannelLayout:
    cavities: dict[tuple[float, bool], int] = {}
    found: list[CavityLayout] = []
    instances, strips = [], []
    x_mm = 0.0
    for index, (number, bar) in enumerate(zip(numbers_of(build.numbers, len(build.bars)), build.bars, strict=True)):
        name = f"bar-{number}"
        key = (bar.length_mm, bar.zone not in build.dark_zones)
        own = _strips_in(build, catalogue, name, 0.0, bar.length_mm, f"build.bars[{index}].length_mm", bar.zone)
        if key not in cavities:
            cavities[key] = len(found)
            found.append(_cavity(build, catalogue, bar.length_mm, own))
        instances.append(Instance(cavities[key], x_mm, 0.0, id=name, pieces=_here(own)))
        strips += [_along(piece, x_mm) for piece in own]
        x_mm += bar.length_mm + bar.gap_after_mm
    last = build.bars[-1].gap_after_mm
    emitted = sum(found[instance.cavity].flux_lm.sum() for instance in instances)
    sketch = channel_sketch(build, catalogue, tuple(instances), tuple(found), tuple(strips), x_mm - last)
    return ChannelLayout(
        cavities=tuple(found),
        sketches=(sketch,),
        instances=tuple(instances),
        strips=tuple(strips),
        emitted_lm=float(emitted),
    )


def _here(strips: list[StripPiece]) -> tuple[tuple[str, int], ...]:
    return tuple((piece.id, piece.first_segment) for piece in strips)


def _along(piece: StripPiece, by_mm: float) -> StripPiece:
    x, y, z = piece.start_mm
    return replace(piece, start_mm=(x + by_mm, y, z))


@dataclass(frozen=True)
class _Side:
    """A side of a path: its name, where it starts, its direction, how long it is along its middle line, the turns at its ends."""

    name: str
    start: tuple[float, float]
    angle_deg: float
    length_mm: float
    turn_before_deg: float
    turn_after_deg: float


def _sides(build: ChannelBar) -> list[_Side]:
    points, closed = path_of(build)
    turns = turns_deg(points, closed=closed)
    count = len(points) if closed else len(points) - 1
    numbers = numbers_of(build.numbers, len(points))
    found = []
    for index in range(count):
        following = (index + 1) % len(points)
        (x0, y0), (x1, y1) = points[index], points[following]
        found.append(
            _Side(
                f"side-{numbers[index]}",
                (x0, y0),
                math.degrees(math.atan2(y1 - y0, x1 - x0)),
                math.hypot(x1 - x0, y1 - y0),
                turns[index],
                turns[following],
            )
        )
    return found


def _mitred(build: ChannelBar, catalogue: Catalogue) -> ChannelLayout:
    sides = _sides(build)
    closed = path_of(build)[1]
    own = [_own_strips(build, catalogue, index, side, len(sides), closed=closed) for index, side in enumerate(sides)]
    cavities: dict[tuple[object, ...], int] = {}
    found: list[CavityLayout] = []
    instances, strips = [], []
    for index, side in enumerate(sides):
        before = own[index - 1] if closed or index > 0 else None
        after = own[(index + 1) % len(sides)] if closed or index < len(sides) - 1 else None
        length, shifted, ahead = _with_neighbours(build, side, sides, index, own[index], before, after)
        key = (round(length, 6), *((*np.round(piece.start_mm, 6).tolist(), piece.segments) for piece in shifted))
        if key not in cavities:
            cavities[key] = len(found)
            found.append(_cavity(build, catalogue, length, shifted))
        along = math.radians(side.angle_deg)
        x_mm = side.start[0] - ahead * math.cos(along)
        y_mm = side.start[1] - ahead * math.sin(along)
        clip_mm = _clip(build, side, ahead)
        instances.append(Instance(cavities[key], x_mm, y_mm, side.angle_deg, clip_mm, side.name, _here(shifted)))
        strips += [turned_strip(piece, *side.start, side.angle_deg) for piece in own[index]]
    emitted = sum(
        piece.length_mm / 1000.0 * level * channel.flux_lm_per_m
        for piece in strips
        if piece.lit
        for level, channel in zip(piece.choice.levels_for(piece.strip), piece.strip.channel, strict=True)
    )
    sketch = channel_sketch(build, catalogue, tuple(instances), tuple(found), tuple(strips), 0.0)
    corners = tuple(_corners(sides, own, closed=closed))
    return ChannelLayout(
        cavities=tuple(found),
        sketches=(sketch,),
        instances=tuple(instances),
        strips=tuple(strips),
        emitted_lm=emitted,
        corners=corners,
    )


def _own_strips(
    build: ChannelBar, catalogue: Catalogue, index: int, side: _Side, count: int, *, closed: bool
) -> list[StripPiece]:
    """Strips of one side, along its own x from its start."""
    start = build.corner_gap_mm if closed or index > 0 else 0.0
    end = build.corner_gap_mm if closed or index < count - 1 else 0.0
    field = "build.frame.size_mm" if build.frame is not None else "build.corners_mm"
    room = side.length_mm - start - end
    if room <= 0:
        raise DesignError("build.corner_gap_mm", "The gaps at the corners leave nothing of a side: give less.")
    return _strips_in(build, catalogue, side.name, start, room, field, 1)


def _with_neighbours(
    build: ChannelBar,
    side: _Side,
    sides: list[_Side],
    index: int,
    own: list[StripPiece],
    before: list[StripPiece] | None,
    after: list[StripPiece] | None,
) -> tuple[float, list[StripPiece], float]:
    """Length of the straightened channel, all strips in it, and how far ahead of the side it begins."""
    reach = _ROUND_THE_CORNER * (build.width_mm + build.depth_mm)
    ahead = min(reach, sides[index - 1].length_mm) if before is not None else 0.0
    beyond = min(reach, sides[(index + 1) % len(sides)].length_mm) if after is not None else 0.0
    strips = [_along(piece, ahead) for piece in own]
    if before is not None:
        offset = ahead - sides[index - 1].length_mm
        strips += [cut for piece in before if (cut := _cut(_along(piece, offset), 0.0, ahead)) is not None]
    if after is not None:
        end = ahead + side.length_mm
        strips += [cut for piece in after if (cut := _cut(_along(piece, end), end, end + beyond)) is not None]
    return ahead + side.length_mm + beyond, strips, ahead


def _cut(piece: StripPiece, low_mm: float, high_mm: float) -> StripPiece | None:
    """What of a piece lies between two places, in whole segments; None for nothing."""
    segment = piece.strip.segment_mm
    skipped = max(math.ceil((low_mm - piece.start_mm[0]) / segment - 1e-9), 0)
    last = min(math.floor((high_mm - piece.start_mm[0]) / segment + 1e-9), piece.segments)
    if last <= skipped:
        return None
    x, y, z = piece.start_mm
    return replace(
        piece,
        start_mm=(x + skipped * segment, y, z),
        segments=last - skipped,
        first_segment=piece.first_segment + skipped,
    )


def _clip(build: ChannelBar, side: _Side, ahead: float) -> FloatArray:
    """What of the straightened channel is the side itself, as wide as its profile, counter-clockwise: cut off at its mitres."""
    half = build.outer_width_mm / 2.0
    before, after = (math.tan(math.radians(turn) / 2.0) for turn in (side.turn_before_deg, side.turn_after_deg))
    end = ahead + side.length_mm
    return np.array(
        [
            [ahead - half * before, -half],
            [end + half * after, -half],
            [end - half * after, half],
            [ahead + half * before, half],
        ]
    )


def _corners(sides: list[_Side], own: list[list[StripPiece]], *, closed: bool) -> list[Corner]:
    found = []
    for index, side in enumerate(sides):
        if not closed and index == 0:
            continue
        last, first = own[index - 1][0], own[index][0]
        half_pitch = last.strip.pitch_mm / 2.0
        left = sides[index - 1].length_mm - last.end_mm[0] + half_pitch
        found.append(
            Corner(
                side.start[0],
                side.start[1],
                side.turn_before_deg,
                left + first.start_mm[0] + half_pitch,
                last.strip.pitch_mm,
            )
        )
    return found
