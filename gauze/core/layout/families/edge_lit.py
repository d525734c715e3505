"""Layout of the edge-lit face: strips along two or four walls, looking across."""

import math

import numpy as np

from gauze.core.design.edge_lit import EdgeLit
from gauze.core.errors import DesignError
from gauze.core.layout.built import Layout
from gauze.core.layout.cavity_sketch import rectangle
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
from gauze.core.layout.shapes import surface_of
from gauze.core.layout.sketch import Choice, Entry, Handle, Measure, Outline, Sketch
from gauze.core.materials import Catalogue
from gauze.core.words import Length, say

_Wall = tuple[str, Vector, Vector, Vector, float]
_SIDES = (("long", say("the long sides")), ("short", say("the short sides")), ("four", say("all four sides")))


def lay_out_edge_lit(build: EdgeLit, catalogue: Catalogue) -> Layout:
    """Lay out checked choices; raises :class:`gauze.core.errors.DesignError` where a strip does not fit."""
    choice = build.strips[0]
    strip = catalogue.strip(choice.strip)
    _check_height(build, strip.width_mm)
    tilt = math.radians(build.tilt_deg)
    strips = []
    for side, place, along, across, room in _walls(build):
        facing = (across[0] * math.cos(tilt), across[1] * math.cos(tilt), math.sin(tilt))
        strips.append(
            laid_strip(
                catalogue,
                choice,
                place,
                along,
                facing,
                room - 2.0 * build.end_gap_mm,
                _length_field(along),
                id=f"strip-{side}",
            )
        )
    surface = surface_of(build.cavity, inner_faces(build, catalogue))
    cavity = filled(
        build.cavity,
        surface,
        sources_of(strips, build.strips),
        emitter_size_mm([strip]),
        "build.bar_offset_mm",
        pitches_of(strip),
    )
    return Layout(cavities=(cavity,), sketches=(_sketch(build, tuple(strips)),), strips=tuple(strips))


def _length_field(along: Vector) -> str:
    return "build.width_mm" if along[0] else "build.height_mm"


def _check_height(build: EdgeLit, strip_width_mm: float) -> None:
    reach = strip_width_mm / 2.0 * math.cos(math.radians(build.tilt_deg))
    if build.bar_height_mm < reach - 1e-6 or build.bar_height_mm + reach > build.depth_mm + 1e-6:
        raise DesignError(
            "build.bar_height_mm",
            "A strip of {strip_width} with its middle {bar_height} over the back does not fit in a "
            "depth of {depth}: give {reach} to {depth2}, or a deeper body.",
            strip_width=Length(strip_width_mm),
            bar_height=Length(build.bar_height_mm),
            depth=Length(build.depth_mm),
            reach=Length(reach),
            depth2=Length(max(build.depth_mm - reach, reach)),
        )


def _walls(build: EdgeLit) -> list[_Wall]:
    """Name, start, direction, way that it looks (level) and room of the strip at each lit wall."""
    wide, high, off, z = build.width_mm, build.height_mm, build.bar_offset_mm, build.bar_height_mm
    gap = build.end_gap_mm
    lower: _Wall = ("bottom", (gap, off, z), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0), wide)
    upper: _Wall = ("top", (gap, high - off, z), (1.0, 0.0, 0.0), (0.0, -1.0, 0.0), wide)
    left: _Wall = ("left", (off, gap, z), (0.0, 1.0, 0.0), (1.0, 0.0, 0.0), high)
    right: _Wall = ("right", (wide - off, gap, z), (0.0, 1.0, 0.0), (-1.0, 0.0, 0.0), high)
    if build.sides == "four":
        return [lower, upper, left, right]
    along_width = (wide >= high) == (build.sides == "long")
    return [lower, upper] if along_width else [left, right]


def _sketch(build: EdgeLit, strips: tuple[StripPiece, ...]) -> Sketch:
    wide, high, depth = build.width_mm, build.height_mm, build.depth_mm
    upright = strips[0].along[0] > 0 and build.sides != "four"  # strips along x: the cut is taken across them
    span = high if upright else wide
    cut = [Outline("body", rectangle(0.0, 0.0, span, depth))]
    cut.append(Outline("lit", np.array([[0.0, depth], [span, depth]]), closed=False))
    across = 1 if upright else 0
    cut += [
        Outline("strip", _strip_in_cut(piece, across), closed=False)
        for piece in strips
        if abs(piece.along[across]) < 0.5
    ]
    off, z = build.bar_offset_mm, build.bar_height_mm
    measures = [
        Measure("build.width_mm", say("Width"), wide, "plan", "above", 0.0, wide),
        Measure("build.height_mm", say("Height"), high, "plan", "left", 0.0, high),
        Measure("build.depth_mm", say("Depth"), depth, "cut", "left", 0.0, depth),
        Measure("build.bar_height_mm", say("Bars over the back"), z, "cut", "right", 0.0, z),
        Measure("build.bar_offset_mm", say("Bars from the wall"), off, "cut", "below", 0.0, off),
        Measure(
            "build.tilt_deg",
            say("Bars tilted to the sheet"),
            build.tilt_deg,
            "cut",
            "above",
            0.0,
            span,
            "angle",
            say("° up"),
        ),
    ]
    right_x, top_y = (wide, 0.0), (0.0, high)
    return Sketch(
        plan_mm=(0.0, 0.0, wide, high),
        cut_mm=(0.0, 0.0, span, depth),
        plan=(
            Outline("back", rectangle(0.0, 0.0, wide, high)),
            *(strip_outline(piece) for piece in strips),
        ),
        cut=tuple(cut),
        measures=tuple(measures),
        handles=(
            Handle(
                "build.width_mm",
                say("right wall"),
                "plan",
                right_x,
                (wide, high),
                (1.0, 0.0),
                wide,
                snap=_snap(build, strips, 0),
            ),
            Handle(
                "build.height_mm",
                say("upper wall"),
                "plan",
                top_y,
                (wide, high),
                (0.0, 1.0),
                high,
                snap=_snap(build, strips, 1),
            ),
            Handle("build.depth_mm", say("the sheet"), "cut", (0.0, depth), (span, depth), (0.0, 1.0), depth),
        ),
        choices=(
            Choice("build.sides", say("Lit from"), build.sides, _SIDES),
            Entry("build.end_gap_mm", say("Strip ends before the corner"), build.end_gap_mm, "length"),
            Entry("build.support_mm", say("Clear sheet under the diffuser"), build.support_mm, "length"),
        ),
        seam=True,
        cut_axis="y" if upright else "x",
    )


def _snap(build: EdgeLit, strips: tuple[StripPiece, ...], axis: int) -> tuple[float, float] | None:
    along = [piece for piece in strips if piece.along[axis] > 0.5]
    return (2.0 * build.end_gap_mm, along[0].strip.segment_mm) if along else None


def _strip_in_cut(piece: StripPiece, axis: int) -> FloatArray:
    half = piece.strip.width_mm / 2.0
    level, up = piece.facing[axis], piece.facing[2]
    middle, z = piece.start_mm[axis], piece.start_mm[2]
    return np.array([[middle - half * up, z + half * level], [middle + half * up, z - half * level]])
