"""A thing of each kind to begin a label from: plain values of its kind, to be typed over."""

from collections.abc import Mapping
from typing import Any

import msgspec

from gauze.core.design.labels import likes_of
from gauze.core.materials import Catalogue
from gauze.core.materials.labels import (
    BatteryLabel,
    BoardStock,
    ConnectorLabel,
    ControllerLabel,
    ConverterLabel,
    FuseLabel,
    Label,
    ProfileStock,
    SheetStock,
    SupplyLabel,
    Thing,
    WireLabel,
)

_BEGUN: Mapping[type[Label], Mapping[str, Any]] = {
    SupplyLabel: {"volts": 12.0, "amps": 5.0},
    BatteryLabel: {"chemistry": "lithium_ion", "cells_in_series": 3, "amp_hours": 5.0},
    ConverterLabel: {"out_v": 5.0, "in_low_v": 7.0, "in_high_v": 26.0, "limit_a": 3.0},
    ControllerLabel: {"most_pixels": 500},
    WireLabel: {"section_mm2": 0.75, "on_hand": 10.0},
    ConnectorLabel: {"amps": 5.0},
    FuseLabel: {"amps": 5.0},
    ProfileStock: {"width_mm": 15.0, "depth_mm": 10.0, "length_mm": 2000.0},
    SheetStock: {"width_mm": 600.0, "height_mm": 400.0},
    BoardStock: {"thick_mm": 18.0, "high_mm": 44.0, "length_mm": 2400.0},
}


def new_thing(kind: type[Label], name: str, thing_id: str, catalogue: Catalogue) -> Thing:
    """Return a thing of a kind, under a name and an id."""
    values: dict[str, Any] = {"id": thing_id, "name": name, **_BEGUN.get(kind, {})}
    likes = likes_of(kind, catalogue)
    if likes:
        values["like"] = next(iter(likes))
    thing: Thing = msgspec.convert(values, kind)  # type: ignore[assignment]  # every kind is one of the union's
    return thing


def with_entry(thing: Thing, field: str, value: Any) -> Thing:
    """Return a thing with another entry on its label."""
    changed: Thing = msgspec.structs.replace(thing, **{field: value})
    return changed
