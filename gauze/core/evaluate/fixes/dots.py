"""Ways to hide dots and rows from the viewing distance, as far as the standard asks: depth, spacing, strip, or sheet."""

import math
from collections.abc import Callable

import msgspec

from gauze.core.design import Design, RowPlan
from gauze.core.design.pixel_display import PixelDisplay
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.findings.colour import JUST_SEEN_DELTA_UV, colour_spread
from gauze.core.evaluate.fixes.trial import Trial, least_that_holds
from gauze.core.evaluate.standards import standard_of
from gauze.core.layout import panel_layout
from gauze.core.words import Length, say

_WELL_WITHIN = 0.97  # of the limit that a fix must reach, so that rounding does not undo it
_GROWTH = 1.35  # of the depth from one trial to the next while bracketing
_MOST_DEPTH_MM = 1500.0
_MOST_GROWTH = 8.0  # of the depth: what takes more is another lamp
_DEPTH_STEP_MM = 0.5


def most_visibility(design: Design) -> float:
    """Visibility that a fix may leave, by the standard that the design is to meet."""
    return _WELL_WITHIN * standard_of(design).aim


def _hidden(trial: Trial, evaluation: Evaluation | None) -> bool:
    viewing_mm = trial.design.purpose.viewing_distance_mm
    return evaluation is not None and evaluation.dots.visibility(viewing_mm) <= most_visibility(trial.design)


def widest_pitch(trial: Trial) -> Fix | None:
    """Find the fewest rows that this sheet still hides at this depth: the widest pitch, within the margins as they are."""
    layout = trial.layout
    if not _hidden(trial, trial.now) or layout.lines < 3:
        return None

    def hidden(count: int) -> bool:
        return _hidden(trial, trial.attempt(_with_rows(trial, count)))

    low, high = 1, layout.lines
    while high - low > 1:
        middle = (low + high) // 2
        if hidden(middle):
            high = middle
        else:
            low = middle
    evaluation = trial.attempt(_with_rows(trial, high))
    if high == layout.lines or evaluation is None:
        return None
    spacing = Length(panel_layout(evaluation.layout).spacing_mm)
    return trial.fix(
        say(
            "{high} rows are enough, {spacing} apart: the widest spacing that this sheet hides",
            high=high,
            spacing=spacing,
        ),
        evaluation,
    )


def _with_rows(trial: Trial, count: int) -> Design:
    return trial.changed(rows=RowPlan(count=count, side_margin_mm=trial.layout.side_margin_mm))


def more_depth(trial: Trial) -> Fix | None:
    """Find the least depth that hides them, rounded up to half a millimetre."""
    if _hidden(trial, trial.now):
        return None
    return _deepen(trial, lambda evaluation: _hidden(trial, evaluation))


def more_depth_for_colour(trial: Trial) -> Fix | None:
    """Find the least depth at which the colours mix."""
    return _deepen(trial, lambda evaluation: colour_spread(evaluation) <= _WELL_WITHIN * JUST_SEEN_DELTA_UV)


def _deepen(trial: Trial, holds: Callable[[Evaluation], bool]) -> Fix | None:
    def at(depth_mm: float) -> bool:
        evaluation = trial.attempt(trial.deeper(depth_mm))
        return evaluation is not None and holds(evaluation)

    if trial.depth_field is None:
        return None
    low_mm = trial.depth_mm
    high_mm, most_mm = low_mm * _GROWTH, min(_MOST_DEPTH_MM, low_mm * _MOST_GROWTH)
    while not at(high_mm):
        low_mm, high_mm = high_mm, high_mm * _GROWTH
        if high_mm > most_mm:
            return None
    least_mm = least_that_holds(at, low_mm, high_mm, _DEPTH_STEP_MM / 2)
    assert least_mm is not None
    depth_mm = math.ceil(least_mm / _DEPTH_STEP_MM) * _DEPTH_STEP_MM
    evaluation = trial.attempt(trial.deeper(depth_mm))
    if evaluation is None:
        return None
    return trial.fix(say("{depth_name} {depth}", depth_name=trial.depth_name, depth=Length(depth_mm)), evaluation)


