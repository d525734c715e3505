"""How far the shells of a string stand out from the wall between them."""

import math

import numpy as np

from gauze.core.design.shell_string import ShellString
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.layout.families.shell_string import ShellLayout
from gauze.core.layout.model import FloatArray
from gauze.core.words import Fixed, Number, Percent, say

_CRISP = 0.02  # of the shells' luminance on the wall between; common practice, no source


def find(evaluation: Evaluation) -> list[Finding]:
    """Note the light on the wall between the shells."""
    build, built = evaluation.design.build_as(ShellString), evaluation.layout.as_kind(ShellLayout)
    assert built.places_mm is not None
    glow = evaluation.evenness.mean_cd_m2
    radius = build.diameter_mm / 2.0
    height = (
        math.sqrt(max(radius**2 - (build.base_mm / 2.0) ** 2, 0.0))
        if build.shell == "ball"
        else build.cup_depth_mm / 2.0
    )
    between = between_mm(build)
    lux = wall_lux(built.places_mm, between, radius, height, glow)
    reflectance = evaluation.light.reflectances[1]
    wall = reflectance * lux / math.pi
    share = wall / glow if glow > 0 else 0.0
    spill = evaluation.diffuser.outer_reflectance * most_from_others(built.places_mm, radius)
    words = say("stand out from the wall") if share <= _CRISP else say("light the wall between them")
    return [
        Finding(
            code="shells",
            place="lay",
            state=State.NOTE,
            sentence=say(
                "The shells glow at {glow} cd/m² and {words}: it has {wall} cd/m², {share}.",
                glow=Number(glow),
                words=words,
                wall=Number(wall),
                share=Percent(share, 1),
            ),
            value=share,
            unit="",
            limit=None,
            figures=(
                Figure(
                    say("On the wall between"),
                    say("{lux} lx", lux=Number(lux)),
                    say(
                        "Σ π L (r/d)² cos θ over all shells, each a ball of even luminance L whose middle stands off "
                        "the wall"
                    ),
                    say("configuration factor of a sphere seen from a plane element, handbook, from memory"),
                ),
                Figure(
                    say("Wall"),
                    say("{wall} cd/m²", wall=Number(wall)),
                    say("ρ E / π, matt, ρ = {reflectance}", reflectance=Fixed(reflectance, "g")),
                ),
                Figure(
                    say("From the next shell"),
                    say("at most {share} of its own", share=Percent(spill, 1)),
                    say(
                        "ρ Σ (r/d)² cos θ at the place that faces its nearest neighbour, ρ = {reflectance} of the sheet; not "
                        "counted in the picture",
                        reflectance=Fixed(evaluation.diffuser.outer_reflectance, ".2g"),
                    ),
                    say("configuration factor of a sphere seen from a plane element, handbook, from memory"),
                ),
                Figure(
                    say("Cord"),
                    say("{order} pixels", order=len(built.order)),
                    say("numbered along the cord as it is drawn, from the lower left"),
                ),
            ),
        )
    ]


def between_mm(build: ShellString) -> FloatArray:
    """The place between four neighbours that is farthest from them, about the middle of the wall."""
    column, row = max(build.columns // 2 - 1, 0), max(build.rows // 2 - 1, 0)
    return np.array([(column + 0.5) * build.pitch_x_mm, (row + 0.5) * build.pitch_y_mm])


def wall_lux(
    places_mm: FloatArray, point_mm: FloatArray, radius_mm: float, height_mm: float, glow_cd_m2: float
) -> float:
    """Illuminance of the wall at a point from balls of even luminance, middles ``height_mm`` off it."""
    away2 = ((places_mm - point_mm) ** 2).sum(axis=1) + height_mm**2
    cosine = height_mm / np.sqrt(away2)
    return float((math.pi * glow_cd_m2 * np.minimum(radius_mm**2 / away2, 1.0) * cosine).sum())


def most_from_others(places_mm: FloatArray, radius_mm: float) -> float:
    """Illuminance of a ball of even luminance by all others, over pi times that luminance: where it faces its nearest neighbour.

    The most that any ball gets anywhere. ``places_mm`` (n, 2 or 3) are their middles; none for a single one.
    """
    from scipy.spatial import cKDTree

    if len(places_mm) < 2:
        return 0.0
    towards = places_mm[cKDTree(places_mm).query(places_mm, k=2)[1][:, 1]] - places_mm
    towards = towards / np.linalg.norm(towards, axis=1, keepdims=True)
    most = 0.0
    for place, direction in zip(places_mm + radius_mm * towards, towards, strict=True):
        away = places_mm - place
        cosine = np.maximum(away @ direction, 0.0) / np.maximum(np.linalg.norm(away, axis=1), radius_mm)
        share = np.minimum(radius_mm**2 / np.maximum((away**2).sum(axis=1), radius_mm**2), 1.0)
        most = max(most, float((share * cosine).sum()))
    return most
