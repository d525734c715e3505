"""What drawings in files have in common: pens, greys, where words stand, how views lie on a sheet."""

from collections.abc import Iterator, Sequence

from gauze.core.drawing import View
from gauze.core.layout.sketch import Outline

TEXT_MM = 3.5  # height of letters, ISO 3098
_THICK, _THIN = 0.35, 0.18  # pens in mm, of the series in ISO 128
_GAP_MM = 10.0
_THICK_ROLES = ("body", "back", "lit", "hole", "cut", "marked")
_GREYS = {"strip": 225, "part": 240, "partition": 150, "marked": 205}


def pen_mm(shape: Outline) -> float:
    """Width of the line of a shape."""
    return _THICK if shape.role in _THICK_ROLES else _THIN


def fill_grey(shape: Outline) -> int | None:
    """Grey of a filled shape, 0 to 255; None where it is not filled."""
    return _GREYS.get(shape.role) if shape.closed else None


def label_place(shape: Outline) -> tuple[float, float]:
    """Where the words of a shape stand: in the middle of what is closed, just above the middle of a line."""
    points = shape.points_mm
    x, y = (points.min(axis=0) + points.max(axis=0)) / 2.0
    return float(x), float(y) + (0.8 if not shape.closed and len(points) > 1 else -TEXT_MM / 3.0)


def placed(views: Sequence[View]) -> Iterator[tuple[View, float, float]]:
    """Each view with its left and its upper edge on the sheet, one below the other, y downwards."""
    top = 0.0
    for view in views:
        yield view, 0.0, top
        top += view.reach_mm[3] + _GAP_MM


def sheet_mm(views: Sequence[View]) -> tuple[float, float]:
    """Width and height of a sheet that holds views below each other."""
    return max(view.reach_mm[2] for view in views), sum(view.reach_mm[3] + _GAP_MM for view in views) - _GAP_MM
