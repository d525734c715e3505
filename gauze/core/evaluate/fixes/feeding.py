"""Ways to bring the far end its volts: another school, thicker wire, more feeds, a strip of higher volts."""

import math

import msgspec

from gauze.core.design import Design, with_build
from gauze.core.design.wiring import Wiring
from gauze.core.electrical.power import Power, cap_share, power_of
from gauze.core.electrical.supply import CONTINUOUS_SHARE, next_rating_w
from gauze.core.electrical.wires import SECTIONS_MM2, carries_a
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Fix
from gauze.core.evaluate.findings.drop import GOOD_SHARE, SEEN_DELTA_UV, ends_of
from gauze.core.evaluate.fixes.brightness import with_lamps_dimmed
from gauze.core.evaluate.fixes.trial import Trial
from gauze.core.evaluate.wording import scheme_words
from gauze.core.families import parts_of
from gauze.core.parts.joining import carries_data
from gauze.core.words import Fixed, Number, Percent, Text, say

_SCHEMES = ("opposite", "both_ends", "separate")  # in the order of the work that they make
_ROOM = 0.99  # of the level that is just enough
_WORTH = 1.02  # times as much light at the dimmest segment: less is not worth the work


class Wired:
    """A trial's pieces under any wiring: volts and amps alone, without the light."""

    def __init__(self, trial: Trial) -> None:
        self.trial = trial
        layout = trial.now.layout
        self.pieces = layout.pieces
        self.joints = parts_of(trial.design, layout, trial.catalogue).joints
        self.wiring = trial.now.network.wiring

    def power(self, wiring: Wiring) -> Power | None:
        """Solve the pieces under a wiring."""
        return power_of(self.pieces, self.joints, wiring)

    def share(self, wiring: Wiring) -> float:
        """Light of the dimmest segment over the brightest one's, less where the colour is another."""
        power = self.power(wiring)
        ends = None if power is None else ends_of(self.pieces, power)
        if ends is None:
            return 1.0
        return ends.share if ends.delta_uv <= SEEN_DELTA_UV else min(ends.share, GOOD_SHARE - 1e-6)

    def carried(self, wiring: Wiring) -> bool:
        """Whether every wire carries what flows in it."""
        power = self.power(wiring)
        return power is None or all(one.current_a <= carries_a(one.wire.section_mm2) for one in power.wires)

    def fix(self, title: Text, wiring: Wiring) -> Fix | None:
        """Write a change of the wiring up."""
        before, after = self.share(self.wiring), self.share(wiring)
        evaluation = self.trial.attempt(msgspec.structs.replace(self.trial.design, wiring=wiring))
        if evaluation is None:
            return None
        return self.trial.fix(title, evaluation, _gain(before, after, carried=self.carried(wiring)))


def _gain(before: float, after: float, *, carried: bool) -> Text:
    gain = say("dimmest segment {before} → {after}", before=Percent(before), after=Percent(after))
    return gain if carried else say("{gain}; the wire is then too thin for what flows", gain=gain)


def other_scheme(trial: Trial) -> Fix | None:
    """Feed the pieces by the first school that makes the dimmest segment good, or else by the best."""
    wired = Wired(trial)
    tried = [
        (wired.share(changed), changed)
        for changed in (msgspec.structs.replace(wired.wiring, scheme=scheme) for scheme in _SCHEMES)
        if changed != wired.wiring
    ]
    good = next((one for one in tried if one[0] >= GOOD_SHARE), None)
    share, wiring = good or max(tried, key=lambda one: one[0])
    if share < _WORTH * wired.share(wired.wiring):
        return None
    return wired.fix(say("Wire {scheme}", scheme=scheme_words(wiring.scheme)), wiring)


def thicker_wire(trial: Trial) -> Fix | None:
    """Take the thinnest wire that carries the current and makes the dimmest segment good; else the one that helps most."""
    wired = Wired(trial)
    changed = [_at_least(wired.wiring, one) for one in SECTIONS_MM2 if one > wired.wiring.thinnest_mm2]
    able = [one for one in changed if wired.carried(one)]
    if not able:
        return None
    good = next((one for one in able if wired.share(one) >= GOOD_SHARE), None)
    wiring = good or (able[0] if trial.code == "wire load" else able[-1])
    better = wired.share(wiring) >= _WORTH * wired.share(wired.wiring)
    if not better and wired.carried(wired.wiring):
        return None
    return wired.fix(say("Wire of {section} mm²", section=Number(wiring.thinnest_mm2)), wiring)


def _at_least(wiring: Wiring, section_mm2: float) -> Wiring:
    """Wire of such a section everywhere, but where it is thicker already."""
    usual = max(wiring.wire_mm2, section_mm2)
    own = (msgspec.structs.replace(one, wire_mm2=max(one.wire_mm2, section_mm2)) for one in wiring.sections)
    return msgspec.structs.replace(wiring, wire_mm2=usual, sections=tuple(one for one in own if one.wire_mm2 != usual))


def separate_leads(trial: Trial) -> Fix | None:
    """Give each piece wires of its own, where these carry what flows."""
    wired = Wired(trial)
    wiring = msgspec.structs.replace(wired.wiring, scheme="separate")
    if wiring == wired.wiring or not wired.carried(wiring):
        return None
    return wired.fix(say("Wire {scheme}", scheme=scheme_words("separate")), wiring)


