"""What kinds of things and the entries of their labels are called, and how an entry is typed."""

from dataclasses import dataclass
from typing import Literal

from gauze.core.materials.labels import (
    BatteryLabel,
    BoardStock,
    ConnectorLabel,
    ControllerLabel,
    ConverterLabel,
    FuseLabel,
    Label,
    ModuleLabel,
    ProfileStock,
    SheetStock,
    StripLabel,
    SupplyLabel,
    WireLabel,
)
from gauze.ui.text import tr


@dataclass(frozen=True)
class Entry:
    """One entry of a label: its field, its name, and how it is typed; ``unit`` stands behind a number.

    ``options`` are (value, text) of a choice.
    """

    field: str
    label: str
    kind: Literal["text", "number", "whole", "length", "share", "yes", "choice", "like"] = "number"
    unit: str = ""
    options: tuple[tuple[str, str], ...] = ()


def kind_words(kind: type[Label]) -> str:
    """What one thing of a kind is called."""
    return {
        StripLabel: tr("Strip"),
        ModuleLabel: tr("Module"),
        SupplyLabel: tr("Supply"),
        BatteryLabel: tr("Battery"),
        ConverterLabel: tr("Converter"),
        ControllerLabel: tr("Controller"),
        WireLabel: tr("Wire"),
        ConnectorLabel: tr("Connector"),
        FuseLabel: tr("Fuse"),
        ProfileStock: tr("Channel"),
        SheetStock: tr("Sheet"),
        BoardStock: tr("Board"),
    }[kind]


def hand_unit(kind: type[Label]) -> str:
    """In what a kind is counted."""
    return "m" if kind in (StripLabel, WireLabel) else ""


def entries_of(kind: type[Label]) -> tuple[Entry, ...]:
    """Return the entries of a kind's label, in the order in which they are shown."""
    on_hand = Entry("on_hand", tr("On hand"), "number", hand_unit(kind))
    return (Entry("name", tr("Name"), "text"), on_hand, *_OWN[kind]())


def _strip() -> tuple[Entry, ...]:
    return (
        Entry("like", tr("Most like"), "like"),
        Entry("volts", tr("Volts"), unit="V"),
        Entry("reel_m", tr("Length of the reel"), unit="m"),
        Entry("watts", tr("Watts, whole reel"), unit="W"),
        Entry("watts_per_m", tr("Watts per metre"), unit="W/m"),
        Entry("amps", tr("Amps, whole reel"), unit="A"),
        Entry("amps_per_m", tr("Amps per metre"), unit="A/m"),
        Entry("leds", tr("LEDs, whole reel"), unit=""),
        Entry("leds_per_m", tr("LEDs per metre"), unit="/m"),
        Entry("leds_per_cut", tr("LEDs from cut to cut"), "whole"),
        Entry("width_mm", tr("Width"), "length"),
        Entry("lumens", tr("Lumens, whole reel"), unit="lm"),
        Entry("lumens_per_m", tr("Lumens per metre"), unit="lm/m"),
        Entry("lumens_per_watt", tr("Lumens per watt"), unit="lm/W"),
        Entry("white_cct_k", tr("White"), unit="K"),
        Entry("rail_ohm_per_m", tr("Copper, as measured"), unit="Ω/m"),
    )


def _module() -> tuple[Entry, ...]:
    return (
        Entry("like", tr("Most like"), "like"),
        Entry("volts", tr("Volts"), unit="V"),
        Entry("watts", tr("Watts each"), unit="W"),
        Entry("amps", tr("Amps each"), unit="A"),
        Entry("lumens", tr("Lumens each"), unit="lm"),
        Entry("lumens_per_watt", tr("Lumens per watt"), unit="lm/W"),
        Entry("pitch_mm", tr("Pitch of the LEDs"), "length"),
        Entry("white_cct_k", tr("White"), unit="K"),
    )


