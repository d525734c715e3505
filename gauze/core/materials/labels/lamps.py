"""Strips and modules by their labels: what a label leaves out is typical of the row of the catalogue that they are like."""

from typing import Annotated

import msgspec

from gauze.core.errors import DesignError
from gauze.core.materials.labels.label import FROM_LABEL, Label, Statement, Way, over, stated, times
from gauze.core.materials.module import Module
from gauze.core.materials.strip import Strip
from gauze.core.printable import printable
from gauze.core.words import Fixed, Length, Number, Text, Words, say

Positive = Annotated[float, msgspec.Meta(gt=0, le=100_000)]
_MOST_LM_PER_W = 250.0  # no white LED gives more; from memory
_MOST_DENSITY_PER_M = 2000.0


class StripLabel(Label, tag="strip", frozen=True, kw_only=True):
    """A reel of strip. Watts, amps, LEDs and lumens may be those of the reel or of a metre; any that suffice.

    ``like`` is the row of the catalogue that it comes nearest to: its colours, its package and all that the label leaves out.
    ``on_hand`` is in metres.
    """

    like: str
    volts: Annotated[float, msgspec.Meta(ge=1, le=60)] | None = None
    reel_m: Annotated[float, msgspec.Meta(gt=0, le=1000)] | None = None
    watts: Positive | None = None
    watts_per_m: Positive | None = None
    amps: Positive | None = None
    amps_per_m: Positive | None = None
    leds: Annotated[float, msgspec.Meta(gt=0, le=1_000_000)] | None = None
    leds_per_m: Annotated[float, msgspec.Meta(gt=0, le=_MOST_DENSITY_PER_M)] | None = None
    leds_per_cut: Annotated[int, msgspec.Meta(ge=1, le=60)] | None = None
    width_mm: Annotated[float, msgspec.Meta(ge=1, le=100)] | None = None
    lumens: Positive | None = None
    lumens_per_m: Positive | None = None
    lumens_per_watt: Annotated[float, msgspec.Meta(gt=0, le=_MOST_LM_PER_W)] | None = None
    white_cct_k: Annotated[float, msgspec.Meta(ge=1800, le=12_000)] | None = None
    rail_ohm_per_m: Annotated[float, msgspec.Meta(gt=0, le=100)] | None = None

    def strip(self, like: Strip) -> Strip:
        """Return the strip; raises :class:`DesignError` when the label contradicts itself."""
        return _read_strip(self, like)[0]

    def statements(self, like: Strip) -> tuple[Statement, ...]:
        """Return what it comes to and where each figure is from; raises as :meth:`strip`."""
        return _read_strip(self, like)[1]


class ModuleLabel(Label, tag="module", frozen=True, kw_only=True):
    """Modules of one kind; watts, amps and lumens of one of them. ``on_hand`` counts them."""

    like: str
    volts: Annotated[float, msgspec.Meta(ge=1, le=60)] | None = None
    watts: Positive | None = None
    amps: Positive | None = None
    lumens: Positive | None = None
    lumens_per_watt: Annotated[float, msgspec.Meta(gt=0, le=_MOST_LM_PER_W)] | None = None
    pitch_mm: Annotated[float, msgspec.Meta(gt=0, le=1000)] | None = None
    white_cct_k: Annotated[float, msgspec.Meta(ge=1800, le=12_000)] | None = None

    def module(self, like: Module) -> Module:
        """Return the module; raises :class:`DesignError` when the label contradicts itself."""
        return _read_module(self, like)[0]

    def statements(self, like: Module) -> tuple[Statement, ...]:
        """Return what it comes to and where each figure is from; raises as :meth:`module`."""
        return _read_module(self, like)[1]


def _told(name: Words, value: Text, way: Way | None, typical: Text) -> Statement:
    """A figure with where it is from: the label, or what is typical."""
    return Statement(name, value, typical if way is None else way.how, typical=way is None)


