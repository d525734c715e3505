"""Parts of the channel bar: profiles and lenses with their cuts, caps, strips; mitres where sides meet."""

import math
from dataclasses import dataclass

from gauze.core.design.channel_bar import ChannelBar, path_of, turns_deg
from gauze.core.layout.families.channel_bar import ChannelLayout
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Piece
from gauze.core.materials import Catalogue
from gauze.core.parts.bodies import FEED_HOLE_MM, Materials, materials_of, rectangle
from gauze.core.parts.joining import in_a_row
from gauze.core.parts.model import BodyPart, Hole, Joint, Parts, Placement


@dataclass(frozen=True)
class _Member:
    """One length of profile: along its middle line, with the turns at its ends (0 where it is cut square)."""

    id: str
    start_mm: tuple[float, float]
    angle_deg: float
    length_mm: float
    turn_before_deg: float = 0.0
    turn_after_deg: float = 0.0


def channel_bar_parts(build: ChannelBar, layout: ChannelLayout, catalogue: Catalogue) -> Parts:
    """State the parts of bars, a frame or a path; every lane of strip is fed in a row, from bar to bar or round the corners."""
    materials = materials_of(build.back, build.walls, build.layers, catalogue)
    members = _bars(build, layout) if build.bars else _sides(build, layout)
    closed = not build.bars and path_of(build)[1]
    body = [part for member in members for part in _lengths(build, member, materials)]
    body += _caps(build, members, closed=closed)
    joints = _mitres(members, closed=closed) if not build.bars else []
    feed = f"{members[0].id}/profile/feed" if closed else f"{members[0].id}/cap-start/feed"
    lanes: dict[str, list[Piece]] = {}
    for piece in layout.pieces:
        lanes.setdefault(piece.id.rpartition("/")[2], []).append(piece)
    for lane in lanes.values():
        joints += in_a_row(lane, feed)
    return Parts(layout.pieces, tuple(body), tuple(joints), layout.instances)


def _bars(build: ChannelBar, layout: ChannelLayout) -> list[_Member]:
    return [
        _Member(one.id, (one.x_mm, one.y_mm), 0.0, bar.length_mm)
        for one, bar in zip(layout.instances, build.bars, strict=True)
    ]


def _sides(build: ChannelBar, layout: ChannelLayout) -> list[_Member]:
    points, closed = path_of(build)
    turns = turns_deg(points, closed=closed)
    found = []
    for index, one in enumerate(layout.instances):
        (x0, y0), following = points[index], (index + 1) % len(points)
        x1, y1 = points[following]
        angle = math.degrees(math.atan2(y1 - y0, x1 - x0))
        found.append(_Member(one.id, (x0, y0), angle, math.hypot(x1 - x0, y1 - y0), turns[index], turns[following]))
    return found


def _lengths(build: ChannelBar, member: _Member, materials: Materials) -> list[BodyPart]:
    """Profile and lens of one member, both cut alike, each as long as its longest extent."""
    outer, inner = build.outer_width_mm, build.width_mm
    lean = [math.tan(math.radians(turn) / 2.0) for turn in (member.turn_before_deg, member.turn_after_deg)]
    angle = math.radians(member.angle_deg)
    along, across = (math.cos(angle), math.sin(angle), 0.0), (-math.sin(angle), math.cos(angle), 0.0)
    feed = (Hole("feed", "wire", 2.0 * FEED_HOLE_MM, 0.0, FEED_HOLE_MM),)
    has_feed = member.turn_before_deg != 0.0
    found = [
        BodyPart(
            id=f"{member.id}/profile",
            kind="profile",
            use="housing",
            name="Channel profile",
            length_mm=member.length_mm + outer / 2.0 * sum(abs(one) for one in lean),
            width_mm=outer,
            thickness_mm=build.depth_mm,
            material=materials.walls,
            start_cut_deg=member.turn_before_deg / 2.0,
            end_cut_deg=member.turn_after_deg / 2.0,
            placement=Placement((*member.start_mm, 0.0), along, across),
            holes=feed if has_feed and member.id.endswith("-1") else (),
        )
    ]
    for number, layer in enumerate(materials.layers, start=1):
        found.append(
            BodyPart(
                id=f"{member.id}/lens" if number == 1 else f"{member.id}/lens-{number}",
                kind="lens",
                use="diffuser",
                name=f"Lens, {layer.name}",
                length_mm=member.length_mm + inner / 2.0 * sum(abs(one) for one in lean),
                width_mm=inner,
                thickness_mm=layer.thickness_mm,
                material=layer.name,
                start_cut_deg=member.turn_before_deg / 2.0,
                end_cut_deg=member.turn_after_deg / 2.0,
                placement=Placement((*member.start_mm, build.depth_mm), along, across),
            )
        )
    return found


def _caps(build: ChannelBar, members: list[_Member], *, closed: bool) -> list[BodyPart]:
    """Caps at all ends that are cut square; the lead comes in through the first."""
    if closed:
        return []
    ends = [(members[0], "start"), (members[-1], "end")]
    if build.bars:
        ends = [(member, end) for member in members for end in ("start", "end")]
    outline: FloatArray = rectangle(build.outer_width_mm, build.depth_mm)
    hole = Hole(
        "feed", "wire", build.outer_width_mm / 2.0, build.depth_mm / 2.0, min(FEED_HOLE_MM, build.depth_mm / 2.0)
    )
    return [
        BodyPart(
            id=f"{member.id}/cap-{end}",
            kind="cap",
            use="cover",
            name=f"Cap at the {end}",
            length_mm=build.outer_width_mm,
            width_mm=build.depth_mm,
            outline_mm=outline,
            holes=(hole,) if member is members[0] and end == "start" else (),
        )
        for member, end in ends
    ]


def _mitres(members: list[_Member], *, closed: bool) -> list[Joint]:
    found = []
    for index, member in enumerate(members):
        if index == 0 and not closed:
            continue
        before = members[index - 1]
        found.append(
            Joint(f"mitre-{member.id}", "mitre", f"{before.id}/profile", "end", f"{member.id}/profile", "start")
        )
    return found
