"""Choices of the channel bar: strip in a profile with a lens, as straight bars, a closed frame, or along a mitred path."""

import math
from typing import Annotated, Literal

import msgspec

from gauze.core.design.build import Coordinate, Depth, FamilyBuild, Share, Size, check_common, check_sheet_wanted
from gauze.core.design.cavity import ChannelShape, SizedSection, check_cavity
from gauze.core.design.limits import check_limits
from gauze.core.design.numbering import check_numbers
from gauze.core.errors import DesignError
from gauze.core.materials import Catalogue, Strip
from gauze.core.materials.profile import Section
from gauze.core.words import Fixed, Length

MOST_BARS = 64
MOST_CORNERS = 48
_LEAST_TURN_DEG, _MOST_TURN_DEG = 0.5, 165.0


class Bar(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """One straight bar: its inner length, the gap to the next, and the zone that it switches with."""

    length_mm: Size
    gap_after_mm: Share = 0.0
    zone: Annotated[int, msgspec.Meta(ge=1, le=32)] = 1


class Frame(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """A closed regular frame: its size is that of a side, or across the flats, of its outer or inner edge."""

    sides: Annotated[int, msgspec.Meta(ge=3, le=12)]
    size_mm: Size
    sized_by: Literal["side", "across_flats"] = "side"
    edge: Literal["outer", "inner"] = "outer"


class ChannelBar(SizedSection, FamilyBuild, frozen=True, kw_only=True, tag="channel_bar"):
    """A channel, inner sizes in mm; ``depth_mm`` is from the bed to the lens.

    ``bars`` lie end to end; with a ``frame`` or a path of ``corners_mm`` (open, or ``closed``) there are none. ``side_by_side``
    strips lie in the bed. In frames and paths they stop ``corner_gap_mm`` before each corner. ``dark_zones`` are switched off.
    ``numbers`` are those by which bars, or the corners of a path, are known, where they are not 1, 2, 3 and so on.
    """

    section: Section = "rectangle"
    width_mm: Size
    depth_mm: Depth
    bed_mm: Share = 0.0
    lens_rise_mm: Share = 0.0
    wall_mm: Annotated[float, msgspec.Meta(ge=0, le=100)] = 1.2
    side_by_side: Annotated[int, msgspec.Meta(ge=1, le=6)] = 1
    bars: tuple[Bar, ...] = ()
    frame: Frame | None = None
    corners_mm: tuple[tuple[Coordinate, Coordinate], ...] = ()
    closed: bool = False
    corner_gap_mm: Share = 0.0
    dark_zones: tuple[int, ...] = ()
    numbers: tuple[int, ...] = ()

    def cavity(self, length_mm: float) -> ChannelShape:
        """The shape of so much of it."""
        return ChannelShape(
            section=self.section,
            length_mm=length_mm,
            width_mm=self.width_mm,
            depth_mm=self.depth_mm,
            bed_mm=self.bed_mm if self.section == "v" else 0.0,
            lens_rise_mm=self.lens_rise_mm,
        )

    @property
    def outer_width_mm(self) -> float:
        """Width of the profile over all."""
        return self.width_mm + 2.0 * self.wall_mm


def check_channel_bar(build: ChannelBar, catalogue: Catalogue) -> None:
    """Check what can be judged without laying out; raises :class:`gauze.core.errors.DesignError`."""
    check_common(build, catalogue, lit_by="strip")
    check_sheet_wanted(build, wanted=True)
    check_cavity(build.cavity(4.0 * build.width_mm), "build")
    ways = (bool(build.bars), build.frame is not None, bool(build.corners_mm))
    if sum(ways) != 1:
        raise DesignError("build.bars", "Give straight bars, or a frame, or the corners of a path: one of the three.")
    _check_strips(build, catalogue.strip(build.strips[0].strip))
    if len(build.bars) > MOST_BARS:
        raise DesignError(
            "build.bars", "At most {most_bars} bars can be laid end to end: divide them.", most_bars=MOST_BARS
        )
    check_numbers(build.numbers, "build.numbers")
    for index, bar in enumerate(build.bars):
        check_limits(bar, f"build.bars[{index}]")
    if build.frame is not None:
        check_limits(build.frame, "build.frame")
        _check_frame(build, build.frame)
    if build.corners_mm:
        _check_path(build)


def bed_width_mm(build: ChannelBar) -> float:
    """Width of the flat on which strip can lie; of a round bottom what is left at a quarter of its height."""
    if build.section == "v":
        return build.bed_mm
    if build.section == "rectangle":
        return build.width_mm
    radius = build.width_mm / 2.0
    return 2.0 * math.sqrt(radius**2 - (0.75 * radius) ** 2)


def bed_height_mm(build: ChannelBar, strips_width_mm: float) -> float:
    """How far over the back flat strips lie: above a round bottom, where their edges touch it."""
    if build.section in ("v", "rectangle"):
        return 0.0
    radius = build.width_mm / 2.0
    return radius - math.sqrt(max(radius**2 - (strips_width_mm / 2.0) ** 2, 0.0))


def most_side_by_side(build: ChannelBar, strip: Strip) -> int:
    """How many of a strip fit in the bed."""
    return int(bed_width_mm(build) // strip.width_mm)


def _check_strips(build: ChannelBar, strip: Strip) -> None:
    most = most_side_by_side(build, strip)
    bed = bed_width_mm(build)
    if most < 1:
        raise DesignError(
            "build.width_mm",
            "“{name}” is {width} wide and the bed {bed}: it does not fit. Take a narrower strip or a wider profile.",
            name=strip.name,
            width=Length(strip.width_mm),
            bed=Length(bed),
        )
    if build.side_by_side > most:
        raise DesignError(
            "build.side_by_side",
            "{side_by_side} strips of {width} do not fit side by side in a bed of {bed}: at most {most}.",
            side_by_side=build.side_by_side,
            width=Length(strip.width_mm),
            bed=Length(bed),
            most=most,
        )
    if build.depth_mm <= strip.emitter_height_mm:
        raise DesignError(
            "build.depth_mm",
            "A depth of {depth} is less than the height of the LEDs ({emitter_height}): the lens would rest on them.",
            depth=Length(build.depth_mm),
            emitter_height=Length(strip.emitter_height_mm),
        )


def frame_apothem_mm(build: ChannelBar, frame: Frame) -> float:
    """Distance from the frame's middle to the middle line of its sides."""
    half_turn = math.pi / frame.sides
    edge = frame.size_mm / 2.0
    if frame.sized_by == "side":
        edge = frame.size_mm / (2.0 * math.tan(half_turn))
    half_width = build.outer_width_mm / 2.0
    return edge - half_width if frame.edge == "outer" else edge + half_width


def _check_frame(build: ChannelBar, frame: Frame) -> None:
    inner = frame_apothem_mm(build, frame) - build.outer_width_mm / 2.0
    if inner <= 0:
        half_turn = math.pi / frame.sides
        least = 2.0 * build.outer_width_mm * (math.tan(half_turn) if frame.sized_by == "side" else 1.0)
        raise DesignError(
            "build.frame.size_mm",
            "The mitres overlap: a profile of {outer_width} leaves no opening in a frame of {size}. "
            "Give more than {least}.",
            outer_width=Length(build.outer_width_mm),
            size=Length(frame.size_mm),
            least=Length(least),
        )


def path_of(build: ChannelBar) -> tuple[list[tuple[float, float]], bool]:
    """Corners of the middle line of a frame or path, and whether it is closed; none for straight bars."""
    if build.frame is None:
        return list(build.corners_mm), build.closed
    apothem, sides = frame_apothem_mm(build, build.frame), build.frame.sides
    radius = apothem / math.cos(math.pi / sides)
    angles = [-math.pi / 2 - math.pi / sides + 2.0 * math.pi * index / sides for index in range(sides)]
    return [(radius * math.cos(angle), radius * math.sin(angle)) for angle in angles], True


def turns_deg(points: list[tuple[float, float]], *, closed: bool) -> list[float]:
    """By how much the path turns at each corner, to the left positive; 0 at an open end."""
    count = len(points)
    found = []
    for index, (x, y) in enumerate(points):
        if not closed and index in (0, count - 1):
            found.append(0.0)
            continue
        (x0, y0), (x1, y1) = points[index - 1], points[(index + 1) % count]
        before, after = math.atan2(y - y0, x - x0), math.atan2(y1 - y, x1 - x)
        found.append(math.degrees((after - before + math.pi) % (2.0 * math.pi) - math.pi))
    return found


def _check_path(build: ChannelBar) -> None:
    points, closed = path_of(build)
    least = 3 if closed else 2
    if not least <= len(points) <= MOST_CORNERS:
        raise DesignError(
            "build.corners_mm",
            "A path has {least} to {most_corners} corners here; {points} are given.",
            least=least,
            most_corners=MOST_CORNERS,
            points=len(points),
        )
    turns = turns_deg(points, closed=closed)
    half = build.outer_width_mm / 2.0
    sides = len(points) if closed else len(points) - 1
    for index in range(sides):
        following = (index + 1) % len(points)
        side = math.dist(points[index], points[following])
        for corner in (index, following):
            if abs(turns[corner]) > _MOST_TURN_DEG:
                raise DesignError(
                    f"build.corners_mm[{corner}]",
                    "At corner {corner} the path turns back by {turn}°: no mitre can be cut there. Turn by"
                    " at most {most_turn}°.",
                    corner=corner + 1,
                    turn=Fixed(abs(turns[corner]), ".0f"),
                    most_turn=Fixed(_MOST_TURN_DEG, "g"),
                )
        lost = sum(half * abs(math.tan(math.radians(turns[corner]) / 2.0)) for corner in (index, following))
        if side <= lost or side < 1.0:
            raise DesignError(
                f"build.corners_mm[{following}]",
                "Between corners {index} and {following} the path is {side} long, and its two mitres take"
                " {lost}: they overlap. Move the corners apart.",
                index=index + 1,
                following=following + 1,
                side=Length(side),
                lost=Length(lost),
            )