def _or(way: Way | None, typical: float) -> float:
    return typical if way is None or way.value is None else way.value


def _read_strip(label: StripLabel, like: Strip) -> tuple[Strip, tuple[Statement, ...]]:
    typical: Text = say("typical, as {like}", like=like.name)
    volts = stated((Way("volts", label.volts, FROM_LABEL),), "V")
    volts_v = _or(volts, like.volts)
    density = stated(
        (
            Way("leds_per_m", label.leds_per_m, FROM_LABEL),
            Way("leds", over(label.leds, label.reel_m), say("LEDs of the reel / its length")),
        ),
        "/m",
    )
    density_per_m = _or(density, like.density_per_m)
    if density_per_m > _MOST_DENSITY_PER_M:
        raise DesignError(
            "leds",
            "{count} LEDs per metre is more than any strip has. Correct LEDs or length.",
            count=Number(density_per_m),
        )
    watts = stated(
        (
            Way("watts_per_m", label.watts_per_m, FROM_LABEL),
            Way("watts", over(label.watts, label.reel_m), say("watts of the reel / its length")),
            Way("amps_per_m", times(label.amps_per_m, volts_v), say("amps per metre × volts")),
            Way("amps", over(times(label.amps, volts_v), label.reel_m), say("amps of the reel × volts / its length")),
        ),
        "W/m",
    )
    as_typical = like.power_w_per_m * density_per_m / like.density_per_m
    watts_per_m = _or(watts, as_typical)
    lumens = stated(
        (
            Way("lumens_per_m", label.lumens_per_m, FROM_LABEL),
            Way("lumens", over(label.lumens, label.reel_m), say("lumens of the reel / its length")),
            Way("lumens_per_watt", times(label.lumens_per_watt, watts_per_m), say("lumens per watt × watts per metre")),
        ),
        "lm/m",
    )
    lumens_per_m = _or(lumens, like.flux_lm_per_m / like.power_w_per_m * watts_per_m)
    _check_efficacy(lumens_per_m, watts_per_m, lumens, watts)
    per_cut = stated((Way("leds_per_cut", label.leds_per_cut, FROM_LABEL),), "")
    leds_per_cut = round(_or(per_cut, like.emitters_per_segment))
    width = stated((Way("width_mm", label.width_mm, FROM_LABEL),), "mm")
    width_mm = _or(width, like.width_mm)
    rail = stated((Way("rail_ohm_per_m", label.rail_ohm_per_m, say("measured")),), "Ω/m")
    rail_ohm_per_m = _or(rail, like.rail_ohm_per_m)
    brighter, hungrier = lumens_per_m / like.flux_lm_per_m, watts_per_m / like.power_w_per_m
    strip = msgspec.structs.replace(
        like,
        id=label.id,
        name=label.name,
        volts=volts_v,
        density_per_m=density_per_m,
        emitters_per_segment=leds_per_cut,
        width_mm=width_mm,
        package_mm=_fitting(like.package_mm, 1000.0 / density_per_m, width_mm),
        rail_ohm_per_m=rail_ohm_per_m,
        white_cct_k=_whites(like.white_cct_k, label.white_cct_k),
        channel=tuple(
            msgspec.structs.replace(
                one, power_w_per_m=one.power_w_per_m * hungrier, flux_lm_per_m=one.flux_lm_per_m * brighter
            )
            for one in like.channel
        ),
        source=f"label of “{printable(label.name)}”, the rest as {like.name}, typical",
    )
    return strip, (
        _told(say("Volts"), say("{volts} V", volts=Number(volts_v)), volts, typical),
        _told(say("LEDs"), say("{count}/m", count=Number(density_per_m)), density, typical),
        _told(
            say("Watts"),
            say("{watts} W/m", watts=Number(watts_per_m)),
            watts,
            say("{typical}, by its LEDs per metre", typical=typical),
        ),
        _told(
            say("Lumens"),
            say("{flux} lm/m", flux=Number(lumens_per_m)),
            lumens,
            say("{typical}, by its watts", typical=typical),
        ),
        _told(
            say("Cut every"),
            say("{count} LEDs, {segment}", count=leds_per_cut, segment=Length(strip.segment_mm)),
            per_cut,
            typical,
        ),
        _told(say("Width"), Length(width_mm), width, typical),
        _told(say("Copper"), say("{ohm} Ω/m each way", ohm=Number(rail_ohm_per_m)), rail, typical),
    )


