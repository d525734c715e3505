"""Supplies, batteries, converters, controllers, wire, connectors and fuses, as their labels state them."""

from typing import Annotated, Literal

import msgspec

from gauze.core.errors import DesignError
from gauze.core.materials.labels.label import FROM_LABEL, Label, Statement, Way, over, stated, times
from gauze.core.materials.wire_gauge import section_of_gauge_mm2
from gauze.core.words import Number, Percent, Words, say

Volts = Annotated[float, msgspec.Meta(ge=1, le=60)]
Amps = Annotated[float, msgspec.Meta(gt=0, le=1000)]
TYPICAL_EFFICIENCY = 0.90  # of a converter at half its load; common practice, no source
_AS_LABELLED = say("the label")
_TYPICAL = say("typical")


class SupplyLabel(Label, tag="supply", frozen=True, kw_only=True):
    """A supply of constant volts. ``worn`` is one whose rating is no longer trusted in full."""

    volts: Volts
    amps: Amps | None = None
    watts: Annotated[float, msgspec.Meta(gt=0, le=10_000)] | None = None
    trim_low_v: Volts | None = None
    trim_high_v: Volts | None = None
    form: Literal["brick", "open_frame", "usb", "bench"] = "brick"
    connector: Annotated[str, msgspec.Meta(max_length=40)] = ""
    worn: bool = False

    @property
    def rated_a(self) -> float:
        """What it may give for long; raises :class:`DesignError` when the label does not say, or says two things."""
        way = stated(
            (
                Way("amps", self.amps, FROM_LABEL),
                Way("watts", over(self.watts, self.volts), say("watts / volts")),
            ),
            "A",
        )
        if way is None or way.value is None:
            raise DesignError("amps", "Give the amps or the watts printed on “{name}”.", name=self.name)
        return way.value

    @property
    def rated_w(self) -> float:
        """The same in watts."""
        return self.rated_a * self.volts

    @property
    def trim_v(self) -> tuple[float, float]:
        """Lowest and highest volts to which it can be set; its own where the label names no range."""
        low = self.volts if self.trim_low_v is None else self.trim_low_v
        high = self.volts if self.trim_high_v is None else self.trim_high_v
        return min(low, self.volts), max(high, self.volts)

    def statements(self) -> tuple[Statement, ...]:
        """Return what it comes to and where each figure is from."""
        low, high = self.trim_v
        return (
            Statement(
                say("Rating"),
                say("{amps} A, {watts} W", amps=Number(self.rated_a), watts=Number(self.rated_w)),
                _AS_LABELLED,
            ),
            Statement(say("Volts"), say("{low} to {high} V", low=Number(low), high=Number(high)), _AS_LABELLED),
        )


Chemistry = Literal["lithium_ion", "lithium_iron_phosphate", "lead_acid", "nickel_metal_hydride", "alkaline"]
# open-circuit volts of one cell when empty and full, and ohms of a cell of 1 Ah (they fall as its ampere-hours grow);
# typical, from memory
CELLS: dict[str, tuple[float, float, float]] = {
    "lithium_ion": (3.0, 4.2, 0.10),
    "lithium_iron_phosphate": (2.8, 3.4, 0.06),
    "lead_acid": (1.95, 2.13, 0.07),
    "nickel_metal_hydride": (1.05, 1.38, 0.06),
    "alkaline": (1.0, 1.55, 0.40),
}


