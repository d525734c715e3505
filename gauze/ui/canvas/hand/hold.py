"""What is under the pointer and what a drag makes of it: handles, items, the lines of seam, cut and detail; no Qt."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from gauze.core.design.wiring import Injection
from gauze.core.layout.sketch import Handle, MovableItem, Sketch
from gauze.ui.canvas.geometry import Rect, Window
from gauze.ui.canvas.sheet import Sheet
from gauze.ui.view_state import ViewState

GRAB = 6.0  # pixels on either side within which a line can be taken
_SNAP_PIXELS = 7.0
_STEPS_PER_MM = 10_000  # of sizes that attract
Line = Literal["seam", "cut", "detail"]


@dataclass(frozen=True)
class Held:
    """What the hand has hold of: a handle or a item, where it was taken (mm in its drawing), and the drag's own gesture."""

    what: Handle | MovableItem
    from_mm: tuple[float, float]
    gesture: object


@dataclass
class HeldPads:
    """Pads that were pressed, the drag's own gesture, and whether the hand has left them since: then it is no click."""

    pads: Injection
    gesture: object
    left: bool = False


def handle_rect(window: Window, handle: Handle) -> Rect:
    """Pixels within which a handle can be taken: its line, a little wider."""
    x0, x1 = sorted((window.x(handle.start_mm[0]), window.x(handle.end_mm[0])))
    y0, y1 = sorted((window.y(handle.start_mm[1]), window.y(handle.end_mm[1])))
    return Rect(x0 - GRAB, y0 - GRAB, x1 - x0 + 2 * GRAB, y1 - y0 + 2 * GRAB)


def handle_at(sheet: Sheet, sketch: Sketch, x: float, y: float) -> Handle | None:
    """Return the handle under a point."""
    return next((one for one in sketch.handles if handle_rect(sheet.window(one.where), one).contains(x, y)), None)


def item_at(sheet: Sheet, movable_items: Sequence[MovableItem], x: float, y: float) -> MovableItem | None:
    """Return the topmost item under a point of the plan, the last one drawn; its box, or a few pixels about it."""
    at_x, at_y = sheet.plan.at_mm(x, y)
    slack = 3.0 / sheet.plan.scale
    for item in reversed(movable_items):
        low, high = item.outline_mm.min(axis=0) - slack, item.outline_mm.max(axis=0) + slack
        if low[0] <= at_x <= high[0] and low[1] <= at_y <= high[1] and _inside(item, at_x, at_y, slack):
            return item
    return None


def _inside(item: MovableItem, x: float, y: float, slack: float) -> bool:
    """Whether a point lies in a convex outline, or nearly."""
    corners = item.outline_mm.tolist()
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
    if handle.snap is not None:
        offset, step = handle.snap
        nearest = offset + round((value - offset) / step) * step
        near_enough = abs(nearest - value) * scale / abs(handle.gain) <= _SNAP_PIXELS
        if near_enough and nearest > offset:
            return math.ceil(nearest * _STEPS_PER_MM - 1e-3) / _STEPS_PER_MM  # never a hair too little for a segment
    return stepped_value(handle, value)


def stepped_value(handle: Handle, value: float) -> float:
    """A value of a handle, rounded to its step and kept within its limits."""
    return min(max(round(round(value / handle.step) * handle.step, 6), handle.least), handle.most)


def line_rects(sheet: Sheet, seam_share: float, cut_share: float, *, has_seam: bool) -> dict[Line, Rect]:
    """Pixels within which each line is taken: the seam by its handle over the face, the cut at the left, the magnified part."""
    face = sheet.face.rect
    found: dict[Line, Rect] = {}
    if has_seam and sheet.shows("face"):
        found["seam"] = Rect(face.x + seam_share * face.width - GRAB, face.y - 20.0, 2 * GRAB, 20.0)
    if sheet.shows("face"):
        found["cut"] = Rect(face.x - 4.0, face.bottom - cut_share * face.height - GRAB, 18.0, 2 * GRAB)
    if sheet.detail is not None:
        found["detail"] = detail_frame(sheet.plan, sheet.detail)
    return found


def detail_frame(plan: Window, detail: Window) -> Rect:
    """The part of a plan that is magnified, in its pixels."""
    shown_mm = detail.rect.width / detail.scale
    ends = sorted((plan.x(detail.left_mm), plan.x(detail.left_mm + shown_mm)))
    return Rect(ends[0], plan.rect.y - 5.0, ends[1] - ends[0], plan.rect.height + 10.0)


def with_line(state: ViewState, line: Line, share: float) -> ViewState:
    """Return the state with a line put at a share of its way."""
    if line == "seam":
        return replace(state, seam_share=share)
    return replace(state, cut_share=share) if line == "cut" else replace(state, detail_share=share)


def line_share(sheet: Sheet, line: Line, x: float, y: float) -> float:
    """Where a line is put by a hand at a point, as a share of its way."""
    face = sheet.face.rect
    if line == "seam":
        return _share((x - face.x) / face.width)
    if line == "cut":
        return _share((face.bottom - y) / face.height)
    assert sheet.detail is not None
    whole, shown = sheet.plan.rect.width / sheet.plan.scale, sheet.detail.rect.width / sheet.detail.scale
    middle = sheet.plan.at_mm(x, y)[0] - sheet.plan.left_mm - shown / 2.0
    return _share(middle / max(whole - shown, 1e-9))


def _share(value: float) -> float:
    return min(max(value, 0.0), 1.0)
