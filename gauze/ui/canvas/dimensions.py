"""The measures of a sketch as dimension lines in pixels, which are the inputs of the drawing; no Qt."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from gauze.core.layout.sketch import Measure, Sketch
from gauze.core.units import LengthUnit, format_length
from gauze.core.units.length import format_distance
from gauze.ui.canvas.geometry import Rect, Window
from gauze.ui.canvas.sheet import Sheet
from gauze.ui.text import spoken, tr

TIER = 26.0  # pixels from one row of dimensions to the next
_VERTICAL_TIER, _SIDE_TIER = 40.0, 62.0  # wider, since texts stand across it
_BESIDE = 8.0
TEXT_HEIGHT = 20.0
VIEWING = "purpose.viewing_distance_mm"
Kind = Literal["length", "count", "angle"]
Line = tuple[float, float, float, float]


@dataclass(frozen=True)
class Dimension:
    """One dimension: what it measures, where its line runs, where its text stands.

    ``key`` names it on the drawing; ``field`` is the path of its choice, which errors name, and ``offset`` what the value is
    shown over it. ``line`` is None for a plain text; ``extensions`` are the thin lines from the drawing to the dimension line.
    ``value_text`` is what typing starts from.
    """

    key: str
    field: str
    name: str
    text: str
    kind: Kind
    text_rect: Rect
    line: tuple[float, float, float, float] | None
    extensions: tuple[tuple[float, float, float, float], ...] = ()
    value_text: str = ""
    offset: float = 0.0


class Maker:
    """Lays dimensions on a canvas of a size in pixels."""

    def __init__(self, width: float, height: float, unit: LengthUnit, text_width: Callable[[str], float]) -> None:
        self._width, self._height = width, height
        self.unit = unit
        self._text_width = text_width

    def measure(self, window: Window, measure: Measure) -> Dimension:
        """Lay a measure along its edge of a drawing."""
        own, side = window.rect, 1 if measure.edge in ("right", "below") else -1
        edge = {"left": own.x, "right": own.right, "above": own.y, "below": own.bottom}[measure.edge]
        if measure.kind != "length" or measure.text:
            return self._words(window, measure, edge, side)
        text = format_length(measure.value, self.unit)
        if measure.edge in ("above", "below"):
            start, end = sorted((window.x(measure.start_mm), window.x(measure.end_mm)))
            rect, line, ends = self._horizontal(text, start, end, edge + side * measure.tier * TIER, side)
        else:
            low, high = window.y(measure.end_mm), window.y(measure.start_mm)
            rect, line, ends = self._vertical(text, low, high, edge + side * measure.tier * _SIDE_TIER, side)
        return self._made(measure, text, rect, line, ends, text)

    def _made(
        self,
        measure: Measure,
        text: str,
        rect: Rect,
        line: Line | None,
        extensions: tuple[Line, ...],
        value_text: str,
    ) -> Dimension:
        return Dimension(
            measure.key or measure.field,
            measure.field,
            spoken(measure.name),
            text,
            measure.kind,
            self.inside(rect),
            line,
            extensions,
            value_text,
            measure.offset,
        )

    def viewing(self, distance_mm: float, right: float, y: float) -> Dimension:
        """Lay the viewing distance as a text that ends at a place."""
        value = format_length(distance_mm, self.unit)
        text = tr("seen from {distance}").format(distance=format_distance(distance_mm, self.unit))
        width = self._text_width(text) + 12.0
        rect = self.inside(Rect(right - width, y - TEXT_HEIGHT / 2, width, TEXT_HEIGHT))
        return Dimension(VIEWING, VIEWING, tr("Viewing distance"), text, "length", rect, None, (), value)

    def _horizontal(
        self, text: str, x0: float, x1: float, edge: float, side: int
    ) -> tuple[Rect, Line, tuple[Line, ...]]:
        """Lay a dimension along x, above (side -1) or below (1) an edge of the drawing."""
        y = edge + side * TIER
        width = self._text_width(text) + 12.0
        middle = (x0 + x1) / 2
        if side > 0 and x1 - x0 < width:
            rect = Rect(middle - width / 2, y + 3.0, width, TEXT_HEIGHT)
        else:
            rect = Rect(middle - width / 2, y - TEXT_HEIGHT / 2, width, TEXT_HEIGHT)
        ends = tuple((x, edge + side * 3.0, x, y + side * 4.0) for x in (x0, x1))
        return rect, (x0, y, x1, y), ends

    def _vertical(self, text: str, y0: float, y1: float, edge: float, side: int) -> tuple[Rect, Line, tuple[Line, ...]]:
        """Lay a dimension along y, left (side -1) or right (1) of an edge of the drawing."""
        x = edge + side * _VERTICAL_TIER
        width = self._text_width(text) + 12.0
        middle = (y0 + y1) / 2
        left = (x + 5.0 if side > 0 else x - 5.0 - width) if y1 - y0 < TEXT_HEIGHT + 6.0 else x - width / 2
        rect = Rect(left, middle - TEXT_HEIGHT / 2, width, TEXT_HEIGHT)
        ends = tuple((edge + side * 3.0, y, x + side * 4.0, y) for y in (y0, y1))
        return rect, (x, y0, x, y1), ends

    def _words(self, window: Window, measure: Measure, edge: float, side: int) -> Dimension:
        """Lay a count, an angle or a length with words as a text beside its edge."""
        value = format_length(measure.value, self.unit) if measure.kind == "length" else f"{measure.value:g}"
        if measure.text:
            text = spoken(measure.text, self.unit)
        else:
            text = f"{value}{'' if measure.kind == 'angle' else ' '}{spoken(measure.words)}"
        middle = (measure.start_mm + measure.end_mm) / 2.0
        if measure.edge in ("above", "below"):
            x, y, aside = window.x(middle), edge + side * TIER * (measure.tier + 1.1), 0
        else:
            x, y, aside = edge + side * (_BESIDE + _SIDE_TIER * measure.tier), window.y(middle), side
        width = self._text_width(text) + 12.0
        place = Rect(x + (aside - 1) * width / 2, y - TEXT_HEIGHT / 2, width, TEXT_HEIGHT)
        return self._made(measure, text, place, None, (), value)

    def inside(self, rect: Rect) -> Rect:
        """Keep a text on the canvas."""
        x = min(max(rect.x, 2.0), max(self._width - rect.width - 2.0, 2.0))
        y = min(max(rect.y, 2.0), max(self._height - rect.height - 2.0, 2.0))
        return Rect(x, y, rect.width, rect.height)


def dimensions_of(maker: Maker, sheet: Sheet, sketch: Sketch, viewing_mm: float) -> list[Dimension]:
    """Return every dimension of a sketch that is shown, in the order in which Tab visits them."""
    found = [
        maker.measure(sheet.window(measure.where), measure)
        for measure in sketch.measures
        if sheet.shows("cut" if measure.where == "cut" else "plan")
    ]
    if sheet.shows("profile"):
        found.append(maker.viewing(viewing_mm, sheet.profile.right + 6.0, sheet.profile.y - 12.0))
    return _apart(found, maker)


def _apart(found: list[Dimension], maker: Maker) -> list[Dimension]:
    """Texts that would lie on each other are moved on, the later one down or to the right."""
    placed: list[Dimension] = []
    for one in found:
        rect = one.text_rect
        for other in placed:
            taken = other.text_rect
            over_x = min(rect.right, taken.right) - max(rect.x, taken.x)
            over_y = min(rect.bottom, taken.bottom) - max(rect.y, taken.y)
            if over_x > 0 and over_y > 2.0:
                if one.line is not None and one.line[0] == one.line[2]:
                    rect = replace(rect, x=taken.right + 4.0)
                else:
                    rect = replace(rect, y=taken.bottom + 2.0)
        placed.append(replace(one, text_rect=maker.inside(rect)))
    return placed


def dimension_at(found: Sequence[Dimension], x: float, y: float) -> Dimension | None:
    """Return the dimension whose text is under a point."""
    return next((dimension for dimension in found if dimension.text_rect.contains(x, y, 1.0)), None)


# the sizes that have a key of their own in every family, by what they are, and which choice that is
MAIN_SIZES: dict[str, tuple[str, ...]] = {
    "depth": ("build.depth_mm", "depth_mm", "cup_depth_mm", "diameter_mm", "distance_mm"),
    "spacing": (
        "rows.spacing_mm",
        "row_pitch_mm",
        "row_spacing_mm",
        "pitch_y_mm",
        "pitch_x_mm",
        "bar_height_mm",
        "aim_deg",
    ),
    "row_count": ("rows.count", "build.rows", "frame.sides", "rows", "columns", "sides"),
    "face_width": ("face_width_mm", "width_mm", "length_mm", "size_mm", "side_mm", "opening_mm", "columns", "reach_mm"),
    "face_height": ("face_height_mm", "height_mm", "diameter_mm", "back_mm", "build.rows", "base_mm"),
    "viewing_distance": (VIEWING,),
}


def main_size(found: Sequence[Dimension], size: str) -> Dimension | None:
    """Return the dimension that stands for a main size of any build, or None where it has none."""
    for ending in MAIN_SIZES[size]:
        for one in found:
            if ending in (one.key, one.field) or one.field.endswith(f".{ending}"):
                return one
    return None
