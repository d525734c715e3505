"""What holds a box together and up: screws with their pilot holes, splines, standoffs, a thread for a stand, hooks."""

import itertools
import math
from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np

from gauze.core.design.box_frame import BoxFrame, StandThread
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Vector
from gauze.core.parts.frame.joinery import SPLINE_MM, Box, offset, play_mm, spline_heights_mm
from gauze.core.parts.model import BodyPart, Fixing, Hole, Parts
from gauze.core.words import Length, Text, say

PILOT_SHARE = 0.65  # of a wood screw's size: about its core; typical, from memory
CLEARANCE_MM = 0.5  # of the hole through which a screw passes freely; common practice, no source
BACK_EVERY_MM = 150.0  # from screw to screw along the back; common practice, no source
ASIDE_MM = 15.0  # of a screw from a hook or an insert; common practice, no source
FROM_CORNER_MM = 25.0  # of the first of them; common practice, no source
TWO_FROM_MM, THREE_FROM_MM = (
    40.0,
    90.0,
)  # heights of a board from which a corner has two screws, or three; common practice, no source
APART_MM = 1.0  # of wood between two screws that pass each other; common practice, no source
STANDOFF_MM = 6.0  # thread of a standoff's bolt; common practice, no source
STANDOFF_EVERY_MM = 400.0  # common practice, no source
RIM_HOLES = 2.0  # diameters from the rim of a sheet to the middle of a hole; common practice, no source
HOOK_SCREW_MM, HOOK_LONG_MM = 4.0, 20.0  # of a hook where no screws are chosen; common practice, no source
# hole and length of the threaded insert for wood; the threads are those of ISO 1222, the inserts' sizes typical, from memory
STANDS: dict[StandThread, tuple[Text, float, float]] = {
    "quarter_inch": (say("Insert for a stand, 1/4 in thread"), 8.0, 13.0),
    "three_eighths_inch": (say("Insert for a stand, 3/8 in thread"), 12.0, 16.0),
}


def with_hardware(parts: Parts, box: Box, hung_on: int, *, overhead: bool) -> Parts:
    """Return the parts of a joined box with its fixings, and with the holes that these need.

    It hangs on ``hung_on`` hooks: along its upper board, or overhead alternately along two opposite ones.
    """
    held_by = [*_stand(box), *_hooks(box, hung_on, overhead=overhead)]
    every = [*_corner_screws(box), *_back_screws(box, held_by), *_splines(box), *_standoffs(box), *held_by]
    return replace(
        parts, body=tuple(_drilled(part, every, box) for part in parts.body), fixings=(*parts.fixings, *every)
    )


def screw_words(frame: BoxFrame) -> Text:
    """A screw by its size."""
    return say("Wood screw, {thick} × {long}", thick=Length(frame.screw_mm or 0.0), long=Length(frame.screw_long_mm))


def _screw(box: Box, name: str, through: str, into: str, head: Vector, along: Vector) -> Fixing:
    frame = box.frame
    thick = frame.screw_mm or 0.0
    pilot = round(PILOT_SHARE * thick * 2.0) / 2.0
    words = screw_words(frame)
    return Fixing(name, "screw", words, through, into, head, along, frame.screw_long_mm, thick, max(pilot, 0.5))


def _corner_screws(box: Box) -> Iterator[Fixing]:
    """Through the right and the left board into the ends of the others."""
    if box.frame.screw_mm is None or not box.square or box.corners not in ("butt", "lap"):
        return
    (left, low), (right, high) = box.inner_mm.min(axis=0).tolist(), box.inner_mm.max(axis=0).tolist()
    thick, depth = box.wall_mm, box.depth_mm
    count = 1 if depth < TWO_FROM_MM else 2 if depth < THREE_FROM_MM else 3
    for side, x, way in (("left", left - thick, 1.0), ("right", right + thick, -1.0)):
        for end, y in (("bottom", low - thick / 2.0), ("top", high + thick / 2.0)):
            for number in range(count):
                z = depth * (number + 0.5) / count
                name = f"screw-{side}-{end}-{number + 1}"
                yield _screw(box, name, f"wall-{side}", f"wall-{end}", (x, y, z), (way, 0.0, 0.0))


def _back_screws(box: Box, others: Sequence[Fixing]) -> Iterator[Fixing]:
    """Through the back into the middle of every board, beside the hooks and the thread for a stand."""
    if box.frame.screw_mm is None:
        return
    for wall in box.walls:
        start = min(max(FROM_CORNER_MM, _taken_mm(box, wall)), wall.length_mm / 4.0)
        count = max(2, math.ceil((wall.length_mm - 2.0 * start) / BACK_EVERY_MM) + 1)
        for number, at in enumerate(np.linspace(start, wall.length_mm - start, count).tolist(), start=1):
            place = _in_board(box, wall, at)
            if any(
                one.into == wall.id and math.dist(place, one.head_mm[:2]) < box.wall_mm + ASIDE_MM for one in others
            ):
                aside = 2.0 * ASIDE_MM if at < wall.length_mm - start - ASIDE_MM else -2.0 * ASIDE_MM
                place = _in_board(box, wall, at + aside)
            x, y = place
            name = f"screw-{wall.id.replace('wall', 'back')}-{number}"
            yield _screw(box, name, "back", wall.id, (x, y, -box.back_mm), (0.0, 0.0, 1.0))


