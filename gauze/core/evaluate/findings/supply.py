"""Which supply it needs."""

from gauze.core.electrical.supply import SupplyNeed
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.units import LengthUnit, format_length, format_number

_FAR_APART = 1.6  # times: a label is off by a quarter, rarely by more; common practice, no source


def find(evaluation: Evaluation, unit: LengthUnit) -> list[Finding]:
    """Return one finding for each voltage in the design."""
    return [_supply(evaluation, need, unit) for need in evaluation.supplies]


def _supply(evaluation: Evaluation, need: SupplyNeed, unit: LengthUnit) -> Finding:
    school = need.default
    volts = f"{format_number(need.volts)} V"
    several = len(evaluation.supplies) > 1
    draws = _draws(need)
    if school.rating_w is None:
        state = State.FAILS
        sentence = f"At {volts} it draws {draws}: more than any single stocked supply delivers. Split the load between several."
    else:
        state = State.WATCH if several or _far_from_label(need) else State.GOOD
        amps = format_number(school.rating_w / need.volts)
        sentence = f"At {volts} it draws {draws}: take a {volts}, {school.rating_w:g} W ({amps} A) supply."
        if several:
            sentence += " The design mixes voltages: each needs its own."
    if _far_from_label(need):
        sentence += " The label and the reading disagree: measure the current again before you buy."
    return Finding(
        code="supply" if not several else f"supply {need.volts:g} V",
        place="feed",
        state=state,
        sentence=sentence,
        value=need.drawn_w,
        unit="W",
        limit=school.rating_w,
        figures=tuple(_figures(evaluation, need, unit)),
        cautions=(Caution.MAINS, Caution.CURRENT),
    )


def _draws(need: SupplyNeed) -> str:
    """Say what is drawn and how that is known: a measured value goes before the label."""
    label = f"{format_number(need.label_w)} W ({format_number(need.label_a)} A) by the label"
    if need.measured_w is None:
        return label
    amps = format_number(need.measured_w / need.volts)
    return f"{format_number(need.measured_w)} W ({amps} A) as measured, {format_number(need.label_w)} W by the label"


def _far_from_label(need: SupplyNeed) -> bool:
    """Whether the reading and the label differ by more than labels are wrong."""
    if need.measured_w is None or need.label_w <= 0:
        return False
    return not 1.0 / _FAR_APART <= need.measured_w / need.label_w <= _FAR_APART


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
        Figure(
            "At the set levels",
            f"{format_number(need.set_w)} W",
            "label watts × level, channel by channel, of what is switched on",
        ),
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
            Figure("Measured row", "not measured yet", "measure the current of one full row and enter it in Feed")
        )
    return figures
