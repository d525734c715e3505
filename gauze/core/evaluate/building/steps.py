"""All steps of a design in their order, the builder's own among them, and how many are done."""

from collections.abc import Sequence

from gauze.core.design.making import Making
from gauze.core.evaluate.building.body import body_steps
from gauze.core.evaluate.building.cutting import cutting_steps, preparing_steps
from gauze.core.evaluate.building.finishing import closing_steps, hanging_steps, measuring_steps
from gauze.core.evaluate.building.model import Step, ToBuild
from gauze.core.evaluate.building.wiring import laying_steps, trying_steps, wiring_steps
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.made import MadeBuild
from gauze.core.families import parts_of

_ORDER = (
    preparing_steps,
    cutting_steps,
    body_steps,
    laying_steps,
    wiring_steps,
    trying_steps,
    closing_steps,
    measuring_steps,
    hanging_steps,
)


def steps_of(evaluation: Evaluation, made: MadeBuild) -> tuple[Step, ...]:
    """Return the steps of a design, by how it was evaluated and how its cutting is planned."""
    build = ToBuild(evaluation, parts_of(evaluation.design, evaluation.layout, evaluation.catalogue), made)
    return with_own([step for stage in _ORDER for step in stage(build)], made.making)


def with_own(steps: Sequence[Step], making: Making) -> tuple[Step, ...]:
    """Put the builder's own steps after those that they follow; what follows nothing that is there comes last."""
    found = list(steps)
    for own in making.own_steps:
        step = Step(own.key, "own", own.text)
        keys = [one.key for one in found]
        place = 0 if not own.after else keys.index(own.after) + 1 if own.after in keys else len(found)
        found.insert(place, step)
    return tuple(found)


def done_of(steps: Sequence[Step], making: Making) -> int:
    """How many of the steps are ticked."""
    done = {one.key for one in making.records if one.done}
    return sum(step.key in done for step in steps)
