"""In which order to solder, so that each piece can be tried before the next is begun."""

from functools import partial

from gauze.core.electrical.soldering import TOLERANCE, SolderingStep, soldering_steps
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.lazy import Lazy
from gauze.core.parts.joining import CONTROLLER
from gauze.core.words import Joined, Number, Percent, Text, say

_MOST_TOLD = 60
_MOST_WIRES = 24  # of a step


def find(evaluation: Evaluation) -> list[Finding]:
    """Tell the steps, once the wiring is chosen."""
    network = evaluation.network
    if network.power is None or not network.wired or not network.power.wires:
        return []
    wires = len(network.power.wires)
    return [
        Finding(
            code="soldering",
            place="feed",
            state=State.NOTE,
            sentence=say(
                "{wires} wires to solder, {joints} joints: in steps, each tried before the next, as the working lists them.",
                wires=wires,
                joints=2 * wires,
            ),
            value=float(wires),
            unit="",
            limit=None,
            figures=Lazy(partial(_figures, evaluation)),
            cautions=(Caution.CURRENT,),
        )
    ]


def _figures(evaluation: Evaluation) -> list[Figure]:
    network = evaluation.network
    assert network.power is not None
    steps = soldering_steps(network.power, evaluation.layout.pieces, network.joints)
    found = [
        Figure(
            say("Before each"),
            say("no short"),
            say(
                "supply off, a meter from plus to minus; numbers are those of the wire list and of the layer “Wiring plan” (Y)"
            ),
            say("common practice, no source"),
        ),
        *(_step(step) for step in steps[:_MOST_TOLD]),
    ]
    if len(steps) > _MOST_TOLD:
        found.append(
            Figure(say("And"), say("{count} more steps", count=len(steps) - _MOST_TOLD), say("in the wire list"))
        )
    return found


def _step(step: SolderingStep) -> Figure:
    wires = Joined.of([f"{number} {conductor}" for number, conductor in step.wires[:_MOST_WIRES]])
    what: Text = say("solder {wires}", wires=wires)
    if step.data_from:
        starts = [say("the controller") if start == CONTROLLER else start for start, _ in step.data_from]
        what = say("{what}, and the data from {start}", what=what, start=Joined.of(starts))
    lights = (
        say("{pieces} lights", pieces=Joined.of(list(step.lights[:_MOST_WIRES])))
        if step.lights
        else say("the ends get brighter")
    )
    return Figure(
        say("Step {number}", number=step.number),
        lights,
        say(
            "{what}; then {amps} A from the supply (± {tolerance}), {volts} V or more there, everything at full",
            what=what,
            amps=Number(step.supply_a),
            tolerance=Percent(TOLERANCE),
            volts=Number(step.least_v),
        ),
    )
