"""Which white it is, what the dimmers reach, and whether colours stripe the face."""

import functools
from functools import partial

import numpy as np

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.evaluate.standards import standard_of
from gauze.core.lazy import Lazy
from gauze.core.optics.colour import WHITE_DUV, WhitePoint, uv_1976, white_point
from gauze.core.words import Fixed, Percent, Text, say

JUST_SEEN_DELTA_UV = 0.004  # in CIE 1976 u' v'; common practice, no source
JUST_SEEN_MIRED = 5.0  # of reciprocal megakelvin; common practice, no source
PLAIN_DELTA_UV = 0.010  # common practice, no source


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the white of the whole face and, where there are several colours, their evenness."""
    if evaluation.evenness.mean_cd_m2 <= 0:
        return []
    findings = [_white(evaluation)]
    if _colours_stand_apart(evaluation) and not evaluation.light.shows_cells:
        findings.append(_colour_evenness(evaluation))
    return findings


def _colours_stand_apart(evaluation: Evaluation) -> bool:
    """Whether light of different colours comes from different places; the channels of one package always mix."""
    lit = [channel for channel in evaluation.channels if channel.flux_lm > 0]
    places = {channel.place_group for channel in lit}
    colours = {tuple(np.round(uv_1976(channel.xyz_per_lumen), 5)) for channel in lit}
    return len(places) > 1 and len(colours) > 1


def _white(evaluation: Evaluation) -> Finding:
    mean = evaluation.mean_xyz
    point = white_point(mean)
    reach = _reach(evaluation)
    if point is None:
        state, sentence, value = (
            State.NOTE,
            say("The light is a colour, too far from white to have a colour temperature."),
            0.0,
        )
    else:
        tint = (
            say("looks white")
            if point.looks_white
            else (say("looks greenish") if point.duv > 0 else say("looks pinkish"))
        )
        state = State.GOOD if point.looks_white else State.NOTE
        white = say("{cct} K, {tint} (Duv {duv})", cct=Fixed(point.cct_k, ".0f"), tint=tint, duv=_signed(point.duv))
        if reach:
            white = say("{white}; the dimmers reach {reach}", white=white, reach=reach)
        sentence = say("{white}.", white=white)
        value = point.cct_k
    figures = Lazy(partial(_white_figures, evaluation, point))
    wanted_k = evaluation.design.purpose.wanted_cct_k
    missed = wanted_k is not None and not _is_met(value, wanted_k)
    if wanted_k is not None and (missed or state is State.NOTE):
        state = State.WATCH  # a white that was not asked for may have any tint
        sentence += say(" You want {wanted} K.", wanted=Fixed(wanted_k, ".0f"))
    tinted = state is State.NOTE and any(channel.cct_k is None for channel in evaluation.channels)
    fixable = (state is State.WATCH or tinted) and len(evaluation.channels) > 1
    return Finding("colour", "aim", state, sentence, value, "K", wanted_k, figures, fixable=fixable)


def _white_figures(evaluation: Evaluation, point: WhitePoint | None) -> tuple[Figure, ...]:
    mean = Figure(
        say("Mean of the face"),
        say("no CCT")
        if point is None
        else say("{cct} K, Duv {signed}", cct=Fixed(point.cct_k, ".0f"), signed=_signed(point.duv)),
        say("XYZ summed over the channels; |Duv| below {white_duv} looks white", white_duv=Fixed(WHITE_DUV, "g")),
        say("CIE 1931 tables; limit ANSI C78.377, from memory"),
    )
    return (mean, *(_channel_figure(evaluation, index) for index in range(len(evaluation.channels))))


def _is_met(cct_k: float, wanted_k: float) -> bool:
    """Whether two whites are as near as neighbouring strips of one order are."""
    return cct_k > 0 and abs(1e6 / cct_k - 1e6 / wanted_k) < JUST_SEEN_MIRED


def _signed(duv: float) -> Text:
    return f"{duv:+.4f}".replace("-", "\N{MINUS SIGN}") if abs(duv) >= 5e-5 else "0"


def _channel_figure(evaluation: Evaluation, index: int) -> Figure:
    channel = evaluation.channels[index]
    return Figure(
        say("Channel {index}, {name}", index=index + 1, name=channel.name),
        say("{flux} lm at level {level}", flux=Fixed(channel.flux_lm, ".0f"), level=Percent(channel.level)),
        channel.words,
        say("typical"),
    )


def _reach(evaluation: Evaluation) -> Text:
    """Say the range of CCT between the channels' own whites, when there are two."""
    if evaluation.layout.rows_in_box is None:
        return ""  # the colours of other builds cannot be distinguished at the face
    channels = evaluation.channels
    temperatures = sorted({channel.cct_k for channel in channels if channel.cct_k is not None})
    if len(channels) < 2 or len(temperatures) < 2:
        return ""
    worst = _worst_on_the_way(evaluation)
    way = (
        ""
        if worst is None
        else say(
            ", at worst {signed} off the locus near {cct} K", signed=_signed(worst.duv), cct=Fixed(worst.cct_k, ".0f")
        )
    )
    return say(
        "{temperatures} K to {temperatures2} K{way}",
        temperatures=Fixed(temperatures[0], "g"),
        temperatures2=Fixed(temperatures[-1], "g"),
        way=way,
    )