def _supply() -> tuple[Entry, ...]:
    forms = (
        ("brick", tr("brick with a cord")),
        ("open_frame", tr("open frame")),
        ("usb", tr("USB bank")),
        ("bench", tr("bench supply")),
    )
    return (
        Entry("volts", tr("Volts"), unit="V"),
        Entry("amps", tr("Amps"), unit="A"),
        Entry("watts", tr("Watts"), unit="W"),
        Entry("trim_low_v", tr("Trims down to"), unit="V"),
        Entry("trim_high_v", tr("Trims up to"), unit="V"),
        Entry("form", tr("Form"), "choice", options=forms),
        Entry("connector", tr("Connector"), "text"),
        Entry("worn", tr("Old or worn"), "yes"),
    )


def _battery() -> tuple[Entry, ...]:
    cells = (
        ("lithium_ion", tr("lithium-ion")),
        ("lithium_iron_phosphate", tr("lithium iron phosphate")),
        ("lead_acid", tr("lead-acid")),
        ("nickel_metal_hydride", tr("nickel-metal hydride")),
        ("alkaline", tr("alkaline")),
    )
    return (
        Entry("chemistry", tr("Cells"), "choice", options=cells),
        Entry("cells_in_series", tr("In series"), "whole"),
        Entry("cells_in_parallel", tr("In parallel"), "whole"),
        Entry("amp_hours", tr("Charge of the pack"), unit="Ah"),
        Entry("cutoff_v", tr("Cut-off of the pack"), unit="V"),
        Entry("limit_a", tr("Most amps"), unit="A"),
    )


def _converter() -> tuple[Entry, ...]:
    return (
        Entry("out_v", tr("Gives"), unit="V"),
        Entry("in_low_v", tr("Takes from"), unit="V"),
        Entry("in_high_v", tr("Takes up to"), unit="V"),
        Entry("limit_a", tr("Most amps out"), unit="A"),
        Entry("efficiency", tr("Efficiency"), "share"),
    )


def _controller() -> tuple[Entry, ...]:
    return (
        Entry("outputs", tr("Data lines"), "whole"),
        Entry("most_pixels", tr("Most pixels"), "whole"),
        Entry("frames_per_s", tr("Pictures a second"), unit="/s"),
        Entry("cap_ma", tr("Current cap"), unit="mA"),
        Entry("logic_v", tr("Logic level"), unit="V"),
        Entry("timer_mhz", tr("Clock of its timer"), unit="MHz"),
        Entry("timer_bits", tr("Bits of its timer"), "whole"),
        Entry("timer_dividers", tr("Dividers of its timer"), "text"),
    )


def _wire() -> tuple[Entry, ...]:
    return (
        Entry("section_mm2", tr("Section"), unit="mm²"),
        Entry("gauge", tr("Gauge (AWG)"), "whole"),
        Entry("copper", tr("Copper throughout"), "yes"),
        Entry("colour", tr("Colour"), "text"),
    )


def _amps() -> tuple[Entry, ...]:
    return (Entry("amps", tr("Amps"), unit="A"),)


def _profile() -> tuple[Entry, ...]:
    return (
        Entry("like", tr("Shaped like"), "like"),
        Entry("width_mm", tr("Width inside"), "length"),
        Entry("depth_mm", tr("Depth inside"), "length"),
        Entry("length_mm", tr("Length of a bar"), "length"),
    )


def _sheet() -> tuple[Entry, ...]:
    return (
        Entry("like", tr("A piece of"), "like"),
        Entry("width_mm", tr("Width"), "length"),
        Entry("height_mm", tr("Height"), "length"),
    )


def _board() -> tuple[Entry, ...]:
    return (
        Entry("thick_mm", tr("Thickness"), "length"),
        Entry("high_mm", tr("Height"), "length"),
        Entry("length_mm", tr("Length"), "length"),
    )


_OWN = {
    StripLabel: _strip,
    ModuleLabel: _module,
    SupplyLabel: _supply,
    BatteryLabel: _battery,
    ConverterLabel: _converter,
    ControllerLabel: _controller,
    WireLabel: _wire,
    ConnectorLabel: _amps,
    FuseLabel: _amps,
    ProfileStock: _profile,
    SheetStock: _sheet,
    BoardStock: _board,
}
