"""Is the face even from rim to rim?"""

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.units import LengthUnit, format_number

GOOD_MIN_OVER_MEAN = 0.70  # common practice, no source
FAIR_MIN_OVER_MEAN = 0.50  # common practice, no source


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
    """Judge the darkest place against the mean."""
    del unit  # no length in it
    even = evaluation.evenness
    if even.mean_cd_m2 <= 0.0:
        return [_dark(evaluation)]
    if evaluation.light.shows_cells:
        state, words = State.NOTE, "The face shows cells as they are lit"
    elif not evaluation.diffuser.layers:
        state, words = State.NOTE, "The light falls off over the wall"
    elif even.min_over_mean >= GOOD_MIN_OVER_MEAN:
        state, words = State.GOOD, "The face is even"
    elif even.min_over_mean >= FAIR_MIN_OVER_MEAN:
        state, words = State.WATCH, "The face is fairly even"
    else:
        state, words = State.FAILS, "The face is uneven"
    return [
        Finding(
            code="evenness",
            place="soften",
            state=state,
            sentence=f"{words}: its darkest place has {even.min_over_mean:.0%} of the mean.",
            value=even.min_over_mean,
            unit="",
            limit=GOOD_MIN_OVER_MEAN,
            figures=_figures(evaluation),
            fixable=state in (State.WATCH, State.FAILS),
        )
    ]


def _dark(evaluation: Evaluation) -> Finding:
    if evaluation.output.emitted_lm > 0.0:
        sentence = "The face is dark: no light from the LEDs reaches it. Turn them around, or uncover them."
    else:
        sentence = "The face is dark: every level is zero."
    return Finding("evenness", "lay", State.FAILS, sentence, 0.0, "", None, _figures(evaluation))


def _figures(evaluation: Evaluation) -> tuple[Figure, ...]:
    even, inside = evaluation.evenness, evaluation.light.reflectances
    balance = evaluation.output.balance_error
    return (
        Figure(
            "U0",
            f"{even.min_over_mean:.3f}",
            f"darkest over mean; {GOOD_MIN_OVER_MEAN:g} is good",
            "limit: common practice, no source",
        ),
        Figure("Ud", f"{even.min_over_max:.3f}", "darkest over brightest"),
        Figure("Nine points", f"{even.nine_min_over_max:.3f}", "least over most, in the middles of nine equal parts"),
        Figure(
            "Luminance",
            f"{format_number(even.min_cd_m2)} to {format_number(even.max_cd_m2)}, mean {format_number(even.mean_cd_m2)} cd/m²",
            "direct light exact, bounced light by radiosity; "
            f"back {inside[0]:g}, walls {inside[1]:g}, sheet {inside[2]:g} reflect",
            f"flux in less flux out and absorbed: {balance:.1e} of it",
        ),
    )
