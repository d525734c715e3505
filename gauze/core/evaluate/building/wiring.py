"""Steps of the light: laying, wiring piece by piece with a reading for each, and trying all of it."""

from collections.abc import Iterator

from gauze.core.design.surroundings import METAL
from gauze.core.electrical.data_line import pixel_runs
from gauze.core.electrical.soldering import TOLERANCE, SolderingStep, soldering_steps
from gauze.core.electrical.wire_list import runs_of
from gauze.core.evaluate.building.model import CURRENT, EYES, HEAT, SOLDERING, Expected, Step, ToBuild
from gauze.core.evaluate.findings.heat import TOUCH_C
from gauze.core.evaluate.wording import pad_words
from gauze.core.layout.pieces import StripPiece
from gauze.core.parts.joining import carries_data
from gauze.core.words import Length, Number, Text, say

_IN_ONE = 12  # pieces that are laid in one step
_WARM_SPREAD_K = 8.0  # of a temperature that a hand-held thermometer reads; common practice, no source
_OTHERWISE: dict[str, Text] = {
    "solder": say("Connectors need no iron and come apart again; they carry less, and loosen when moved."),
    "connectors": say("Soldered joints carry more and stay; they need an iron and a steady hand."),
}
_LAID: dict[str, tuple[Text, Text]] = {
    "tape": (
        say("Peel the film off bit by bit and press it down along the middle line; do not bend it over the LEDs."),
        say("In clips it can be replaced, and holds where tape lets go when warm; it gives off its heat less well."),
    ),
    "clips": (
        say("Set a clip every 150 mm and at both ends, leave the film on, and press the strip in."),
        say("Tape gives off the heat better and lies flatter; it is hard to take off."),
    ),
    "glue": (
        say(
            "A thin bead of neutral silicone along the middle line, then press it down and hold it with tape until it sets."
        ),
        say("Tape needs no drying; clips can be opened again."),
    ),
}


def laying_steps(build: ToBuild) -> Iterator[Step]:
    """Mark the rows, then lay the pieces, a dozen in a step."""
    pieces = build.parts.pieces
    marks = [part for part in build.parts.body if part.marks]
    if marks:
        yield Step(
            "lay/mark",
            "lay",
            say("Mark where the strip lies"),
            (
                say(
                    "Glue the template on, or draw the middle lines from it. Mark the name of every piece at its start."
                ),
                *_way_of_data(build),
            ),
            tuple(name for part in marks for name in part.ids()),
            (say("template"), say("pencil"), say("straight edge")),
        )
    making = build.made.making
    way, other = _LAID[making.laid_with]
    for first in range(0, len(pieces), _IN_ONE):
        some = pieces[first : first + _IN_ONE]
        names = say("{first} to {last}", first=some[0].id, last=some[-1].id) if len(some) > 1 else some[0].id
        is_strip = isinstance(some[0], StripPiece)
        how: list[Text] = [way if is_strip else say("Lay the modules in their places and fix them.")]
        if build.evaluation.design.surroundings is not None and build.evaluation.design.surroundings.back in METAL:
            how.append(say("On metal: a piece of insulating tape under every cut end."))
        if is_strip:
            how.append(say("Tin the pads first: in its corner the iron cannot reach them."))
        yield Step(
            f"lay/{some[0].id}",
            "lay",
            say("Lay {names}", names=names),
            tuple(how),
            tuple(piece.id for piece in some),
            (say("alcohol and cloth"), say("roller or thumb")),
            hold=say("Do not close anything before the last test."),
            otherwise=other if is_strip and first == 0 else "",
        )


def _way_of_data(build: ToBuild) -> list[Text]:
    if any(carries_data(piece) for piece in build.parts.pieces):
        return [say("Draw the arrow of the data beside every line: from the start of a piece to its end.")]
    return []


def wiring_steps(build: ToBuild) -> Iterator[Step]:
    """Solder what lights next, and try it before going on."""
    network = build.evaluation.network
    if network.power is None or not network.power.wires:
        return
    steps = soldering_steps(network.power, build.evaluation.layout.pieces, network.joints)
    before_a = 0.0
    highest_v = max(one.set_v for one in network.power.supplies)
    for step in steps:
        yield _soldered(build, step, (before_a, highest_v))
        before_a = step.supply_a
    supplies = network.power.supplies
    yield Step(
        "solder/all",
        "solder",
        say("Tidy the wires, and fuse every feed"),
        (
            say("Strain relief at every hole, and no wire over an LED."),
            say("The fuse at the supply, of the rating in the wire list."),
        ),
        tools=(say("cable ties or hot glue"), say("fuses with holders")),
        test=say("Pull gently at every wire."),
        expected=tuple(
            Expected.about(
                say("amps with everything on, {volts} V", volts=Number(one.volts)), one.peak_a, TOLERANCE, "A"
            )
            for one in supplies
        ),
        cautions=(CURRENT,),
    )


