"""Ways to even the face out: white inside, or the side margin that lifts the rim."""

from gauze.core.design import Design, RowPlan
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.layout import panel_layout
from gauze.core.words import Length, Percent, say

_WORTH_IT = 0.02  # gain in U0 below which a change is not offered
_WHITE = "matt-white-paint"


def white_inside(trial: Trial) -> Fix | None:
    """Paint back and walls white, if that evens the face."""
    finish = trial.catalogue.finish(_WHITE)
    evaluation = trial.attempt(trial.changed(back=_WHITE, walls=_WHITE))
    if evaluation is None or _gain(trial, evaluation.evenness.min_over_mean) < _WORTH_IT:
        return None
    even = evaluation.evenness.min_over_mean
    return trial.fix(
        say("{name} inside", name=finish.name), evaluation, say("darkest {even} of the mean", even=Percent(even))
    )


def side_margin(trial: Trial) -> Fix | None:
    """Find the side margin, with the rows as many as they are, at which the darkest place is brightest."""
    from scipy.optimize import minimize_scalar  # noqa: PLC0415 - costs a tenth of a second, and is wanted only here

    layout, build = trial.layout, trial.design.panel
    if layout.lines < 2:
        return None
    least_mm = max(row.strip.width_mm for row in layout.rows) / 2
    most_mm = build.across_extent_mm / layout.lines

    def with_margin(margin_mm: float) -> Design:
        return trial.changed(rows=RowPlan(count=layout.lines, side_margin_mm=round(margin_mm, 1)))

    def loss(margin_mm: float) -> float:
        evaluation = trial.attempt(with_margin(margin_mm))
        return 1.0 if evaluation is None else -evaluation.evenness.min_over_mean

    found = minimize_scalar(loss, bounds=(least_mm, most_mm), method="bounded", options={"maxiter": 14, "xatol": 0.5})
    evaluation = trial.attempt(with_margin(float(found.x)))
    if evaluation is None or _gain(trial, evaluation.evenness.min_over_mean) < _WORTH_IT:
        return None
    margin = Length(panel_layout(evaluation.layout).side_margin_mm)
    even = evaluation.evenness.min_over_mean
    return trial.fix(
        say("Side margin {margin}", margin=margin), evaluation, say("darkest {even} of the mean", even=Percent(even))
    )


def _gain(trial: Trial, min_over_mean: float) -> float:
    return min_over_mean - trial.now.evenness.min_over_mean
