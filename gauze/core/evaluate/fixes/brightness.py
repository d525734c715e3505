"""Ways to the wanted brightness: more rows, a clearer sheet, or less level."""

import msgspec

from gauze.core.design import Design, RowPlan
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.words import Percent, say


def _share(trial: Trial, evaluation: Evaluation) -> float:
    purpose = trial.design.purpose
    if trial.code == "target brightness":
        return evaluation.target_lx / purpose.wanted_illuminance_lx
    return evaluation.evenness.mean_cd_m2 / purpose.wanted_luminance_cd_m2


def more_rows(trial: Trial) -> Fix | None:
    """Find the fewest rows that reach what is wanted, within the side margins as they are."""
    share, layout = _share(trial, trial.now), trial.layout
    if share >= 1.0 or share <= 0.0:
        return None
    strip_width_mm = max(row.strip.width_mm for row in layout.rows)
    most = int((trial.design.panel.across_extent_mm - 2 * layout.side_margin_mm) // strip_width_mm) + 1
    # light grows nearly as the number of rows: start there and go up
    first = max(layout.lines + 1, int(layout.lines / share))
    for count in range(first, min(most, first + 4) + 1):
        plan = RowPlan(count=count, side_margin_mm=layout.side_margin_mm)
        evaluation = trial.attempt(trial.changed(rows=plan))
        if evaluation is not None and _share(trial, evaluation) >= 1.0:
            return trial.fix(say("{count} rows", count=count), evaluation)
    return None


def clearer_sheet(trial: Trial) -> Fix | None:
    """Find the sheet that shows the dots least among those that let enough light out."""
    if _share(trial, trial.now) >= 1.0 or not trial.design.build.layers:
        return None
    viewing_mm = trial.design.purpose.viewing_distance_mm
    best: Evaluation | None = None
    for diffuser_id in trial.catalogue.diffusers:
        evaluation = trial.attempt(trial.changed(diffuser=diffuser_id))
        if evaluation is None or _share(trial, evaluation) < 1.0:
            continue
        if best is None or evaluation.dots.visibility(viewing_mm) < best.dots.visibility(viewing_mm):
            best = evaluation
    return None if best is None else trial.fix(best.diffuser.name, best)


def dim_emitters(trial: Trial) -> Fix | None:
    """Turn the level of loose emitters down to what is wanted, when there is more."""
    share = _share(trial, trial.now)
    if share <= 1.0:
        return None
    evaluation = trial.attempt(trial.changed(level=round(trial.design.loose.level / share, 3)))
    return None if evaluation is None else trial.fix(say("Dim to {share}", share=Percent(1 / share)), evaluation)


def dim_lamps(trial: Trial) -> Fix | None:
    """Turn the levels of strips, or of the module, down to what is wanted, when there is more."""
    share = _share(trial, trial.now)
    if share <= 1.0:
        return None
    evaluation = trial.attempt(with_lamps_dimmed(trial, 1.0 / share))
    return None if evaluation is None else trial.fix(say("Dim to {share}", share=Percent(1 / share)), evaluation)


def with_lamps_dimmed(trial: Trial, share: float) -> Design:
    """Return the design with the levels of its strips, or of its module, at a share of what they are."""
    build = trial.design.build
    if build.module is not None:
        lamp = build.module
        levels = lamp.levels_for(trial.catalogue.module(lamp.module))
        dimmed = msgspec.structs.replace(lamp, levels=tuple(round(level * share, 3) for level in levels))
        return trial.changed(module=dimmed)
    strips = tuple(
        msgspec.structs.replace(
            choice,
            levels=tuple(round(level * share, 3) for level in choice.levels_for(trial.catalogue.strip(choice.strip))),
        )
        for choice in build.strips
    )
    return trial.changed(strips=strips)
