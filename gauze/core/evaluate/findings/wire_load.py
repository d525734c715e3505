"""Does every wire carry what flows in it, behind a fuse; and does the chosen supply give it?"""

from functools import partial

from gauze.core.electrical.power import Power, SupplyPower, WirePower
from gauze.core.electrical.supply import CONTINUOUS_SHARE
from gauze.core.electrical.wire_list import main_lead, thinnest_behind_mm2
from gauze.core.electrical.wires import CURRENT_SOURCE, Fuse, carries_a, fuse_for, thinnest_mm2
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.evaluate.wording import pad_words
from gauze.core.lazy import Lazy
from gauze.core.parts.joining import carries_data
from gauze.core.words import Fixed, Length, Number, Percent, Text, say

_ROUNDING = 1e-6  # a cap that is just kept to is kept to


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the wire with the highest current, and the supply where one is chosen."""
    power = evaluation.network.power
    if power is None or not power.wires:
        return []
    found = [_wire(power, wired=evaluation.network.wired)]
    wiring = evaluation.network.wiring
    if wiring.supply_w is not None:
        several = len(power.supplies) > 1
        found += [_supply(evaluation, one, wiring.supply_w, several=several) for one in power.supplies]
    return found


def _wire(power: Power, *, wired: bool) -> Finding:
    """Judge the wire that is loaded most where it carries too little, else the lead with the most current and its fuse."""
    worst = max(power.wires, key=lambda one: one.current_a / carries_a(one.wire.section_mm2))
    section = worst.wire.section_mm2
    if worst.current_a <= carries_a(section) + _ROUNDING:
        worst = main_lead(power)
        section = min(worst.wire.section_mm2, thinnest_behind_mm2(power))
    carries, fuse = carries_a(section), fuse_for(worst.current_a, section)
    words: dict[str, Text] = {
        "amps": Number(worst.current_a),
        "carries": Number(carries),
        "section": Number(section),
        "fuse": Number(fuse.rating_a or 0.0),
    }
    if worst.current_a > carries + _ROUNDING:
        state = State.FAILS if wired else State.WATCH
        thicker = thinnest_mm2(worst.current_a)
        sentence = say("{amps} A flow in one wire; {section} mm² carries {carries} A: it gets hot.", **words)
        if thicker is None:
            sentence += say(" No wire of the table carries that: feed at several places.")
        else:
            sentence += say(" Take {thicker} mm², or feed at several places.", thicker=Number(thicker))
    elif fuse.rating_a is None:
        state = State.WATCH
        sentence = say(
            "{amps} A flow in one wire; {section} mm² carries {carries} A, and there is no standard fuse between the two: "
            "take thicker wire.",
            **words,
        )
    elif not wired:
        state = State.NOTE
        sentence = say(
            "Wired as usual, {amps} A flow in one wire: that takes {section} mm² and a fuse of {fuse} A.", **words
        )
    else:
        state = State.GOOD
        sentence = say(
            "At most {amps} A flow in one wire; {section} mm² carries {carries} A. Fuse it with {fuse} A.", **words
        )
    return Finding(
        code="wire load",
        place="feed",
        state=state,
        sentence=sentence,
        value=worst.current_a,
        unit="A",
        limit=carries,
        figures=Lazy(partial(_wire_figures, worst, fuse)),
        fixable=state in (State.WATCH, State.FAILS),
        cautions=(Caution.CURRENT,),
    )


def _wire_figures(worst: WirePower, fuse: Fuse) -> list[Figure]:
    wire = worst.wire
    return [
        Figure(
            say("Wire with the most current"),
            say("{amps} A", amps=Number(worst.current_a)),
            say(
                "{conductor} from {start} to {end}, {length} long: drops {drop} V and takes {loss} W",
                conductor=wire.conductor,
                start=pad_words(wire.start),
                end=pad_words(wire.end),
                length=Length(wire.length_mm),
                drop=Number(worst.drop_v),
                loss=Number(worst.loss_w),
            ),
        ),
        Figure(
            say("It carries"),
            say("{most} A", most=Number(fuse.most_a)),
            say(
                "flexible, in free air; less in a bundle or in a warm body; of a lead, the thinnest wire after its fuse"
            ),
            say(CURRENT_SOURCE),
        ),
        Figure(
            say("Fuse"),
            say("none fits") if fuse.rating_a is None else say("{fuse} A", fuse=Number(fuse.rating_a)),
            say(
                "from {least} A, 1.25 times what flows, to {most} A",
                least=Number(fuse.least_a),
                most=Number(fuse.most_a),
            ),
            say("common practice, no source; your local code decides"),
        ),
    ]


def _supply(evaluation: Evaluation, one: SupplyPower, rating_w: float, *, several: bool) -> Finding:
    share = one.set_v * one.peak_a / rating_w
    words: dict[str, Text] = {
        "rating": Number(rating_w),
        "amps": Number(one.peak_a),
        "volts": Number(one.volts),
        "left": Number(one.terminal_v),
        "share": Percent(share),
    }
    if one.limited:
        state = State.FAILS
        sentence = say(
            "The {rating} W supply is too small: at {amps} A it gives no more, and its volts fall to {left} V.", **words
        )
    elif share > CONTINUOUS_SHARE + _ROUNDING:
        state = State.WATCH
        sentence = say(
            "The {rating} W supply gives {amps} A at {volts} V: {share} of its rating, too much for continuous use.",
            **words,
        )
    else:
        state = State.GOOD
        sentence = say("The {rating} W supply gives {amps} A at {volts} V: {share} of its rating.", **words)
    return Finding(
        code=f"supply load {one.volts:g} V" if several else "supply load",
        place="feed",
        state=state,
        sentence=sentence,
        value=share,
        unit="",
        limit=CONTINUOUS_SHARE,
        figures=Lazy(partial(_supply_figures, evaluation, one, rating_w)),
        fixable=state is not State.GOOD and not several,
        cautions=(Caution.MAINS, Caution.CURRENT),
    )


def _supply_figures(evaluation: Evaluation, one: SupplyPower, rating_w: float) -> list[Figure]:
    found = [
        Figure(
            say("Peak"),
            say("{amps} A", amps=Number(one.peak_a)),
            say("every channel that is on, at the top of its pulses"),
        ),
        Figure(
            say("Average"),
            say("{watts} W", watts=Number(one.mean_w)),
            say("by the levels that are set: this is the heat"),
        ),
        Figure(
            say("Continuous load"),
            say("at most {share}", share=Percent(CONTINUOUS_SHARE)),
            say("of the rating"),
            say("common practice, no source"),
        ),
    ]
    if any(carries_data(piece) for piece in evaluation.layout.pieces):
        cap_a = CONTINUOUS_SHARE * rating_w / one.set_v
        leaves = min(cap_a / one.needed_a, 1.0) if one.needed_a > 0 else 1.0
        found.append(
            Figure(
                say("Current cap"),
                say("{cap} mA", cap=Fixed(1000.0 * cap_a, ".0f")),
                say(
                    "to set in the pixel controller for this supply; it leaves {share} of full level",
                    share=Percent(leaves),
                ),
            )
        )
    return found
