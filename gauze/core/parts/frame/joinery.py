"""Boards, back and sheet of a box cut to fit: corners, the seat of the sheet with its play, ledges, splines.

A box is framed when its making gives a thickness to its wall boards; sizes are then those of what is cut. Inside it stays as
it is drawn. What is not a box with upright walls of boards is left alone.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.design.box_frame import BoxFrame
from gauze.core.layout.model import FloatArray
from gauze.core.parts.model import BodyPart, Groove, Parts, Placement

EXPANSION_PER_K = 7e-5  # of acrylic; typical, from memory
WARMING_K = 40.0  # from a cold room to a warm lamp; common practice, no source
LIP_MM = 5.0  # of a board over the groove; common practice, no source
GROOVE_PLAY_MM = 0.4  # of a groove over the sheet's thickness; common practice, no source
MOST_SEAT_MM = 10.0  # no groove or rebate needs to be deeper; common practice, no source
LEDGE_MM = 10.0  # both sides of a ledge's section; common practice, no source
SPLINE_MM, SPLINE_EVERY_MM = (
    3.0,
    60.0,
)  # thickness of a spline, and one to every so much height; common practice, no source
_SIDES = ("bottom", "right", "top", "left")


@dataclass(frozen=True)
class Box:
    """What is framed: its upright walls in order, counter-clockwise; the thickness of its boards, its back and its sheet."""

    walls: tuple[BodyPart, ...]
    wall_mm: float
    back_mm: float
    sheet_mm: float
    frame: BoxFrame

    @property
    def square(self) -> bool:
        """Whether it has four walls at right angles."""
        return len(self.walls) == len(_SIDES) and self.walls[0].id == "wall-bottom"

    @property
    def corners(self) -> str:
        """How its corners meet: of anything but four square walls they are mitred."""
        return self.frame.corners if self.square or self.frame.corners == "splined" else "mitre"

    @property
    def depth_mm(self) -> float:
        """From the back to the underside of the sheet."""
        return self.walls[0].width_mm

    @property
    def inner_mm(self) -> FloatArray:
        """Corners of the inside, (n, 2): each wall starts at one."""
        return np.array([wall.placement.origin_mm[:2] for wall in self.walls])

    @property
    def seat_mm(self) -> float:
        """How far the sheet reaches into a groove or a rebate without play: half of the board at most."""
        return min(self.wall_mm / 2.0, MOST_SEAT_MM) if self.frame.seat in ("groove", "rebate") else 0.0


def box_of(parts: Parts, frame: BoxFrame, wall_mm: float | None, back_mm: float) -> Box | None:
    """Return the box that a build is; None where it is none, or its boards have no thickness yet."""
    walls = tuple(
        part
        for part in parts.body
        if part.use == "wall" and part.kind == "member" and part.thickness_mm is None and not part.places
    )
    if wall_mm is None or not is_box(parts):
        return None
    sheet_mm = sum(part.thickness_mm or 0.0 for part in _sheets(parts))
    return Box(walls, wall_mm, back_mm, sheet_mm, frame)


def is_box(parts: Parts) -> bool:
    """Whether a build has upright walls of boards about a back."""
    walls = [part for part in parts.body if part.use == "wall" and part.kind == "member" and not part.places]
    has_back = any(part.use == "back" and part.outline_mm is not None for part in parts.body)
    return len(walls) > 2 and has_back and bool(_sheets(parts))


def _sheets(parts: Parts) -> list[BodyPart]:
    return [part for part in parts.body if part.use == "diffuser" and part.kind == "sheet" and not part.places]


def play_mm(size_mm: float) -> float:
    """By how much a sheet of some size grows when it warms up: it needs this much room."""
    return EXPANSION_PER_K * WARMING_K * size_mm


def joined(parts: Parts, box: Box) -> Parts:
    """Return the parts of a box with boards, back and sheet as they are cut."""
    body: list[BodyPart] = []
    for part in parts.body:
        if part in box.walls:
            body.append(_board(part, box, box.walls.index(part)))
        elif part.use == "back" and part.outline_mm is not None:
            body.append(_grown(part, box, box.wall_mm))
        elif part.use == "diffuser" and part.outline_mm is not None and not part.places:
            body.append(_seated(part, box))
        else:
            body.append(part)
    return replace(parts, body=(*body, *_ledges(box), *_closing(box)))


# -- boards ------------------------------------------------------------------------------------------------------------


def _board(part: BodyPart, box: Box, index: int) -> BodyPart:
    thick, corners = box.wall_mm, box.corners
    if corners in ("mitre", "splined"):
        cuts = (45.0, 45.0) if box.square else (part.start_cut_deg, part.end_cut_deg)
        overs = [thick * math.tan(math.radians(cut)) for cut in cuts]
    else:
        cuts = (0.0, 0.0)
        through = index % 2 == 1  # the right and the left one run past the ends of the others
        overs = [thick if through else thick / 2.0 if corners == "lap" else 0.0] * 2
    length = part.length_mm + sum(overs)
    high = box.depth_mm + _over_depth_mm(box, part)
    along = part.placement.right
    x, y, z = part.placement.origin_mm
    origin = (x - along[0] * overs[0], y - along[1] * overs[0], z)
    return replace(
        part,
        length_mm=length,
        width_mm=high,
        thickness_mm=thick,
        start_cut_deg=cuts[0],
        end_cut_deg=cuts[1],
        placement=Placement(origin, along, part.placement.up),
        holes=tuple(replace(hole, x_mm=hole.x_mm + overs[0]) for hole in part.holes),
        grooves=(*part.grooves, *_grooves(part, box, length, high, index)),
    )


def _over_depth_mm(box: Box, part: BodyPart) -> float:
    """How far a board rises over the underside of the sheet."""
    if box.frame.seat == "groove":
        return 0.0 if is_loose(part, box) else box.sheet_mm + GROOVE_PLAY_MM + LIP_MM
    return box.sheet_mm if box.frame.seat in ("rebate", "ledge") else 0.0


def is_loose(part: BodyPart, box: Box) -> bool:
    """Whether a board stays low so that the sheet slides in over it: the upper one, or the last."""
    return box.frame.seat == "groove" and part.id == (_loose_id(box))


def _loose_id(box: Box) -> str:
    return "wall-top" if box.square else box.walls[-1].id


def _grooves(part: BodyPart, box: Box, length: float, high: float, index: int) -> list[Groove]:
    found = []
    depth, sheet, seat = box.depth_mm, box.sheet_mm, box.frame.seat
    if seat == "groove" and not is_loose(part, box):
        wide = sheet + GROOVE_PLAY_MM
        y = depth + wide / 2.0
        found.append(Groove("seat", "sheet", (0.0, y), (length, y), wide, box.seat_mm))
    elif seat == "rebate":
        y = depth + sheet / 2.0
        found.append(Groove("seat", "rebate", (0.0, y), (length, y), sheet, box.seat_mm))
    if box.corners == "lap" and index % 2 == 1:
        for name, x in (("start", box.wall_mm / 2.0), ("end", length - box.wall_mm / 2.0)):
            found.append(Groove(f"lap-{name}", "rebate", (x, 0.0), (x, high), box.wall_mm, box.wall_mm / 2.0))
    if box.corners == "splined":
        deep = box.wall_mm / 2.0
        for number, y in enumerate(spline_heights_mm(box.depth_mm), start=1):
            for name, ends in (("start", (0.0, deep)), ("end", (length - deep, length))):
                found.append(
                    Groove(f"spline-{name}-{number}", "spline", (ends[0], y), (ends[1], y), SPLINE_MM, box.wall_mm)
                )
    return found


def spline_heights_mm(high_mm: float) -> list[float]:
    """At which heights splines cross a corner: one, and another to every so much of the height."""
    count = max(1, round(high_mm / SPLINE_EVERY_MM))
    return [high_mm * (number + 0.5) / count for number in range(count)]


# -- back and sheet ----------------------------------------------------------------------------------------------------


def _grown(part: BodyPart, box: Box, by_mm: float) -> BodyPart:
    outline = offset(box.inner_mm, [by_mm] * len(box.walls))
    wide, high = np.ptp(outline, axis=0)
    return replace(part, outline_mm=outline, length_mm=float(wide), width_mm=float(high))


def _seated(part: BodyPart, box: Box) -> BodyPart:
    """The sheet: how far it reaches over the inside at each wall, less half of the play of its size."""
    seat = box.frame.seat
    reach = {"on_top": box.wall_mm, "standoffs": 0.0, "ledge": 0.0}.get(seat, box.seat_mm)
    low, high = box.inner_mm.min(axis=0), box.inner_mm.max(axis=0)
    sizes = high - low + 2.0 * reach
    free = 0.0 if seat in ("on_top", "standoffs") else 0.5 * play_mm(float(max(sizes)))
    by = []
    for index, wall in enumerate(box.walls):
        own = free
        if box.square and free:
            own = 0.5 * play_mm(float(sizes[1 - index % 2]))  # across a wall the sheet grows by its other size
        by.append(reach - own if not is_loose(wall, box) else box.wall_mm - own)
    outline = offset(box.inner_mm, by)
    wide, tall = np.ptp(outline, axis=0)
    return replace(part, outline_mm=outline, length_mm=float(wide), width_mm=float(tall))


def offset(ring_mm: FloatArray, by_mm: Sequence[float]) -> FloatArray:
    """Move each edge of a convex polygon, counter-clockwise, outwards by its own distance, (n, 2)."""
    along = np.roll(ring_mm, -1, axis=0) - ring_mm
    along = along / np.hypot(*along.T)[:, None]
    out = np.stack([along[:, 1], -along[:, 0]], axis=1)
    reach = np.sum(out * ring_mm, axis=1) + np.asarray(by_mm, float)
    before, far = np.roll(out, 1, axis=0), np.roll(reach, 1)
    turn = before[:, 0] * out[:, 1] - before[:, 1] * out[:, 0]
    x = (far * out[:, 1] - reach * before[:, 1]) / turn
    y = (before[:, 0] * reach - out[:, 0] * far) / turn
    return np.stack([x, y], axis=1)


# -- what is added -----------------------------------------------------------------------------------------------------


def _ledges(box: Box) -> list[BodyPart]:
    """Strips of wood along the walls, on which the sheet lies; those of the right and left wall between the others."""
    if box.frame.seat != "ledge":
        return []
    found = []
    for index, wall in enumerate(box.walls):
        short = LEDGE_MM if box.square and index % 2 else 0.0
        (x, y, _), (dx, dy, _) = wall.placement.origin_mm, wall.placement.right
        origin = (x + dx * short, y + dy * short, box.depth_mm - LEDGE_MM)
        found.append(
            BodyPart(
                id=wall.id.replace("wall", "ledge"),
                kind="member",
                use="frame",
                name="Ledge",
                length_mm=wall.length_mm - 2.0 * short,
                width_mm=LEDGE_MM,
                thickness_mm=LEDGE_MM,
                material=wall.material,
                start_cut_deg=0.0 if box.square else -wall.start_cut_deg,
                end_cut_deg=0.0 if box.square else -wall.end_cut_deg,
                placement=Placement(origin, wall.placement.right, wall.placement.up),
            )
        )
    return found


def _closing(box: Box) -> list[BodyPart]:
    """The strip that closes the groove's open end over the loose board."""
    if box.frame.seat != "groove":
        return []
    low = next(wall for wall in box.walls if is_loose(wall, box))
    board = _board(low, box, box.walls.index(low))
    x, y, _ = board.placement.origin_mm
    return [
        replace(
            board,
            id="closing-strip",
            use="frame",
            name="Strip over the loose board",
            width_mm=LIP_MM,
            holes=(),
            grooves=(),
            marks=(),
            placement=replace(board.placement, origin_mm=(x, y, box.depth_mm + box.sheet_mm + GROOVE_PLAY_MM)),
        )
    ]
