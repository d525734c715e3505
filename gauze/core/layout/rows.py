"""Rows across a face: of count, spacing and side margin two are chosen, the third follows."""

import math
from dataclasses import dataclass

from gauze.core.design import RowPlan
from gauze.core.errors import DesignError, length

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
            f"{plan.count} rows of {length(strip_width_mm)} strip do not fit in {length(extent_mm)}: "
            f"at most {int(extent_mm // strip_width_mm)} do.",
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
            f"A side margin of {length(margin_mm)} puts the outer strip into the wall: "
            f"the {length(strip_width_mm)} strip needs at least {length(strip_width_mm / 2)}.",
        )
    if 2 * margin_mm > extent_mm + _SLACK_MM:
        raise DesignError(
            f"{path}.side_margin_mm",
            f"Two side margins of {length(margin_mm)} are more than the {length(extent_mm)} there are: "
            f"give at most {length(extent_mm / 2)}.",
        )


def _check_spacing(spacing_mm: float, strip_width_mm: float, path: str) -> None:
    if spacing_mm < strip_width_mm - _SLACK_MM:
        raise DesignError(
            f"{path}.spacing_mm",
            f"Rows {length(spacing_mm)} apart overlap: the strip is {length(strip_width_mm)} wide. "
            f"Give at least {length(strip_width_mm)}, or fewer rows.",
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
            f"{plan.count} rows between side margins of {length(plan.side_margin_mm)} would be {length(spacing_mm)} apart, "
            f"less than the strip's width of {length(strip_width_mm)}: at most {most} fit.",
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
            f"{plan.count} rows {length(plan.spacing_mm)} apart do not fit in {length(extent_mm)}: "
            f"give at most {length(most_mm)}, or fewer rows.",
        )
    return RowGrid(plan.count, plan.spacing_mm, margin_mm)
