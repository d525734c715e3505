"""The dimension lines of the drawing, which are its inputs, and what can be taken hold of; no Qt."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from gauze.core.design import Design
from gauze.core.layout import Layout
from gauze.core.units import LengthUnit, format_length
from gauze.core.units.length import format_distance
from gauze.ui.canvas.geometry import Rect, View

TIER = 26.0  # pixels from one row of dimensions to the next
VERTICAL_TIER = 40.0  # wider, since texts stand across it
TEXT_HEIGHT = 20.0
COUNT_WIDTH = 74.0
GRAB = 6.0  # pixels on either side within which a line can be taken


@dataclass(frozen=True)
class Dimension:
    """One dimension: what it measures, where its line runs, where its text stands.

    ``key`` names the edit; ``field`` is the path that errors name; ``line`` is None for a plain text.
    ``extensions`` are the thin lines from the drawing to the dimension line.
    """

    key: str
    field: str
    name: str
    text: str
    kind: Literal["length", "count", "angle"]
    text_rect: Rect
    line: tuple[float, float, float, float] | None
    extensions: tuple[tuple[float, float, float, float], ...] = ()


@dataclass(frozen=True)
class Grip:
    """Something that can be dragged: the lid, a row (by index), the seam, or the line of the cut."""

    kind: Literal["lid", "row", "seam", "cut"]
    rect: Rect
    index: int = 0


def dimensions(
    view: View, design: Design, layout: Layout, unit: LengthUnit, text_width: Callable[[str], float]
) -> list[Dimension]:
    """Return every dimension of the plan and the side cut, in the order in which Tab visits them."""
    maker = Maker(view.width, view.height, unit, text_width)
    plan, build = view.plan, design.panel
    return [
        maker.horizontal(
            "face_width", "build.face_width_mm", "Face width", build.face_width_mm, plan.x, plan.right, plan.y, -1
        ),
        maker.vertical(
            "face_height", "build.face_height_mm", "Face height", build.face_height_mm, plan.y, plan.bottom, plan.x, -1
        ),
        *_row_dimensions(maker, view, design, layout),
        *_cut_dimensions(maker, view, design, layout),
    ]


def _row_dimensions(maker: "Maker", view: View, design: Design, layout: Layout) -> list[Dimension]:
    plan = view.plan
    found: list[Dimension] = []
    across_is_x = layout.row_direction == "along_height"

    def across(key: str, field: str, name: str, start_mm: float, end_mm: float) -> Dimension:
        value = end_mm - start_mm
        if across_is_x:
            return maker.horizontal(key, field, name, value, view.x(start_mm), view.x(end_mm), plan.bottom, 1)
        return maker.vertical(key, field, name, value, view.y(end_mm), view.y(start_mm), plan.right, 1)

    found.append(across("side_margin", "build.rows.side_margin_mm", "Side margin", 0.0, layout.side_margin_mm))
    if layout.lines > 1:
        pair = min(max(1, layout.lines // 2), layout.lines - 2) if layout.lines > 2 else 0
        first_mm = layout.side_margin_mm + pair * layout.spacing_mm
        found.append(across("spacing", "build.rows.spacing_mm", "Row spacing", first_mm, first_mm + layout.spacing_mm))
    end_mm = design.panel.end_margin_mm
    if across_is_x:
        found.append(
            maker.vertical(
                "end_margin", "build.end_margin_mm", "End margin", end_mm, view.y(end_mm), plan.bottom, plan.right, 1
            )
        )
    else:
        found.append(
            maker.horizontal(
                "end_margin", "build.end_margin_mm", "End margin", end_mm, plan.x, view.x(end_mm), plan.bottom, 1
            )
        )
    words = f"every other row shifted {format_length(design.panel.alternate_shift_mm, maker.unit)}"
    y = plan.bottom + 2.1 * TIER
    shift = maker.plain("shift", "build.alternate_shift_mm", "Shift of every other row", words, plan.x, y)
    # on a narrow plan the count moves on to the right of the words
    right = max(plan.right - (0 if across_is_x else 60), shift.text_rect.right + COUNT_WIDTH)
    found += [maker.count("row_count", "build.rows.count", "Number of rows", layout.lines, right, y), shift]
    return found


def _cut_dimensions(maker: "Maker", view: View, design: Design, layout: Layout) -> list[Dimension]:
    cut = view.cut
    plane = layout.emitter_plane_mm
    top = view.cut_top + 14.0
    purpose = design.purpose
    return [
        maker.vertical(
            "depth", "build.depth_mm", "Depth, LEDs to sheet", design.panel.depth_mm, cut.y, view.z(plane), cut.right, 1
        ),
        maker.vertical(
            "inner_depth",
            "build.depth_mm",
            "Inner depth, back to sheet",
            layout.box.inner_depth_mm,
            cut.y,
            cut.bottom,
            cut.x,
            -1,
        ),
        maker.plain(
            "viewing_distance",
            "purpose.viewing_distance_mm",
            "Viewing distance",
            f"seen from {format_distance(purpose.viewing_distance_mm, maker.unit)}",
            8.0,
            top,
        ),
    ]


class Maker:
    """Lays dimensions on a canvas of a size in pixels."""

    def __init__(self, width: float, height: float, unit: LengthUnit, text_width: Callable[[str], float]) -> None:
        self._width, self._height = width, height
        self.unit = unit
        self._text_width = text_width

    def horizontal(
        self, key: str, field: str, name: str, value: float, x0: float, x1: float, edge: float, side: int
    ) -> Dimension:
        """Lay a dimension along x, above (side -1) or below (1) an edge of the drawing."""
        text = format_length(value, self.unit)
        y = edge + side * TIER
        width = self._text_width(text) + 12.0
        middle = (x0 + x1) / 2
        if side > 0 and x1 - x0 < width:
            rect = Rect(middle - width / 2, y + 3.0, width, TEXT_HEIGHT)
        else:
            rect = Rect(middle - width / 2, y - TEXT_HEIGHT / 2, width, TEXT_HEIGHT)
        ends = tuple((x, edge + side * 3.0, x, y + side * 4.0) for x in (x0, x1))
        return Dimension(key, field, name, text, "length", self._inside(rect), (x0, y, x1, y), ends)

    def vertical(
        self, key: str, field: str, name: str, value: float, y0: float, y1: float, edge: float, side: int
    ) -> Dimension:
        """Lay a dimension along y, left (side -1) or right (1) of an edge of the drawing."""
        text = format_length(value, self.unit)
        x = edge + side * VERTICAL_TIER
        width = self._text_width(text) + 12.0
        middle = (y0 + y1) / 2
        left = (x + 5.0 if side > 0 else x - 5.0 - width) if y1 - y0 < TEXT_HEIGHT + 6.0 else x - width / 2
        rect = Rect(left, middle - TEXT_HEIGHT / 2, width, TEXT_HEIGHT)
        ends = tuple((edge + side * 3.0, y, x + side * 4.0, y) for y in (y0, y1))
        return Dimension(key, field, name, text, "length", self._inside(rect), (x, y0, x, y1), ends)

    def count(self, key: str, field: str, name: str, value: int, right: float, y: float) -> Dimension:
        """Lay a number of rows as a text that ends at ``right``."""
        text = "1 row" if value == 1 else f"{value} rows"
        width = self._text_width(text) + 12.0
        rect = self._inside(Rect(right - width, y - TEXT_HEIGHT / 2, width, TEXT_HEIGHT))
        return Dimension(key, field, name, text, "count", rect, None)

    def words(
        self,
        key: str,
        field: str,
        name: str,
        text: str,
        kind: Literal["count", "angle"],
        x: float,
        y: float,
        side: int = 0,
    ) -> Dimension:
        """Lay a count or an angle as a text about a point, or to the left (side -1) or right (1) of it."""
        width = self._text_width(text) + 12.0
        rect = self._inside(Rect(x + (side - 1) * width / 2, y - TEXT_HEIGHT / 2, width, TEXT_HEIGHT))
        return Dimension(key, field, name, text, kind, rect, None)

    def plain(self, key: str, field: str, name: str, text: str, left: float, y: float) -> Dimension:
        """Lay a length as a text with words."""
        width = self._text_width(text) + 12.0
        rect = self._inside(Rect(left, y - TEXT_HEIGHT / 2, width, TEXT_HEIGHT))
        return Dimension(key, field, name, text, "length", rect, None)

    def _inside(self, rect: Rect) -> Rect:
        """Keep a text on the canvas."""
        x = min(max(rect.x, 2.0), max(self._width - rect.width - 2.0, 2.0))
        y = min(max(rect.y, 2.0), max(self._height - rect.height - 2.0, 2.0))
        return Rect(x, y, rect.width, rect.height)


def grips(view: View, layout: Layout, seam_share: float, cut_y_mm: float) -> list[Grip]:
    """Return what can be dragged, the topmost first."""
    plan, cut = view.plan, view.cut
    seam_x = plan.x + seam_share * plan.width
    found = [
        Grip("seam", Rect(seam_x - GRAB, plan.y - 18.0, 2 * GRAB, 16.0)),
        Grip("cut", Rect(plan.x, view.y(cut_y_mm) - 8.0, 14.0, 16.0)),
        Grip("lid", Rect(plan.x, cut.y - 9.0, plan.width, 9.0 + GRAB)),
        Grip("seam", Rect(seam_x - GRAB / 2, plan.y, GRAB, plan.height)),
        Grip("cut", Rect(plan.x, view.y(cut_y_mm) - 2.0, plan.width, 4.0)),
    ]
    for row in layout.rows:
        half = max(row.strip.width_mm * view.scale / 2, 3.0)
        length = row.length_mm * view.scale
        if layout.row_direction == "along_width":
            rect = Rect(view.x(row.start_mm), view.y(row.across_mm) - half, length, 2 * half)
        else:
            rect = Rect(view.x(row.across_mm) - half, view.y(row.end_mm), 2 * half, length)
        found.append(Grip("row", rect, row.index))
    return found


def dimension_at(found: Sequence[Dimension], x: float, y: float) -> Dimension | None:
    """Return the dimension whose text is under a point."""
    return next((dimension for dimension in found if dimension.text_rect.contains(x, y, 1.0)), None)


def grip_at(found: Sequence[Grip], x: float, y: float) -> Grip | None:
    """Return the topmost grip under a point."""
    return next((grip for grip in found if grip.rect.contains(x, y)), None)
