"""Is it bright enough, at the target or on the face?"""

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.optics.target import exposure_f_number
from gauze.core.units import LengthUnit, format_number
from gauze.core.units.length import format_distance

LEAST_SHARE = 0.75  # of the wanted value: below this even the spread of the catalogue does not reach it
_CAMERA_EXPOSURE_S, _CAMERA_ISO_SPEED = 1 / 50, 400.0  # a usual setting for film, common practice, no source
MOST_SHARE = 2.5  # of the wanted value: above this half of the LEDs would do; common practice, no source


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
    """Judge what was asked for by the purpose, and note the other."""
    purpose = evaluation.design.purpose
    at_target = _judge(
        "target brightness",
        evaluation.target_lx,
        purpose.wanted_illuminance_lx,
        "lx",
        f"At {format_distance(purpose.target_distance_mm, unit)} it gives",
        evaluation,
        _target_figures(evaluation, unit),
        asked_for=purpose.use == "lighting",
    )
    on_face = _judge(
        "face brightness",
        evaluation.evenness.mean_cd_m2,
        purpose.wanted_luminance_cd_m2,
        "cd/m²",
        "The face glows at",
        evaluation,
        (
            Figure(
                "Mean luminance",
                f"{format_number(evaluation.evenness.mean_cd_m2)} cd/m²",
                "over the face, seen straight on",
            ),
        ),
        asked_for=purpose.use == "looked_at",
    )
    return [at_target, on_face] if purpose.use == "lighting" else [on_face, at_target]


def _judge(
    code: str,
    value: float,
    wanted: float,
    unit: str,
    opening: str,
    evaluation: Evaluation,
    figures: tuple[Figure, ...],
    *,
    asked_for: bool,
) -> Finding:
    share = value / wanted
    state, words = State.NOTE, "."
    if asked_for:
        state, words = _state(share, wanted, unit)
    return Finding(
        code=code,
        place="aim",
        state=state,
        sentence=f"{opening} {format_number(value)} {unit}{words}",
        value=value,
        unit=unit,
        limit=wanted if asked_for else None,
        figures=(*figures, *_flux_figures(evaluation)),
        fixable=asked_for and state in (State.WATCH, State.FAILS),
    )


def _state(share: float, wanted: float, unit: str) -> tuple[State, str]:
    asked = f"{format_number(wanted)} {unit}"
    if share < LEAST_SHARE:
        return State.FAILS, f", {share:.0%} of the {asked} you want."
    if share < 1.0:
        return State.WATCH, f", just short of the {asked} you want."
    if share > MOST_SHARE:
        return State.WATCH, f", {share:.1f} times the {asked} you want."
    return State.GOOD, f": the {asked} you want is reached."


def _target_figures(evaluation: Evaluation, unit: LengthUnit) -> tuple[Figure, ...]:
    distance = format_distance(evaluation.design.purpose.target_distance_mm, unit)
    f_number = exposure_f_number(evaluation.target_lx, _CAMERA_EXPOSURE_S, _CAMERA_ISO_SPEED)
    return (
        Figure(
            "Illuminance at the target",
            f"{format_number(evaluation.target_lx)} lx",
            f"sum over the face of L cos² θ dA / R², {distance} in front of its middle",
            "near field, inverse-square law",
        ),
        Figure(
            "What tasks ask for",
            "500 lx reading and writing, 750 technical drawing, 1000 fine inspection",
            "to compare with; the standard and your local code say what holds",
            "EN 12464-1, from memory",
        ),
        Figure(
            "Camera at the target",
            f"f/{format_number(f_number, 2)}",
            f"a right exposure at 1/{1 / _CAMERA_EXPOSURE_S:.0f} s and ISO {_CAMERA_ISO_SPEED:g}: N = √(E t S / C), C = 250",
            "ISO 2720 allows C from 240 to 400, from memory",
        ),
    )


def _flux_figures(evaluation: Evaluation) -> tuple[Figure, ...]:
    face, strip = evaluation.face, evaluation.layout.rows[0].strip
    return (
        Figure(
            "Flux out",
            f"{format_number(face.flux_out_lm)} lm of {format_number(face.light.flux_lm)} lm",
            f"{face.efficiency:.0%} leaves; the rest is absorbed in sheet, back and walls",
        ),
        Figure(
            "Strip",
            f"{format_number(strip.flux_lm_per_m)} lm/m, {strip.name}",
            f"typical, ±{strip.flux_spread:.0%}",
            strip.source,
        ),
    )