class BatteryLabel(Label, tag="battery", frozen=True, kw_only=True):
    """A pack of cells. ``amp_hours`` are those of the whole pack; ``cutoff_v`` of the pack, below which it must not be drawn."""

    chemistry: Chemistry
    cells_in_series: Annotated[int, msgspec.Meta(ge=1, le=40)] = 1
    cells_in_parallel: Annotated[int, msgspec.Meta(ge=1, le=200)] = 1
    amp_hours: Annotated[float, msgspec.Meta(gt=0, le=10_000)]
    cutoff_v: Annotated[float, msgspec.Meta(gt=0, le=60)] | None = None
    limit_a: Amps | None = None

    @property
    def full_v(self) -> float:
        """Open-circuit volts when full."""
        return CELLS[self.chemistry][1] * self.cells_in_series

    @property
    def typical_empty_v(self) -> float:
        """Open-circuit volts with no charge left, typical of its cells."""
        return CELLS[self.chemistry][0] * self.cells_in_series

    @property
    def empty_v(self) -> float:
        """Volts at which it counts as empty: the cut-off of its label, or what is typical of its cells."""
        if self.cutoff_v is None:
            return self.typical_empty_v
        if self.cutoff_v >= self.full_v:
            raise DesignError(
                "cutoff_v",
                "A cut-off of {cutoff} V is above the {full} V of the full pack. Correct it or the cells.",
                cutoff=Number(self.cutoff_v),
                full=Number(self.full_v),
            )
        return self.cutoff_v

    @property
    def inner_ohm(self) -> float:
        """Resistance of the pack."""
        cell_ah = self.amp_hours / self.cells_in_parallel
        return CELLS[self.chemistry][2] / max(cell_ah, 1e-6) * self.cells_in_series / self.cells_in_parallel

    def statements(self) -> tuple[Statement, ...]:
        """Return what it comes to and where each figure is from."""
        return (
            Statement(
                say("Volts"),
                say("{full} V full, {empty} V empty", full=Number(self.full_v), empty=Number(self.empty_v)),
                _TYPICAL if self.cutoff_v is None else say("the label, and what is typical of its cells"),
                typical=self.cutoff_v is None,
            ),
            Statement(say("Inner resistance"), say("{ohm} Ω", ohm=Number(self.inner_ohm)), _TYPICAL, typical=True),
            Statement(say("Charge"), say("{charge} Ah", charge=Number(self.amp_hours)), _AS_LABELLED),
        )


class ConverterLabel(Label, tag="converter", frozen=True, kw_only=True):
    """A converter from one direct voltage to another."""

    out_v: Volts
    in_low_v: Volts
    in_high_v: Volts
    limit_a: Amps
    efficiency: Annotated[float, msgspec.Meta(ge=0.3, le=1)] | None = None

    @property
    def gives_share(self) -> float:
        """Watts out over watts in."""
        return TYPICAL_EFFICIENCY if self.efficiency is None else self.efficiency

    def statements(self) -> tuple[Statement, ...]:
        """Return what it comes to and where each figure is from."""
        if self.in_low_v > self.in_high_v:
            raise DesignError("in_high_v", "The highest input is below the lowest. Exchange the two.")
        return (
            Statement(
                say("Gives"),
                say("{volts} V, {amps} A", volts=Number(self.out_v), amps=Number(self.limit_a)),
                _AS_LABELLED,
            ),
            Statement(
                say("Efficiency"),
                Percent(self.gives_share),
                _TYPICAL if self.efficiency is None else _AS_LABELLED,
                typical=self.efficiency is None,
            ),
        )


MOST_DIVIDERS = 20


