"""Is it bright enough, at the target or on the face?"""

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.evaluate.light import BoxFaceLight
from gauze.core.optics.target import exposure_f_number
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.core.units.length import format_distance

LEAST_SHARE = 0.75  # of the wanted value: below this even the spread of the catalogue does not reach it
_CAMERA_EXPOSURE_S, _CAMERA_ISO_SPEED = 1 / 50, 400.0  # a usual setting for film, common practice, no source
_CAMERA_TABLE = ((1 / 25, 100.0), (1 / 50, 100.0), (1 / 50, 800.0), (1 / 100, 800.0), (1 / 250, 1600.0))
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
    target, lux = evaluation.design.purpose.target, evaluation.target.illuminance_lx
    distance = format_distance(evaluation.design.purpose.target_distance_mm, unit)
    f_number = exposure_f_number(evaluation.target_lx, _CAMERA_EXPOSURE_S, _CAMERA_ISO_SPEED)
    least, most = (format_number(float(value)) for value in (lux.min(), lux.max()))
    size = f"{format_length(target.width_mm, unit, with_unit=False)} × {format_length(target.height_mm, unit)}"
    return (
        Figure(
            "Illuminance at the target",
            f"{format_number(evaluation.target_lx)} lx in its middle",
            f"sum over the face of L cos θ cos θ′ dA / R², {distance} in front of it{_standing(evaluation, unit)}",
            "near field, inverse-square law",
        ),
        Figure(
            "Over the target",
            f"{least} to {most} lx, U0 {evaluation.target.min_over_mean:.2f}",
            f"{lux.shape[1]} × {lux.shape[0]} places over {size}; U0 is least over mean",
            "near field",
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
            f"at 1/{1 / _CAMERA_EXPOSURE_S:.0f} s and ISO {_CAMERA_ISO_SPEED:g}: N = √(E t S / C), C = 250; "
            + ", ".join(_exposure(evaluation.target_lx, seconds, speed) for seconds, speed in _CAMERA_TABLE),
            "ISO 2720 allows C from 240 to 400, from memory",
        ),
    )


def _exposure(illuminance_lx: float, seconds: float, iso_speed: float) -> str:
    f_number = exposure_f_number(illuminance_lx, seconds, iso_speed)
    return f"1/{1 / seconds:.0f} s ISO {iso_speed:g} f/{format_number(f_number, 2)}"


def _standing(evaluation: Evaluation, unit: LengthUnit) -> str:
    """Say how the target stands, where it does not stand straight in front."""
    target, words = evaluation.design.purpose.target, []
    if target.offset_x_mm or target.offset_y_mm:
        x, y = (format_length(value, unit) for value in (target.offset_x_mm, target.offset_y_mm))
        words.append(f"{x} to the right and {y} up")
    if target.turn_deg or target.tilt_deg:
        words.append(f"turned {target.turn_deg:g}°, tilted {target.tilt_deg:g}°")
    return "".join(f", {word}" for word in words)


def _flux_figures(evaluation: Evaluation) -> tuple[Figure, ...]:
    flux = evaluation.output
    out = Figure(
        "Flux out",
        f"{format_number(flux.out_lm)} lm of {format_number(flux.emitted_lm)} lm",
        f"{flux.efficiency:.0%} leaves; the rest is absorbed inside, or lost through what is open",
    )
    if not isinstance(evaluation.light, BoxFaceLight):
        return (out,)
    strip = evaluation.light.layout.rows[0].strip
    return (
        out,
        Figure(
            "Strip",
            f"{format_number(strip.flux_lm_per_m)} lm/m, {strip.name}",
            f"typical, ±{strip.flux_spread:.0%}",
            strip.source,
        ),
    )
