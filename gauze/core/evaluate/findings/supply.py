"""Which supply it needs."""

from functools import partial

from gauze.core.electrical.supply import SupplyNeed
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.lazy import Lazy
from gauze.core.words import Fixed, Joined, Length, Number, Percent, Text, say

_FAR_APART = 1.6  # times: a label is off by a quarter, rarely by more; common practice, no source


def find(evaluation: Evaluation) -> list[Finding]:
    """Return one finding for each voltage in the design that no battery feeds."""
    life = evaluation.network.battery
    return [_supply(evaluation, need) for need in evaluation.supplies if life is None or need.volts != life.volts]


def _supply(evaluation: Evaluation, need: SupplyNeed) -> Finding:
    school = need.default
    volts = say("{volts} V", volts=Number(need.volts))
    several = len(evaluation.supplies) > 1
    draws = _draws(need)
    if school.rating_w is None:
        state = State.FAILS
        sentence = say(
            "At {volts} it draws {draws}: more than any single stocked supply delivers. Split the load "
            "between several.",
            volts=volts,
            draws=draws,
        )
    else:
        state = State.WATCH if several or _far_from_label(need) else State.GOOD
        amps = Number(school.rating_w / need.volts)
        sentence = say(
            "At {volts} it draws {draws}: take a {volts2}, {rating} W ({amps} A) supply.",
            volts=volts,
            draws=draws,
            volts2=volts,
            rating=Fixed(school.rating_w, "g"),
            amps=amps,
        )
        if several:
            sentence += say(" The design mixes voltages: each needs its own.")
    if _far_from_label(need):
        sentence += say(" The label and the reading disagree: measure the current again before you buy.")
    return Finding(
        code="supply" if not several else f"supply {need.volts:g} V",
        place="feed",
        state=state,
        sentence=sentence,
        value=need.drawn_w,
        unit="W",
        limit=school.rating_w,
        figures=Lazy(partial(_figures, evaluation, need)),
        cautions=(Caution.MAINS, Caution.CURRENT),
        spread=need.label_spread_w if need.measured_w is None else None,
    )


def _draws(need: SupplyNeed) -> Text:
    """Say what is drawn and how that is known: a measured value goes before the label."""
    if need.measured_w is None:
        return say(
            "{label} ± {spread} W ({label_a} A) by the label",
            label=Number(need.label_w),
            spread=Number(need.label_spread_w, 2),
            label_a=Number(need.label_a),
        )
    amps = Number(need.measured_w / need.volts)
    return say(
        "{measured} W ({amps} A) as measured, {label} W by the label",
        measured=Number(need.measured_w),
        amps=amps,
        label=Number(need.label_w),
    )


def _far_from_label(need: SupplyNeed) -> bool:
    """Whether the reading and the label differ by more than labels are wrong."""
    if need.measured_w is None or need.label_w <= 0:
        return False
    return not 1.0 / _FAR_APART <= need.measured_w / need.label_w <= _FAR_APART


def _label_terms(need: SupplyNeed) -> Text:
    """Write length times watts per metre, or count times watts, for each kind of strip or module on this voltage."""
    terms = [
        say("{metres} × {terms} W/m", metres=Length(1000.0 * load.metres), terms=Number(load.terms[1]))
        if load.metres
        else say("{pieces} × {terms} W", pieces=load.pieces, terms=Number(load.terms[1]))
        for load in need.loads
    ]
    return say(
        "{terms}, typical ±{spread}",
        terms=Joined.of(terms, " + "),
        spread=Percent(max(load.spread for load in need.loads)),
    )


def _figures(evaluation: Evaluation, need: SupplyNeed) -> list[Figure]:
    figures = [
        Figure(
            say("Label watts"), say("{label} W", label=Number(need.label_w)), _label_terms(need), need.loads[0].source
        ),
        Figure(
            say("At the set levels"),
            say("{set} W", set=Number(need.set_w)),
            say("label watts × level, channel by channel, of what is switched on"),
        ),
    ]
    for school in need.schools:
        rating = (
            say("none is large enough")
            if school.rating_w is None
            else say("{rating} W", rating=Fixed(school.rating_w, "g"))
        )
        figures.append(
            Figure(
                school.name,
                say("{needed} W → {rating}", needed=Number(school.needed_w), rating=rating),
                school.rule,
                say(
                    "rule: common practice, no source; sizes: {supply_source}",
                    supply_source=evaluation.catalogue.supply_source,
                ),
            )
        )
    if evaluation.design.measured_row_current_a is None:
        figures.append(
            Figure(
                say("Measured row"),
                say("not measured yet"),
                say("measure the current of one full row and enter it in Feed"),
            )
        )
    return figures
