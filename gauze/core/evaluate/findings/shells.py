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
