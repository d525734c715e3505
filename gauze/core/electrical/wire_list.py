"""The wires of a build as they are cut and soldered: numbered by pair, from where to where, how long to cut."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from gauze.core.electrical.growing import Pad
from gauze.core.electrical.power import Power, WirePower
from gauze.core.electrical.wires import fuse_for

STRIPPED_MM = 10.0  # at each end: insulation off, and a little to bend; common practice, no source
_STEP_MM = 5.0  # wires are cut to whole steps of this


@dataclass(frozen=True)
class Run:
    """Wires laid together from one place to another, a conductor each, under one number.

    ``cut_mm`` is how long each is cut. ``fuse_a`` is for a run from the supply: None for others, or where no standard one fits.
    """

    number: int
    start: Pad
    end: Pad
    section_mm2: float
    length_mm: float
    cut_mm: float
    wires: tuple[WirePower, ...]
    fuse_a: float | None

    @property
    def current_a(self) -> float:
        """The most that flows in one of them."""
        return max(one.current_a for one in self.wires)


def runs_of(power: Power) -> tuple[Run, ...]:
    """Return all runs, those from the supply first, each in the order in which it was laid."""
    grouped: dict[tuple[Pad, Pad], list[WirePower]] = {}
    for one in power.wires:
        grouped.setdefault((one.wire.start, one.wire.end), []).append(one)
    order = sorted(grouped, key=lambda ends: bool(ends[0].piece))
    behind = thinnest_behind_mm2(power)
    return tuple(_run(number, ends, grouped[ends], behind) for number, ends in enumerate(order, start=1))


def thinnest_behind_mm2(power: Power) -> float:
    """The thinnest section of any wire from piece to piece: a fuse at the supply has to blow before that gets hot.

    Infinite where there is no such wire.
    """
    return min((one.wire.section_mm2 for one in power.wires if one.wire.start.piece), default=math.inf)


def main_lead(power: Power) -> WirePower:
    """Return the wire from a supply with the most current; raises :class:`ValueError` where there is none."""
    return max((one for one in power.wires if not one.wire.start.piece), key=lambda one: one.current_a)


def _run(number: int, ends: tuple[Pad, Pad], wires: Sequence[WirePower], behind_mm2: float) -> Run:
    first = wires[0].wire
    cut = math.ceil((first.length_mm + 2.0 * STRIPPED_MM) / _STEP_MM - 1e-9) * _STEP_MM
    most = max(one.current_a for one in wires)
    fuse = None if ends[0].piece else fuse_for(most, min(first.section_mm2, behind_mm2)).rating_a
    return Run(number, *ends, first.section_mm2, first.length_mm, cut, tuple(wires), fuse)


def metres_by_section(runs: Sequence[Run]) -> dict[float, float]:
    """How much wire of each section is cut, in metres."""
    found: dict[float, float] = {}
    for run in runs:
        found[run.section_mm2] = found.get(run.section_mm2, 0.0) + run.cut_mm * len(run.wires) / 1000.0
    return dict(sorted(found.items()))
