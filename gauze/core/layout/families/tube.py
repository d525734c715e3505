"""Layout of the tube: strips along it, between the caps."""

import math

import numpy as np

from gauze.core.design.tube import Tube
from gauze.core.layout.built import Layout
from gauze.core.layout.cavity_sketch import reach_of, rectangle
from gauze.core.layout.inner import inner_faces
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import (
    StripPiece,
    Vector,
    emitter_size_mm,
    filled,
    laid_strip,
    pitches_of,
    sources_of,
    strip_outline,
)
from gauze.core.layout.shapes import regular, surface_of
from gauze.core.layout.sketch import Choice, Handle, Measure, Outline, Sketch
from gauze.core.materials import Catalogue
from gauze.core.words import Fixed, Text, say

_ROUND_STEPS = 96
_CARRIERS = (("back", say("on the back")), ("bed", say("on a bed")), ("flanks", say("on both flanks")))


def lay_out_tube(tube: Tube, catalogue: Catalogue) -> Layout:
    """Lay out a checked tube; raises :class:`gauze.core.errors.DesignError` where its strip does not fit."""
    surface = surface_of(tube.cavity, inner_faces(tube, catalogue))
    choice = tube.strips[0]
    strip = catalogue.strip(choice.strip)
    room_mm = tube.length_mm - 2.0 * tube.end_spare_mm
    strips = tuple(
        laid_strip(
            catalogue,
            choice,
            (tube.end_spare_mm, *place),
            (1.0, 0.0, 0.0),
            (0.0, *facing),
            room_mm,
            "build.length_mm",
            id=f"strip-{number}",
        )
        for number, (place, facing) in enumerate(_carriers(tube, strip.width_mm), start=1)
    )
    cavity = filled(
        tube.cavity,
        surface,
        sources_of(strips, tube.strips),
        emitter_size_mm([strip]),
        "build.diameter_mm",
        pitches_of(strip),
    )
    return Layout(
        cavities=(cavity,), sketches=(_sketch(tube, strips, surface.section, surface.lit_lines),), strips=strips
    )


def _carriers(tube: Tube, strip_width_mm: float) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    """Place (y, z) of each strip's middle on its carrier, and the way that it looks."""
    radius = tube.diameter_mm / 2.0
    if tube.carrier == "bed":
        return [((0.0, tube.bed_height_mm), (0.0, 1.0))]
    distance = math.sqrt(radius**2 - (strip_width_mm / 2.0) ** 2)  # a flat strip lies on a chord
    angles = (0.0,) if tube.carrier == "back" else (-tube.flank_deg, tube.flank_deg)
    found = []
    for angle_deg in angles:
        sine, cosine = math.sin(math.radians(angle_deg)), math.cos(math.radians(angle_deg))
        found.append(((distance * sine, radius - distance * cosine), (-sine, cosine)))
    return found


