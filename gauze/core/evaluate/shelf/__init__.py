"""Which of the things on the shelf suit a build, and why the others will not."""

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from gauze.core.electrical.network import Network
from gauze.core.evaluate.finding import State
from gauze.core.evaluate.shelf.build import Build, Judged
from gauze.core.evaluate.shelf.carrying import connector_verdict, controller_verdict, fuse_verdict, wire_verdict
from gauze.core.evaluate.shelf.power import battery_verdict, supply_verdict
from gauze.core.evaluate.shelf.stock import board_verdict, lamp_verdict, profile_verdict, sheet_verdict
from gauze.core.materials import Catalogue
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
    Thing,
    WireLabel,
)
from gauze.core.parts import Parts
from gauze.core.words import say

__all__ = ["Judged", "judge_shelf"]

# what the build has to have power for, and what is judged by its parts alone; a verdict of None says nothing
_OF_POWER: Mapping[type[Label], Callable[[Build, Any], Judged]] = {
    SupplyLabel: supply_verdict,
    WireLabel: wire_verdict,
    ConnectorLabel: connector_verdict,
    FuseLabel: fuse_verdict,
    ControllerLabel: controller_verdict,
}
_OF_PARTS: Mapping[type[Label], Callable[[Build, Any], Judged | None]] = {
    StripLabel: lamp_verdict,
    ModuleLabel: lamp_verdict,
    SheetStock: sheet_verdict,
    ProfileStock: profile_verdict,
    BoardStock: board_verdict,
}


def judge_shelf(parts: Parts, network: Network, things: Sequence[Thing], catalogue: Catalogue) -> list[Judged]:
    """Judge every thing that a build may need; what has nothing to do with it is left out.

    Raises
    ------
    DesignError
        For a label that cannot be: ask :func:`gauze.core.design.labels.read_label` first.
    """
    build = Build(parts, network, catalogue)
    return [found for thing in things if (found := _judge(build, thing, things)) is not None]


def _judge(build: Build, thing: Thing, things: Sequence[Thing]) -> Judged | None:
    by_parts = _OF_PARTS.get(type(thing))
    if by_parts is not None:
        return by_parts(build, thing)
    by_power = _OF_POWER.get(type(thing))
    if build.network.power is None or not build.needs or (by_power is None and not isinstance(thing, BatteryLabel)):
        return None
    if thing.on_hand <= 0:
        return Judged(thing.id, State.NOTE, say("None on hand."))
    if by_power is not None:
        return by_power(build, thing)
    assert isinstance(thing, BatteryLabel)
    return battery_verdict(build, thing, [one for one in things if isinstance(one, ConverterLabel) and one.on_hand > 0])
