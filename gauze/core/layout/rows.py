"""Rows across a face: of count, spacing and side margin two are chosen, the third follows."""

import math
from dataclasses import dataclass

from gauze.core.design import RowPlan
from gauze.core.errors import DesignError
from gauze.core.words import Length

_SLACK_MM = 1e-6  # rounding of typed inches must not lose a row


@dataclass(frozen=True)
class RowGrid:
    """Rows, centred on the face; ``spacing_mm`` is 0 for a single row."""

    count: int
    spacing_mm: float
    side_margin_mm: float

    def across_mm(self) -> list[float]:
        """Return the middle of every row, from the wall."""
        return [self.side_margin_mm + index * self.spacing_mm for index in range(self.count)]


def resolve_rows(plan: RowPlan, extent_mm: float, strip_width_mm: float, path: str = "build.rows") -> RowGrid:
    """Derive the missing one of count, spacing and side margin.

    Parameters
    ----------
    extent_mm:
        Inner size of the face across the rows.
    strip_width_mm:
        The widest strip in use; rows must neither overlap nor pass through a wall.

    Raises
    ------
    DesignError
        At the dimension that is invalid.
    """
    if plan.count is not None and plan.count * strip_width_mm > extent_mm + _SLACK_MM:
        raise DesignError(
            f"{path}.count",
            "{count} rows of {strip_width} strip do not fit in {extent}: at most {extent2} do.",
            count=plan.count,
            strip_width=Length(strip_width_mm),
            extent=Length(extent_mm),
            extent2=int(extent_mm // strip_width_mm),
        )
    if plan.side_margin_mm is not None:
        _check_margin(plan.side_margin_mm, extent_mm, strip_width_mm, path)
    if plan.spacing_mm is not None and plan.count != 1:
        _check_spacing(plan.spacing_mm, strip_width_mm, path)
    if plan.count is None:
        return _from_spacing_and_margin(plan, extent_mm)
    if plan.count == 1:
        return RowGrid(1, 0.0, extent_mm / 2)
    if plan.spacing_mm is None:
        return _from_count_and_margin(plan, extent_mm, strip_width_mm, path)
    return _from_count_and_spacing(plan, extent_mm, strip_width_mm, path)


def _check_margin(margin_mm: float, extent_mm: float, strip_width_mm: float, path: str) -> None:
    if margin_mm < strip_width_mm / 2 - _SLACK_MM:
        raise DesignError(
            f"{path}.side_margin_mm",
            "A side margin of {margin} puts the outer strip into the wall: the {strip_width} strip "
            "needs at least {strip_width2}.",
            margin=Length(margin_mm),
            strip_width=Length(strip_width_mm),
            strip_width2=Length(strip_width_mm / 2),
        )
    if 2 * margin_mm > extent_mm + _SLACK_MM:
        raise DesignError(
            f"{path}.side_margin_mm",
            "Two side margins of {margin} are more than the {extent} there are: give at most {extent2}.",
            margin=Length(margin_mm),
            extent=Length(extent_mm),
            extent2=Length(extent_mm / 2),
        )


def _check_spacing(spacing_mm: float, strip_width_mm: float, path: str) -> None:
    if spacing_mm < strip_width_mm - _SLACK_MM:
        raise DesignError(
            f"{path}.spacing_mm",
            "Rows {spacing} apart overlap: the strip is {strip_width} wide. Give at least "
            "{strip_width}, or fewer rows.",
            spacing=Length(spacing_mm),
            strip_width=Length(strip_width_mm),
        )


def _from_spacing_and_margin(plan: RowPlan, extent_mm: float) -> RowGrid:
    assert plan.spacing_mm is not None
    assert plan.side_margin_mm is not None
    gaps = math.floor((extent_mm - 2 * plan.side_margin_mm) / plan.spacing_mm + _SLACK_MM)
    if gaps == 0:
        return RowGrid(1, 0.0, extent_mm / 2)
    return RowGrid(gaps + 1, plan.spacing_mm, (extent_mm - gaps * plan.spacing_mm) / 2)


def _from_count_and_margin(plan: RowPlan, extent_mm: float, strip_width_mm: float, path: str) -> RowGrid:
    assert plan.count is not None
    assert plan.side_margin_mm is not None
    spacing_mm = (extent_mm - 2 * plan.side_margin_mm) / (plan.count - 1)
    if spacing_mm < strip_width_mm - _SLACK_MM:
        most = int((extent_mm - 2 * plan.side_margin_mm) // strip_width_mm) + 1
        raise DesignError(
            f"{path}.count",
            "{count} rows between side margins of {side_margin} would be {spacing} apart, less than "
            "the strip's width of {strip_width}: at most {most} fit.",
            count=plan.count,
            side_margin=Length(plan.side_margin_mm),
            spacing=Length(spacing_mm),
            strip_width=Length(strip_width_mm),
            most=most,
        )
    return RowGrid(plan.count, spacing_mm, plan.side_margin_mm)


def _from_count_and_spacing(plan: RowPlan, extent_mm: float, strip_width_mm: float, path: str) -> RowGrid:
    assert plan.count is not None
    assert plan.spacing_mm is not None
    margin_mm = (extent_mm - (plan.count - 1) * plan.spacing_mm) / 2
    if margin_mm < strip_width_mm / 2 - _SLACK_MM:
        most_mm = (extent_mm - strip_width_mm) / (plan.count - 1)
        raise DesignError(
            f"{path}.spacing_mm",
            "{count} rows {spacing} apart do not fit in {extent}: give at most {most}, or fewer rows.",
            count=plan.count,
            spacing=Length(plan.spacing_mm),
            extent=Length(extent_mm),
            most=Length(most_mm),
        )
    return RowGrid(plan.count, plan.spacing_mm, margin_mm)