def _sketch(tube: Tube, strips: tuple[StripPiece, ...], section: FloatArray, lit: tuple[FloatArray, ...]) -> Sketch:
    radius, spare = tube.diameter_mm / 2.0, tube.end_spare_mm
    plan = [Outline("back", rectangle(0.0, -radius, tube.length_mm, tube.diameter_mm))]
    if spare > 0:
        plan += [
            Outline("part", rectangle(left, -radius, spare, tube.diameter_mm), words=say("cap"))
            for left in (0.0, tube.length_mm - spare)
        ]
    plan += [strip_outline(piece) for piece in strips]
    plan += [Outline("dark", gap) for piece in strips[:1] for gap in _dark_ends(piece, tube)]
    cut = [Outline("body", section)]
    if tube.carrier == "bed":  # the tube goes on behind it
        round_mm = regular(_ROUND_STEPS, radius) + np.array([0.0, radius])
        cut = [Outline("part", round_mm), *cut, Outline("part", _bed(tube), closed=False)]
    cut += [Outline("lit", line, closed=False) for line in lit]
    cut += [Outline("strip", _strip_in_cut(piece), closed=False) for piece in strips]
    measures = [
        Measure("build.length_mm", say("Length"), tube.length_mm, "plan", "above", 0.0, tube.length_mm),
        Measure("build.end_spare_mm", say("Cap covers"), spare, "plan", "below", 0.0, spare),
        Measure("build.diameter_mm", say("Inner diameter"), tube.diameter_mm, "cut", "above", -radius, radius),
    ]
    if tube.lit_deg < 360 or tube.carrier == "flanks":
        measures.append(_angle("build.lit_deg", say("Lit arc"), tube.lit_deg, say("° lit"), (radius, 2.0 * radius)))
    if tube.carrier == "bed":
        measures.append(
            Measure(
                "build.bed_height_mm", say("Bed height"), tube.bed_height_mm, "cut", "left", 0.0, tube.bed_height_mm
            )
        )
    if tube.carrier == "flanks":
        flanks = _angle(
            "build.flank_deg", say("Flanks from the back"), tube.flank_deg, say("° to the flanks"), (0.0, radius)
        )
        measures.append(flanks)
    strip = strips[0].strip
    return Sketch(
        plan_mm=(0.0, -radius, tube.length_mm, tube.diameter_mm),
        cut_mm=reach_of(np.concatenate([outline.points_mm for outline in cut])),
        plan=tuple(plan),
        cut=tuple(cut),
        measures=tuple(measures),
        handles=(
            Handle(
                "build.length_mm",
                say("end of the tube"),
                "plan",
                (tube.length_mm, -radius),
                (tube.length_mm, radius),
                (1.0, 0.0),
                tube.length_mm,
                snap=(2.0 * spare, strip.segment_mm),
            ),
            Handle(
                "build.diameter_mm",
                say("wall of the tube"),
                "cut",
                (radius, 0.0),
                (radius, tube.diameter_mm),
                (1.0, 0.0),
                tube.diameter_mm,
                2.0,
            ),
            *_carrier_handles(tube),
        ),
        choices=(
            Choice("build.carrier", say("Strip"), tube.carrier, _CARRIERS),
            Choice("build.lit_deg", say("Round"), tube.lit_deg, _rounds(tube)),
        ),
        cut_axis="y",
    )


def _rounds(tube: Tube) -> tuple[tuple[object, Text], ...]:
    slit = tube.lit_deg if tube.lit_deg < 360 else 120.0
    return ((360.0, say("lit all round")), (slit, say("slit of {slit}°", slit=Fixed(slit, "g"))))


def _angle(field: str, name: Text, value: float, words: Text, reach_mm: tuple[float, float]) -> Measure:
    return Measure(field, name, value, "cut", "right", *reach_mm, kind="angle", words=words)


def _carrier_handles(tube: Tube) -> list[Handle]:
    if tube.carrier != "bed":
        return []
    half = tube.diameter_mm / 2.0
    height = tube.bed_height_mm
    return [
        Handle("build.bed_height_mm", say("the bed"), "cut", (-half, height), (half, height), (0.0, 1.0), height),
    ]


def _bed(tube: Tube) -> FloatArray:
    radius = tube.diameter_mm / 2.0
    half = math.sqrt(max(radius**2 - (radius - tube.bed_height_mm) ** 2, 0.0))
    return np.array([[-half, tube.bed_height_mm], [half, tube.bed_height_mm]])


def _strip_in_cut(piece: StripPiece) -> FloatArray:
    """A strip in section: a line across the way that it looks."""
    half, (_, up, out) = piece.strip.width_mm / 2.0, piece.facing
    middle: Vector = piece.start_mm
    return np.array([[middle[1] - half * out, middle[2] + half * up], [middle[1] + half * out, middle[2] - half * up]])


def _dark_ends(piece: StripPiece, tube: Tube) -> list[FloatArray]:
    """What the cut marks leave between caps and strip."""
    radius, half_mm = tube.diameter_mm / 2.0, 0.5
    found = []
    if piece.start_gap_mm > half_mm:
        found.append(rectangle(tube.end_spare_mm, -radius, piece.start_gap_mm, tube.diameter_mm))
    if piece.end_gap_mm > half_mm:
        end = piece.start_mm[0] + piece.length_mm
        found.append(rectangle(end, -radius, piece.end_gap_mm, tube.diameter_mm))
    return found
