"""Parts of the indirect lamp: its strip, and the groove that hides it."""

import math

from gauze.core.design.indirect import IndirectLamp
from gauze.core.layout.families.indirect import IndirectLayout
from gauze.core.materials import Catalogue
from gauze.core.parts.bodies import materials_of
from gauze.core.parts.joining import on_a_bus
from gauze.core.parts.model import BodyPart, Parts, Placement


def indirect_parts(build: IndirectLamp, layout: IndirectLayout, catalogue: Catalogue) -> Parts:
    """State the parts of a lamp; the wall that it lights is none of them. The lead comes in at the start of the strip."""
    piece = layout.strips[0]
    start = tuple(place - along * piece.start_gap_mm for place, along in zip(piece.start_mm, piece.along, strict=True))
    across = _across(piece.along, piece.facing)
    grooved = build.groove_depth_mm > 0
    carrier = BodyPart(
        id="carrier",
        kind="member",
        use="shade" if grooved else "carrier",
        name="Grooved rail" if grooved else "Rail",
        length_mm=build.strip_mm,
        width_mm=build.groove_width_mm if grooved else piece.strip.width_mm,
        thickness_mm=build.groove_depth_mm + piece.strip.emitter_height_mm if grooved else None,
        material=materials_of(build.back, build.walls, (), catalogue).back if grooved else "",
        placement=Placement((start[0], start[1], start[2]), piece.along, across),
    )
    return Parts(layout.pieces, (carrier,), tuple(on_a_bus(layout.pieces)))


def _across(along: tuple[float, ...], facing: tuple[float, ...]) -> tuple[float, float, float]:
    x = facing[1] * along[2] - facing[2] * along[1]
    y = facing[2] * along[0] - facing[0] * along[2]
    z = facing[0] * along[1] - facing[1] * along[0]
    size = math.sqrt(x * x + y * y + z * z)
    return x / size, y / size, z / size
