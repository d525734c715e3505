"""Ways to brighten a dim rim: white inside, other margins of the rows, another depth, or a sheet that scatters more."""

from collections.abc import Iterable

from gauze.core.design import Design, RowPlan
from gauze.core.design.fields import get_field
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.findings.evenness import even_limits, even_share
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.evaluate.standards import standard_of
from gauze.core.layout import panel_layout
from gauze.core.words import Length, Text, say

_WORTH_IT = 0.8  # of the dim band that is left at most by a change that is offered
_DEPTHS = (0.85, 1.2, 0.7, 1.5, 0.5, 2.0)  # times the present one, in the order in which they are the lesser change
_MARGINS = (1.0, 0.8, 0.65, 0.5, 0.35)  # times the present side margin
_SHEETS_TRIED = 4
_LESS_EVEN = 0.02  # of uniformity that a brighter rim may cost
_WHITE = "matt-white-paint"


def white_inside(trial: Trial) -> Fix | None:
    """Paint back and walls white, if that narrows the dim band."""
    evaluation = _best(trial, [trial.changed(back=_WHITE, walls=_WHITE)])
    if evaluation is None:
        return None
    return trial.fix(say("{name} inside", name=trial.catalogue.finish(_WHITE).name), evaluation, _band(evaluation))


def nearer_rows(trial: Trial) -> Fix | None:
    """Bring the outer rows, and the ends of all, nearer to the walls, the rows as many as they are."""
    layout, build = trial.layout, trial.design.panel
    least_mm = max(row.strip.width_mm for row in layout.rows) / 2.0

    def tried() -> Iterable[Design]:
        for share in _MARGINS:
            margin_mm = round(max(share * layout.side_margin_mm, least_mm), 1)
            plan = build.rows if layout.lines < 2 else RowPlan(count=layout.lines, side_margin_mm=margin_mm)
            for end_mm in dict.fromkeys((build.end_margin_mm, 0.0)):
                yield trial.changed(rows=plan, end_margin_mm=end_mm)

    evaluation = _best(trial, tried())
    if evaluation is None:
        return None
    found = panel_layout(evaluation.layout)
    title = say(
        "Side margin {side}, end margin {end}", side=Length(found.side_margin_mm), end=Length(found.end_margin_mm)
    )
    return trial.fix(title, evaluation, _band(evaluation))


def other_depth(trial: Trial) -> Fix | None:
    """Try less and more depth, the lesser changes first."""
    if trial.depth_field is None:
        return None
    evaluation = _best(trial, (trial.deeper(round(trial.depth_mm * share, 1)) for share in _DEPTHS))
    if evaluation is None:
        return None
    depth = Length(float(get_field(evaluation.design, trial.depth_field)))
    return trial.fix(say("{name} {depth}", name=trial.depth_name, depth=depth), evaluation, _band(evaluation))


def other_sheet(trial: Trial) -> Fix | None:
    """Find a sheet behind which the rim is brighter; of those that look best at a glance the first that is good enough."""
    if not trial.design.build.layers:
        return None
    seen = [one for sheet in trial.catalogue.diffusers if (one := trial.glance(trial.changed(diffuser=sheet)))]
    seen.sort(key=lambda one: _rim_mm(one) or 0.0)
    evaluation = _best(trial, (one.design for one in seen[:_SHEETS_TRIED]))
    return None if evaluation is None else trial.fix(evaluation.diffuser.name, evaluation, _band(evaluation))


def _best(trial: Trial, designs: Iterable[Design]) -> Evaluation | None:
    """The first whose rim is good, else the one with the narrowest dim band, if that is worth it; none that harms the rest."""
    before = _rim_mm(trial.now)
    if before is None:
        return None
    best: Evaluation | None = None
    for design in designs:
        evaluation = trial.attempt(design)
        rim = None if evaluation is None else _rim_mm(evaluation)
        if evaluation is None or rim is None or rim > _WORTH_IT * before or _harms(trial, evaluation):
            continue
        if best is None or rim < (_rim_mm(best) or 0.0):
            best = evaluation
        found = evaluation.uniformity
        if found is not None and found.rim_share <= standard_of(trial.design).rim_to:
            return evaluation
    return best


def _harms(trial: Trial, evaluation: Evaluation) -> bool:
    """Whether dots that were hidden show, or the face is less even."""
    good, _ = even_limits(trial.now)
    return trial.shows_more(evaluation) or even_share(evaluation) < min(even_share(trial.now), good) - _LESS_EVEN


def _rim_mm(evaluation: Evaluation) -> float | None:
    return None if evaluation.uniformity is None else evaluation.uniformity.rim_mm


def _band(evaluation: Evaluation) -> Text:
    return say("dim band {rim}", rim=Length(round(_rim_mm(evaluation) or 0.0, 1)))
