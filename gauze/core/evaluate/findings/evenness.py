"""Is the face even where it is looked at, and how much of it is dim along the rim?"""

from functools import partial

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.evaluate.standards import Standard, standard_of
from gauze.core.lazy import Lazy
from gauze.core.optics.uniformity import DIM, INSET, Uniformity
from gauze.core.words import Fixed, Length, Number, Percent, Text, say

_FUNNEL = (
    0.7  # of the limits for other faces: the mouth of a funnel is brighter in its middle; common practice, no source
)
_ALIKE = 0.98  # least over most from which on faces are the same
_RIM_TO_TELL = 0.02  # of the face's side: a narrower dim band is not worth a word
_NAMES: dict[str, Text] = {
    "face": say("The face"),
    "length": say("Along its length the face"),
    "funnel": say("From its middle to its edge the mouth"),
    "shell": say("Each shell, seen from the front,"),
}
_WORDS: dict[State, Text] = {
    State.GOOD: say("is even"),
    State.WATCH: say("is fairly even"),
    State.FAILS: say("is uneven"),
}


def even_share(evaluation: Evaluation) -> float:
    """Least over most of the measuring places; 0 for a dark face."""
    found = evaluation.uniformity
    return 0.0 if found is None else found.least_over_most


def even_limits(evaluation: Evaluation) -> tuple[float, float]:
    """From which share a face is even, and below which it is uneven, by the standard that the design is to meet."""
    standard, found = standard_of(evaluation.design), evaluation.uniformity
    mild = _FUNNEL if found is not None and found.looks == "funnel" else 1.0
    return mild * standard.even_from, mild * standard.uneven_below


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the dimmest measuring place against the brightest, and tell the rim apart."""
    found = evaluation.uniformity
    if found is None:
        return [_dark(evaluation)]
    standard = standard_of(evaluation.design)
    is_judged = standard.key != "light_only" and not evaluation.light.shows_cells and bool(evaluation.diffuser.layers)
    return [
        _evenness(evaluation, found, is_judged=is_judged),
        *_rim(evaluation, found, standard, is_judged=is_judged),
        *_face_to_face(found, standard, is_judged=is_judged),
    ]


def _evenness(evaluation: Evaluation, found: Uniformity, *, is_judged: bool) -> Finding:
    share = even_share(evaluation)
    good, fair = even_limits(evaluation)
    state = State.GOOD if share >= good else State.WATCH if share >= fair else State.FAILS
    return Finding(
        code="evenness",
        place="soften",
        state=state if is_judged else State.NOTE,
        sentence=_sentence(evaluation, found, state, is_judged=is_judged),
        value=share,
        unit="",
        limit=good if is_judged else None,
        figures=Lazy(partial(_figures, evaluation, found)),
        fixable=is_judged and state is not State.GOOD,
    )


def _sentence(evaluation: Evaluation, found: Uniformity, state: State, *, is_judged: bool) -> Text:
    if evaluation.light.shows_cells:
        return say("The cells are lit as they are meant to be told apart.")
    if not evaluation.diffuser.layers:
        return say(
            "The light falls off over the wall to {share} of its brightest place.", share=Percent(found.least_over_most)
        )
    if not is_judged:
        return say("The dimmest place of the face has {share} of its brightest.", share=Percent(found.least_over_most))
    return say(
        "{name} {words}: the dimmest place has {share} of the brightest.",
        name=_NAMES[found.looks],
        words=_WORDS[state],
        share=Percent(found.least_over_most),
    )


def _rim(evaluation: Evaluation, found: Uniformity, standard: Standard, *, is_judged: bool) -> list[Finding]:
    """How wide the band along the walls, or at the ends, is that stays dim; nothing where that is too little to be told."""
    if found.rim_share < _RIM_TO_TELL or not evaluation.diffuser.layers or evaluation.light.shows_cells:
        return []
    state = standard.rim_state_of(found.rim_share) if is_judged else State.NOTE
    sentence = (
        say("The last {rim} at the ends are dim.", rim=Length(_rounded(found.rim_mm)))
        if found.looks == "length"
        else say("The outer {rim} along the rim are dim.", rim=Length(_rounded(found.rim_mm)))
    )
    return [
        Finding(
            code="dim rim",
            place="soften",
            state=state,
            sentence=sentence,
            value=found.rim_mm,
            unit="mm",
            limit=standard.rim_to * found.size_mm if is_judged else None,
            figures=(
                Figure(
                    say("Dim band"),
                    Length(_rounded(found.rim_mm)),
                    say(
                        "from the rim to where the mean luminance reaches {dim} of that inside, on the side where it is "
                        "widest: {share} of {size}; up to {rim_to} is good",
                        dim=Percent(DIM),
                        share=Percent(found.rim_share),
                        size=Length(_rounded(found.size_mm)),
                        rim_to=Percent(standard.rim_to),
                    ),
                    say("limits: common practice, no source"),
                ),
            ),
            fixable=state in (State.WATCH, State.FAILS),
        )
    ]


def _face_to_face(found: Uniformity, standard: Standard, *, is_judged: bool) -> list[Finding]:
    """Whether bodies of several kinds glow alike; doubtful at worst, as each can be dimmed by itself. None where all do."""
    share = found.from_face_to_face
    if share > _ALIKE:
        return []
    state = State.NOTE if not is_judged else State.GOOD if share >= standard.even_from else State.WATCH
    return [
        Finding(
            code="face to face",
            place="soften",
            state=state,
            sentence=say(
                "From one to the next the faces differ: the dimmest has {share} of the brightest{level}.",
                share=Percent(share),
                level=say(", until they are dimmed to match") if state is State.WATCH else "",
            ),
            value=share,
            unit="",
            limit=standard.even_from if is_judged else None,
            figures=(
                Figure(
                    say("From face to face"),
                    Fixed(share, ".2f"),
                    say("least over most of the faces' mean luminances at the levels that are set"),
                    say("limits: common practice, no source"),
                ),
            ),
        )
    ]


def _rounded(length_mm: float) -> float:
    """What is measured on a map of pixels, to a millimetre, or to a tenth where that is much."""
    return round(length_mm, 0 if length_mm >= 10.0 else 1)


def _dark(evaluation: Evaluation) -> Finding:
    if evaluation.output.emitted_lm > 0.0:
        sentence = say("The face is dark: no light from the LEDs reaches it. Turn them around, or uncover them.")
    else:
        sentence = say("The face is dark: every level is zero.")
    return Finding("evenness", "lay", State.FAILS, sentence, 0.0, "", None, Lazy(partial(_map_figures, evaluation)))


def _figures(evaluation: Evaluation, found: Uniformity) -> tuple[Figure, ...]:
    good, _ = even_limits(evaluation)
    return (
        Figure(
            say("Sampled uniformity"),
            Fixed(found.least_over_most, ".2f"),
            say(
                "least over most of all places that are {inset} or more from the rim ({share} of the face), each "
                "averaged over {field}: one degree of view, and no less than the ripple that is judged as dots or "
                "rows; {good} is good",
                inset=Length(_rounded(found.inset_mm)),
                share=Percent(INSET),
                field=Length(_rounded(found.field_mm)),
                good=Fixed(good, ".2g"),
            ),
            say("as VESA FPDM and IDMS sample a face, from memory; limits: common practice, no source"),
        ),
        *_map_figures(evaluation),
    )


def _map_figures(evaluation: Evaluation) -> tuple[Figure, ...]:
    even, inside = evaluation.evenness, evaluation.light.reflectances
    balance = evaluation.output.balance_error
    return (
        Figure(
            say("U0"),
            Fixed(even.min_over_mean, ".3f"),
            say("darkest over mean, up to the rim and dot by dot"),
        ),
        Figure(
            say("Ud"),
            Fixed(even.min_over_max, ".3f"),
            say("darkest over brightest"),
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
