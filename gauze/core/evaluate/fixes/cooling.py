"""Ways to keep it cool: a metal back, space behind it, less light, a heat sink."""

import msgspec

from gauze.core.design import Design
from gauze.core.design.surroundings import VENTED, Surroundings
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.findings.heat import METAL_BACK_MM, limits_of, softens_c
from gauze.core.evaluate.fixes.brightness import with_lamps_dimmed
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.families import family_of
from gauze.core.words import Fixed, Length, Number, Percent, Text, say

_WORTH_K = 1.0
_VENTS_MM2 = (200.0, 500.0, 1000.0, 2000.0, 5000.0)
_ROOM = 0.97  # of what is just enough
_BEST_SINK_K_PER_W, _WORST_SINK_K_PER_W = 0.2, 40.0  # that are commonly sold; common practice, no source


def _where(trial: Trial) -> Surroundings | None:
    return None if trial.now.warmth is None else trial.now.warmth.surroundings


def _over_k(evaluation: Evaluation) -> float:
    return 0.0 if evaluation.warmth is None else limits_of(evaluation.warmth, softens_c(evaluation))[0].over_k


def _written(trial: Trial, title: Text, design: Design) -> Fix | None:
    """A change that cools what is hottest, with what it gains."""
    evaluation = trial.attempt(design)
    if evaluation is None or evaluation.warmth is None or trial.now.warmth is None:
        return None
    if _over_k(evaluation) > _over_k(trial.now) - _WORTH_K:
        return None
    before_k, after_k = _over_k(trial.now), _over_k(evaluation)
    gain = say("{before} → {after}", before=_margin(before_k), after=_margin(after_k))
    return trial.fix(title, evaluation, gain)


def _margin(over_k: float) -> Text:
    if over_k > 0:
        return say("{kelvins} K over its limit", kelvins=Fixed(over_k, ".0f"))
    return say("{kelvins} K below it", kelvins=Fixed(-over_k, ".0f"))


def _with(design: Design, where: Surroundings, **changes: object) -> Design:
    return msgspec.structs.replace(design, surroundings=msgspec.structs.replace(where, **changes))


def metal_back(trial: Trial) -> Fix | None:
    """Let the LEDs sit on aluminium."""
    where = _where(trial)
    if where is None or where.back == "aluminium":
        return None
    title = say("Aluminium back, {thick}", thick=Length(METAL_BACK_MM))
    return _written(trial, title, _with(trial.design, where, back="aluminium", back_mm=METAL_BACK_MM))


def space_behind(trial: Trial) -> Fix | None:
    """Let air to its back."""
    where = _where(trial)
    if where is None or not where.against_wall:
        return None
    return _written(trial, say("Space behind it, for air"), _with(trial.design, where, against_wall=False))


def heat_sink(trial: Trial) -> Fix | None:
    """Put the largest figure of heat sink on it that is enough: every W then takes a way of its own out of the back."""
    where, warmth = _where(trial), trial.now.warmth
    if where is None or warmth is None or warmth.watts <= 0:
        return None
    over_k, rise_k = _over_k(trial.now), warmth.hottest.back_c - where.ambient_c
    wanted_k = _ROOM * (rise_k - over_k)
    if over_k <= 0 or wanted_k <= 0:
        return None
    there = 0.0 if where.sink_k_per_w is None else 1.0 / where.sink_k_per_w
    sink = 1.0 / (there + warmth.watts / wanted_k - warmth.watts / rise_k)
    if not _BEST_SINK_K_PER_W <= sink <= _WORST_SINK_K_PER_W:
        return None
    sink = float(f"{sink:.2g}")
    return _written(
        trial, say("Heat sink of {sink} K/W", sink=Number(sink)), _with(trial.design, where, sink_k_per_w=sink)
    )


def vents(trial: Trial) -> Fix | None:
    """Let air through it by the smallest openings of a series that are enough; where none is, by the largest that is made."""
    where = _where(trial)
    if where is None or where.vent_mm2 is not None or family_of(trial.design).body_kind not in VENTED:
        return None
    tried = None
    for area_mm2 in _VENTS_MM2:
        tried = _with(trial.design, where, vent_mm2=area_mm2)
        evaluation = trial.attempt(tried)
        if evaluation is not None and _over_k(evaluation) <= 0:
            break
    title = say("Vents, {area} cm² low and as much high", area=Number((area_mm2) / 100.0))
    return None if tried is None else _written(trial, title, tried)


def less_light(trial: Trial) -> Fix | None:
    """Dim it until nothing is over its limit: rises go as the watts, nearly."""
    where, warmth = _where(trial), trial.now.warmth
    if where is None or warmth is None:
        return None
    limits = limits_of(warmth, softens_c(trial.now))
    share = min((one.most_c - where.ambient_c) / max(one.found_c - where.ambient_c, 1e-6) for one in limits)
    if not 0.0 < share < 1.0:
        return None
    share *= _ROOM
    return _written(trial, say("Dim to {share}", share=Percent(share)), with_lamps_dimmed(trial, share))