def without_lost_feeds(trial: Trial) -> Fix | None:
    """Remove the feeds that lead nowhere."""
    wired = Wired(trial)
    power = wired.power(wired.wiring)
    if power is None or not power.lost:
        return None
    rest = tuple(one for one in wired.wiring.injections if one not in power.lost)
    return wired.fix(say("Remove them"), msgspec.structs.replace(wired.wiring, injections=rest))


def larger_supply(trial: Trial) -> Fix | None:
    """Take the next standard supply that gives all of it at no more than its continuous share."""
    wired = Wired(trial)
    free = wired.power(msgspec.structs.replace(wired.wiring, supply_w=None))
    if free is None:
        return None
    needed_w = max(one.set_v * one.peak_a for one in free.supplies) / CONTINUOUS_SHARE
    rating = next_rating_w(needed_w, trial.catalogue.supply_ratings_w)
    if rating is None or rating <= (wired.wiring.supply_w or 0.0):
        return None
    wiring = msgspec.structs.replace(wired.wiring, supply_w=float(rating))
    return wired.fix(say("Supply of {rating} W", rating=Number(rating)), wiring)


def current_cap(trial: Trial) -> Fix | None:
    """Hold the pixels to what the supply gives for long, by a cap in their controller: it leaves so much of the light."""
    wired = Wired(trial)
    free = wired.power(msgspec.structs.replace(wired.wiring, supply_w=None))
    rating_w = wired.wiring.supply_w
    if free is None or rating_w is None or len(free.supplies) != 1:
        return None
    if not all(carries_data(piece) for piece in wired.pieces):
        return None
    cap_ma = math.floor(1000.0 * CONTINUOUS_SHARE * rating_w / free.supplies[0].set_v)
    wiring = msgspec.structs.replace(wired.wiring, cap_ma=float(cap_ma))
    evaluation = trial.attempt(msgspec.structs.replace(trial.design, wiring=wiring))
    if evaluation is None:
        return None
    title = say("Cap the pixels at {cap} mA", cap=Fixed(float(cap_ma), ".0f"))
    before, after = (cap_share(wired.pieces, one) for one in (wired.wiring, wiring))
    gain = say("level {before} → {after} with every pixel on", before=Percent(before), after=Percent(after))
    return trial.fix(title, evaluation, gain)


def strips_apart(trial: Trial) -> Fix | None:
    """Give each strip wires of its own."""
    wired = Wired(trial)
    wiring = msgspec.structs.replace(wired.wiring, apart=True)
    evaluation = trial.attempt(msgspec.structs.replace(trial.design, wiring=wiring))
    if evaluation is None or evaluation.network.power is None or trial.now.network.power is None:
        return None
    before, after = (len(one.network.power.wires) for one in (trial.now, evaluation) if one.network.power is not None)
    gain = say("{before} → {after} wires to solder", before=before, after=after)
    return trial.fix(say("Separate wires for each strip"), evaluation, gain)


def nominal_volts(trial: Trial) -> Fix | None:
    """Set the supply to the volts that stand on its label."""
    wired = Wired(trial)
    if wired.wiring.supply_volts is None:
        return None
    return wired.fix(say("Supply at its own volts"), msgspec.structs.replace(wired.wiring, supply_volts=None))


def last_as_long(trial: Trial) -> Fix | None:
    """Dim it so far that the battery lasts as long as is wanted."""
    life = trial.now.network.battery
    if life is None or life.choice.wanted_life_h is None or life.set_share <= 0:
        return None
    level = life.level_for(life.choice.wanted_life_h)
    if level is None or level >= life.set_share:
        return None
    share = _ROOM * level / life.set_share
    evaluation = trial.attempt(with_lamps_dimmed(trial, share))
    after = None if evaluation is None else evaluation.network.battery
    if evaluation is None or after is None or after.set_run is None or life.set_run is None:
        return None
    gain = say("{before} h → {after} h", before=Number(life.set_run.hours), after=Number(after.set_run.hours))
    return trial.fix(say("Dim to {share}", share=Percent(share)), evaluation, gain)


def higher_volts(trial: Trial) -> Fix | None:
    """Take the same strip for higher volts, where the catalogue has it: less current, less drop."""
    design = trial.design
    if len(design.strips) != 1:
        return None
    now = trial.catalogue.strip(design.strips[0].strip)
    same = [
        strip
        for strip in trial.catalogue.strips.values()
        if strip.volts > now.volts
        and strip.kind == now.kind
        and strip.density_per_m == now.density_per_m
        and [one.name for one in strip.channel] == [one.name for one in now.channel]
    ]
    if not same:
        return None
    strip = min(same, key=lambda one: one.volts)
    choice = msgspec.structs.replace(design.strips[0], strip=strip.id)
    wiring = None if design.wiring is None else msgspec.structs.replace(design.wiring, supply_volts=None)
    changed: Design = msgspec.structs.replace(with_build(design, strips=(choice,)), wiring=wiring)
    evaluation: Evaluation | None = trial.attempt(changed)
    if evaluation is None or evaluation.network.power is None:
        return None
    before, after = (
        ends_of(one.layout.pieces, one.network.power) if one.network.power is not None else None
        for one in (trial.now, evaluation)
    )
    if before is None or after is None or after.share < _WORTH * before.share:
        return None
    return trial.fix(strip.name, evaluation, _gain(before.share, after.share, carried=True))
