"""Does it stay cool enough: the LEDs, what they sit on, what a hand can touch, and the sheet?"""

from dataclasses import dataclass
from functools import partial

import msgspec

from gauze.core.design.surroundings import METAL, Surroundings
from gauze.core.evaluate.evaluation import Evaluation
from gauze.core.evaluate.finding import Caution, Figure, Finding, State
from gauze.core.evaluate.wording import back_words, stance_words
from gauze.core.families import family_of
from gauze.core.lazy import Lazy
from gauze.core.thermal.body import EMISSIVITY, Warmth
from gauze.core.thermal.convection import DISCHARGE
from gauze.core.thermal.warming import (
    CONDUCTIVITY_W_M_K,
    FALLS_PER_K,
    LABEL_C,
    LEAVES,
    TAPE_M2_K_W,
    BuildWarmth,
    warmth_of_build,
)
from gauze.core.words import Fixed, Length, Number, Percent, Text, Words, say

SOLDER_C = 85.0  # what many strips are made for; common practice, from memory
TOUCH_C = 60.0  # of what a hand or timber may be for long; common practice, from memory
PLASTIC_C = 70.0  # at which plastics and acrylic slowly soften; typical, from memory
_NEAR_K = 5.0  # below a limit, from where on it is worth a look
_TIMBER = ("timber", "fibreboard")
METAL_BACK_MM = 2.0


@dataclass(frozen=True)
class Limit:
    """A place with its temperature and what it may have."""

    words: Words
    found_c: float
    most_c: float

    @property
    def over_k(self) -> float:
        """By how much it is over."""
        return self.found_c - self.most_c


def limits_of(warmth: BuildWarmth, softens_c: float) -> list[Limit]:
    """Return every limit that a build has, the one that is nearest or passed by most first."""
    worst, hottest, back = warmth.worst, warmth.hottest, warmth.surroundings.back
    found = [
        Limit(say("LEDs"), worst.solder_c, SOLDER_C),
        Limit(say("outside of the back"), hottest.back_outside_c, TOUCH_C),
        Limit(say("lid"), hottest.lid_c, min(TOUCH_C, softens_c)),
    ]
    if back not in METAL:
        most_c = TOUCH_C if back in _TIMBER else PLASTIC_C
        found.append(Limit(say("{back} under the LEDs", back=back_words(back)), worst.back_c, most_c))
    return sorted(found, key=lambda limit: -limit.over_k)


def heat_state(warmth: BuildWarmth, limits: list[Limit]) -> State:
    """Judge the limit that is passed by most; surroundings that are not chosen yet never fail, and what is near passes."""
    over_k = limits[0].over_k
    if over_k > 0:
        return State.FAILS if warmth.chosen else State.WATCH
    if not warmth.chosen:
        return State.NOTE
    return State.WATCH if over_k > -_NEAR_K else State.GOOD


def softens_c(evaluation: Evaluation) -> float:
    """At which temperature the first of the sheets softens."""
    return min((layer.softens_c for layer in evaluation.diffuser.layers), default=TOUCH_C)


def find(evaluation: Evaluation) -> list[Finding]:
    """Judge the hottest place of every kind."""
    warmth = evaluation.warmth
    if warmth is None:
        return []
    limits = limits_of(warmth, softens_c(evaluation))
    state = heat_state(warmth, limits)
    worst, where = limits[0], warmth.surroundings
    words: dict[str, Text] = {
        "leds": Fixed(warmth.worst.solder_c, ".0f"),
        "out": Fixed(warmth.hottest.back_outside_c, ".0f"),
        "lid": Fixed(warmth.hottest.lid_c, ".0f"),
        "room": Fixed(where.ambient_c, "g"),
        "back": back_words(where.back),
        "place": worst.words,
        "found": Fixed(worst.found_c, ".0f"),
        "most": Fixed(worst.most_c, ".0f"),
    }
    if worst.over_k > 0:
        sentence = say(
            "Too hot on {back}: {place} at {found} °C, {most} °C is the limit, in a room of {room} °C.", **words
        )
    elif worst.over_k > -_NEAR_K:
        sentence = say(
            "Hot on {back}: {place} at {found} °C, close to its limit of {most} °C, in a room of {room} °C.", **words
        )
    else:
        sentence = say(
            "It stays cool enough on {back}: LEDs at {leds} °C, back {out} °C, lid {lid} °C in a room of {room} °C.",
            **words,
        )
    if not warmth.chosen:
        sentence += say(" Where it stands is not set yet: choose it in Feed.")
    return [
        Finding(
            code="heat",
            place="feed",
            state=state,
            sentence=sentence,
            value=worst.found_c,
            unit="°C",
            limit=worst.most_c,
            figures=Lazy(partial(_figures, evaluation, warmth, limits)),
            fixable=state in (State.WATCH, State.FAILS),
            cautions=(Caution.HEAT,) if worst.over_k > -_NEAR_K else (),
        )
    ]


