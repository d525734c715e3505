"""Ways to even the face out: white inside, more depth, a sheet that scatters more, or the side margin that lifts the rim."""

from gauze.core.design import Design, RowPlan
from gauze.core.design.fields import get_field
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.findings.evenness import even_limits, even_share
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.layout import panel_layout
from gauze.core.words import Length, Percent, Text, say

_WORTH_IT = 0.02  # gain below which a change is not offered
_WORTH_DEPTH = 0.05  # the same for more depth, which costs room
_SHEETS_TRIED = 4  # of those that look best at a glance
_DEPTHS = (1.25, 1.5, 2.0, 2.5, 3.0)  # times the present one
_WHITE = "matt-white-paint"


def white_inside(trial: Trial) -> Fix | None:
    """Paint back and walls white, if that evens the face."""
    finish = trial.catalogue.finish(_WHITE)
    evaluation = trial.attempt(trial.changed(back=_WHITE, walls=_WHITE))
    if evaluation is None or _gain(trial, even_share(evaluation)) < _WORTH_IT:
        return None
    return trial.fix(say("{name} inside", name=finish.name), evaluation, _darkest(evaluation))


def more_depth(trial: Trial) -> Fix | None:
    """Find the least of a few greater depths at which the face is even; else the one that evens it most for its depth."""
    if trial.depth_field is None or even_share(trial.now) >= even_limits(trial.now)[0]:
        return None
    before = even_share(trial.now)
    best: Evaluation | None = None
    for growth in _DEPTHS:
        evaluation = trial.attempt(trial.deeper(round(trial.depth_mm * growth, 1)))
        if evaluation is None or trial.shows_more(evaluation):
            continue
        even = even_share(evaluation)
        if even >= before + _WORTH_DEPTH and (best is None or even > even_share(best) + _WORTH_DEPTH):
            best = evaluation
        if even >= even_limits(trial.now)[0]:
            break
    if best is None:
        return None
    depth = Length(float(get_field(best.design, trial.depth_field)))
    return trial.fix(say("{name} {depth}", name=trial.depth_name, depth=depth), best, _darkest(best))


def more_scattering_sheet(trial: Trial) -> Fix | None:
    """Find, of the sheets behind which the face is even, the one that lets most light out; else the one that evens it most."""
    now = trial.glance(trial.design)
    if not trial.design.build.layers or now is None or even_share(trial.now) >= even_limits(trial.now)[0]:
        return None
    seen = [
        one
        for sheet in trial.catalogue.diffusers
        if (one := trial.glance(trial.changed(diffuser=sheet))) is not None
        and even_share(one) >= even_share(now) + _WORTH_IT
    ]

    def merit(one: Evaluation) -> tuple[bool, float]:
        is_even = even_share(one) >= even_limits(one)[0]
        return is_even, one.output.out_lm if is_even else even_share(one)

    for one in sorted(seen, key=merit, reverse=True)[:_SHEETS_TRIED]:
        evaluation = trial.attempt(one.design)
        if evaluation is None or trial.shows_more(evaluation):
            continue
        if _gain(trial, even_share(evaluation)) >= _WORTH_IT:
            return trial.fix(evaluation.diffuser.name, evaluation, _darkest(evaluation))
    return None


def _darkest(evaluation: Evaluation) -> Text:
    return say("dimmest place {even} of the brightest", even=Percent(even_share(evaluation)))


def side_margin(trial: Trial) -> Fix | None:
    """Find the side margin, with the rows as many as they are, at which the darkest place is brightest."""
    from scipy.optimize import minimize_scalar

    layout, build = trial.layout, trial.design.panel
    if layout.lines < 2:
        return None
    least_mm = max(row.strip.width_mm for row in layout.rows) / 2
    most_mm = build.across_extent_mm / layout.lines

    def with_margin(margin_mm: float) -> Design:
        return trial.changed(rows=RowPlan(count=layout.lines, side_margin_mm=round(margin_mm, 1)))

    def loss(margin_mm: float) -> float:
        evaluation = trial.attempt(with_margin(margin_mm))
        return 1.0 if evaluation is None else -even_share(evaluation)

    found = minimize_scalar(loss, bounds=(least_mm, most_mm), method="bounded", options={"maxiter": 14, "xatol": 0.5})
    evaluation = trial.attempt(with_margin(float(found.x)))
    if evaluation is None or _gain(trial, even_share(evaluation)) < _WORTH_IT:
        return None
    margin = Length(panel_layout(evaluation.layout).side_margin_mm)
    return trial.fix(say("Side margin {margin}", margin=margin), evaluation, _darkest(evaluation))


def _gain(trial: Trial, min_over_mean: float) -> float:
    return min_over_mean - even_share(trial.now)