def _taken_mm(box: Box, wall: BodyPart) -> float:
    """How far from its corner the screws of the corners reach into a board, and a little."""
    ends_here = box.square and box.corners in ("butt", "lap") and wall.id in ("wall-bottom", "wall-top")
    reach = box.frame.screw_long_mm - box.wall_mm
    return reach + 3.0 * (box.frame.screw_mm or 0.0) if ends_here else 0.0


def _in_board(box: Box, wall: BodyPart, at_mm: float) -> tuple[float, float]:
    """A place in the middle of a board's thickness, so far along its inner face."""
    (x, y, _), (dx, dy, _), (ix, iy, _) = wall.placement.origin_mm, wall.placement.right, wall.placement.up
    half = box.wall_mm / 2.0
    return x + at_mm * dx - half * ix, y + at_mm * dy - half * iy


def _splines(box: Box) -> Iterator[Fixing]:
    """Across every corner, from outside to the inner edge."""
    if box.corners != "splined":
        return
    deep = box.wall_mm * math.sqrt(2.0) / 2.0  # of the mitre, half of its face; of a square corner
    outer = _outer(box)
    for number, (corner, inner) in enumerate(zip(outer, box.inner_mm, strict=True), start=1):
        way = (inner - corner) / np.hypot(*(inner - corner))
        wall = box.walls[number - 1].id
        for row, z in enumerate(spline_heights_mm(box.depth_mm), start=1):
            yield Fixing(
                f"spline-{number}-{row}",
                "spline",
                say("Spline, {thick} thick", thick=Length(SPLINE_MM)),
                box.walls[number - 2].id,
                wall,
                (float(corner[0]), float(corner[1]), z),
                (float(way[0]), float(way[1]), 0.0),
                deep,
                SPLINE_MM,
            )


def _outer(box: Box) -> FloatArray:
    return offset(box.inner_mm, [box.wall_mm] * len(box.walls))


def _standoffs(box: Box) -> Iterator[Fixing]:
    """At the corners of the inside and at most so far apart along the rim, from the back to the sheet."""
    if box.frame.seat != "standoffs":
        return
    words = say("Standoff, {thick} bolt, {long} long", thick=Length(STANDOFF_MM), long=Length(box.depth_mm))
    for number, (x, y) in enumerate(standoff_places_mm(box), start=1):
        yield Fixing(
            f"standoff-{number}", "standoff", words, "back", "", (x, y, 0.0), (0.0, 0.0, 1.0), box.depth_mm, STANDOFF_MM
        )


def standoff_places_mm(box: Box) -> list[tuple[float, float]]:
    """Where standoffs stand: by their hole's distance from the rim, at the corners and between."""
    rim = rim_distance_mm(box)
    ring = offset(box.inner_mm, [-rim] * len(box.walls))
    found = []
    for start, end in itertools.pairwise([*ring, ring[0]]):
        count = max(1, math.ceil(float(np.hypot(*(end - start))) / STANDOFF_EVERY_MM))
        found += [tuple((start + (end - start) * step / count).tolist()) for step in range(count)]
    return [(x, y) for x, y in found]


def rim_distance_mm(box: Box) -> float:
    """From the rim of the sheet to the middle of a standoff's hole."""
    return RIM_HOLES * standoff_hole_mm(box)


def standoff_hole_mm(box: Box) -> float:
    """The hole in the sheet: the bolt, and the play by which the sheet grows."""
    size = float(np.ptp(box.inner_mm, axis=0).max())
    return STANDOFF_MM + math.ceil(2.0 * (play_mm(size) + CLEARANCE_MM)) / 2.0


def _stand(box: Box) -> Iterator[Fixing]:
    """The thread for a stand, from below into the middle of the lower board."""
    if box.frame.stand == "none":
        return
    words, hole, long = STANDS[box.frame.stand]
    wall = box.walls[0]
    (x, y), (ix, iy, _) = _in_board(box, wall, wall.length_mm / 2.0), wall.placement.up
    half = box.wall_mm / 2.0
    head = x - half * ix, y - half * iy, box.depth_mm / 2.0
    yield Fixing("stand", "stand", words, "", wall.id, head, (ix, iy, 0.0), long, hole, hole)


