"""Layout of the channel bar: straight bars end to end, or the sides of a mitred frame or path, each a channel lit by itself.

Round a mitre the light of the next side comes in. Each side is lit with the near ends of the sides beside it, as they stand, and
sees them through the openings of its mitres.
"""

import math
from dataclasses import dataclass, replace

import msgspec
import numpy as np

from gauze.core.design.cavity import ChannelShape, Leg, MitredChannelShape
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


def _cavity(build: ChannelBar, catalogue: Catalogue, shape: ChannelShape, strips: list[StripPiece]) -> CavityLayout:
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
            found.append(_cavity(build, catalogue, build.cavity(bar.length_mm), own))
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
        shape, near = _with_neighbours(build, side, (sides, own), index, before, after)
        key = (shape, *((*np.round((*piece.start_mm, *piece.along), 6).tolist(), piece.segments) for piece in near))
        if key not in cavities:
            cavities[key] = len(found)
            found.append(_cavity(build, catalogue, shape, near))
        clip_mm = _clip(build, side)
        instances.append(Instance(cavities[key], *side.start, side.angle_deg, clip_mm, side.name, _here(near)))
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
        raise DesignError(
            "build.corner_gap_mm", "The gaps at the corners leave no length for a side: make them smaller."
        )
    return _strips_in(build, catalogue, side.name, start, room, field, 1)


def _with_neighbours(
    build: ChannelBar,
    side: _Side,
    around: tuple[list[_Side], list[list[StripPiece]]],
    index: int,
    before: list[StripPiece] | None,
    after: list[StripPiece] | None,
) -> tuple[MitredChannelShape, list[StripPiece]]:
    """A side with the near ends of those beside it, as it lies along its own x, and all strips in these."""
    sides, own = around
    strips = list(own[index])
    first: Leg | None = None
    last: Leg | None = None
    if before is not None:
        length = sides[index - 1].length_mm
        first = _leg(build, side.turn_before_deg, length)
        strips += [
            turned_strip(one, 0.0, 0.0, -first.turn_deg) for one in _cut(before, -length, (-first.length_mm, 0.0))
        ]
    if after is not None:
        last = _leg(build, side.turn_after_deg, sides[(index + 1) % len(sides)].length_mm)
        some = _cut(after, 0.0, (0.0, last.length_mm))
        strips += [turned_strip(one, side.length_mm, 0.0, last.turn_deg) for one in some]
    straight = msgspec.structs.asdict(build.cavity(round(side.length_mm, 6)))
    return MitredChannelShape(**straight, before=first, after=last), strips


def _leg(build: ChannelBar, turn_deg: float, length_mm: float) -> Leg:
    """As much of the side beside as light is followed into, counted from where its mitre ends."""
    mitre = build.outer_width_mm / 2.0 * abs(math.tan(math.radians(turn_deg) / 2.0))
    reach = _ROUND_THE_CORNER * (build.width_mm + build.depth_mm) + mitre
    return Leg(turn_deg=round(turn_deg, 6), length_mm=round(min(reach, length_mm), 6))


def _cut(pieces: list[StripPiece], by_mm: float, between_mm: tuple[float, float]) -> list[StripPiece]:
    """What of pieces, moved along, lies between two places, in whole segments."""
    found = []
    for piece in (_along(one, by_mm) for one in pieces):
        segment = piece.strip.segment_mm
        skipped = max(math.ceil((between_mm[0] - piece.start_mm[0]) / segment - 1e-9), 0)
        last = min(math.floor((between_mm[1] - piece.start_mm[0]) / segment + 1e-9), piece.segments)
        if last > skipped:
            x, y, z = piece.start_mm
            start = (x + skipped * segment, y, z)
            first = piece.first_segment + skipped
            found.append(replace(piece, start_mm=start, segments=last - skipped, first_segment=first))
    return found


def _clip(build: ChannelBar, side: _Side) -> FloatArray:
    """The side itself, as wide as its profile, counter-clockwise: cut off at its mitres."""
    half = build.outer_width_mm / 2.0
    before, after = (math.tan(math.radians(turn) / 2.0) for turn in (side.turn_before_deg, side.turn_after_deg))
    end = side.length_mm
    return np.array(
        [[-half * before, -half], [end + half * after, -half], [end - half * after, half], [half * before, half]]
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
