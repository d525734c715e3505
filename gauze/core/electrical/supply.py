"""How large the supply must be, by each of the trade's schools, and the next standard size."""

from collections.abc import Sequence
from dataclasses import dataclass

from gauze.core.design import Design, StripPanel
from gauze.core.layout import Layout
from gauze.core.materials import Catalogue

PIXEL_WORST_CASE_A = 0.060  # per pixel of one package at full white; common practice, no source
WORST_CASE_MARGIN = 1.2  # common practice, no source
CONTINUOUS_SHARE = 0.80  # of the rating, for continuous load; common practice, no source


@dataclass(frozen=True)
class School:
    """One way of sizing: ``needed_w`` and the standard rating above it, or None when none is large enough."""

    name: str
    rule: str
    needed_w: float
    rating_w: float | None


@dataclass(frozen=True)
class SupplyNeed:
    """What one voltage needs.

    ``label_w`` is what the strips' labels add up to with every channel at full; ``set_w`` the same at the
    levels that are set. ``schools`` stand side by side; the first is the default.
    """

    volts: float
    label_w: float
    set_w: float
    schools: tuple[School, ...]

    @property
    def label_a(self) -> float:
        """Label current."""
        return self.label_w / self.volts

    @property
    def default(self) -> School:
        """The school that Gauze goes by."""
        return self.schools[0]


def supply_needs(design: Design, layout: Layout, catalogue: Catalogue) -> list[SupplyNeed]:
    """Size one supply for each voltage in the design, lowest first."""
    return [
        _need(volts, design, layout, catalogue.supply_ratings_w)
        for volts in sorted({row.strip.volts for row in layout.rows})
    ]


def next_rating_w(needed_w: float, ratings_w: Sequence[float]) -> float | None:
    """Return the smallest standard rating that is enough, or None."""
    return next((rating for rating in sorted(ratings_w) if rating >= needed_w - 1e-9), None)


def worst_case_w(pixels: int, volts: float = 5.0) -> float:
    """Watts of so many single-package pixels at full white: 60 mA each."""
    return pixels * PIXEL_WORST_CASE_A * volts


def _need(volts: float, design: Design, layout: Layout, ratings_w: Sequence[float]) -> SupplyNeed:
    build: StripPanel = design.panel
    rows = [row for row in layout.rows if row.strip.volts == volts]
    label_w = sum(row.strip.power_w_per_m * row.length_mm / 1000.0 for row in rows)
    set_w = 0.0
    for row in rows:
        levels = build.strips[row.strip_index].levels_for(row.strip)
        watts_per_m = sum(level * c.power_w_per_m for level, c in zip(levels, row.strip.channel, strict=True))
        set_w += watts_per_m * row.length_mm / 1000.0
    worst_w = 0.0
    for row in rows:
        per_pixel = row.strip.kind == "pixel" and row.strip.emitters_per_segment == 1
        row_w = row.strip.power_w_per_m * row.length_mm / 1000.0
        worst_w += worst_case_w(row.emitters, volts) if per_pixel else row_w

    def school(name: str, rule: str, needed_w: float) -> School:
        return School(name, rule, needed_w, next_rating_w(needed_w, ratings_w))

    schools = [
        school(
            "Worst case with 20 % over",
            "worst-case watts x 1.2, then the next standard size",
            worst_w * WORST_CASE_MARGIN,
        ),
        school(
            "80 % rule",
            "label watts / 0.80: continuous load at no more than 80 % of the rating",
            label_w / CONTINUOUS_SHARE,
        ),
        school("Exact label watts", "label watts, nothing over", label_w),
    ]
    if design.measured_row_current_a is not None and len({row.strip.volts for row in layout.rows}) == 1:
        measured_w = design.measured_row_current_a * len(rows) * volts
        schools.append(
            school(
                "Measured row", f"{design.measured_row_current_a:g} A read on one row x {len(rows)} rows", measured_w
            )
        )
    return SupplyNeed(volts, label_w, set_w, tuple(schools))
