"""How a design is made: its lists of lengths and sheets, planned, and its bill."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import msgspec

from gauze.core.design import Design
from gauze.core.design.channel_bar import ChannelBar
from gauze.core.design.design import catalogue_of
from gauze.core.design.making import Making
from gauze.core.evaluate.recent import Recent
from gauze.core.evaluate.stages import network_for
from gauze.core.families import lay_out, parts_of
from gauze.core.making.bill import Bill, bill_of
from gauze.core.making.cut_lists import cut_lists
from gauze.core.making.plans import PlannedList, plan_lists
from gauze.core.making.sheet_lists import PlannedSheets, plan_sheet_lists, sheet_lists
from gauze.core.materials import Catalogue
from gauze.core.materials.labels import Thing

USUAL = Making()
_MOST_KEPT = 12  # plans: of the open design, and of its kept versions as they are compared
_KEPT: Recent["MadeBuild"] = Recent(_MOST_KEPT)


@dataclass(frozen=True)
class MadeBuild:
    """What is cut of a design, and what it takes; ``making`` are the choices that this is for."""

    making: Making
    planned: tuple[PlannedList, ...]
    sheets: tuple[PlannedSheets, ...]
    bill: Bill


def made_of(
    design: Design, catalogue: Catalogue, things: Sequence[Thing], pause: Callable[[], None] = lambda: None
) -> MadeBuild:
    """Plan the cutting of a design, with what lies on the shelf, and write its bill.

    Raises
    ------
    DesignError
        When the design is invalid.
    Cancelled
        When ``pause`` raises it.
    """
    making = design.making or USUAL
    asked = msgspec.structs.replace(design, making=without_records(making), bench=None), tuple(things)
    made = _KEPT.get(asked, lambda: _made(*asked, catalogue, pause))
    return replace(made, making=making)


def without_records(making: Making) -> Making:
    """Return the choices without what is kept of the steps: ticking one changes no plan."""
    return msgspec.structs.replace(making, records=(), own_steps=())


def _made(design: Design, things: Sequence[Thing], catalogue: Catalogue, pause: Callable[[], None]) -> MadeBuild:
    making = design.making or USUAL
    laid = lay_out(design, catalogue)
    parts = parts_of(design, laid, catalogue)
    network = network_for(design, laid, catalogue)
    channel = design.build_if(ChannelBar)
    channel_mm = None if channel is None else (channel.width_mm, channel.depth_mm)
    planned = plan_lists(cut_lists(parts, network.power, making), making, things, channel_mm, pause)
    sheets = plan_sheet_lists(sheet_lists(parts), making, things, catalogue_of(design, catalogue), pause)
    bill = bill_of(parts, (planned, sheets), making, network.power, network.supplies, network.wiring)
    return MadeBuild(making, tuple(planned), tuple(sheets), bill)