def _worst_on_the_way(evaluation: Evaluation) -> WhitePoint | None:
    """Largest |Duv| between the warmest and the coolest channel, mixed by flux: a straight line in XYZ."""
    order = sorted((c for c in evaluation.channels if c.cct_k is not None), key=lambda channel: channel.cct_k or 0.0)
    warm, cool = (tuple(channel.xyz_per_lumen.tolist()) for channel in (order[0], order[-1]))
    return _worst_between(warm, cool)


@functools.lru_cache(maxsize=64)
def _worst_between(warm: tuple[float, ...], cool: tuple[float, ...]) -> WhitePoint | None:
    shares = np.linspace(0.05, 0.95, 19)
    points = [white_point((1 - share) * np.array(warm) + share * np.array(cool)) for share in shares]
    return max((point for point in points if point is not None), key=lambda point: abs(point.duv), default=None)


def colour_spread(evaluation: Evaluation) -> float:
    """Largest distance of any place's colour from the mean colour of the face, in CIE 1976 u' v'."""
    lit = evaluation.inside & (evaluation.xyz[1] > 0)
    colours = uv_1976(evaluation.xyz[:, lit].T)
    mean = uv_1976(evaluation.mean_xyz)
    return float(np.sqrt(((colours - mean) ** 2).sum(axis=-1)).max())


def _colour_evenness(evaluation: Evaluation) -> Finding:
    worst = colour_spread(evaluation)
    if worst < JUST_SEEN_DELTA_UV:
        state, words = State.GOOD, say("The colours mix")
    elif worst < PLAIN_DELTA_UV:
        state, words = State.WATCH, say("The colours nearly mix")
    else:
        state, words = State.FAILS, say("The colours do not mix")
        if standard_of(evaluation.design).key == "light_only":
            state = State.WATCH  # nobody looks at the face
    return Finding(
        code="colour evenness",
        place="soften",
        state=state,
        sentence=say(
            "{words}: up to Δu′v′ {worst} from the mean over the face.", words=words, worst=Fixed(worst, ".4f")
        ),
        value=worst,
        unit="",
        limit=JUST_SEEN_DELTA_UV,
        figures=(
            Figure(
                say("Δu′v′"),
                Fixed(worst, ".4f"),
                say(
                    "largest distance from the mean colour; {just_seen_delta_uv} is just visible, "
                    "{plain_delta_uv} is obvious",
                    just_seen_delta_uv=Fixed(JUST_SEEN_DELTA_UV, "g"),
                    plain_delta_uv=Fixed(PLAIN_DELTA_UV, "g"),
                ),
                say("CIE 1976 UCS; limits: common practice, no source"),
            ),
        ),
        fixable=state is not State.GOOD,
    )