class ControllerLabel(Label, tag="controller", frozen=True, kw_only=True):
    """What sends the data to pixels: how many lines, pixels in all, and what it holds itself to.

    ``timer_mhz`` is the clock of the timer with which it dims by pulses, ``timer_bits`` how far that counts, ``timer_dividers``
    the whole numbers by which the clock can be divided, as typed.
    """

    outputs: Annotated[int, msgspec.Meta(ge=1, le=256)] = 1
    most_pixels: Annotated[int, msgspec.Meta(ge=1, le=1_000_000)]
    frames_per_s: Annotated[float, msgspec.Meta(gt=0, le=1000)] | None = None
    cap_ma: Annotated[float, msgspec.Meta(gt=0, le=1_000_000)] | None = None
    logic_v: Annotated[float, msgspec.Meta(ge=1, le=24)] = 3.3
    timer_mhz: Annotated[float, msgspec.Meta(gt=0, le=10_000)] | None = None
    timer_bits: Annotated[int, msgspec.Meta(ge=1, le=32)] = 8
    timer_dividers: Annotated[str, msgspec.Meta(max_length=200)] = ""

    @property
    def dividers(self) -> tuple[int, ...]:
        """The dividers of its timer, 1 where none is named; raises :class:`DesignError` for what is no whole number."""
        words = self.timer_dividers.replace(",", " ").replace(";", " ").split()
        if len(words) > MOST_DIVIDERS or not all(
            word.isascii() and word.isdigit() and 1 <= len(word) <= 7 and int(word) for word in words
        ):
            raise DesignError(
                "timer_dividers",
                "Type the dividers of the timer as whole numbers, such as 1 8 64 256: at most {most} of them.",
                most=MOST_DIVIDERS,
            )
        return tuple(sorted({int(word) for word in words})) or (1,)

    def statements(self) -> tuple[Statement, ...]:
        """Return what it comes to and where each figure is from."""
        holds = Statement(
            say("Holds"),
            say("{pixels} pixels on {outputs} lines", pixels=self.most_pixels, outputs=self.outputs),
            _AS_LABELLED,
        )
        dividers = self.dividers
        if self.timer_mhz is None:
            return (holds,)
        least_hz = 1e6 * self.timer_mhz / (max(dividers) * 2**self.timer_bits)
        return (
            holds,
            Statement(
                say("Pulses"),
                say("from {least} Hz, in up to {steps} steps", least=Number(least_hz), steps=2**self.timer_bits),
                say("clock / (divider × 2^bits)"),
            ),
        )


class WireLabel(Label, tag="wire", frozen=True, kw_only=True):
    """Wire by its section or its gauge; ``on_hand`` in metres of one conductor."""

    section_mm2: Annotated[float, msgspec.Meta(ge=0.05, le=35)] | None = None
    gauge: Annotated[int, msgspec.Meta(ge=2, le=30)] | None = None
    copper: bool = True
    colour: Annotated[str, msgspec.Meta(max_length=40)] = ""

    @property
    def area_mm2(self) -> float:
        """Its section; raises :class:`DesignError` when the label gives none, or two that differ."""
        by_gauge = None if self.gauge is None else section_of_gauge_mm2(self.gauge)
        way = stated(
            (Way("section_mm2", self.section_mm2, FROM_LABEL), Way("gauge", by_gauge, say("its gauge, ASTM B258"))),
            "mm²",
        )
        if way is None or way.value is None:
            raise DesignError("section_mm2", "Give the section or the gauge of “{name}”.", name=self.name)
        return way.value

    @property
    def as_copper_mm2(self) -> float:
        """Section of copper that has its resistance: copper-clad aluminium conducts 0.63 times as well, from memory."""
        return float(times(self.area_mm2, 1.0 if self.copper else 0.63) or 0.0)

    def statements(self) -> tuple[Statement, ...]:
        """Return what it comes to and where each figure is from."""
        how: Words = _AS_LABELLED if self.section_mm2 is not None else say("its gauge, ASTM B258")
        return (Statement(say("Section"), say("{section} mm²", section=Number(self.area_mm2)), how),)


class ConnectorLabel(Label, tag="connector", frozen=True, kw_only=True):
    """Connectors of one kind, by what each contact carries."""

    amps: Amps

    def statements(self) -> tuple[Statement, ...]:
        """Return what it comes to and where each figure is from."""
        return (Statement(say("Carries"), say("{amps} A", amps=Number(self.amps)), _AS_LABELLED),)


class FuseLabel(Label, tag="fuse", frozen=True, kw_only=True):
    """Fuses of one rating."""

    amps: Amps

    def statements(self) -> tuple[Statement, ...]:
        """Return what it comes to and where each figure is from."""
        return (Statement(say("Rating"), say("{amps} A", amps=Number(self.amps)), _AS_LABELLED),)
