"""The drawing of a strip panel: rows from the front, the body from the side; every row can be dragged."""

import functools
from collections.abc import Sequence

import numpy as np

from gauze.core.design.strip_panel import StripPanel
from gauze.core.layout.cavity_sketch import rectangle
from gauze.core.layout.model import FloatArray, Row, RowLayout
from gauze.core.layout.pieces import StripPiece, strip_outline
from gauze.core.layout.sketch import Edge, Handle, Measure, Outline, Sketch
from gauze.core.words import Length, say

_SHEET_STEP_MM = 0.5  # to which a dragged sheet is rounded


def panel_sketch(build: StripPanel, rows: RowLayout, strips: Sequence[StripPiece]) -> Sketch:
    """Draw a laid-out panel."""
    wide, high, inner = rows.box.width_mm, rows.box.height_mm, rows.box.inner_depth_mm
    plan = [Outline("back", rectangle(0.0, 0.0, wide, high)), *_strips_in_plan(tuple(strips))]
    cut = [Outline("body", rectangle(0.0, 0.0, wide, inner))]
    cut.append(Outline("lit", np.array([[0.0, inner], [wide, inner]]), closed=False))
    cut += [Outline("strip", line, closed=False) for line in _strips_in_cut(rows)]
    return Sketch(
        plan_mm=(0.0, 0.0, wide, high),
        cut_mm=(0.0, 0.0, wide, inner),
        plan=tuple(plan),
        cut=tuple(cut),
        measures=tuple(_measures(build, rows)),
        handles=tuple(_handles(build, rows)),
        seam=True,
    )


@functools.lru_cache(maxsize=2)
def _strips_in_plan(strips: tuple[StripPiece, ...]) -> tuple[Outline, ...]:
    """Strips from the front; kept, as a drag of the sheet leaves them where they are."""
    return tuple(strip_outline(piece) for piece in strips)


def _strips_in_cut(rows: RowLayout) -> list[FloatArray]:
    """Strips from the side: along the cut the whole of one, across it the width of each."""
    found: dict[tuple[float, float, float], FloatArray] = {}
    for row in rows.rows:
        half, z = row.strip.width_mm / 2.0, 0.35 * row.strip.emitter_height_mm
        along = rows.row_direction == "along_width"
        low, high = (row.start_mm, row.end_mm) if along else (row.across_mm - half, row.across_mm + half)
        found[round(low, 3), round(high, 3), z] = np.array([[low, z], [high, z]])
    return list(found.values())


def _measures(build: StripPanel, rows: RowLayout) -> list[Measure]:
    wide, high, inner = rows.box.width_mm, rows.box.height_mm, rows.box.inner_depth_mm
    plane = rows.emitter_plane_mm
    return [
        Measure("build.face_width_mm", say("Face width"), wide, "plan", "above", 0.0, wide),
        Measure("build.face_height_mm", say("Face height"), high, "plan", "left", 0.0, high),
        *_row_measures(build, rows),
        Measure("build.depth_mm", say("Depth, LEDs to sheet"), build.depth_mm, "cut", "right", plane, inner),
        Measure(
            "build.depth_mm",
            say("Inner depth, back to sheet"),
            inner,
            "cut",
            "left",
            0.0,
            inner,
            offset=plane,
            key="inner_depth",
        ),
    ]


def _row_measures(build: StripPanel, rows: RowLayout) -> list[Measure]:
    across_is_x = rows.row_direction == "along_height"
    across: Edge = "below" if across_is_x else "right"
    along: Edge = "right" if across_is_x else "below"
    margin, end = rows.side_margin_mm, build.end_margin_mm
    found = [Measure("build.rows.side_margin_mm", say("Side margin"), margin, "plan", across, 0.0, margin)]
    if rows.lines > 1:
        pair = min(max(1, rows.lines // 2), rows.lines - 2) if rows.lines > 2 else 0
        first = margin + pair * rows.spacing_mm
        second = first + rows.spacing_mm
        found.append(
            Measure("build.rows.spacing_mm", say("Row spacing"), rows.spacing_mm, "plan", across, first, second)
        )
    found.append(Measure("build.end_margin_mm", say("End margin"), end, "plan", along, 0.0, end))
    wide = rows.box.width_mm
    noun = say("row") if rows.lines == 1 else say("rows")
    shifted = Measure(
        "build.alternate_shift_mm",
        say("Shift of every other row"),
        build.alternate_shift_mm,
        "plan",
        "below",
        0.28 * wide,
        0.28 * wide,
        tier=1,
        text=say("every other row shifted {shift}", shift=Length(build.alternate_shift_mm)),
    )
    count = Measure(
        "build.rows.count",
        say("Number of rows"),
        rows.lines,
        "plan",
        "below",
        0.86 * wide,
        0.86 * wide,
        "count",
        noun,
        1,
    )
    return [*found, count, shifted]


def _handles(build: StripPanel, rows: RowLayout) -> list[Handle]:
    wide, high, inner = rows.box.width_mm, rows.box.height_mm, rows.box.inner_depth_mm
    strip = rows.rows[0].strip
    least_mm = max(row.strip.emitter_height_mm for row in rows.rows)
    along_width = rows.row_direction == "along_width"
    snap = (2.0 * build.end_margin_mm, strip.segment_mm)
    found = [
        Handle(
            "build.depth_mm",
            say("the sheet"),
            "cut",
            (0.0, inner),
            (wide, inner),
            (0.0, 1.0),
            build.depth_mm,
            least=float(np.ceil(least_mm / _SHEET_STEP_MM) * _SHEET_STEP_MM),
            most=1500.0,
            step=_SHEET_STEP_MM,
        ),
        Handle(
            "build.face_width_mm",
            say("right wall"),
            "plan",
            (wide, 0.0),
            (wide, high),
            (1.0, 0.0),
            wide,
            snap=snap if along_width else None,
        ),
        Handle(
            "build.face_height_mm",
            say("upper wall"),
            "plan",
            (0.0, high),
            (wide, high),
            (0.0, 1.0),
            high,
            snap=None if along_width else snap,
        ),
    ]
    widest_mm = max(row.strip.width_mm for row in rows.rows) * (2 if build.double_rows else 1)
    return found + [one for row in rows.rows if (one := _row_handle(build, rows, row, widest_mm)) is not None]


def _row_handle(build: StripPanel, rows: RowLayout, row: Row, widest_mm: float) -> Handle | None:
    """A row that draws all apart or together: the count stays, and none passes the middle; None for one in the middle."""
    lever = row.line - (rows.lines - 1) / 2.0
    if rows.lines < 2 or lever == 0:
        return None
    start, end = (row.start_mm, row.across_mm), (row.end_mm, row.across_mm)
    if rows.row_direction == "along_height":
        start, end = start[::-1], end[::-1]
    return Handle(
        "build.rows.spread_mm",
        say("row {number}", number=row.id.removeprefix("row-")),
        "plan",
        start,
        end,
        (0.0, 1.0) if rows.row_direction == "along_width" else (1.0, 0.0),
        rows.spacing_mm,
        1.0 / lever,
        least=widest_mm,
        most=(build.across_extent_mm - widest_mm) / (rows.lines - 1),
        visited=row.line == rows.lines - 1,
    )
