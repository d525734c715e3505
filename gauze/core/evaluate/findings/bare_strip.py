"""What the eye sees of the bare strip of an indirect lamp, and what its groove costs."""

import math

from gauze.core.design.indirect import IndirectLamp
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.layout.families.indirect import IndirectLayout
from gauze.core.words import Distance, Fixed, Length, Percent, say


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge whether who stands before the wall, anywhere in front of it, looks into the strip."""
    build, built = evaluation.design.build_as(IndirectLamp), evaluation.layout.as_kind(IndirectLayout)
    away = angle_to_eye_deg(build, evaluation.design.purpose.viewing_distance_mm)
    hidden = away > built.cut_off_deg
    aside = free_angle_deg(build, built.cut_off_deg)
    state = State.GOOD if hidden and aside >= 90.0 else State.WATCH if hidden else State.FAILS
    if not hidden:
        words = say("The bare strip is visible from where you stand")
    elif aside >= 90.0:
        words = say("The bare strip is hidden from every position in front")
    else:
        words = say(
            "The bare strip is hidden from where you stand, but visible from more than {aside}° off axis",
            aside=Fixed(aside, ".0f"),
        )
    kept = (
        ""
        if built.kept_share > 0.999
        else say("; {kept_share} of its light leaves the groove", kept_share=Percent(built.kept_share))
    )
    distance = Distance(evaluation.design.purpose.viewing_distance_mm)
    return [
        Finding(
            code="bare strip",
            place="lay",
            state=state,
            sentence=say("{words}{kept}.", words=words, kept=kept),
            value=built.cut_off_deg,
            unit="°",
            limit=None,
            figures=(
                Figure(
                    say("Visible within"),
                    say("{cut_off}° of its axis", cut_off=Fixed(built.cut_off_deg, ".0f")),
                    say(
                        "atan((w + e) / 2g): groove {groove_width} wide, {groove_depth} deep over the LEDs, package "
                        "{package}",
                        groove_width=Length(build.groove_width_mm),
                        groove_depth=Length(build.groove_depth_mm),
                        package=Length(built.strips[0].strip.package_mm[1]),
                    ),
                    say("straight lines of sight"),
                ),
                Figure(
                    say("Eye position"),
                    say("{away}° off its axis", away=Fixed(away, ".0f")),
                    say("{distance} straight in front of the middle", distance=distance),
                ),
                Figure(
                    say("Leaves the groove"),
                    Percent(built.kept_share),
                    say("of what the LEDs give; what meets the groove's sides counts as lost"),
                ),
            ),
            cautions=() if hidden else (Caution.EYES,),
            fixable=not hidden,
        )
    ]


def angle_to_eye_deg(build: IndirectLamp, viewing_mm: float) -> float:
    """Angle between the strip's axis and the way to an eye straight in front of the middle, across the strip."""
    aim = build.aim_deg
    if build.place == "corner":  # the eye looks along the corner's bisector
        return 180.0 - abs(aim)
    if build.stance == "upright":
        return 180.0 - abs(aim)
    rise = build.height_mm / 2.0 - build.base_mm  # a strip that lies low or high is seen from an angle
    to_eye = math.degrees(math.atan2(rise, max(viewing_mm - build.distance_mm, 1.0)))
    axis = 180.0 - aim  # in the plane of up and out, from straight out
    return abs((axis - to_eye + 180.0) % 360.0 - 180.0)


def free_angle_deg(build: IndirectLamp, cut_off_deg: float) -> float:
    """How far aside one can step, from straight in front, before the strip is seen; 90 and more for never in front."""
    return 180.0 - abs(build.aim_deg) - cut_off_deg
