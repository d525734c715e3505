"""Printed ends of channel and tube: caps that plug in, and inner corners that hold two mitred lengths together."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from gauze.core.design.channel_bar import ChannelBar
from gauze.core.design.making import Printing
from gauze.core.design.tube import Tube
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.model import FloatArray
from gauze.core.making.solids.model import PLAY_MM, ROUND, Printed, solid_of
from gauze.core.making.solids.shapes import area, joined, plate, rod
from gauze.core.parts import Parts
from gauze.core.parts.bodies import FEED_HOLE_MM, rectangle
from gauze.core.words import Fixed, say

PLUG_MM = 8.0  # how far a cap reaches in; common practice, no source
LEG_MM = 25.0  # of an inner corner, along each length
_LEG_HIGH = 0.3  # of the depth, on the floor of the channel


def channel_caps(build: ChannelBar, parts: Parts, cavity: CavityLayout, printing: Printing) -> Iterator[Printed]:
    """Yield caps for the ends of channel that are cut square: with a hole for the lead, and without."""
    caps = [part for part in parts.body if part.kind == "cap"]
    surface = cavity.surface
    if not caps or not isinstance(surface, Cavity):
        return
    section = surface.section
    low = section.min(axis=0)
    corner = np.array([low[0] - build.wall_mm, -build.wall_mm])
    outline = corner + rectangle(build.outer_width_mm, build.depth_mm + build.wall_mm)
    hole_mm = min(FEED_HOLE_MM, build.depth_mm / 2.0)
    middle = (0.0, build.depth_mm / 2.0)
    with_hole = sum(bool(part.holes) for part in caps)
    if with_hole:
        yield _cap("cap-hole", outline, section, (hole_mm, middle), with_hole, printing)
    if len(caps) > with_hole:
        yield _cap("cap", outline, section, None, len(caps) - with_hole, printing)


def tube_caps(build: Tube, printing: Printing) -> Iterator[Printed]:
    """Yield the caps of a tube: a disc over its wall, a plug into it, and in one of them the hole for the lead."""
    ring = _circle(build.diameter_mm / 2.0)
    outline = _circle(build.diameter_mm / 2.0 + printing.wall_mm)
    hole_mm = min(FEED_HOLE_MM, build.diameter_mm / 3.0)
    yield _cap("cap-hole", outline, ring, (hole_mm, (0.0, 0.0)), 1, printing)
    yield _cap("cap", outline, ring, None, 1, printing)


def _circle(radius: float) -> FloatArray:
    angle = 2.0 * np.pi * np.arange(ROUND) / ROUND
    return radius * np.stack([np.cos(angle), np.sin(angle)], axis=1)


def _cap(
    key: str,
    outline: FloatArray,
    inside: FloatArray,
    hole: tuple[float, tuple[float, float]] | None,
    count: int,
    printing: Printing,
) -> Printed:
    """A flange that lies on the end, and a plug with a wall of its own that goes in."""
    thick = printing.wall_mm
    flange = plate(area(outline), 0.0, thick)
    ring = area(inside, -PLAY_MM) - area(inside, -PLAY_MM - thick)
    shape = joined([flange, plate(ring, thick, thick + PLUG_MM)])
    if hole is not None:
        wide, (x, y) = hole
        shape = shape - rod(wide, thick + 2.0).translate((x, y, -1.0))
    name = say("End cap") if hole is None else say("End cap with a hole for the lead")
    notes = (say("print it flat, the plug upwards; {play} mm of play all round", play=Fixed(PLAY_MM, "g")),)
    return Printed(key, name, (solid_of(shape),), count, notes)


def inner_corners(build: ChannelBar, turns_deg: Sequence[float], printing: Printing) -> Iterator[Printed]:
    """Yield an inner corner for every angle at which lengths of channel meet: two legs on the floor of the channel.

    Only of channel with a level floor; ``turns_deg`` are the turns at the corners, from one length to the next.
    """
    if build.section != "rectangle":
        return
    turns = [round(abs(turn), 1) for turn in turns_deg if abs(turn) > 1.0]
    wide = build.width_mm - 2.0 * PLAY_MM
    tall = max(min(_LEG_HIGH * build.depth_mm, 4.0), printing.wall_mm)
    for turn in sorted(set(turns)):
        legs = []
        for way in (180.0, turn):  # back along the one that comes, on along the one that goes
            leg = area(rectangle(LEG_MM, wide) - [0.0, wide / 2.0]).rotate(way)
            legs.append(leg)
        heel = area(_circle(wide / 2.0))
        shape = plate(legs[0] + legs[1] + heel, 0.0, tall)
        name = say("Inner corner, {angle}°", angle=Fixed(180.0 - turn, ".4g"))
        notes = (say("rests on the floor of both lengths: end the strip before it, or glue the corner in under it"),)
        yield Printed(f"corner-{turn:g}", name, (solid_of(shape),), turns.count(turn), notes)