def _figures(evaluation: Evaluation, warmth: BuildWarmth, limits: list[Limit]) -> list[Figure]:
    where, hottest = warmth.surroundings, warmth.hottest
    return [
        *(
            Figure(
                one.words,
                say("{found} °C", found=Fixed(one.found_c, ".0f")),
                say("limit {most} °C", most=Fixed(one.most_c, ".0f")),
                say("limits: common practice, from memory"),
            )
            for one in limits
        ),
        Figure(
            say("Heat"),
            say("{watts} W", watts=Number(warmth.watts)),
            say(
                "electrical watts at the levels that are set, less {leaves} of the LEDs' light; with everything lit at once",
                leaves=Percent(LEAVES),
            ),
        ),
        Figure(
            say("Where it leaves"),
            _ways(hottest),
            say(
                "{stance}, still air; emissivity {emissivity}; of the warmest body",
                stance=stance_words(where.stance),
                emissivity=Number(EMISSIVITY),
            ),
            say("Churchill & Chu, McAdams, Globe & Dropkin, as in a heat-transfer handbook, from memory; ± 20 %"),
        ),
        Figure(
            say("Spreading"),
            say("{back}, {thick}", back=back_words(where.back), thick=Length(where.back_mm)),
            say(
                "{conductivity} W/(m K): the fin equation from row to row; then {tape} m²K/W through the tape",
                conductivity=Number(CONDUCTIVITY_W_M_K[where.back]),
                tape=Fixed(TAPE_M2_K_W, "g"),
            ),
            say("typical, from memory"),
        ),
        Figure(
            say("Lumens when warm"),
            Percent(warmth.worst.flux_factor),
            say(
                "of the label's, at {falls} per kelvin above {label} °C, for the warmest piece{counted}",
                falls=Percent(FALLS_PER_K, 1),
                label=Fixed(LABEL_C, "g"),
                counted=say("; the picture counts it")
                if warmth.chosen
                else say("; the picture counts it once it is chosen"),
            ),
            say("typical, from memory"),
        ),
        *_vents(where),
        _metal(evaluation, warmth),
    ]


def _ways(hottest: Warmth) -> Text:
    words: dict[str, Text] = {
        "back": Number(hottest.back_w),
        "lid": Number(hottest.lid_w),
        "vents": Number(hottest.vent_w),
    }
    if hottest.vent_w > 0:
        return say("{back} W back and walls, {lid} W lid, {vents} W through the vents", **words)
    return say("{back} W back and walls, {lid} W lid", **words)


def _vents(where: Surroundings) -> list[Figure]:
    if where.vent_mm2 is None:
        return []
    return [
        Figure(
            say("Vents"),
            say("{area} cm² low, and as much high", area=Number(where.vent_mm2 / 100.0)),
            say(
                "C A √(g H ΔT / T), C = {discharge}; the air leaves as warm as it is inside. Keep light from them by a "
                "baffle, and insects by a mesh, and count the free area only",
                discharge=Number(DISCHARGE),
            ),
            say("stack ventilation through two openings, from memory; ± 30 %"),
        )
    ]


def _metal(evaluation: Evaluation, warmth: BuildWarmth) -> Figure:
    """Is metal needed at all? The schools disagree: here both are computed."""
    where = warmth.surroundings
    power = evaluation.network.power
    assert power is not None
    other = "timber" if where.back in METAL else "aluminium"
    thick = 6.0 if other == "timber" else METAL_BACK_MM
    changed = msgspec.structs.replace(where, back=other, back_mm=thick)
    kind = family_of(evaluation.design).body_kind
    found = warmth_of_build(evaluation.layout, power.pieces, kind, changed, chosen=warmth.chosen)
    assert found is not None
    worst = limits_of(found, softens_c(evaluation))[0]
    return Figure(
        say("On {back} instead", back=back_words(other)),
        say("LEDs at {leds} °C", leds=Fixed(found.worst.solder_c, ".0f")),
        say(
            "nearest limit: {place} at {found} °C of {most} °C",
            place=worst.words,
            found=Fixed(worst.found_c, ".0f"),
            most=Fixed(worst.most_c, ".0f"),
        ),
    )
