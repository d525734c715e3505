"""Which supply it needs."""

from gauze.core.electrical.supply import SupplyNeed
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.units import LengthUnit, format_length, format_number


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
    """Return one finding for each voltage in the design."""
    return [_supply(evaluation, need, unit) for need in evaluation.supplies]


def _supply(evaluation: Evaluation, need: SupplyNeed, unit: LengthUnit) -> Finding:
    school = need.default
    volts = f"{format_number(need.volts)} V"
    label = f"{format_number(need.label_w)} W ({format_number(need.label_a)} A) by the label"
    several = len(evaluation.supplies) > 1
    if school.rating_w is None:
        state = State.FAILS
        sentence = f"At {volts} it draws {label}: more than any one stocked supply gives. Divide it among several."
    else:
        state = State.WATCH if several else State.GOOD
        amps = format_number(school.rating_w / need.volts)
        sentence = f"At {volts} it draws {label}: take a {volts}, {school.rating_w:g} W ({amps} A) supply."
        if several:
            sentence += " The design mixes voltages: each needs its own."
    return Finding(
        code="supply" if not several else f"supply {need.volts:g} V",
        place="feed",
        state=state,
        sentence=sentence,
        value=need.label_w,
        unit="W",
        limit=school.rating_w,
        figures=tuple(_figures(evaluation, need, unit)),
        cautions=(Caution.MAINS, Caution.CURRENT),
    )


def _label_terms(need: SupplyNeed, unit: LengthUnit) -> str:
    """Write length times watts per metre, or count times watts, for each kind of strip or module on this voltage."""
    terms = [
        f"{format_length(1000.0 * load.metres, unit)} × {format_number(load.terms[1])} W/m"
        if load.metres
        else f"{load.pieces} × {format_number(load.terms[1])} W"
        for load in need.loads
    ]
    return f"{' + '.join(terms)}, typical ±{max(load.spread for load in need.loads):.0%}"


def _figures(evaluation: Evaluation, need: SupplyNeed, unit: LengthUnit) -> list[Figure]:
    figures = [
        Figure("Label watts", f"{format_number(need.label_w)} W", _label_terms(need, unit), need.loads[0].source),
        Figure("At the set levels", f"{format_number(need.set_w)} W", "label watts × level, channel by channel"),
    ]
    for school in need.schools:
        rating = "none is large enough" if school.rating_w is None else f"{school.rating_w:g} W"
        figures.append(
            Figure(
                school.name,
                f"{format_number(school.needed_w)} W → {rating}",
                school.rule,
                f"rule: common practice, no source; sizes: {evaluation.catalogue.supply_source}",
            )
        )
    if evaluation.design.measured_row_current_a is None:
        figures.append(
            Figure(
                "Measured row", "not measured yet", "read the amps of one full row at the bench and type them in Feed"
            )
        )
    return figures