def _fitting(package_mm: tuple[float, float], pitch_mm: float, width_mm: float) -> tuple[float, float]:
    """A package that stands beside the next one, and on the strip."""
    return min(package_mm[0], 0.95 * pitch_mm), min(package_mm[1], width_mm)


def _whites(range_k: tuple[int, int] | None, cct_k: float | None) -> tuple[int, int] | None:
    """The whites to choose from: that of the label, where it names one and the strip is white."""
    return range_k if range_k is None or cct_k is None else (round(cct_k), round(cct_k))


def _check_efficacy(flux: float, power: float, lumens: Way | None, watts: Way | None) -> None:
    if power <= 0 or flux / power <= _MOST_LM_PER_W or (lumens is None and watts is None):
        return
    raise DesignError(
        lumens.field if lumens is not None else watts.field if watts is not None else "lumens",
        "{efficacy} lm/W is more than any LED gives. Correct lumens or watts.",
        efficacy=Fixed(flux / power, ".0f"),
    )


def _read_module(label: ModuleLabel, like: Module) -> tuple[Module, tuple[Statement, ...]]:
    typical: Text = say("typical, as {like}", like=like.name)
    volts = stated((Way("volts", label.volts, FROM_LABEL),), "V")
    volts_v = _or(volts, like.volts)
    watts = stated(
        (
            Way("watts", label.watts, FROM_LABEL),
            Way("amps", times(label.amps, volts_v), say("amps × volts")),
        ),
        "W",
    )
    watts_w = _or(watts, like.power_w)
    like_lm = sum(one.flux_lm for one in like.channel)
    lumens = stated(
        (
            Way("lumens", label.lumens, FROM_LABEL),
            Way("lumens_per_watt", times(label.lumens_per_watt, watts_w), say("lumens per watt × watts")),
        ),
        "lm",
    )
    flux_lm = _or(lumens, like_lm / like.power_w * watts_w)
    _check_efficacy(flux_lm, watts_w, lumens, watts)
    pitch = stated((Way("pitch_mm", label.pitch_mm, FROM_LABEL),), "mm")
    pitch_mm = _or(pitch, like.pitch_mm)
    wider = pitch_mm / like.pitch_mm if like.pitch_mm > 0 else 1.0
    module = msgspec.structs.replace(
        like,
        id=label.id,
        name=label.name,
        volts=volts_v,
        pitch_mm=pitch_mm,
        board_mm=(like.board_mm[0] * wider, like.board_mm[1] * wider) if like.kind == "grid" else like.board_mm,
        package_mm=min(like.package_mm, 0.95 * pitch_mm) if pitch_mm > 0 else like.package_mm,
        white_cct_k=_whites(like.white_cct_k, label.white_cct_k),
        channel=tuple(
            msgspec.structs.replace(
                one, power_w=one.power_w * watts_w / like.power_w, flux_lm=one.flux_lm * flux_lm / like_lm
            )
            for one in like.channel
        ),
        source=f"label of “{printable(label.name)}”, the rest as {like.name}, typical",
    )
    return module, (
        _told(say("Volts"), say("{volts} V", volts=Number(volts_v)), volts, typical),
        _told(say("Watts"), say("{watts} W each", watts=Number(watts_w)), watts, typical),
        _told(
            say("Lumens"),
            say("{flux} lm each", flux=Number(flux_lm)),
            lumens,
            say("{typical}, by its watts", typical=typical),
        ),
        _told(say("Pitch"), Length(pitch_mm), pitch, typical),
    )
