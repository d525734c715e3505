"""How long does the battery last, and what becomes of the light by then?"""

from functools import partial

from gauze.core.electrical.battery import SOURCE, Run
from gauze.core.electrical.battery_life import LEAST_LIGHT, LEVELS, BatteryLife
from gauze.core.electrical.elements import IDLE_A
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.evaluate.findings.drop import FAIR_SHARE
from gauze.core.lazy import Lazy
from gauze.core.words import Fixed, Number, Percent, Text, Words, say

DIRECT_LOW = (
    0.75  # of a build's volts, from which on a battery may feed it without a converter; common practice, no source
)
FITS_V = 0.05  # by how much volts may differ from what a build is made for; common practice, no source
_HARDLY_LEFT = 0.05  # of the charge


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the battery that feeds, where one does."""
    life = evaluation.network.battery
    if life is None:
        return []
    state, judged = judge_life(life)
    sentence = say("On battery: ") + judged
    wanted_life_h, run = life.choice.wanted_life_h, life.set_run
    if wanted_life_h is not None and state is not State.FAILS:
        lasts_h = 0.0 if run is None else run.hours
        state, more = _wanted(life, lasts_h, wanted_life_h, state)
        sentence += more
    return [
        Finding(
            code="battery",
            place="feed",
            state=state,
            sentence=sentence,
            value=0.0 if run is None else run.hours,
            unit="h",
            limit=wanted_life_h,
            figures=Lazy(partial(_figures, life)),
            fixable=wanted_life_h is not None and run is not None and run.hours < wanted_life_h,
            cautions=(Caution.BATTERY, Caution.CURRENT),
        )
    ]


def _wanted(life: BatteryLife, lasts_h: float, wanted_life_h: float, state: State) -> tuple[State, Words]:
    words: dict[str, Text] = {"wanted": Number(wanted_life_h), "lasts": Fixed(lasts_h, ".1f")}
    if lasts_h >= wanted_life_h:
        return state, say(" At the levels that are set: {lasts} h, and {wanted} h are wanted.", **words)
    level = life.level_for(wanted_life_h)
    if level is None:
        return State.FAILS, say(" {wanted} h are wanted; no level lasts that long.", **words)
    at = Percent(level)
    return State.FAILS, say(
        " At the levels that are set: {lasts} h, but {wanted} h are wanted. At {level} of full level it would last.",
        level=at,
        **words,
    )


def judge_life(life: BatteryLife) -> tuple[State, Words]:
    """Say whether a battery feeds a build, and for how long: straight or through its converter."""
    refused = _unfit(life) or _too_weak(life)
    if refused is not None:
        return State.FAILS, refused
    full = life.full_run
    assert full is not None
    if life.choice.converter is not None:
        name = life.choice.converter.name
        return State.GOOD, say("{hours} through “{name}”, and the light stays.", name=name, hours=_hours(life))
    dimmer = life.last_light / max(life.first_light, 1e-9)
    sentence = say(
        "{hours}. Without a converter the light fades to {share} by then.",
        hours=_hours(life),
        share=Percent(dimmer),
    )
    if full.charge_left > _HARDLY_LEFT:
        sentence += say(" {left} of its charge is left.", left=Percent(full.charge_left))
    return State.GOOD if dimmer >= FAIR_SHARE else State.WATCH, sentence


def _unfit(life: BatteryLife) -> Words | None:
    """Why its volts are not those of the build; None where they are."""
    battery, converter, volts = life.choice.battery, life.choice.converter, life.volts
    words: dict[str, Text] = {
        "full": Number(battery.full_v),
        "empty": Number(battery.empty_v),
        "volts": Number(volts),
    }
    if converter is None:
        if battery.full_v > life.highest_v:
            return say(
                "It gives {full} V when full: too much for the {volts} V build. Put a converter between.", **words
            )
        if battery.full_v < DIRECT_LOW * volts:
            return say("It gives {full} to {empty} V, too little for the {volts} V build.", **words)
        return None
    words |= {"out": Number(converter.out_v), "low": Number(converter.in_low_v), "high": Number(converter.in_high_v)}
    if abs(converter.out_v - volts) > FITS_V * volts:
        return say("The converter gives {out} V, the build takes {volts} V.", **words)
    if battery.full_v > converter.in_high_v or battery.full_v < converter.in_low_v:
        return say("The converter takes {low} to {high} V; the battery gives {full} to {empty} V.", **words)
    return None


def _too_weak(life: BatteryLife) -> Words | None:
    """Why it cannot give what is drawn; None where it can."""
    battery, converter = life.choice.battery, life.choice.converter
    if converter is not None and life.on_a > converter.limit_a:
        return say(
            "Through “{name}”, which gives {limit} A at most: the build draws {amps} A.",
            name=converter.name,
            limit=Number(converter.limit_a),
            amps=Number(life.on_a),
        )
    if converter is None and life.first_light < FAIR_SHARE:
        return say("Without a converter the light is at {share} of its label at best.", share=Percent(life.first_light))
    if life.full_run is None:
        return say("Under this load its volts fall too low at once.")
    if battery.limit_a is not None and life.most_a > battery.limit_a:
        return say(
            "The build draws {amps} A from it; its label allows {limit} A.",
            amps=Number(life.most_a),
            limit=Number(battery.limit_a),
        )
    return None


def _hours(life: BatteryLife) -> Words:
    at = [_hour(run) for run in life.runs]
    return say(
        "{full} h at full level, {half} h at a half, {quarter} h at a quarter", full=at[0], half=at[1], quarter=at[2]
    )


def _hour(run: Run | None) -> Text:
    return Fixed(0.0 if run is None else run.hours, ".1f")


def _figures(life: BatteryLife) -> list[Figure]:
    battery, converter, full = life.choice.battery, life.choice.converter, life.full_run
    found = [
        Figure(
            say("Volts of the pack"),
            say("{full} V full, {empty} V empty", full=Number(battery.full_v), empty=Number(battery.empty_v)),
            say(
                "{count} cells in series, without load; the pack has {ohm} Ω",
                count=battery.cells_in_series,
                ohm=Number(battery.inner_ohm),
            ),
            say(SOURCE),
        )
    ]
    if full is not None:
        found.append(
            Figure(
                say("Amps of the pack"),
                say(
                    "{first} A at the beginning, {last} A at the end",
                    first=Number(full.first_a),
                    last=Number(full.last_a),
                ),
                say(
                    "at full level, at {first} V and {last} V under load",
                    first=Number(full.first_v),
                    last=Number(full.last_v),
                ),
            )
        )
    if converter is not None:
        found.append(
            Figure(
                say("Converter"),
                say("{share} of the watts", share=Percent(converter.gives_share)),
                say(
                    "gives {volts} V and at most {limit} A; {amps} A are drawn",
                    volts=Number(converter.out_v),
                    limit=Number(converter.limit_a),
                    amps=Number(life.on_a),
                ),
                say("typical") if converter.efficiency is None else say("the label"),
            )
        )
    for level, run in (*zip(LEVELS, life.runs, strict=True), (life.set_share, life.set_run)):
        found.append(
            Figure(
                say("At {level} of full level", level=Percent(level))
                if run is not life.set_run
                else say("As it is set, {level} of full level", level=Percent(level)),
                say("{hours} h", hours=_hour(run)),
                say("charge over the mean amps: volts fall by the amps while on, charge by their mean"),
            )
        )
    if converter is None:
        found.append(
            Figure(
                say("Light at full level"),
                say(
                    "{first} at the beginning, {last} at the end",
                    first=Percent(life.first_light),
                    last=Percent(life.last_light),
                ),
                say(
                    "of the labels' light; below {least} of the first it counts as gone out", least=Percent(LEAST_LIGHT)
                ),
                say("common practice, no source"),
            )
        )
    if life.idle_share > 0:
        found.append(
            Figure(
                say("Dark pixels"),
                Percent(life.idle_share),
                say("of the amps at full level, {each} mA a pixel", each=Number(1000.0 * IDLE_A)),
                say("typical, from memory"),
            )
        )
    return found