def more_display_rows(trial: Trial) -> Fix | None:
    """Find the fewest rows of pixel strip to add, the display as high as it is, with which no shadow lines are left."""
    build = trial.design.build_as(PixelDisplay)
    if build.module is not None or build.baffle is not None:
        return None
    if _hidden(trial, trial.now):
        return None
    high_mm, width_mm = build.rows * build.row_pitch_mm, trial.catalogue.strip(build.strips[0].strip).width_mm

    def at(count: int) -> Evaluation | None:
        return trial.attempt(trial.changed(rows=count, row_pitch_mm=round(high_mm / count, 2)))

    def rows_vanish(count: int) -> bool:
        evaluation = at(count)
        viewing_mm = trial.design.purpose.viewing_distance_mm
        if evaluation is None:
            return False
        own = [ripple for ripple in evaluation.dots.modulations if ripple.kind == "rows"]
        return all(
            ripple.amplitude * float(evaluation.dots.sensitivity(ripple, viewing_mm)) <= most_visibility(trial.design)
            for ripple in own
        )

    low, most = build.rows, min(int(high_mm // width_mm), 128)
    if most <= low or not rows_vanish(most):
        return None
    high = most
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if rows_vanish(middle) else (middle, high)
    evaluation = at(high)
    if evaluation is None:
        return None
    pitch = Length(round(high_mm / high, 2))
    return trial.fix(
        say("{high} rows more, {pitch} apart: no shadow lines", high=high - build.rows, pitch=pitch), evaluation
    )


def closer_rows(trial: Trial) -> Fix | None:
    """Find the fewest rows at this depth that hides them, within the side margins as they are."""
    layout = trial.layout
    if layout.lines < 2 or layout.spacing_mm == 0 or _hidden(trial, trial.now):
        return None
    strip_width_mm = max(row.strip.width_mm for row in layout.rows)
    most = int((trial.design.panel.across_extent_mm - 2 * layout.side_margin_mm) // strip_width_mm) + 1

    low, high = layout.lines, min(most, 2 * layout.lines)
    while not _hidden(trial, trial.attempt(_with_rows(trial, high))):
        if high == most:
            return None
        low, high = high, min(most, 2 * high)
    while high - low > 1:
        middle = (low + high) // 2
        if _hidden(trial, trial.attempt(_with_rows(trial, middle))):
            high = middle
        else:
            low = middle
    evaluation = trial.attempt(_with_rows(trial, high))
    if evaluation is None:
        return None
    spacing = Length(panel_layout(evaluation.layout).spacing_mm)
    return trial.fix(say("{high} rows, {spacing} apart", high=high, spacing=spacing), evaluation)


def denser_strip(trial: Trial) -> Fix | None:
    """Find the sparsest strip of the same volts and colours, denser than this one, whose dots are hidden."""
    strips, catalogue = trial.design.strips, trial.catalogue
    if len(strips) != 1 or _hidden(trial, trial.now):
        return None
    present = catalogue.strip(strips[0].strip)
    likes = [
        strip
        for strip in catalogue.strips.values()
        if strip.volts == present.volts
        and [channel.name for channel in strip.channel] == [channel.name for channel in present.channel]
        and strip.density_per_m > present.density_per_m
    ]
    for strip in sorted(likes, key=lambda strip: strip.density_per_m):
        choice = msgspec.structs.replace(strips[0], strip=strip.id)
        evaluation = trial.attempt(trial.changed(strips=(choice,)))
        if evaluation is not None and _hidden(trial, evaluation):
            return trial.fix(strip.name, evaluation)
    return None


def other_sheet(trial: Trial) -> Fix | None:
    """Find, of all sheets that hide them, the one that lets most light out."""
    if _hidden(trial, trial.now) or not trial.design.build.layers:
        return None
    seen = [trial.glance(trial.changed(diffuser=sheet)) for sheet in trial.catalogue.diffusers]
    for one in sorted((one for one in seen if one is not None), key=lambda one: one.output.out_lm, reverse=True):
        evaluation = trial.attempt(one.design)  # the brightest first: the first that hides them is the one
        if evaluation is not None and _hidden(trial, evaluation):
            return trial.fix(evaluation.diffuser.name, evaluation)
    return None
