"""What lies on a builder's shelf, as its labels state it."""

from gauze.core.materials.labels.electrical import (
    BatteryLabel,
    ConnectorLabel,
    ControllerLabel,
    ConverterLabel,
    FuseLabel,
    SupplyLabel,
    WireLabel,
)
from gauze.core.materials.labels.label import Label, Statement
from gauze.core.materials.labels.lamps import ModuleLabel, StripLabel
from gauze.core.materials.labels.stock import BoardStock, ProfileStock, SheetStock

Lamp = StripLabel | ModuleLabel
Thing = (
    StripLabel
    | ModuleLabel
    | SupplyLabel
    | BatteryLabel
    | ConverterLabel
    | ControllerLabel
    | WireLabel
    | ConnectorLabel
    | FuseLabel
    | ProfileStock
    | SheetStock
    | BoardStock
)
KINDS: tuple[type[Label], ...] = (
    StripLabel,
    ModuleLabel,
    SupplyLabel,
    BatteryLabel,
    ConverterLabel,
    ControllerLabel,
    WireLabel,
    ConnectorLabel,
    FuseLabel,
    ProfileStock,
    SheetStock,
    BoardStock,
)

__all__ = [
    "KINDS",
    "BatteryLabel",
    "BoardStock",
    "ConnectorLabel",
    "ControllerLabel",
    "ConverterLabel",
    "FuseLabel",
    "Label",
    "Lamp",
    "ModuleLabel",
    "ProfileStock",
    "SheetStock",
    "Statement",
    "StripLabel",
    "SupplyLabel",
    "Thing",
    "WireLabel",
]