def soldering_key(step: SolderingStep) -> str:
    """Return the key of the step in which some wires are soldered."""
    return f"solder/{'+'.join(step.lights[:3]) or step.number}"


def _soldered(build: ToBuild, step: SolderingStep, before: tuple[float, float]) -> Step:
    """One step; ``before`` are the amps that flowed before it, and the volts that the supply is set to."""
    before_a, set_v = before
    solder = build.made.making.joined_with == "solder"
    how = list(_wires(build, step))
    for start, end in step.data_from:
        how.append(say("data from {start} to {end}", start=start, end=end))
    how.append(say("With a meter, supply off: no short between plus and minus."))
    lights = ", ".join(step.lights)
    return Step(
        soldering_key(step),
        "solder",
        say("Solder {joints} joints: {lights}", joints=step.joints, lights=lights or say("one more feed"))
        if solder
        else say("Fit {joints} ends: {lights}", joints=step.joints, lights=lights or say("one more feed")),
        tuple(how),
        step.lights,
        (say("soldering iron"), say("multimeter"))
        if solder
        else (say("connectors that fit the strip"), say("multimeter")),
        test=say("{lights} is lit along its whole length.", lights=lights) if lights else say("The ends get brighter."),
        expected=tuple(_readings(step, before_a, set_v)),
        cautions=(SOLDERING,) if solder else (CURRENT,),
        otherwise=_OTHERWISE[build.made.making.joined_with] if step.number == 1 else "",
    )


def _wires(build: ToBuild, step: SolderingStep) -> Iterator[Text]:
    """Each of a step's wires from where to where, and how long it is cut."""
    power = build.evaluation.network.power
    assert power is not None
    runs = {run.number: run for run in runs_of(power)}
    conductors: dict[int, list[str]] = {}
    for number, conductor in step.wires:
        conductors.setdefault(number, []).append(conductor)
    for number, some in conductors.items():
        run = runs[number]
        yield say(
            "wire {number} ({conductors}): {start} → {end}; {section} mm², {length}",
            number=number,
            conductors=", ".join(some),
            start=pad_words(run.start),
            end=pad_words(run.end),
            section=Number(run.section_mm2),
            length=Length(run.cut_mm),
        )


def _readings(step: SolderingStep, before_a: float, set_v: float) -> Iterator[Expected]:
    """What the new pieces draw, separate from those before; and the volts at them."""
    more_a = step.supply_a - before_a
    if step.lights and more_a > 0:
        what = say("amps more than before") if before_a > 0 else say("amps from the supply")
        yield Expected.about(what, more_a, TOLERANCE, "A")
    if 0.0 < step.least_v <= set_v:
        yield Expected(say("volts at its pads"), step.least_v, set_v, "V")


def trying_steps(build: ToBuild) -> Iterator[Step]:
    """Pixels in their order, and an hour of everything on."""
    evaluation = build.evaluation
    runs = pixel_runs(evaluation.layout.pieces, evaluation.network.joints)
    if runs:
        cap = evaluation.network.wiring.capped_ma
        how: list[Text] = [
            say("Set the controller to {count} pixels.", count=runs[-1].last + 1),
            say(
                "Play the test patterns pixel by pixel and by colour; correct the order of the colours until red is red."
            ),
        ]
        if cap is not None:
            how.append(say("Type the current cap in: {cap} mA.", cap=Number(cap)))
        yield Step(
            "try/pixels",
            "try",
            say("Walk through the pixels"),
            tuple(how),
            tuple(run.piece for run in runs),
            (say("controller"),),
            test=say("One pixel lights after the other, along the arrows, without skipping any."),
            cautions=(EYES,),
        )
    if evaluation.warmth is not None and evaluation.warmth.worst.back_c > TOUCH_C:
        yield Step(
            "try/hour",
            "try",
            say("Do not run it at full level for long"),
            (
                say(
                    "Its back is computed to reach {back} °C: settle the finding on heat first, or keep to a lower level.",
                    back=Number(evaluation.warmth.worst.back_c),
                ),
                say("Everything on for a minute, with a hand at the supply: that is enough to try every joint."),
            ),
            tools=(say("thermometer"),),
            cautions=(HEAT, EYES),
        )
    elif evaluation.warmth is not None:
        warmth = evaluation.warmth
        yield Step(
            "try/hour",
            "try",
            say("Let it run for an hour, open"),
            (
                say(
                    "Everything on, in its final place or one much like it, in a room at {ambient} °C.",
                    ambient=Number(warmth.surroundings.ambient_c),
                ),
                say("Feel every joint and wire: none is warmer than the strip beside it."),
            ),
            (),
            (say("thermometer"),),
            expected=(
                Expected(
                    say("warmest place of the back"),
                    warmth.worst.back_c - _WARM_SPREAD_K,
                    warmth.worst.back_c + _WARM_SPREAD_K,
                    "°C",
                ),
            ),
            cautions=(HEAT, EYES),
        )
