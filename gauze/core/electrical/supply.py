"""How large the supply must be, by each of the trade's schools, and the next standard size."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from gauze.core.electrical.loads import Load, loads_of
from gauze.core.layout.pieces import Piece
from gauze.core.words import Text, say

PIXEL_WORST_CASE_A = 0.060  # per pixel of one package at full white; common practice, no source
WORST_CASE_MARGIN = 1.2  # common practice, no source
CONTINUOUS_SHARE = 0.80  # of the rating, for continuous load; common practice, no source


@dataclass(frozen=True)
class School:
    """One way of sizing: ``needed_w`` and the standard rating above it, or None when none is large enough."""

    name: Text
    rule: Text
    needed_w: float
    rating_w: float | None


@dataclass(frozen=True)
class SupplyNeed:
    """What one voltage needs.

    ``label_w`` is what the strips' labels add up to with every channel at full; ``set_w`` the same at the
    levels that are set, without zones that are off. ``measured_w`` is what the builder's reading of one row makes of all, or
    None. ``schools`` stand side by side; the first is the default: a measured value outranks a label. ``loads`` are what it
    feeds.
    """

    volts: float
    label_w: float
    set_w: float
    schools: tuple[School, ...]
    loads: tuple[Load, ...] = ()
    measured_w: float | None = None

    @property
    def label_a(self) -> float:
        """Label current."""
        return self.label_w / self.volts

    @property
    def label_spread_w(self) -> float:
        """By how much the label may be off: each kind of load as a whole, the kinds independent of each other."""
        return math.sqrt(sum((load.spread * load.label_w) ** 2 for load in self.loads))

    @property
    def drawn_w(self) -> float:
        """What it draws at full level: as measured, or else by the label."""
        return self.label_w if self.measured_w is None else self.measured_w

    @property
    def default(self) -> School:
        """The school that Gauze follows."""
        return self.schools[0]


def supply_needs(pieces: Sequence[Piece], ratings_w: Sequence[float], reading_a: float | None) -> list[SupplyNeed]:
    """Size one supply for each voltage among pieces, lowest first; none where the watts are not known.

    ``ratings_w`` are the standard ratings; ``reading_a`` is what the builder read on one full row, or None.
    """
    loads = loads_of(pieces)
    voltages = sorted({load.volts for load in loads})
    rows = len(voltages) == 1 and all(
        load.longest_m > 0 for load in loads
    )  # else it is not said of what a row was read
    reading_a = reading_a if rows else None
    return [_need(volts, [load for load in loads if load.volts == volts], reading_a, ratings_w) for volts in voltages]


def next_rating_w(needed_w: float, ratings_w: Sequence[float]) -> float | None:
    """Return the smallest standard rating that is enough, or None."""
    return next((rating for rating in sorted(ratings_w) if rating >= needed_w - 1e-9), None)


def worst_case_w(pixels: int, volts: float = 5.0) -> float:
    """Watts of single-package pixels at full white: 60 mA each."""
    return pixels * PIXEL_WORST_CASE_A * volts


def _need(volts: float, loads: list[Load], reading_a: float | None, ratings_w: Sequence[float]) -> SupplyNeed:
    label_w = sum(load.label_w for load in loads)
    worst_w = sum(worst_case_w(load.pixels, volts) if load.pixels else load.label_w for load in loads)

    def school(name: Text, rule: Text, needed_w: float) -> School:
        return School(name, rule, needed_w, next_rating_w(needed_w, ratings_w))

    schools = [
        school(
            say("Worst case with 20 % over"),
            say("worst-case watts × 1.2, then the next standard size"),
            worst_w * WORST_CASE_MARGIN,
        ),
        school(
            say("80 % rule"),
            say("label watts / 0.80: continuous load at no more than 80 % of the rating"),
            label_w / CONTINUOUS_SHARE,
        ),
        school(say("Exact label watts"), say("label watts, nothing over"), label_w),
    ]
    measured_w = None
    if reading_a is not None:
        rows = sum(load.metres for load in loads) / max(load.longest_m for load in loads)
        measured_w = reading_a * rows * volts
        rule = f"{reading_a:g} A read on one full row x {rows:.4g} rows x {volts:g} V x {WORST_CASE_MARGIN:g}, then the next size"
        schools.insert(0, school("Measured row + 20 %", rule, measured_w * WORST_CASE_MARGIN))
    set_w = sum(load.set_w for load in loads)
    return SupplyNeed(volts, label_w, set_w, tuple(schools), tuple(loads), measured_w)
