"""Supplies and batteries: will they feed the build, and for how long?"""

from collections.abc import Sequence

import msgspec
import numpy as np

from gauze.core.design.wiring import Wiring
from gauze.core.electrical.battery import Run, run_time, through_converter
from gauze.core.electrical.power import power_of
from gauze.core.electrical.supply import SupplyNeed
from gauze.core.evaluate.finding import State
from gauze.core.evaluate.findings.drop import FAIR_SHARE
from gauze.core.evaluate.shelf.build import Build, Judged
from gauze.core.materials.labels import BatteryLabel, ConverterLabel, SupplyLabel
from gauze.core.words import Fixed, Number, Percent, Text, Words, say

FITS_V = 0.05  # by how much volts may differ from what a build is made for; common practice, no source
WORN_SHARE = 0.80  # of its rating that a worn supply is trusted with; common practice, no source
LEVELS = (1.0, 0.5, 0.25)
LEAST_LIGHT = 0.25  # of its light with a full battery, at which a light counts as gone out; common practice, no source
_DIRECT_LOW, _DIRECT_HIGH = 0.75, 1.10  # of a build's volts, between which a battery may feed it without a converter
_HARDLY_LEFT = 0.05  # of the charge
_SAMPLES = 17  # volts at which the build's circuit is solved for a battery


def supply_verdict(build: Build, supply: SupplyLabel) -> Judged:
    """Judge its volts and its watts, trusting a worn one less."""
    needs = build.needs
    low, high = supply.trim_v
    fitting = [need for need in needs if low / (1.0 + FITS_V) <= need.volts <= high * (1.0 + FITS_V)]
    if not fitting:
        wanted = " / ".join(f"{need.volts:g}" for need in needs)
        return Judged(
            supply.id,
            State.FAILS,
            say("It gives {own} V; the build takes {wanted} V.", own=Number(supply.volts), wanted=wanted),
        )
    need = fitting[0]
    trusted_w = supply.rated_w * (WORN_SHARE if supply.worn else 1.0)
    words: dict[str, Text] = {
        "own": Number(supply.rated_w),
        "trusted": Number(trusted_w),
        "needed": Number(need.default.needed_w),
        "drawn": Number(need.drawn_w),
        "school": need.default.name,
    }
    start = say("{own} W, being worn trusted with {trusted} W: ", **words) if supply.worn else say("{own} W: ", **words)
    if trusted_w >= need.default.needed_w:
        rest = say("enough for the {needed} W of “{school}”.", **words)
        return Judged(supply.id, State.GOOD, start + rest, _with_supply(build.wiring, needs, supply, trusted_w))
    if trusted_w >= need.drawn_w:
        rest = say("it carries the {drawn} W that are drawn, but less than the {needed} W of “{school}”.", **words)
        return Judged(supply.id, State.WATCH, start + rest, _with_supply(build.wiring, needs, supply, trusted_w))
    rest = say("too little for the {drawn} W that are drawn.", **words)
    if supply.on_hand >= 2 and 2 * trusted_w >= need.default.needed_w:
        rest += say(" Two of them work only if each feeds a part of the build of its own: never join their outputs.")
    return Judged(supply.id, State.FAILS, start + rest)


def _with_supply(wiring: Wiring, needs: Sequence[SupplyNeed], supply: SupplyLabel, trusted_w: float) -> Wiring | None:
    """The wiring with this supply, for a build of one voltage."""
    if len(needs) != 1:
        return None
    low, high = supply.trim_v
    set_v = min(max(needs[0].volts, low), high)
    volts = None if abs(set_v - needs[0].volts) < 1e-9 else set_v
    return msgspec.structs.replace(wiring, supply_w=round(trusted_w, 3), supply_volts=volts)


