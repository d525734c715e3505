"""Changes that make a text on a display stand out: the sheet nearer to the pixels, or partitions between them."""

import msgspec

from gauze.core.design import Design
from gauze.core.design.pixel_display import Baffle, PixelDisplay, pitches_mm
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.findings.legibility import LEAST_CONTRAST
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.words import Length, Percent, Text, say

_DEPTH_SHARES = (0.85, 0.7, 0.55, 0.42, 0.32, 0.24)
_WALL_MM, _WALL_SHARE = 0.8, 0.12  # of a partition: printed or cut card; at most this share of a pixel
_CLEAR_MM = 0.5  # of partitions from the sheet


def nearer_sheet(trial: Trial) -> Fix | None:
    """Find the largest of a few smaller depths at which the text stands out; partitions get lower with it."""
    build = trial.design.build_as(PixelDisplay)
    for share in _DEPTH_SHARES:
        evaluation = trial.attempt(_at_depth(trial.design, build, round(build.depth_mm * share, 1)))
        if evaluation is not None and _contrast(evaluation) >= LEAST_CONTRAST:
            depth = Length(evaluation.design.build_as(PixelDisplay).depth_mm)
            return trial.fix(say("Sheet {depth} from the pixels", depth=depth), evaluation, _gain(trial, evaluation))
    return None


def partitions(trial: Trial) -> Fix | None:
    """Put partitions between the pixels, as high as fit under the sheet, or raise those that there are."""
    build = trial.design.build_as(PixelDisplay)
    thick = round(min(_WALL_MM, _WALL_SHARE * min(pitches_mm(build, trial.catalogue))), 2)
    baffle = build.baffle or Baffle(wall_mm=thick, height_mm=build.depth_mm)
    height_mm = round(build.depth_mm - _CLEAR_MM - baffle.gap_below_mm, 1)
    if height_mm <= 0.0:
        return None
    changed = trial.changed(baffle=msgspec.structs.replace(baffle, height_mm=height_mm))
    evaluation = trial.attempt(changed)
    if evaluation is None or changed == trial.design or _contrast(evaluation) < LEAST_CONTRAST:
        return None
    high = Length(height_mm)
    return trial.fix(say("Partitions {high} high between the pixels", high=high), evaluation, _gain(trial, evaluation))


def _at_depth(design: Design, build: PixelDisplay, depth_mm: float) -> Design:
    baffle = build.baffle
    if baffle is not None:
        room_mm = baffle.height_mm + depth_mm - build.depth_mm
        baffle = msgspec.structs.replace(baffle, height_mm=round(max(room_mm, 0.1), 2))
    return msgspec.structs.replace(design, build=msgspec.structs.replace(build, depth_mm=depth_mm, baffle=baffle))


def _contrast(evaluation: Evaluation) -> float:
    if evaluation.shown is None or evaluation.shown.legibility is None:
        return 0.0
    return evaluation.shown.legibility.contrast


def _gain(trial: Trial, evaluation: Evaluation) -> Text:
    return say(
        "contrast {contrast} becomes {contrast2}",
        contrast=Percent(_contrast(trial.now)),
        contrast2=Percent(_contrast(evaluation)),
    )
