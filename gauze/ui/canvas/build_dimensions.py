"""The measures and handles of a build, as pixels: what is clicked, typed, taken hold of; no Qt."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from gauze.core.layout.sketch import Handle, Measure, Sketch, Thing
from gauze.core.units import LengthUnit
from gauze.ui.canvas.build_geometry import Sheet, Window
from gauze.ui.canvas.dimensions import GRAB, TIER, Dimension, Maker
from gauze.ui.canvas.geometry import Rect

_SIDE_TIER, _BESIDE = 62.0, 8.0
_SNAP_PIXELS = 7.0
_STEPS_PER_MM = 10_000  # of sizes that attract


@dataclass(frozen=True)
class Held:
    """What the hand has hold of: a handle or a thing, where it was taken (mm in its drawing), and the drag's own gesture."""

    what: Handle | Thing
    from_mm: tuple[float, float]
    gesture: object


def build_dimensions(
    sheet: Sheet,
    sketch: Sketch,
    size: tuple[float, float],
    unit: LengthUnit,
    text_width: Callable[[str], float],
) -> list[Dimension]:
    """Return every dimension of a sketch on a canvas of a size, in the order in which Tab visits them."""
    maker = Maker(size[0], size[1], unit, text_width)
    return [_dimension(maker, sheet.window(measure.where), measure) for measure in sketch.measures]


def _dimension(maker: Maker, window: Window, measure: Measure) -> Dimension:
    rect, side = window.rect, 1 if measure.edge in ("right", "below") else -1
    edge = {"left": rect.x, "right": rect.right, "above": rect.y, "below": rect.bottom}[measure.edge]
    if measure.kind != "length":
        return _words(maker, window, measure, edge, side)
    if measure.edge in ("above", "below"):
        start, end = sorted((window.x(measure.start_mm), window.x(measure.end_mm)))
        return maker.horizontal(
            measure.field,
            measure.field,
            measure.name,
            measure.value,
            start,
            end,
            edge + side * measure.tier * TIER,
            side,
        )
    low, high = window.y(measure.end_mm), window.y(measure.start_mm)
    return maker.vertical(
        measure.field,
        measure.field,
        measure.name,
        measure.value,
        low,
        high,
        edge + side * measure.tier * _SIDE_TIER,
        side,
    )


def _words(maker: Maker, window: Window, measure: Measure, edge: float, side: int) -> Dimension:
    value = f"{measure.value:g}"
    text = f"{value}{measure.words}" if measure.kind == "angle" else f"{value} {measure.words}"
    kind: Literal["count", "angle"] = "angle" if measure.kind == "angle" else "count"
    middle = (measure.start_mm + measure.end_mm) / 2.0
    if measure.edge in ("above", "below"):
        x, y, aside = window.x(middle), edge + side * TIER * (measure.tier + 1.1), 0
    else:
        x, y, aside = edge + side * (_BESIDE + _SIDE_TIER * measure.tier), window.y(middle), side
    return maker.words(measure.field, measure.field, measure.name, text, kind, x, y, aside)


def handle_rect(window: Window, handle: Handle) -> Rect:
    """Pixels within which a handle can be taken: its line, a little wider."""
    x0, x1 = sorted((window.x(handle.start_mm[0]), window.x(handle.end_mm[0])))
    y0, y1 = sorted((window.y(handle.start_mm[1]), window.y(handle.end_mm[1])))
    return Rect(x0 - GRAB, y0 - GRAB, x1 - x0 + 2 * GRAB, y1 - y0 + 2 * GRAB)


def handle_at(sheet: Sheet, sketch: Sketch, x: float, y: float) -> Handle | None:
    """Return the handle under a point."""
    return next((one for one in sketch.handles if handle_rect(sheet.window(one.where), one).contains(x, y)), None)


def thing_at(sheet: Sheet, things: Sequence[Thing], x: float, y: float) -> Thing | None:
    """Return the topmost thing under a point of the plan, the last one drawn; its box, or a few pixels about it."""
    at_x, at_y = sheet.plan.at_mm(x, y)
    slack = 3.0 / sheet.plan.scale
    for thing in reversed(things):
        low, high = thing.outline_mm.min(axis=0) - slack, thing.outline_mm.max(axis=0) + slack
        if low[0] <= at_x <= high[0] and low[1] <= at_y <= high[1] and _inside(thing, at_x, at_y, slack):
            return thing
    return None


def _inside(thing: Thing, x: float, y: float, slack: float) -> bool:
    """Whether a point lies in a convex outline, or nearly."""
    corners = thing.outline_mm.tolist()
    for (x0, y0), (x1, y1) in zip(corners, corners[1:] + corners[:1], strict=True):
        side = (x1 - x0) * (y - y0) - (y1 - y0) * (x - x0)
        length = ((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5
        if side < -slack * length:
            return False
    return True


def dragged_value(handle: Handle, from_mm: tuple[float, float], to_mm: tuple[float, float], scale: float) -> float:
    """Value of a handle that was taken at one place and is held at another; what attracts it is taken when near."""
    moved = (to_mm[0] - from_mm[0]) * handle.direction[0] + (to_mm[1] - from_mm[1]) * handle.direction[1]
    value = handle.value + handle.gain * moved
    if handle.snap is None:
        return value
    offset, step = handle.snap
    nearest = offset + round((value - offset) / step) * step
    near_enough = abs(nearest - value) * scale / abs(handle.gain) <= _SNAP_PIXELS
    if not near_enough or nearest <= offset:
        return value
    return math.ceil(nearest * _STEPS_PER_MM - 1e-3) / _STEPS_PER_MM  # never a hair too little for the last segment