def battery_verdict(build: Build, battery: BatteryLabel, converters: Sequence[ConverterLabel]) -> Judged:
    """Judge how long it lasts, straight or through the best converter that fits."""
    needs = build.needs
    if len(needs) != 1:
        return Judged(battery.id, State.FAILS, say("The build takes several voltages: each needs a source of its own."))
    volts = needs[0].volts
    if _DIRECT_LOW * volts <= battery.full_v <= _DIRECT_HIGH * volts:
        return _direct(build, battery)
    fitting = [
        one
        for one in converters
        if abs(one.out_v - volts) <= FITS_V * volts
        and one.in_low_v <= battery.empty_v
        and battery.full_v <= one.in_high_v
    ]
    if not fitting:
        return Judged(
            battery.id,
            State.FAILS,
            say(
                "It gives {full} to {empty} V, the build takes {volts} V: no converter on the shelf fits between them.",
                full=Number(battery.full_v),
                empty=Number(battery.empty_v),
                volts=Number(volts),
            ),
        )
    return _converted(build, battery, max(fitting, key=lambda one: (one.limit_a, one.gives_share)))


def _direct(build: Build, battery: BatteryLabel) -> Judged:
    volts = np.linspace(min(battery.empty_v, battery.typical_empty_v) * 0.9, battery.full_v, _SAMPLES)
    drawn, light = np.transpose([_at_volts(build, float(one)) for one in volts])
    if light[-1] < FAIR_SHARE:
        words = say(
            "Fed straight from it the light is at {share} of its label at best.", share=Percent(float(light[-1]))
        )
        return Judged(battery.id, State.FAILS, words)
    least_v = float(np.interp(LEAST_LIGHT * light[-1], light, volts))
    runs = [run_time(battery, lambda at: float(np.interp(at, volts, drawn)), level, least_v) for level in LEVELS]
    first = runs[0]
    if first is None:
        return Judged(battery.id, State.FAILS, say("Under this load its volts fall too low at once."))
    dimmer = float(np.interp(first.last_v, volts, light) / max(float(np.interp(first.first_v, volts, light)), 1e-9))
    sentence = say(
        "{hours}. Fed straight from it the light falls to {share} by then.",
        hours=_hours(runs),
        share=Percent(dimmer),
    )
    if first.charge_left > _HARDLY_LEFT:
        sentence += say(" {left} of its charge is left.", left=Percent(first.charge_left))
    return _limited(battery, first.first_a, sentence, State.GOOD if dimmer >= FAIR_SHARE else State.WATCH)


def _at_volts(build: Build, volts: float) -> tuple[float, float]:
    """Amps that a build draws at some volts while on, and its light over its labels'."""
    wiring = msgspec.structs.replace(build.wiring, supply_volts=volts, supply_w=None)
    power = power_of(build.pieces, build.network.joints, wiring)
    assert power is not None
    shares = [float(piece.share.mean()) for piece in power.pieces if piece.share.size]
    return sum(one.peak_a for one in power.supplies), float(np.mean(shares)) if shares else 0.0


def _converted(build: Build, battery: BatteryLabel, converter: ConverterLabel) -> Judged:
    amps, _ = _at_volts(build, converter.out_v)
    words: dict[str, Text] = {"name": converter.name, "limit": Number(converter.limit_a), "amps": Number(amps)}
    if amps > converter.limit_a:
        return Judged(
            battery.id,
            State.FAILS,
            say("Through “{name}”, which gives {limit} A at most: the build draws {amps} A.", **words),
        )
    drawn = through_converter(amps * converter.out_v, converter.gives_share)
    runs = [run_time(battery, drawn, level) for level in LEVELS]
    if runs[0] is None:
        return Judged(battery.id, State.FAILS, say("Under this load its volts fall too low at once."))
    sentence = say("Through “{name}”: {hours}, and the light stays.", hours=_hours(runs), **words)
    return _limited(battery, max(runs[0].first_a, runs[0].last_a), sentence, State.GOOD)


def _limited(battery: BatteryLabel, amps: float, sentence: Words, state: State) -> Judged:
    if battery.limit_a is not None and amps > battery.limit_a:
        over = say(
            "The build draws {amps} A from it; its label allows {limit} A.",
            amps=Number(amps),
            limit=Number(battery.limit_a),
        )
        return Judged(battery.id, State.FAILS, over)
    return Judged(battery.id, state, sentence)


def _hours(runs: Sequence[Run | None]) -> Words:
    at = [Fixed(0.0 if run is None else run.hours, ".1f") for run in runs]
    return say(
        "{full} h at full level, {half} h at a half, {quarter} h at a quarter", full=at[0], half=at[1], quarter=at[2]
    )
