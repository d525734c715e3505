"""What the eye sees of the bare strip of an indirect lamp, and what its groove costs."""

import math

from gauze.core.design.indirect import IndirectLamp
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.layout.indirect import IndirectLayout
from gauze.core.units import LengthUnit, format_length
from gauze.core.units.length import format_distance


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
    """Judge whether who stands before the wall, anywhere in front of it, looks into the strip."""
    build = evaluation.design.build
    built = evaluation.layout
    if not isinstance(build, IndirectLamp) or not isinstance(built, IndirectLayout):
        return []
    away = angle_to_eye_deg(build, evaluation.design.purpose.viewing_distance_mm)
    hidden = away > built.cut_off_deg
    aside = free_angle_deg(build, built.cut_off_deg)
    state = State.GOOD if hidden and aside >= 90.0 else State.WATCH if hidden else State.FAILS
    if not hidden:
        words = "The bare strip is visible from where you stand"
    elif aside >= 90.0:
        words = "The bare strip is hidden from every position in front"
    else:
        words = f"The bare strip is hidden from where you stand, but visible from more than {aside:.0f}° off axis"
    kept = "" if built.kept_share > 0.999 else f"; {built.kept_share:.0%} of its light leaves the groove"
    distance = format_distance(evaluation.design.purpose.viewing_distance_mm, unit)
    return [
        Finding(
            code="bare strip",
            place="lay",
            state=state,
            sentence=f"{words}{kept}.",
            value=built.cut_off_deg,
            unit="°",
            limit=None,
            figures=(
                Figure(
                    "Visible within",
                    f"{built.cut_off_deg:.0f}° of its axis",
                    f"atan((w + e) / 2g): groove {format_length(build.groove_width_mm, unit)} wide, "
                    f"{format_length(build.groove_depth_mm, unit)} deep over the LEDs, "
                    f"package {format_length(built.strips[0].strip.package_mm[1], unit)}",
                    "straight lines of sight",
                ),
                Figure("Eye position", f"{away:.0f}° off its axis", f"{distance} straight in front of the middle"),
                Figure(
                    "Leaves the groove",
                    f"{built.kept_share:.0%}",
                    "of what the LEDs give; what meets the groove's sides counts as lost",
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
