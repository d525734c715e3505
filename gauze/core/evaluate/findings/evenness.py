"""Is the face even from rim to rim?"""

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.words import Fixed, Number, Percent, say

GOOD_MIN_OVER_MEAN = 0.70  # common practice, no source
FAIR_MIN_OVER_MEAN = 0.50  # common practice, no source


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the darkest place against the mean."""
    even = evaluation.evenness
    if even.mean_cd_m2 <= 0.0:
        return [_dark(evaluation)]
    if evaluation.light.shows_cells:
        state, words = State.NOTE, say("The face shows cells as they are lit")
    elif not evaluation.diffuser.layers:
        state, words = State.NOTE, say("The light falls off over the wall")
    elif even.min_over_mean >= GOOD_MIN_OVER_MEAN:
        state, words = State.GOOD, say("The face is even")
    elif even.min_over_mean >= FAIR_MIN_OVER_MEAN:
        state, words = State.WATCH, say("The face is fairly even")
    else:
        state, words = State.FAILS, say("The face is uneven")
    return [
        Finding(
            code="evenness",
            place="soften",
            state=state,
            sentence=say(
                "{words}: its darkest place has {min_over_mean} of the mean.",
                words=words,
                min_over_mean=Percent(even.min_over_mean),
            ),
            value=even.min_over_mean,
            unit="",
            limit=GOOD_MIN_OVER_MEAN,
            figures=_figures(evaluation),
            fixable=state in (State.WATCH, State.FAILS),
        )
    ]


def _dark(evaluation: Evaluation) -> Finding:
    if evaluation.output.emitted_lm > 0.0:
        sentence = say("The face is dark: no light from the LEDs reaches it. Turn them around, or uncover them.")
    else:
        sentence = say("The face is dark: every level is zero.")
    return Finding("evenness", "lay", State.FAILS, sentence, 0.0, "", None, _figures(evaluation))


def _figures(evaluation: Evaluation) -> tuple[Figure, ...]:
    even, inside = evaluation.evenness, evaluation.light.reflectances
    balance = evaluation.output.balance_error
    return (
        Figure(
            say("U0"),
            Fixed(even.min_over_mean, ".3f"),
            say("darkest over mean; {good_min_over_mean} is good", good_min_over_mean=Fixed(GOOD_MIN_OVER_MEAN, "g")),
            say("limit: common practice, no source"),
        ),
        Figure(
            say("Ud"),
            Fixed(even.min_over_max, ".3f"),
            say("darkest over brightest"),
        ),
        Figure(
            say("Nine points"),
            Fixed(even.nine_min_over_max, ".3f"),
            say("least over most, in the middles of nine equal parts"),
        ),
        Figure(
            say("Luminance"),
            say(
                "{min} to {max}, mean {mean} cd/m²",
                min=Number(even.min_cd_m2),
                max=Number(even.max_cd_m2),
                mean=Number(even.mean_cd_m2),
            ),
            say(
                "direct light exact, bounced light by radiosity; back {inside}, walls {inside2}, sheet "
                "{inside3} reflect",
                inside=Fixed(inside[0], "g"),
                inside2=Fixed(inside[1], "g"),
                inside3=Fixed(inside[2], "g"),
            ),
            say("flux in less flux out and absorbed: {balance} of it", balance=Fixed(balance, ".1e")),
        ),
    )
