"""Layout of the indirect lamp: one strip before what it washes, with what its groove lets out."""

import math
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.design.indirect import IndirectLamp
from gauze.core.design.loose import MeasuredDistribution
from gauze.core.layout.built import Layout
from gauze.core.layout.cavity import Cavity
from gauze.core.layout.cavity_sketch import rectangle
from gauze.core.layout.inner import inner_faces
from gauze.core.layout.pieces import (
    StripPiece,
    Vector,
    emitter_size_mm,
    filled,
    laid_strip,
    moved,
    pitches_of,
    sources_of,
)
from gauze.core.layout.shapes import surface_of
from gauze.core.layout.sketch import Choice, Handle, Measure, Outline, Sketch, Together
from gauze.core.materials import Catalogue
from gauze.core.materials.distribution import cosine_power
from gauze.core.words import say

_GAMMA_DEG, _C_DEG = np.arange(0.0, 90.5, 1.0), np.arange(0.0, 360.5, 5.0)
_PLACES = (("corner", say("in a corner")), ("wall", say("before a wall")))
_IN_CORNER = (Together((("build.stance", "upright"), ("build.place", "corner"))), say("in a corner"))
_STANCES = (("upright", say("stands upright")), ("lying", say("lies level")))


@dataclass(frozen=True, kw_only=True)
class IndirectLayout(Layout):
    """An indirect lamp: ``kept_share`` of the light leaves the groove, up to ``cut_off_deg`` to each side of its axis."""

    kept_share: float = 1.0
    cut_off_deg: float = 90.0


def lay_out_indirect(build: IndirectLamp, catalogue: Catalogue) -> IndirectLayout:
    """Lay out a checked lamp; raises :class:`gauze.core.errors.DesignError` where its strip does not fit."""
    choice = build.strips[0]
    start, along, facing = _stand(build)
    piece = laid_strip(catalogue, choice, start, along, facing, build.strip_mm, "build.strip_mm", id="strip-1")
    # the emitting faces themselves are at the distance
    piece = replace(piece, start_mm=moved(start, along, piece.start_gap_mm))
    surface = surface_of(build.cavity, inner_faces(build, catalogue))
    assert isinstance(surface, Cavity)
    strip = piece.strip
    cavity = filled(
        build.cavity,
        surface,
        sources_of([piece], build.strips),
        emitter_size_mm([strip]),
        "build.distance_mm",
        pitches_of(strip),
    )
    kept = 1.0
    if build.groove_depth_mm > 0:
        power = cosine_power(strip.half_angle_deg)
        table, kept = groove_distribution(
            build.groove_width_mm,
            build.groove_depth_mm,
            strip.package_mm[1],
            power,
            across_c_deg=0.0 if build.stance == "upright" else 90.0,
        )
        cavity = replace(
            cavity,
            distribution=np.zeros(cavity.emitter_count, int),
            distributions=(table,),
            flux_lm=cavity.flux_lm * kept,
        )
    emitted = float(cavity.flux_lm.sum()) / max(kept, 1e-9)
    return IndirectLayout(
        cavities=(cavity,),
        sketches=(_sketch(build, piece),),
        strips=(piece,),
        emitted_lm=emitted,
        kept_share=kept,
        cut_off_deg=cut_off_deg(build, strip.package_mm[1]),
    )


def cut_off_deg(build: IndirectLamp, package_mm: float) -> float:
    """Angle from the axis beyond which nothing of the strip is seen over the groove's edge; 90 without a groove."""
    if build.groove_depth_mm <= 0:
        return 90.0
    return math.degrees(math.atan2((build.groove_width_mm + package_mm) / 2.0, build.groove_depth_mm))


def _stand(build: IndirectLamp) -> tuple[Vector, Vector, Vector]:
    """Start of the strip, its direction, and the way that it looks."""
    aim = math.radians(build.aim_deg)
    if build.place == "corner":
        angle = math.radians(225.0) + aim  # in the floor's plane, from x towards z: into the corner
        return (
            (build.distance_mm, build.base_mm, build.distance_mm),
            (0.0, 1.0, 0.0),
            (math.cos(angle), 0.0, math.sin(angle)),
        )
    if build.stance == "upright":
        return (
            (build.width_mm / 2.0, build.base_mm, build.distance_mm),
            (0.0, 1.0, 0.0),
            (math.sin(aim), 0.0, -math.cos(aim)),
        )
    return (
        ((build.width_mm - build.strip_mm) / 2.0, build.base_mm, build.distance_mm),
        (1.0, 0.0, 0.0),
        (0.0, math.sin(aim), -math.cos(aim)),
    )


def groove_distribution(
    width_mm: float, depth_mm: float, package_mm: float, power: float, *, across_c_deg: float
) -> tuple[MeasuredDistribution, float]:
    """What leaves a groove of a source ``package_mm`` wide at its bottom: the distribution, and the share that gets out.

    A ray that leaves the package at s and leans across by an angle of tangent t passes the mouth where |s + depth t| is at
    most half of the width. What meets the groove's sides counts as lost. ``across_c_deg`` is the C plane across the groove.
    """
    gamma, c = np.meshgrid(np.radians(_GAMMA_DEG), np.radians(_C_DEG - across_c_deg))
    with np.errstate(divide="ignore"):
        lean = np.abs(np.tan(np.minimum(gamma, math.radians(89.9))) * np.cos(c))
    half, own = width_mm / 2.0, package_mm / 2.0
    reach = depth_mm * lean
    free = np.clip((np.minimum(own, half - reach) - np.maximum(-own, -half - reach)) / package_mm, 0.0, 1.0)
    bare = np.cos(np.minimum(gamma, math.pi / 2.0)) ** power
    candela = bare * free
    zone = np.sin(gamma)
    kept = float((candela * zone)[:-1].sum() / (bare * zone)[:-1].sum())
    table = MeasuredDistribution(
        name="groove",
        gamma_deg=tuple(_GAMMA_DEG.tolist()),
        c_deg=tuple(_C_DEG.tolist()),
        candela=tuple(tuple(plane) for plane in candela.tolist()),
    )
    return table, kept


