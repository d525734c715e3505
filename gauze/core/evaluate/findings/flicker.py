"""Does what is dimmed by pulses flicker, for eyes or on a camera?"""

from functools import partial

from gauze.core.design.wiring import Wiring
from gauze.core.electrical.power import levels_of
from gauze.core.electrical.pulses import (
    SEEN_HZ,
    SOURCE,
    band_contrast,
    low_risk_percent,
    modulation_percent,
    no_effect_percent,
)
from gauze.core.evaluate.evaluation import Evaluation, camera_limit
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.evaluate.findings.controller import timer_figures
from gauze.core.layout.pieces import StripPiece
from gauze.core.lazy import Lazy
from gauze.core.words import Fixed, Number, Percent, Text, say

_EXPOSURES = (50, 100, 250, 1000)  # of cameras, as one over seconds
_LONGEST_S = 1.0 / 50.0


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the pulses of the dimmest level that is neither on nor off; nothing where all is."""
    duty = _duty(evaluation)
    if duty is None:
        return []
    frequency_hz = evaluation.network.wiring.pwm_hz
    if frequency_hz is None:
        return [_unknown(duty)]
    return [_judged(evaluation, frequency_hz, duty)]


def _duty(evaluation: Evaluation) -> float | None:
    levels = [
        level
        for piece in evaluation.layout.pieces
        if not isinstance(piece, StripPiece) or piece.lit
        for level in levels_of(piece)
        if 0.0 < level < 1.0
    ]
    return min(levels, default=None)


def _unknown(duty: float) -> Finding:
    return Finding(
        code="flicker",
        place="feed",
        state=State.NOTE,
        sentence=say(
            "It is dimmed to {duty}: type the frequency of the dimmer in Feed to know whether it flickers.",
            duty=Percent(duty),
        ),
        value=duty,
        unit="",
        limit=None,
        figures=(
            Figure(
                say("Dimmed by pulses"),
                Percent(duty),
                say("the lowest level that is set, taken as the share of the time that it is on"),
            ),
        ),
    )


def _judged(evaluation: Evaluation, frequency_hz: float, duty: float) -> Finding:
    limit, camera = low_risk_percent(frequency_hz), camera_limit(evaluation.design)
    modulation, bands = modulation_percent(duty), band_contrast(frequency_hz, _LONGEST_S, duty)
    words: dict[str, Text] = {"hz": Number(frequency_hz, 4), "bands": Percent(bands, 1)}
    if frequency_hz < SEEN_HZ:
        state = State.FAILS
        sentence = say("Dimmed at {hz} Hz it flickers visibly.", **words)
    elif camera is not None and bands > camera:
        state = State.FAILS
        sentence = say("Dimmed at {hz} Hz it bands on camera: {bands} at 1/50 s.", **words)
    elif modulation > limit:
        state = State.WATCH
        sentence = say(
            "Dimmed at {hz} Hz it may be seen in moving things, and strain eyes: take 1250 Hz or more.", **words
        )
    else:
        state = State.GOOD
        sentence = say("Dimmed at {hz} Hz it does not flicker for eyes.", **words)
    return Finding(
        code="flicker",
        place="feed",
        state=state,
        sentence=sentence,
        value=frequency_hz,
        unit="Hz",
        limit=None,
        figures=Lazy(partial(_figures, evaluation.network.wiring, frequency_hz, duty)),
        cautions=(Caution.FLASHING,) if frequency_hz < SEEN_HZ else (),
    )


def _figures(wiring: Wiring, frequency_hz: float, duty: float) -> list[Figure]:
    def most(limit: float) -> Text:
        return say("no limit") if limit == float("inf") else say("{limit} %", limit=Number(limit))

    return [
        Figure(
            say("Modulation"),
            say("{percent} %", percent=Number(modulation_percent(duty))),
            say("pulses that are on for {duty} of the time go from all to nothing", duty=Percent(duty)),
        ),
        Figure(
            say("Low risk up to"),
            most(low_risk_percent(frequency_hz)),
            say("at {hz} Hz", hz=Number(frequency_hz, 4)),
            say(SOURCE),
        ),
        Figure(
            say("No effect up to"),
            most(no_effect_percent(frequency_hz)),
            say("at {hz} Hz", hz=Number(frequency_hz, 4)),
            say(SOURCE),
        ),
        *(
            Figure(
                say("Bands at 1/{exposure} s", exposure=one),
                Percent(band_contrast(frequency_hz, 1.0 / one, duty), 1),
                say(
                    "(most − least) / (most + least) over all starts of the exposure; none at whole periods of {period} ms",
                    period=Fixed(1000.0 / frequency_hz, ".3g"),
                ),
            )
            for one in _EXPOSURES
        ),
        *timer_figures(wiring),
    ]
