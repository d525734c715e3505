"""What goes beside the light: a case for its electronics, and feet on which it leans."""

from __future__ import annotations

import math

import numpy as np

from gauze.core.design.making import Printing
from gauze.core.making.solids.clips import SKIRT_DEEP_MM, beads, clip_lid
from gauze.core.making.solids.dividing import divided
from gauze.core.making.solids.model import PLAY_MM, Printed, solid_of
from gauze.core.making.solids.shapes import area, box, joined, plate, rod
from gauze.core.parts.bodies import rectangle
from gauze.core.words import Fixed, Text, say

CABLE_MM = 7.0  # hole for a two-wire lead in its sheath; common practice, no source
_VENT_MM, _VENT_STEP_MM = 2.0, 6.0
_FOOT_LONG_MM, _FOOT_WIDE_MM, _FOOT_LIP_MM = 70.0, 25.0, 12.0
CASE_CAUTION = say(
    "for low voltage alone: mains belongs into a certified case. Leave air about a supply; PLA softens from about 55 °C"
)


def electronics_case(printing: Printing) -> tuple[Printed, ...]:
    """Return a case with two holes for cables and slots for air, and its lid; nothing where none is chosen."""
    if printing.case_mm is None:
        return ()
    along, across, high = printing.case_mm
    thick = max(printing.wall_mm, 1.2)
    high = max(high, SKIRT_DEEP_MM + 2.0)
    inner = rectangle(along, across)
    outer = rectangle(along + 2.0 * thick, across + 2.0 * thick) - thick
    shape = plate(area(outer), 0.0, thick + high) - plate(area(inner), thick, thick + high + 1.0)
    at = thick + (high - SKIRT_DEEP_MM) / 2.0
    cable = min(CABLE_MM, high - SKIRT_DEEP_MM, across / 2.0)
    lead = rod(cable, along + 6.0 * thick).rotate((0.0, 90.0, 0.0)).translate((-3.0 * thick, across / 2.0, at))
    shape = shape - lead - beads(inner, PLAY_MM / 2.0, thick + high)
    for x in np.arange(_VENT_STEP_MM, along - _VENT_STEP_MM / 2.0, _VENT_STEP_MM):
        slot = (float(x) - _VENT_MM / 2.0, across * 0.15, -1.0), (float(x) + _VENT_MM / 2.0, across * 0.85, thick + 1.0)
        shape = shape - box(*slot)
    size = say("{along} × {across} × {high} mm inside", along=_g(along), across=_g(across), high=_g(high))
    bottom, _ = divided(shape, printing.bed)
    lid, _ = divided(clip_lid(inner, outer, thick), printing.bed)
    return (
        Printed("case", say("Case for the electronics"), tuple(bottom), 1, (size, CASE_CAUTION)),
        Printed("case-lid", say("Lid of the case, clips on"), tuple(lid), 1, ()),
    )


def feet(printing: Printing, thick_mm: float, high_mm: float) -> Printed | None:
    """Return the feet for a build so thick and high, leaning back by the chosen angle; None where none are chosen.

    They reach back by half as much again as its middle lies behind its lower edge.
    """
    if printing.foot_deg is None:
        return None
    lean = math.radians(printing.foot_deg)
    wall = 2.0 * printing.wall_mm
    slot = thick_mm + PLAY_MM
    tall = _FOOT_LIP_MM + wall
    # in the side view: a bar on the table, and a slot square to the lean in which the build stands
    arms = []
    for x in (0.0, wall + slot):
        arm = area(rectangle(wall, tall)).translate((x, 0.0)).rotate(math.degrees(lean))
        arms.append(arm)
    bed = area(rectangle(2.0 * wall + slot, wall)).rotate(math.degrees(lean))
    behind, before = foot_reach_mm(printing, thick_mm, high_mm)
    back = behind + before
    base = area(rectangle(back, wall)).translate((-behind, -wall))
    shape = arms[0] + arms[1] + bed + base
    hull = (bed + base).hull()
    solid = plate((shape + hull) ^ area(rectangle(10.0 * back, 10.0 * back) - [5.0 * back, wall]), 0.0, _FOOT_WIDE_MM)
    notes: tuple[Text, ...] = (
        say("print them on their sides; at least two, and check that it does not tip"),
        say("for a build {thick} mm thick, leaning back by {angle}°", thick=_g(thick_mm), angle=_g(printing.foot_deg)),
    )
    return Printed("foot", say("Foot"), (solid_of(joined([solid])),), 2, notes)


def foot_reach_mm(printing: Printing, thick_mm: float, high_mm: float) -> tuple[float, float]:
    """How far feet reach behind the lower edge of the back of a build, and before it."""
    slot = thick_mm + PLAY_MM
    lean = math.radians(printing.foot_deg or 0.0)
    behind = max(_FOOT_LONG_MM / 2.0, 1.5 * high_mm / 2.0 * math.sin(lean)) + slot
    return behind, 4.0 * printing.wall_mm + slot + _FOOT_LONG_MM / 3.0


def _g(value: float) -> Fixed:
    return Fixed(value, ".4g")
