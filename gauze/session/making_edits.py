"""The edits of how a build is made, as pure functions from design to design."""

import itertools
from collections.abc import Mapping, Sequence
from typing import Any

import msgspec

from gauze.core.design import Design
from gauze.core.design.making import Making, OwnStep, StepRecord, StockChoice, check_making
from gauze.core.making.bill import Bill
from gauze.core.making.cutting import ALIKE_MM, Bar
from gauze.core.making.plans import PlannedList, stock_of
from gauze.core.materials.labels import BoardStock, ProfileStock, Thing
from gauze.session.shelf import Shelf

LEAST_KEPT_MM = 100.0  # of what is left of a bar: less is not worth a place on the shelf; common practice, no source


def shown_making(design: Design) -> Making:
    """Return what is chosen, or what is usual."""
    return design.making or Making()


def with_making(design: Design, **changes: Any) -> Design:
    """Choose something of the making.

    Raises
    ------
    DesignError
        When the value is invalid.
    """
    changed = msgspec.structs.replace(shown_making(design), **changes)
    check_making(changed)
    return msgspec.structs.replace(design, making=changed)


def with_stock(design: Design, key: str, **changes: Any) -> Design:
    """Choose the length in which a material is bought, or its price; None for the usual, or not known.

    Raises
    ------
    DesignError
        When the value is invalid.
    """
    making = shown_making(design)
    changed = msgspec.structs.replace(making.stock(key), **changes)
    rest = tuple(one for one in making.stocks if one.key != key)
    own = () if changed == StockChoice(key=key) else (changed,)
    return with_making(design, stocks=(*rest, *own))


def known_prices(bill: Bill, prices: Mapping[str, float]) -> dict[str, float]:
    """Return the prices that are known of lines which have none yet, by their keys."""
    return {line.key: prices[line.key] for line in bill.lines if line.price is None and line.key in prices}


def with_prices(design: Design, prices: Mapping[str, float]) -> Design:
    """Choose several prices at once; raises :class:`DesignError` where one is invalid."""
    for key, price in prices.items():
        design = with_stock(design, key, price=price)
    return design


def with_printing(design: Design, **changes: Any) -> Design:
    """Choose something of what is printed.

    Raises
    ------
    DesignError
        When the value is invalid.
    """
    return with_making(design, printing=msgspec.structs.replace(shown_making(design).printing, **changes))


def with_frame(design: Design, **changes: Any) -> Design:
    """Choose something of how the boards of a box are joined.

    Raises
    ------
    DesignError
        When the value is invalid.
    """
    return with_making(design, frame=msgspec.structs.replace(shown_making(design).frame, **changes))


def with_record(design: Design, key: str, **changes: Any) -> Design:
    """Keep something of a step: that it is done, a reading, a note, pictures; one of which nothing is kept is forgotten.

    Raises
    ------
    DesignError
        When the value is invalid.
    """
    making = shown_making(design)
    changed = msgspec.structs.replace(making.record(key), **changes)
    rest = tuple(one for one in making.records if one.key != key)
    return with_making(design, records=rest if changed == StepRecord(key=key) else (*rest, changed))


def with_own_step(design: Design, after: str, text: str) -> Design:
    """Add an own step after another; raises :class:`DesignError` for an empty or too long one."""
    making = shown_making(design)
    taken = {one.key for one in making.own_steps}
    key = next(name for number in itertools.count(1) if (name := f"own-{number}") not in taken)
    return with_making(design, own_steps=(*making.own_steps, OwnStep(key=key, after=after, text=text.strip())))


def without_own_step(design: Design, key: str) -> Design:
    """Remove an own step and its record; steps that followed it follow what it followed."""
    making = shown_making(design)
    gone = next((one for one in making.own_steps if one.key == key), None)
    if gone is None:
        return design
    rest = tuple(
        msgspec.structs.replace(one, after=gone.after) if one.after == key else one
        for one in making.own_steps
        if one.key != key
    )
    return with_making(design, own_steps=rest, records=tuple(one for one in making.records if one.key != key))


def with_left_over(shelf: Shelf, planned: Sequence[PlannedList], channel: ProfileStock | None) -> Shelf:
    """Return the shelf after the cutting: less what is used of it, and with what is left of bars of channel and boards.

    ``channel`` is a label of the build's channel, to write its lengths like; None where it has none.
    """
    inside_mm = None if channel is None else (channel.width_mm, channel.depth_mm)
    for one in planned:
        for bar in () if one.plan is None else one.plan.bars:
            shelf = _less_used(shelf, one, bar, inside_mm) if bar.offcut else shelf
            label = _label_of_left(shelf, one, bar, channel)
            shelf = shelf if label is None else shelf.with_thing(label)
    return shelf


def _less_used(shelf: Shelf, one: PlannedList, bar: Bar, inside_mm: tuple[float, float] | None) -> Shelf:
    """The shelf without a bar that is used, or with less on the reel."""
    for thing in shelf.things:
        stock = stock_of(one.cut_list, thing, inside_mm)
        if stock is not None and abs(stock.length_mm - bar.length_mm) < ALIKE_MM:
            used = 1.0 if isinstance(thing, ProfileStock | BoardStock) else (bar.length_mm - bar.left_mm) / 1000.0
            return shelf.with_thing(msgspec.structs.replace(thing, on_hand=round(max(thing.on_hand - used, 0.0), 4)))
    return shelf


def _label_of_left(shelf: Shelf, one: PlannedList, bar: Bar, channel: ProfileStock | None) -> Thing | None:
    material, size = one.cut_list.material, one.cut_list.size_mm
    left_mm = round(bar.left_mm, 1)
    if left_mm < LEAST_KEPT_MM:
        return None
    if material == "profile" and channel is not None:
        name = f"{channel.name}, {left_mm:g} mm left"[:80]
        return msgspec.structs.replace(channel, id=shelf.free_id(name), name=name, length_mm=left_mm, on_hand=1.0)
    if material == "board" and size is not None and size[1] > 0:
        name = f"Board {size[0]:g} x {size[1]:g}, {left_mm:g} mm left"[:80]
        return BoardStock(
            id=shelf.free_id(name), name=name, thick_mm=size[1], high_mm=size[0], length_mm=left_mm, on_hand=1.0
        )
    return None
