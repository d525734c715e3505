"""Which white it is, what the dimmers reach, and whether colours stripe the face."""

import functools

import numpy as np

from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Figure, Finding, State
from gauze.core.layout import PanelLayout
from gauze.core.optics.colour import WHITE_DUV, WhitePoint, uv_1976, white_point
from gauze.core.units import LengthUnit

JUST_SEEN_DELTA_UV = 0.004  # in CIE 1976 u' v'; common practice, no source
JUST_SEEN_MIRED = 5.0  # of reciprocal megakelvin; common practice, no source
PLAIN_DELTA_UV = 0.010  # common practice, no source


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
    """Judge the white of the whole face and, where there are several colours, their evenness."""
    del unit  # no length in it
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
            "The light is a colour, too far from white to have a colour temperature.",
            0.0,
        )
    else:
        tint = "looks white" if point.looks_white else ("looks greenish" if point.duv > 0 else "looks pinkish")
        state = State.GOOD if point.looks_white else State.WATCH
        sentence = f"{point.cct_k:.0f} K, {tint} (Duv {_signed(point.duv)})"
        sentence += f"; the dimmers reach {reach}." if reach else "."
        value = point.cct_k
    figures = [
        Figure(
            "Mean of the face",
            "no CCT" if point is None else f"{point.cct_k:.0f} K, Duv {_signed(point.duv)}",
            f"XYZ summed over the channels; |Duv| below {WHITE_DUV:g} looks white",
            "CIE 1931 tables; limit ANSI C78.377, from memory",
        )
    ]
    figures += [_channel_figure(evaluation, index) for index in range(len(evaluation.channels))]
    wanted_k = evaluation.design.purpose.wanted_cct_k
    missed = wanted_k is not None and not _is_met(value, wanted_k)
    if missed:
        state = State.WATCH
        sentence = f"{sentence[:-1]}; you want {wanted_k:.0f} K."
    several = len(evaluation.channels) > 1
    return Finding("colour", "aim", state, sentence, value, "K", wanted_k, tuple(figures), fixable=missed and several)


def _is_met(cct_k: float, wanted_k: float) -> bool:
    """Whether two whites are as near as neighbouring strips of one order are."""
    return cct_k > 0 and abs(1e6 / cct_k - 1e6 / wanted_k) < JUST_SEEN_MIRED


def _signed(duv: float) -> str:
    return f"{duv:+.4f}".replace("-", "\N{MINUS SIGN}")


def _channel_figure(evaluation: Evaluation, index: int) -> Figure:
    channel = evaluation.channels[index]
    return Figure(
        f"Channel {index + 1}, {channel.name}",
        f"{channel.flux_lm:.0f} lm at level {channel.level:.0%}",
        channel.words,
        "typical",
    )


def _reach(evaluation: Evaluation) -> str:
    """Say the range of CCT between the channels' own whites, when there are two."""
    if not isinstance(evaluation.layout, PanelLayout):
        return ""  # loose emitters have one level for all
    channels = evaluation.channels
    temperatures = sorted({channel.cct_k for channel in channels if channel.cct_k is not None})
    if len(channels) < 2 or len(temperatures) < 2:
        return ""
    worst = _worst_on_the_way(evaluation)
    way = "" if worst is None else f", at worst {_signed(worst.duv)} off the locus near {worst.cct_k:.0f} K"
    return f"{temperatures[0]:g} K to {temperatures[-1]:g} K{way}"


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
        state, words = State.GOOD, "The colours mix"
    elif worst < PLAIN_DELTA_UV:
        state, words = State.WATCH, "The colours nearly mix"
    else:
        state, words = State.FAILS, "The colours do not mix"
    return Finding(
        code="colour evenness",
        place="soften",
        state=state,
        sentence=f"{words}: up to Δu′v′ {worst:.4f} from the mean over the face.",
        value=worst,
        unit="",
        limit=JUST_SEEN_DELTA_UV,
        figures=(
            Figure(
                "Δu′v′",
                f"{worst:.4f}",
                f"largest distance from the mean colour; {JUST_SEEN_DELTA_UV:g} is just visible, {PLAIN_DELTA_UV:g} is obvious",
                "CIE 1976 UCS; limits: common practice, no source",
            ),
        ),
        fixable=state is not State.GOOD,
    )
