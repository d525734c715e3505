"""The trade-off of depth against rows: what shows, what gets out, what it draws, over a whole field of designs."""

from collections.abc import Callable
from dataclasses import dataclass

import msgspec
import numpy as np

from gauze.core.design import Design, RowPlan
from gauze.core.errors import Cancelled, DesignError, GauzeError
from gauze.core.evaluate.evaluation import Detail, Evaluation
from gauze.core.evaluate.stages import evaluate
from gauze.core.families import family_of, lay_out
from gauze.core.layout import panel_layout
from gauze.core.layout.model import FloatArray
from gauze.core.materials import Catalogue

_DETAIL = Detail(fineness=0.7, most_pixels=4_000, target_points=1)
_DEPTHS, _COUNTS = 13, 13
_DEPTH_RANGE, _COUNT_RANGE = (0.45, 2.2), (0.5, 2.0)  # of the present depth and number of rows


@dataclass(frozen=True)
class TradeOff:
    """A field of designs that differ from ``design`` in depth and number of rows only.

    Arrays over (row counts, depths); NaN where a design is invalid. ``visibility`` is that of the most visible ripple from
    the viewing distance, ``flux_lm`` what leaves the face; ``watts`` (label, at the set levels) has shape (row counts,).
    """

    design: Design
    side_margin_mm: float
    depths_mm: FloatArray
    row_counts: FloatArray
    visibility: FloatArray
    flux_lm: FloatArray
    watts: FloatArray

    @property
    def spacings_mm(self) -> FloatArray:
        """Distance of neighbouring rows for each row count."""
        span_mm = self.design.panel.across_extent_mm - 2.0 * self.side_margin_mm
        return np.asarray(span_mm / np.maximum(self.row_counts - 1.0, 1.0))

    def holds_for(self, design: Design) -> bool:
        """Whether another design differs in depth and rows only, so that it is a point of this field."""
        return family_of(design).has_row_plan and _without_depth_and_rows(design) == _without_depth_and_rows(
            self.design
        )

    def least_depths_mm(self, visibility: float) -> FloatArray:
        """Depth from which on a visibility is not exceeded, for each row count; NaN outside the field."""
        found = np.full(len(self.row_counts), np.nan)
        for index, line in enumerate(self.visibility):
            above = np.flatnonzero(~(line <= visibility))
            last = int(above[-1]) if len(above) else -1
            if last == len(line) - 1:
                continue
            if last < 0:
                found[index] = self.depths_mm[0]
            elif np.isfinite(line[last]):
                share = (line[last] - visibility) / (line[last] - line[last + 1])
                found[index] = self.depths_mm[last] + share * (self.depths_mm[last + 1] - self.depths_mm[last])
        return found

    def row_counts_for_flux(self, flux_lm: float) -> FloatArray:
        """Row count (not whole) at which a flux leaves, for each depth; NaN outside the field."""
        found = np.full(len(self.depths_mm), np.nan)
        for index, column in enumerate(self.flux_lm.T):
            known = np.isfinite(column)
            if known.any() and column[known].min() <= flux_lm <= column[known].max():
                found[index] = np.interp(flux_lm, column[known], self.row_counts[known])
        return found


def trade_off(
    design: Design,
    catalogue: Catalogue,
    progress: Callable[[float], None] = lambda _share: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> TradeOff:
    """Light the field around a design: depths in even ratios, whole numbers of rows.

    Raises
    ------
    DesignError
        When the design itself is invalid.
    Cancelled
        When ``cancelled()`` says so.
    """
    if not family_of(design).has_row_plan:
        raise GauzeError("The chart of depth against rows is for builds that have rows.")
    layout = panel_layout(lay_out(design, catalogue))
    depths = design.panel.depth_mm * np.geomspace(*_DEPTH_RANGE, _DEPTHS)
    counts = _counts_around(layout.lines)
    fields = {name: np.full((len(counts), len(depths)), np.nan) for name in ("visibility", "flux")}
    watts = np.full(len(counts), np.nan)
    for column, depth_mm in enumerate(depths):  # the box, and all that depends on it, is the same down a column
        for row, count in enumerate(counts):
            if cancelled():
                raise Cancelled("The chart is no longer wanted.")
            evaluation = _attempt(
                design_at(design, layout.side_margin_mm, float(depth_mm), int(count)), catalogue, cancelled
            )
            if evaluation is None:
                continue
            fields["visibility"][row, column] = evaluation.dots.visibility(design.purpose.viewing_distance_mm)
            fields["flux"][row, column] = evaluation.output.out_lm
            watts[row] = sum(need.set_w for need in evaluation.supplies)
        progress((column + 1) / len(depths))
    return TradeOff(design, layout.side_margin_mm, depths, counts, fields["visibility"], fields["flux"], watts)


def design_at(design: Design, side_margin_mm: float, depth_mm: float, count: int) -> Design:
    """Return the design at another place of its field; the side margin stays."""
    rows = RowPlan(count=count, side_margin_mm=side_margin_mm)
    return msgspec.structs.replace(design, build=msgspec.structs.replace(design.panel, depth_mm=depth_mm, rows=rows))


def _counts_around(count: int) -> FloatArray:
    least, most = max(2, round(_COUNT_RANGE[0] * count)), max(round(_COUNT_RANGE[1] * count), count + 3)
    return np.unique(np.append(np.round(np.linspace(least, most, _COUNTS)), max(count, 2)))


def _attempt(design: Design, catalogue: Catalogue, cancelled: Callable[[], bool]) -> Evaluation | None:
    try:
        return evaluate(design, catalogue, _DETAIL, cancelled)
    except DesignError:
        return None


def _without_depth_and_rows(design: Design) -> Design:
    build = msgspec.structs.replace(design.panel, depth_mm=1.0, rows=RowPlan(count=1, spacing_mm=1.0))
    return msgspec.structs.replace(design, name="", build=build)
