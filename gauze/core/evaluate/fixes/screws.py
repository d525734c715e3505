"""Other screws for a box: the first of the usual sizes that miss each other, hold and split nothing."""

import msgspec

from gauze.core.design.making import Making
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.findings.frame import faults_of
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.families import box_in, parts_of
from gauze.core.parts.frame.hardware import screw_words
from gauze.core.words import say

THICK_MM = (4.0, 3.5, 3.0, 2.5, 2.0)  # sizes of wood screws that are sold anywhere; common practice, no source
LONG_MM = (50.0, 45.0, 40.0, 35.0, 30.0, 25.0, 20.0, 16.0, 12.0, 10.0)


def other_screws(trial: Trial) -> Fix | None:
    """Take the thickest, then the longest screws with which nothing is wrong."""
    making = trial.design.making or Making()
    for thick in THICK_MM:
        for long in LONG_MM:
            frame = msgspec.structs.replace(making.frame, screw_mm=thick, screw_long_mm=long)
            changed = msgspec.structs.replace(trial.design, making=msgspec.structs.replace(making, frame=frame))
            layout = trial.now.layout
            box = box_in(changed, layout, trial.catalogue)
            parts = parts_of(changed, layout, trial.catalogue)
            if box is not None and not any(one.of_screws for one in faults_of(parts, box)):
                evaluation = trial.attempt(changed)
                return None if evaluation is None else trial.fix(say("{screw}", screw=screw_words(frame)), evaluation)
    return None