def _hooks(box: Box, count: int, *, overhead: bool) -> Iterator[Fixing]:
    """On the rear of the upper board, evenly; overhead alternately on the upper and the lower one."""
    if box.frame.hang == "none":
        return
    words = say("Hook") if box.frame.hang == "hooks" else say("Keyhole plate")
    thick = box.frame.screw_mm or HOOK_SCREW_MM
    upper = next((wall for wall in box.walls if wall.id == "wall-top"), None) or _upmost(box)
    boards = (
        [upper, box.walls[(box.walls.index(upper) + len(box.walls) // 2) % len(box.walls)]] if overhead else [upper]
    )
    for number in range(count):
        wall = boards[number % len(boards)]
        own = range(number % len(boards), count, len(boards))
        at = wall.length_mm * (own.index(number) + 0.5) / len(own)
        x, y = _in_board(box, wall, at)
        pilot = max(round(PILOT_SHARE * thick * 2.0) / 2.0, 0.5)
        head = x, y, -box.back_mm
        name = f"hook-{number + 1}"
        yield Fixing(name, "hook", words, "back", wall.id, head, (0.0, 0.0, 1.0), HOOK_LONG_MM, thick, pilot)


def _upmost(box: Box) -> BodyPart:
    return max(box.walls, key=lambda wall: wall.placement.origin_mm[1] + wall.placement.right[1] * wall.length_mm / 2.0)


# -- holes -------------------------------------------------------------------------------------------------------------


def _drilled(part: BodyPart, fixings: Sequence[Fixing], box: Box) -> BodyPart:
    """A part with the holes that fixings go through, and that standoffs and threads need."""
    holes = []
    for one in fixings:
        if one.kind == "spline":
            continue
        if one.through == part.id and part.id == "back":
            wide = one.diameter_mm + CLEARANCE_MM
            holes.append(Hole(one.id, "screw", one.head_mm[0], one.head_mm[1], wide))
        elif one.through == part.id:
            at = math.dist(one.head_mm[:2], _outer_start(part))
            holes.append(Hole(one.id, "screw", at, one.head_mm[2], one.diameter_mm + CLEARANCE_MM))
        elif one.kind == "standoff" and part.use == "diffuser" and part.outline_mm is not None:
            holes.append(Hole(one.id, "screw", one.head_mm[0], one.head_mm[1], standoff_hole_mm(box)))
        elif one.kind == "stand" and one.into == part.id:
            at = math.dist(one.head_mm[:2], _outer_start(part))
            holes.append(Hole(one.id, "stand", at, one.head_mm[2], one.diameter_mm))
    return replace(part, holes=(*part.holes, *holes)) if holes else part


def _outer_start(part: BodyPart) -> tuple[float, float]:
    """Where the outer face of a joined board begins, as far along as its own length counts."""
    (x, y, _), (ix, iy, _) = part.placement.origin_mm, part.placement.up
    thick = part.thickness_mm or 0.0
    return x - thick * ix, y - thick * iy


# -- clashes -----------------------------------------------------------------------------------------------------------


def clashes(fixings: Sequence[Fixing]) -> list[tuple[Fixing, Fixing]]:
    """Return the pairs of fixings that meet inside the wood, or leave less than a millimetre of it."""
    some = [one for one in fixings if one.kind != "spline"]
    if len(some) < 2:
        return []
    starts, ends = np.array([one.head_mm for one in some]), np.array([one.end_mm for one in some])
    thick = np.array([one.diameter_mm for one in some])
    first, second = np.triu_indices(len(some), 1)
    far = segments_apart(starts[first], ends[first], starts[second], ends[second])
    hit = far < (thick[first] + thick[second]) / 2.0 + APART_MM
    return [(some[a], some[b]) for a, b in zip(first[hit].tolist(), second[hit].tolist(), strict=True)]


def segments_apart(start: FloatArray, end: FloatArray, other_start: FloatArray, other_end: FloatArray) -> FloatArray:
    """Distance between segments in space, pair by pair, (n, 3) each.

    The nearest places of the two lines where both lie on their segments; else the nearest is one that an end has
    (Ericson, Real-Time Collision Detection, 5.1.9, from memory).
    """
    u, v, w = end - start, other_end - other_start, start - other_start
    a, b, c = (np.sum(p * q, axis=1) for p, q in ((u, u), (u, v), (v, v)))
    d, e = np.sum(u * w, axis=1), np.sum(v * w, axis=1)
    gram = a * c - b * b
    skew = gram > 1e-12 * a * c
    s = np.clip(np.where(skew, (b * e - c * d) / np.where(skew, gram, 1.0), 0.0), 0.0, 1.0)
    t = np.clip((b * s + e) / c, 0.0, 1.0)
    s = np.clip((b * t - d) / a, 0.0, 1.0)
    return np.asarray(np.linalg.norm(w + s[:, None] * u - t[:, None] * v, axis=1))
