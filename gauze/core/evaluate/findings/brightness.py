"""Is it bright enough, at the target or on the face?"""

from collections.abc import Callable
from functools import partial

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.evaluate.light import BoxFaceLight
from gauze.core.evaluate.spread import Spread
from gauze.core.lazy import Lazy
from gauze.core.optics.target import exposure_f_number
from gauze.core.words import Distance, Fixed, Joined, Length, Number, Percent, Text, say

LEAST_SHARE = 0.75  # of the wanted value, where nothing says how far it may be off; common practice, no source
_CAMERA_EXPOSURE_S, _CAMERA_ISO_SPEED = 1 / 50, 400.0  # a usual setting for film, common practice, no source
_CAMERA_TABLE = ((1 / 25, 100.0), (1 / 50, 100.0), (1 / 50, 800.0), (1 / 100, 800.0), (1 / 250, 1600.0))
GLARE_CD_M2 = 10_000.0  # of a face that is looked at; its source stands in the finding
_TO_TELL = 1.15  # of the wanted value: above this the finding says how far it can be dimmed
MOST_SHARE = 2.5  # of the wanted value: above this fewer than half of the LEDs would be enough


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge what was asked for by the purpose, and note the other."""
    purpose, spread = evaluation.design.purpose, evaluation.spread
    at_target = _judge(
        "target brightness",
        evaluation.target_lx,
        purpose.wanted_illuminance_lx,
        "lx",
        say("At {target_distance} it gives", target_distance=Distance(purpose.target_distance_mm)),
        evaluation,
        spread,
        _target_figures,
        asked_for=purpose.use == "lighting",
    )
    on_face = _judge(
        "face brightness",
        evaluation.evenness.mean_cd_m2,
        purpose.wanted_luminance_cd_m2,
        "cd/m²",
        say("The face glows at"),
        evaluation,
        spread,
        _face_figures,
        asked_for=purpose.use == "looked_at",
    )
    return [at_target, on_face] if purpose.use == "lighting" else [on_face, at_target, *_glare(evaluation)]


def _glare(evaluation: Evaluation) -> list[Finding]:
    """Tell a face that is looked at and dazzles; doubtful only where it is so bright by wish."""
    mean, wanted = evaluation.evenness.mean_cd_m2, evaluation.design.purpose.wanted_luminance_cd_m2
    if mean <= GLARE_CD_M2:
        return []
    by_wish = wanted > GLARE_CD_M2
    dimmed = "" if by_wish else say(" At the level that you want it does not.")
    return [
        Finding(
            code="glare",
            place="aim",
            state=State.WATCH if by_wish else State.NOTE,
            sentence=say(
                "At {mean} cd/m² the face dazzles whoever looks at it.{dimmed}", mean=Number(mean), dimmed=dimmed
            ),
            value=mean,
            unit="cd/m²",
            limit=GLARE_CD_M2,
            figures=(
                Figure(
                    say("Mean luminance"),
                    say("{mean} cd/m²", mean=Number(mean)),
                    say("{limit} cd/m² is about that of a bright white cloud", limit=Number(GLARE_CD_M2)),
                    say(
                        "white light below 10 000 cd/m² needs no check for hazard to the retina: ICNIRP guidelines on "
                        "incoherent visible radiation (2013), from memory"
                    ),
                ),
            ),
            cautions=(Caution.EYES,),
        )
    ]


def _judge(
    code: str,
    value: float,
    wanted: float,
    unit: str,
    opening: Text,
    evaluation: Evaluation,
    spread: Spread | None,
    figures_of: Callable[[Evaluation], tuple[Figure, ...]],
    *,
    asked_for: bool,
) -> Finding:
    state: State = State.NOTE
    words: Text = "."
    if asked_for:
        state, words = _state(value / wanted, wanted, unit, spread)
    shown: Text = Number(value)
    if spread is not None:
        shown = say("{value} ± {spread}", value=shown, spread=Number(value * spread.share, 2))
    return Finding(
        code=code,
        place="aim",
        state=state,
        sentence=say("{opening} {value} {unit}{words}", opening=opening, value=shown, unit=unit, words=words),
        value=value,
        unit=unit,
        limit=wanted if asked_for else None,
        figures=Lazy(partial(_figures, evaluation, spread, figures_of)),
        fixable=asked_for and (state in (State.WATCH, State.FAILS) or value > MOST_SHARE * wanted),
        spread=None if spread is None else value * spread.share,
    )


def _state(share: float, wanted: float, unit: str, spread: Spread | None) -> tuple[State, Text]:
    """Fails where even the most that it may be is too little."""
    asked = say("{wanted} {unit}", wanted=Number(wanted, 6), unit=unit)
    if share < (LEAST_SHARE if spread is None else 1.0 / (1.0 + spread.share)):
        return State.FAILS, say(", {share} of the {asked} you want.", share=Percent(share), asked=asked)
    if share < 1.0:
        return State.WATCH, say(", just short of the {asked} you want.", asked=asked)
    if share > _TO_TELL:
        return State.GOOD, say(
            ": the {asked} you want is reached, at {level} of that.", asked=asked, level=Percent(1.0 / share)
        )
    return State.GOOD, say(": the {asked} you want is reached.", asked=asked)


def _figures(
    evaluation: Evaluation, spread: Spread | None, figures_of: Callable[[Evaluation], tuple[Figure, ...]]
) -> tuple[Figure, ...]:
    return (*figures_of(evaluation), *_flux_figures(evaluation), *(() if spread is None else (spread.figure(),)))


def _face_figures(evaluation: Evaluation) -> tuple[Figure, ...]:
    return (
        Figure(
            say("Mean luminance"),
            say("{mean} cd/m²", mean=Number(evaluation.evenness.mean_cd_m2)),
            say("over the face, seen straight on"),
        ),
    )


def _target_figures(evaluation: Evaluation) -> tuple[Figure, ...]:
    target, lux = evaluation.design.purpose.target, evaluation.target.illuminance_lx
    distance = Distance(evaluation.design.purpose.target_distance_mm)
    f_number = exposure_f_number(evaluation.target_lx, _CAMERA_EXPOSURE_S, _CAMERA_ISO_SPEED)
    least, most = (Number(float(value)) for value in (lux.min(), lux.max()))
    size = say("{width} × {height}", width=Length(target.width_mm, with_unit=False), height=Length(target.height_mm))
    return (
        Figure(
            say("Illuminance at the target"),
            say("{target} lx in its middle", target=Number(evaluation.target_lx)),
            say(
                "sum over the face of L cos θ cos θ′ dA / R², {distance} in front of it{standing}",
                distance=distance,
                standing=_standing(evaluation),
            ),
            say("near field, inverse-square law"),
        ),
        Figure(
            say("Over the target"),
            say(
                "{least} to {most} lx, U0 {min_over_mean}",
                least=least,
                most=most,
                min_over_mean=Fixed(evaluation.target.min_over_mean, ".2f"),
            ),
            say(
                "{shape} × {shape2} places over {size}; U0 is least over mean",
                shape=lux.shape[1],
                shape2=lux.shape[0],
                size=size,
            ),
            say("near field"),
        ),
        Figure(
            say("What tasks ask for"),
            say("500 lx reading and writing, 750 technical drawing, 1000 fine inspection"),
            say("for comparison; the standard and your local code are what counts"),
            say("EN 12464-1, from memory"),
        ),
        Figure(
            say("Camera at the target"),
            say("f/{f_number}", f_number=Number(f_number, 2)),
            say(
                "at 1/{camera_exposure_s} s and ISO {camera_iso_speed}: N = √(E t S / C), C = 250; {others}",
                camera_exposure_s=Fixed(1 / _CAMERA_EXPOSURE_S, ".0f"),
                camera_iso_speed=Fixed(_CAMERA_ISO_SPEED, "g"),
                others=Joined.of([_exposure(evaluation.target_lx, seconds, speed) for seconds, speed in _CAMERA_TABLE]),
            ),
            say("ISO 2720 allows C from 240 to 400, from memory"),
        ),
    )


def _exposure(illuminance_lx: float, seconds: float, iso_speed: float) -> Text:
    f_number = exposure_f_number(illuminance_lx, seconds, iso_speed)
    return say(
        "1/{seconds} s ISO {iso_speed} f/{f_number}",
        seconds=Fixed(1 / seconds, ".0f"),
        iso_speed=Fixed(iso_speed, "g"),
        f_number=Number(f_number, 2),
    )


def _standing(evaluation: Evaluation) -> Text:
    """Say how the target stands, where it does not stand straight in front."""
    target, words = evaluation.design.purpose.target, []
    if target.offset_x_mm or target.offset_y_mm:
        x, y = (Length(value) for value in (target.offset_x_mm, target.offset_y_mm))
        words.append(say("{x} to the right and {y} up", x=x, y=y))
    if target.turn_deg or target.tilt_deg:
        words.append(
            say("turned {turn}°, tilted {tilt}°", turn=Fixed(target.turn_deg, "g"), tilt=Fixed(target.tilt_deg, "g"))
        )
    return Joined.of([say(", {word}", word=word) for word in words], "")


def _flux_figures(evaluation: Evaluation) -> tuple[Figure, ...]:
    flux = evaluation.output
    out = Figure(
        say("Flux out"),
        say("{out} lm of {emitted} lm", out=Number(flux.out_lm), emitted=Number(flux.emitted_lm)),
        say(
            "{efficiency} leaves; the rest is absorbed inside, or lost through what is open",
            efficiency=Percent(flux.efficiency),
        ),
    )
    if not isinstance(evaluation.light, BoxFaceLight):
        return (out,)
    strip = evaluation.light.layout.rows[0].strip
    return (
        out,
        Figure(
            say("Strip"),
            say("{flux_lm_per} lm/m, {name}", flux_lm_per=Number(strip.flux_lm_per_m), name=strip.name),
            say("typical, ±{flux_spread}", flux_spread=Percent(strip.flux_spread)),
            strip.source,
        ),
    )
