"""Pieces of strip, and modules, in space: cut at their marks, with every emitter in its place."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.design.build import ModuleChoice
from gauze.core.design.cavity import CavityShape
from gauze.core.design.strip_panel import StripChoice
from gauze.core.errors import DesignError
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.model import Channel, FloatArray, IndexArray
from gauze.core.layout.sketch import Outline
from gauze.core.materials import Catalogue, Module, Strip
from gauze.core.materials.distribution import cosine_power
from gauze.core.materials.strip import StripChannel
from gauze.core.words import Length

MOST_EMITTERS = 100_000
_SLACK = 1e-6  # of a segment: rounding of typed inches must not lose one
_TOUCHING_MM = 0.05  # how far an emitter may lie in a surface: rounding

Vector = tuple[float, float, float]


@dataclass(frozen=True)
class StripPiece:
    """One piece of strip laid in a line: from ``start_mm`` (on the emitting faces) along ``along``, looking to ``facing``.

    ``id`` names it as long as no edit concerns it. ``start_gap_mm`` and ``end_gap_mm`` are what the cut marks leave of the room
    that it was given. ``zone`` is a number of what switches together; ``lit`` is False where that is off. ``first_segment`` is
    the number of its first segment, more than 0 for a part of a longer piece.
    """

    id: str
    strip: Strip
    choice: StripChoice
    start_mm: Vector
    along: Vector
    facing: Vector
    segments: int
    start_gap_mm: float = 0.0
    end_gap_mm: float = 0.0
    zone: int = 1
    lit: bool = True
    first_segment: int = 0

    @property
    def length_mm(self) -> float:
        """Length of the piece."""
        return self.segments * self.strip.segment_mm

    @property
    def emitters(self) -> int:
        """Number of LED packages."""
        return self.segments * self.strip.emitters_per_segment

    @property
    def end_mm(self) -> Vector:
        """Where it ends."""
        return moved(self.start_mm, self.along, self.length_mm)

    def along_mm(self) -> FloatArray:
        """Places of the packages along the piece."""
        return self.strip.pitch_mm * (np.arange(self.emitters) + 0.5)

    def segment_of(self) -> IndexArray:
        """Number of the segment of every package, the first of the piece as it is here being 0."""
        return np.arange(self.emitters) // self.strip.emitters_per_segment


@dataclass(frozen=True)
class ModulePiece:
    """One module, its middle at ``place_mm`` on the emitting faces; its columns run along ``along``, it looks to ``facing``.

    Its pixels or chips are its segments, row by row from below.
    """

    id: str
    module: Module
    choice: ModuleChoice
    place_mm: Vector
    along: Vector = (1.0, 0.0, 0.0)
    facing: Vector = (0.0, 0.0, 1.0)

    @property
    def emitters(self) -> int:
        """Number of LED packages."""
        return self.module.emitters


Piece = StripPiece | ModulePiece


def segments_in(strip: Strip, room_mm: float) -> int:
    """Return how many whole segments fit in a length."""
    return max(math.floor(room_mm / strip.segment_mm + _SLACK), 0)


def laid_strip(
    catalogue: Catalogue,
    choice: StripChoice,
    start_mm: Vector,
    along: Vector,
    facing: Vector,
    room_mm: float,
    field: str,
    *,
    id: str,  # noqa: A002 - as the field is called
    zone: int = 1,
    lit: bool = True,
) -> StripPiece:
    """Lay as many whole segments as fit in a room, in its middle.

    ``start_mm`` lies on the surface that carries the strip; the emitting faces are as far above it as the strip is high.

    Raises
    ------
    DesignError
        At ``field``, when not one segment fits.
    """
    strip = catalogue.strip(choice.strip)
    segments = segments_in(strip, room_mm)
    if segments < 1:
        raise DesignError(
            field,
            "There are {room} for a piece of strip, less than one segment of “{name}” ({segment}). "
            "Make it longer, or take a strip with shorter segments.",
            room=Length(max(room_mm, 0.0)),
            name=strip.name,
            segment=Length(strip.segment_mm),
        )
    left_mm = room_mm - segments * strip.segment_mm
    before_mm = left_mm / 2.0
    first = moved(moved(start_mm, along, before_mm), facing, strip.emitter_height_mm)
    return StripPiece(id, strip, choice, first, along, facing, segments, before_mm, left_mm - before_mm, zone, lit)


def moved(place: Vector, direction: Vector, by_mm: float) -> Vector:
    """Return a place so far away along a direction of length 1."""
    return (place[0] + direction[0] * by_mm, place[1] + direction[1] * by_mm, place[2] + direction[2] * by_mm)


@dataclass(frozen=True)
class Source:
    """Emitters of one channel: places and axes (n, 3), the flux of each (n,), their half angle.

    ``piece`` (n,) says on which of the cavity's pieces each lies, ``segment`` (n,) on which segment of it.
    """

    channel: Channel
    places_mm: FloatArray
    axes: FloatArray
    flux_lm: FloatArray
    half_angle_deg: float
    piece: IndexArray
    segment: IndexArray


def strip_channel(strip: Strip, choice: StripChoice, strip_index: int, channel_index: int) -> Channel:
    """Return a channel of a strip at its level."""
    return channel_of(
        strip.channel[channel_index],
        strip_index,
        channel_index,
        choice.levels_for(strip)[channel_index],
        choice.cct_k,
    )


def channel_of(
    source: StripChannel, strip_index: int, channel_index: int, level: float, chosen_cct_k: float | None
) -> Channel:
    """Return a channel of the catalogue with its level and the white that was chosen for it."""
    return Channel(
        name=source.name,
        strip_index=strip_index,
        channel_index=channel_index,
        level=level,
        cct_k=source.cct_k or (chosen_cct_k if source.peak_nm is None else None),
        peak_nm=source.peak_nm,
        width_nm=source.width_nm,
    )


def sources_of(pieces: Sequence[StripPiece], choices: Sequence[StripChoice]) -> list[Source]:
    """Return the emitters of pieces of strip, channel by channel; what was chosen for each is among ``choices``."""
    sources: list[Source] = []
    for strip_index, choice in enumerate(choices):
        own = [index for index, piece in enumerate(pieces) if piece.choice == choice]
        if not own:
            continue
        strip = pieces[own[0]].strip
        each = len(strip.channel) if strip.interleaved else 1  # places are those of all channels, or of each in turn
        stands = [_stands(pieces, own, first, each) for first in range(each)]
        sources += [
            _source(pieces, own, stands[index % each], strip_channel(strip, choice, strip_index, index), index)
            for index in range(len(strip.channel))
        ]
    return sources


@dataclass(frozen=True)
class _Stands:
    """Where emitters stand: places and axes (n, 3), 1 where they are lit, the piece and the segment of each."""

    places_mm: FloatArray
    axes: FloatArray
    lit: FloatArray
    piece: IndexArray
    segment: IndexArray


def _stands(pieces: Sequence[StripPiece], own: Sequence[int], first: int, step: int) -> _Stands:
    places, axes, lit, piece_index, segments = [], [], [], [], []
    for index in own:
        piece = pieces[index]
        along = piece.along_mm()[first::step]
        places.append(np.array(piece.start_mm) + along[:, None] * np.array(piece.along))
        axes.append(np.tile(piece.facing, (len(along), 1)))
        lit.append(np.full(len(along), float(piece.lit)))
        piece_index.append(np.full(len(along), index))
        segments.append(piece.segment_of()[first::step])
    return _Stands(*(np.concatenate(one) for one in (places, axes, lit, piece_index, segments)))


def _source(
    pieces: Sequence[StripPiece], own: Sequence[int], stands: _Stands, channel: Channel, channel_index: int
) -> Source:
    strip = pieces[own[0]].strip
    total_m = sum(pieces[index].length_mm for index in own) / 1000.0
    flux_lm = channel.level * strip.channel[channel_index].flux_lm_per_m * total_m / max(len(stands.places_mm), 1)
    return Source(
        channel,
        stands.places_mm,
        stands.axes,
        flux_lm * stands.lit,
        strip.half_angle_deg,
        stands.piece,
        stands.segment,
    )


def filled(
    shape: CavityShape,
    cavity: Cavity | BaffledBox,
    sources: Iterable[Source],
    emitter_size_mm: float,
    field: str,
    spacings_mm: tuple[float, float] | None = None,
) -> CavityLayout:
    """Put sources into a cavity; ``spacings_mm`` as in :class:`CavityLayout`.

    Raises
    ------
    DesignError
        At ``field``, when an emitter lies outside of the cavity, or there are too many.
    """
    found = list(sources)
    places = np.concatenate([source.places_mm for source in found])
    if len(places) > MOST_EMITTERS:
        raise DesignError(
            field,
            "That is more than {most_emitters} LEDs: make it smaller, or take a sparser strip.",
            most_emitters=MOST_EMITTERS,
        )
    clearance = cavity.clearance_mm(places)
    if clearance.min() < -_TOUCHING_MM:
        raise DesignError(
            field,
            "The LEDs reach {beyond} beyond the inner faces: there is no room for them. Make the body "
            "larger, or take a smaller strip.",
            beyond=Length(float(-clearance.min())),
        )
    axes = np.concatenate([source.axes for source in found])
    return CavityLayout(
        shape=shape,
        surface=cavity,
        places_mm=places,
        axes=axes / np.linalg.norm(axes, axis=1, keepdims=True),
        power=np.concatenate([np.full(len(s.flux_lm), cosine_power(s.half_angle_deg)) for s in found]),
        flux_lm=np.concatenate([source.flux_lm for source in found]),
        cct_k=np.concatenate([np.full(len(s.flux_lm), s.channel.cct_k or 0.0) for s in found]),
        cie_xy=np.zeros((len(places), 2)),
        distribution=np.full(len(places), -1),
        emitter_size_mm=emitter_size_mm,
        level=1.0,
        channels=tuple(source.channel for source in found),
        channel=np.concatenate([np.full(len(s.flux_lm), index) for index, s in enumerate(found)]),
        spacings_mm=spacings_mm,
        piece=np.concatenate([source.piece for source in found]),
        segment=np.concatenate([source.segment for source in found]),
    )


def strip_in_plan(piece: StripPiece) -> FloatArray:
    """Outline of a strip from the front, as wide as it appears when it leans; shape (4, 2)."""
    half = piece.strip.width_mm / 2.0 * max(abs(piece.facing[2]), 0.05)
    start, along = np.array(piece.start_mm[:2]), np.array(piece.along[:2])
    across = np.array([-along[1], along[0]]) / max(float(np.hypot(*along)), 1e-9) * half
    end = start + along * piece.length_mm
    return np.array([start - across, end - across, end + across, start + across])


def strip_outline(piece: StripPiece) -> Outline:
    """Return a strip from the front, with the marks at which it may be cut."""
    corners = strip_in_plan(piece)
    share = np.arange(1, piece.segments) / piece.segments
    if not len(share):
        return Outline("strip", corners)
    low, high = (
        start + share[:, None] * (end - start) for start, end in ((corners[0], corners[1]), (corners[3], corners[2]))
    )
    return Outline("strip", corners, marks_mm=np.stack([low, high], axis=1))


def turned_strip(piece: StripPiece, x_mm: float, y_mm: float, turn_deg: float) -> StripPiece:
    """Return a piece of a frame that stands at a place of the plan, turned about its origin."""
    cosine, sine = math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))

    def turned(vector: Vector) -> Vector:
        return (vector[0] * cosine - vector[1] * sine, vector[0] * sine + vector[1] * cosine, vector[2])

    x, y, z = turned(piece.start_mm)
    return replace(piece, start_mm=(x + x_mm, y + y_mm, z), along=turned(piece.along), facing=turned(piece.facing))


def pitches_of(strip: Strip) -> tuple[float, float]:
    """Closest and widest distance at which a strip may show its LEDs: of one colour where the colours take turns."""
    return strip.pitch_mm, strip.pitch_mm * (len(strip.channel) if strip.interleaved else 1)


def emitter_size_mm(strips: Iterable[Strip]) -> float:
    """Side of a square as large as the largest emitting face of some strips."""
    return max(math.sqrt(strip.package_mm[0] * strip.package_mm[1]) for strip in strips)