def _sketch(build: IndirectLamp, piece: StripPiece) -> Sketch:
    """The wall from the front with the strip before it; the section across the strip, seen from above or from the side."""
    corner = build.place == "corner"
    wide = build.reach_mm if corner else build.width_mm
    high, reach = build.height_mm, build.reach_mm
    end = piece.end_mm
    half = max(build.groove_width_mm, piece.strip.width_mm) / 2.0
    if build.stance == "upright":
        body = rectangle(piece.start_mm[0] - half, piece.start_mm[1], 2 * half, end[1] - piece.start_mm[1])
        sideways = (piece.start_mm[0], piece.start_mm[2], piece.facing[0], piece.facing[2])
        cut_mm = (0.0, 0.0, wide, reach)
    else:
        body = rectangle(piece.start_mm[0], piece.start_mm[1] - half, end[0] - piece.start_mm[0], 2 * half)
        sideways = (piece.start_mm[1], piece.start_mm[2], piece.facing[1], piece.facing[2])
        cut_mm = (0.0, 0.0, high, reach)
    span = cut_mm[2]
    washed = [np.array([[0.0, 0.0], [span, 0.0]])]
    if corner:
        washed = [np.array([[0.0, reach], [0.0, 0.0], [span, 0.0]])]
    a, z = sideways[0], sideways[1]
    measures = [
        Measure("build.height_mm", say("Height"), high, "plan", "left", 0.0, high),
        Measure(
            "build.distance_mm", say("Strip from the wall"), build.distance_mm, "cut", "left", 0.0, build.distance_mm
        ),
        Measure(
            "build.aim_deg", say("Turned aside"), build.aim_deg, "cut", "right", 0.0, reach, "angle", say("° aside")
        ),
        Measure(
            "build.reach_mm",
            say("Reach"),
            reach,
            "cut" if not corner else "plan",
            "right" if not corner else "above",
            0.0,
            reach,
        ),
    ]
    if not corner:
        measures.append(Measure("build.width_mm", say("Width"), wide, "plan", "above", 0.0, wide))
    if build.stance == "upright":
        measures += [
            Measure(
                "build.strip_mm",
                say("Strip"),
                build.strip_mm,
                "plan",
                "right",
                build.base_mm,
                build.base_mm + build.strip_mm,
            ),
            Measure("build.base_mm", say("Over the floor"), build.base_mm, "plan", "right", 0.0, build.base_mm, tier=1),
        ]
    else:
        left = (wide - build.strip_mm) / 2.0
        measures += [
            Measure("build.strip_mm", say("Strip"), build.strip_mm, "plan", "below", left, left + build.strip_mm),
            Measure("build.base_mm", say("Over the floor"), build.base_mm, "plan", "right", 0.0, build.base_mm),
        ]
    if corner:
        measures = [one for one in measures if one.field != "build.reach_mm" or one.where == "plan"]
    return Sketch(
        plan_mm=(0.0, 0.0, wide, high),
        cut_mm=cut_mm,
        plan=(Outline("back", rectangle(0.0, 0.0, wide, high)), Outline("strip", body)),
        cut=(
            *(Outline("lit", line, closed=False) for line in washed),
            *_groove(build, piece, a, z, sideways[2], sideways[3]),
        ),
        measures=tuple(measures),
        handles=(
            Handle(
                "build.distance_mm",
                say("the strip"),
                "cut",
                (a - span * 0.02, z),
                (a + span * 0.02, z),
                (0.0, 1.0),
                build.distance_mm,
            ),
        ),
        choices=(
            Choice("build.place", say("Stands"), build.place, (_IN_CORNER if not corner else _PLACES[0], _PLACES[1])),
            *((Choice("build.stance", say("The strip"), build.stance, _STANCES),) if not corner else ()),
        ),
        cut_axis="x" if build.stance == "upright" else "y",
    )


def _groove(build: IndirectLamp, piece: StripPiece, a: float, z: float, out_a: float, out_z: float) -> list[Outline]:
    """Strip and groove in section, and the cone of light that leaves it."""
    half = piece.strip.width_mm / 2.0
    side = np.array([-out_z, out_a])
    axis = np.array([out_a, out_z])
    at = np.array([a, z])
    found = [Outline("strip", np.array([at - side * half, at + side * half]), closed=False)]
    if build.groove_depth_mm > 0:
        wide = build.groove_width_mm / 2.0
        rim = axis * build.groove_depth_mm
        found.append(
            Outline(
                "part",
                np.array([at - side * wide + rim, at - side * wide, at + side * wide, at + side * wide + rim]),
                closed=False,
            )
        )
    return found
