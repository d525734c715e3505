"""Supplies and batteries: will they feed the build, and for how long?"""

from collections.abc import Sequence

import msgspec

from gauze.core.design.wiring import BatterySupply, Wiring
from gauze.core.electrical.battery_life import life_of
from gauze.core.electrical.loads import highest_volts
from gauze.core.electrical.supply import SupplyNeed
from gauze.core.evaluate.finding import State
from gauze.core.evaluate.findings.battery import DIRECT_LOW, FITS_V, judge_life
from gauze.core.evaluate.shelf.build import Build, Judged
from gauze.core.materials.labels import BatteryLabel, ConverterLabel, SupplyLabel
from gauze.core.words import Number, Text, Words, say

WORN_SHARE = 0.80  # of its rating that a worn supply is trusted with; common practice, no source


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
    return msgspec.structs.replace(wiring, supply_w=round(trusted_w, 3), supply_volts=volts, battery=None)


def battery_verdict(build: Build, battery: BatteryLabel, converters: Sequence[ConverterLabel]) -> Judged:
    """Judge how long it lasts, straight or through the best converter that fits."""
    needs = build.needs
    if len(needs) != 1:
        return Judged(battery.id, State.FAILS, say("The build uses several voltages: each needs its own source."))
    volts = needs[0].volts
    converter = None
    highest_v = min(highest_volts(piece) for piece in build.pieces)
    if not DIRECT_LOW * volts <= battery.full_v <= highest_v:
        fitting = [
            one
            for one in converters
            if abs(one.out_v - volts) <= FITS_V * volts
            and one.in_low_v <= battery.empty_v
            and battery.full_v <= one.in_high_v
        ]
        if not fitting:
            return Judged(battery.id, State.FAILS, _between(battery, volts))
        converter = max(fitting, key=lambda one: (one.limit_a, one.gives_share))
    before = build.wiring.battery or BatterySupply(battery=battery)
    choice = msgspec.structs.replace(before, battery=battery, converter=converter)
    wiring = msgspec.structs.replace(build.wiring, battery=choice, supply_w=None, supply_volts=None)
    life = life_of(build.pieces, build.network.joints, wiring, build.power)
    if life is None:
        return Judged(battery.id, State.NOTE, say("Nothing in the build is on."))
    state, sentence = judge_life(life)
    return Judged(battery.id, state, sentence, None if state is State.FAILS else wiring)


def _between(battery: BatteryLabel, volts: float) -> Words:
    return say(
        "It gives {full} to {empty} V, the build takes {volts} V: no converter on the shelf fits between them.",
        full=Number(battery.full_v),
        empty=Number(battery.empty_v),
        volts=Number(volts),
    )
