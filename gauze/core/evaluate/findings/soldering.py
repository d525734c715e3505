"""In which order to solder, so that each piece can be tried before the next is begun."""

from functools import partial

from gauze.core.design.surroundings import METAL
from gauze.core.electrical.power import Power
from gauze.core.electrical.soldering import TOLERANCE, SolderingStep, soldering_steps
from gauze.core.electrical.wire_list import runs_of
from gauze.core.electrical.wires import HOLE_SOURCE, bundle_mm
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.layout.pieces import StripPiece
from gauze.core.lazy import Lazy
from gauze.core.parts.joining import CONTROLLER
from gauze.core.words import Joined, Length, Number, Percent, Text, say

_MOST_TOLD = 60
_MOST_WIRES = 24  # of a step


def find(evaluation: Evaluation) -> list[Finding]:
    """Tell the steps, once the wiring is chosen."""
    network = evaluation.network
    if network.power is None or not network.wired or not network.power.wires:
        return []
    wires = len(network.power.wires)
    sentence = say(
        "{wires} wires to solder, {joints} joints: in steps, each tried before the next, as the working lists them.",
        wires=wires,
        joints=2 * wires,
    )
    ends = _ends_on_metal(evaluation)
    if ends:
        sentence += say(" {ends} cut ends touch metal: insulate each before laying it.", ends=ends)
    return [
        Finding(
            code="soldering",
            place="feed",
            state=State.NOTE,
            sentence=sentence,
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
        *_insulation(_ends_on_metal(evaluation)),
        *_holes(network.power),
        *(_step(step) for step in steps[:_MOST_TOLD]),
    ]
    if len(steps) > _MOST_TOLD:
        found.append(
            Figure(say("And"), say("{count} more steps", count=len(steps) - _MOST_TOLD), say("in the wire list"))
        )
    return found


def _ends_on_metal(evaluation: Evaluation) -> int:
    """How many cut ends of strip lie on metal: their bare copper would be joined by it."""
    warmth = evaluation.warmth
    if warmth is None or warmth.surroundings.back not in METAL:
        return 0
    return 2 * sum(isinstance(piece, StripPiece) for piece in evaluation.layout.pieces)


def _insulation(ends: int) -> list[Figure]:
    if not ends:
        return []
    return [
        Figure(
            say("Cut ends on metal"),
            say("{ends}", ends=ends),
            say(
                "heat-shrink or tape under and around each, past the pads; then no contact from plus or minus to the body"
            ),
            say("common practice, no source"),
        )
    ]


def _holes(power: Power) -> list[Figure]:
    """The hole that the wires of each run from the supply need on their way into the body, by section and how many they are."""
    kinds = {(run.section_mm2, len(run.wires)) for run in runs_of(power) if not run.start.piece}
    return [
        Figure(
            say("Hole for {count} wires of {section} mm²", count=count, section=Number(section_mm2)),
            Length(bundle_mm(section_mm2, count)),
            say("with a grommet, and a knot or clamp inside against pulling: a sharp edge cuts the insulation"),
            say(HOLE_SOURCE),
        )
        for section_mm2, count in sorted(kinds)
    ]


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
