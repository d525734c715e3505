"""The edits of the wiring, as pure functions from design to design."""

from typing import Any

import msgspec

from gauze.core.design import Design
from gauze.core.design.wiring import Injection, RunSection, Wiring, check_wiring
from gauze.core.electrical.growing import SUPPLY


def with_wiring(design: Design, usual: Wiring, **changes: Any) -> Design:
    """Choose something of the wiring; what was not chosen before is as ``usual``.

    A battery takes the place of a supply, and a supply that of a battery.

    Raises
    ------
    DesignError
        When the value is invalid.
    """
    if changes.get("battery") is not None:
        changes |= {"supply_w": None, "supply_volts": None}
    elif "supply_w" in changes or changes.get("supply_volts") is not None:
        changes |= {"battery": None}
    changed = msgspec.structs.replace(design.wiring or usual, **changes)
    check_wiring(changed)
    return msgspec.structs.replace(design, wiring=changed)


def without_wiring(design: Design) -> Design:
    """Choose no wiring: the light is that of full volts again."""
    return msgspec.structs.replace(design, wiring=None)


def with_injection(design: Design, usual: Wiring, injection: Injection) -> Design:
    """Feed in at one more place; nothing changes where one is already."""
    known = (design.wiring or usual).injections
    return design if injection in known else with_wiring(design, usual, injections=(*known, injection))


def with_moved_injection(design: Design, injection: Injection, there: Injection) -> Design:
    """Bring a feed to other pads; a section that was chosen for its wires goes with it."""
    wiring = design.wiring
    if wiring is None or injection not in wiring.injections or there in wiring.injections:
        return design
    ends = f"{injection.piece} after {injection.after}", f"{there.piece} after {there.after}"
    sections = (
        msgspec.structs.replace(one, end=ends[1]) if (one.start, one.end) == (SUPPLY, ends[0]) else one
        for one in wiring.sections
        if (one.start, one.end) != (SUPPLY, ends[1])
    )
    moved = tuple(there if one == injection else one for one in wiring.injections)
    return with_wiring(design, wiring, injections=moved, sections=tuple(sections))


def without_injection(design: Design, injection: Injection) -> Design:
    """Take a feed away."""
    if design.wiring is None:
        return design
    rest = tuple(one for one in design.wiring.injections if one != injection)
    return with_wiring(design, design.wiring, injections=rest)


def with_section(design: Design, usual: Wiring, run: tuple[str, str], wire_mm2: float | None) -> Design:
    """Choose the section of the wires of one run, by the places where it begins and ends; None for that of all others.

    Raises
    ------
    DesignError
        When the value is invalid.
    """
    wiring = design.wiring or usual
    rest = tuple(one for one in wiring.sections if (one.start, one.end) != run)
    own = () if wire_mm2 is None else (RunSection(start=run[0], end=run[1], wire_mm2=wire_mm2),)
    return design if (*rest, *own) == wiring.sections else with_wiring(design, usual, sections=(*rest, *own))
