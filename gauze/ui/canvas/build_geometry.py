"""Where plan, lit face and side cut of a build stand on the drawing; no Qt."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.layout.sketch import Edge, Measure, Sketch, Where
from gauze.ui.canvas.geometry import Rect

_GAP, _TITLE = 26.0, 24.0  # pixels around and above each drawing
_LONG = 2.4  # width over height from which the drawings stand above each other
_LEGEND = 46.0  # pixels at the foot, kept for the scale of false colours
_MOST_PROFILE = 150.0  # pixels of its height
_MOST_ENLARGED = 8.0  # of a side cut over the plan
_UPPER = 0.66  # of the height, for plan and face
_SIDE_TIER, _TIER = 62.0, 26.0  # pixels that a dimension beside, above or below a drawing takes
_LEAST_PROFILE, _PROFILE_SHARE = 56.0, 0.4  # of what is below the plan, where the profile stands over the side cut
MOST_ZOOM = 16.0

Place = TypeVar("Place", float, FloatArray)
Range = tuple[float, float, float, float]


@dataclass(frozen=True)
class Window:
    """One drawing to scale: millimetres from (``left_mm``, ``low_mm``) upwards, in a rectangle of pixels."""

    rect: Rect
    scale: float
    left_mm: float
    low_mm: float
    mirrored: bool = False

    def x(self, value_mm: Place) -> Place:
        """Pixel of a place to the right, or of many."""
        if self.mirrored:
            return self.rect.right - (value_mm - self.left_mm) * self.scale
        return self.rect.x + (value_mm - self.left_mm) * self.scale

    def y(self, value_mm: Place) -> Place:
        """Pixel of a place upwards, or of many."""
        return self.rect.bottom - (value_mm - self.low_mm) * self.scale

    def at_mm(self, x: float, y: float) -> tuple[float, float]:
        """Millimetres under a pixel, beside the drawing too."""
        across = self.rect.right - x if self.mirrored else x - self.rect.x
        return self.left_mm + across / self.scale, self.low_mm + (self.rect.bottom - y) / self.scale

    def place_mm(self, x: float, y: float) -> tuple[float, float] | None:
        """Millimetres under a pixel; None beside the drawing."""
        if not (self.rect.x <= x <= self.rect.x + self.rect.width and self.rect.y <= y <= self.rect.bottom):
            return None
        return self.at_mm(x, y)

    def zoomed(self, factor: float, x: float, y: float) -> "Window":
        """Enlarged about a pixel."""
        rect = self.rect
        grown = Rect(x + (rect.x - x) * factor, y + (rect.y - y) * factor, rect.width * factor, rect.height * factor)
        return replace(self, rect=grown, scale=self.scale * factor)

    def moved(self, dx: float, dy: float) -> "Window":
        """Moved by pixels."""
        rect = self.rect
        return replace(self, rect=Rect(rect.x + dx, rect.y + dy, rect.width, rect.height))

    def held(self, reach_mm: Range) -> "Window":
        """The same scale and place for a drawing that has changed its size under the hand."""
        left, low, width, height = reach_mm
        bottom = self.y(low)
        x = self.x(left + width) if self.mirrored else self.x(left)
        rect = Rect(x, bottom - height * self.scale, width * self.scale, height * self.scale)
        return Window(rect, self.scale, left, low, self.mirrored)


@dataclass(frozen=True)
class Sheet:
    """The three drawings, where the profile of the face stands, and whether the face lies over the plan."""

    plan: Window
    face: Window
    cut: Window
    profile: Rect
    seam: bool

    def window(self, where: Where) -> Window:
        """Return plan or side cut."""
        return self.plan if where == "plan" else self.cut


@dataclass(frozen=True)
class _Margins:
    left: float
    above: float
    right: float
    below: float


def _margins(measures: Sequence[Measure], where: Where) -> _Margins:
    def tiers(edge: Edge) -> int:
        return max((one.tier + 1 for one in measures if one.where == where and one.edge == edge), default=0)

    return _Margins(
        _SIDE_TIER * tiers("left") + 18.0 if tiers("left") else _GAP,
        max(_TIER * tiers("above") + 8.0, _TITLE) + _TITLE,
        _SIDE_TIER * tiers("right") + 48.0 if tiers("right") else _GAP,
        _TIER * tiers("below") + 24.0 if tiers("below") else _GAP / 2,
    )


def lay_sheet(width: float, height: float, sketch: Sketch, face_mm: Range) -> Sheet:
    """Place the drawings on a canvas.

    Where the face lies over the plan there are two, one above the other; else plan and lit face stand side by side over the side
    cut, or all above each other where the body is long. ``face_mm`` is the range of the (unrolled) face: left, low, width,
    height. Plan and face share a scale, and the side cut too where it runs along them.
    """
    if sketch.seam:
        return _over_each_other(width, height, sketch)
    return _beside_each_other(width, height, sketch, face_mm)


def _over_each_other(width: float, height: float, sketch: Sketch) -> Sheet:
    plan, cut = _margins(sketch.measures, "plan"), _margins(sketch.measures, "cut")
    _, _, w, h = sketch.plan_mm
    left, right = plan.left, plan.right
    if sketch.cut_axis == "x":
        left, right = max(plan.left, cut.left), max(plan.right, cut.right)
    room_x = max(width - left - right, 40.0)
    room_y = max(height * _UPPER - plan.above - plan.below, 40.0)
    scale = max(min(room_x / max(w, 1e-6), room_y / max(h, 1e-6)), 1e-3)
    rect = Rect(left + (room_x - w * scale) / 2, plan.above + (room_y - h * scale) / 2, w * scale, h * scale)
    plan_window = Window(rect, scale, sketch.plan_mm[0], sketch.plan_mm[1])
    top = height * _UPPER
    if sketch.cut_axis == "x":
        cut_window, profile = _below_plan(width, height, sketch, plan_window, cut, top)
    else:
        cut_window, profile = _section_and_profile(width, height, sketch, plan_window, cut, top)
    return Sheet(plan_window, plan_window, cut_window, profile, seam=True)


def _below_plan(
    width: float, height: float, sketch: Sketch, plan: Window, margins: _Margins, top: float
) -> tuple[Window, Rect]:
    """The side cut along the plan, at its scale and under it; the profile over it."""
    left, low, w, h = sketch.cut_mm
    room = height - top - margins.below - 8.0
    profile_height = min(max(_PROFILE_SHARE * room, _LEAST_PROFILE), _MOST_PROFILE)
    body = max(room - profile_height - margins.above, 12.0)
    scale = min(plan.scale, body / max(h, 1e-6))
    if scale < plan.scale:  # a deep body: drawn smaller, in the middle
        rect = Rect((width - w * scale) / 2, top + profile_height + margins.above, w * scale, h * scale)
    else:
        rect = Rect(plan.x(left), top + profile_height + margins.above, w * scale, h * scale)
    profile = Rect(plan.rect.x, top + _TITLE, plan.rect.width, profile_height - _TITLE + 6.0)
    return Window(rect, scale, left, low), profile


def _section_and_profile(
    width: float, height: float, sketch: Sketch, plan: Window, margins: _Margins, top: float
) -> tuple[Window, Rect]:
    """A section across the body, enlarged; the profile beside it."""
    left, low, w, h = sketch.cut_mm
    room_x = max(width * 0.42 - margins.left - margins.right, 30.0)
    room_y = max(height - top - margins.above - margins.below - 8.0, 12.0)
    scale = max(min(room_x / max(w, 1e-6), room_y / max(h, 1e-6), _MOST_ENLARGED * plan.scale), 1e-3)
    rect = Rect(margins.left, top + margins.above, w * scale, h * scale)
    start = rect.right + margins.right + _GAP
    profile = Rect(start, rect.y, max(width - start - _GAP, 1.0), max(min(room_y, height - rect.y - _LEGEND), 1.0))
    return Window(rect, scale, left, low), profile


def _beside_each_other(width: float, height: float, sketch: Sketch, face_mm: Range) -> Sheet:
    plan, cut = _margins(sketch.measures, "plan"), _margins(sketch.measures, "cut")
    low, size = sketch.plan_mm[:2], sketch.plan_mm[2:]
    long = max(size[0] / max(size[1], 1e-6), face_mm[2] / max(face_mm[3], 1e-6)) > _LONG
    room_x = width - plan.left - plan.right
    if long:
        room_y = height * 0.62 - plan.above - plan.below - _GAP - _TITLE
        scale = min(room_x / max(size[0], face_mm[2]), room_y / (size[1] + face_mm[3]))
    else:
        room_y = height * _UPPER - plan.above - plan.below
        scale = min((room_x - _GAP) / (size[0] + face_mm[2]), room_y / max(size[1], face_mm[3]))
    scale = max(scale, 1e-3)
    w, h, fw, fh = size[0] * scale, size[1] * scale, face_mm[2] * scale, face_mm[3] * scale
    if long:
        left = plan.left + (room_x - max(w, fw)) / 2
        plan_rect = Rect(left, plan.above, w, h)
        along = (
            low[0] <= face_mm[0] and face_mm[0] + face_mm[2] <= low[0] + size[0]
        )  # then each lies below its own place
        face_left = left + (face_mm[0] - low[0]) * scale if along else left
        face_rect = Rect(face_left, plan_rect.bottom + plan.below + _TITLE, fw, fh)
        cut_top = face_rect.bottom + 8.0
    else:
        left = plan.left + (room_x - w - fw - _GAP) / 2
        plan_rect = Rect(left, plan.above, w, h)
        face_rect = Rect(left + w + plan.right + _GAP / 2, plan.above, fw, fh)
        cut_top = max(plan_rect.bottom + plan.below, face_rect.bottom)
    plan_window = Window(plan_rect, scale, low[0], low[1])
    cut_window = _cut_window(width, height, sketch, plan_window, cut, cut_top, long=long)
    if long:  # beside the side cut, which looks along the body
        start = cut_window.rect.right + cut.right + _GAP
        profile_height = max(min(cut_window.rect.height, height - cut_window.rect.y - _LEGEND), 1.0)
        profile = Rect(start, cut_window.rect.y, max(width - start - _GAP, 1.0), profile_height)
    else:
        room = max(height - cut_window.rect.y - 2 * _GAP, 1.0)
        profile = Rect(face_rect.x, cut_window.rect.y, face_rect.width, min(room, _MOST_PROFILE))
    return Sheet(plan_window, Window(face_rect, scale, face_mm[0], face_mm[1]), cut_window, profile, seam=False)


def _cut_window(
    width: float, height: float, sketch: Sketch, plan: Window, margins: _Margins, top: float, *, long: bool
) -> Window:
    left, low, w, h = sketch.cut_mm
    room_x = max(width * (0.45 if long else 0.5) - margins.left - margins.right, 20.0)
    room_y = max(height - top - margins.above - margins.below, 1.0)
    scale = min(room_x / max(w, 1e-6), room_y / max(h, 1e-6), _MOST_ENLARGED * plan.scale)
    if sketch.cut_axis == "x":
        scale = min(scale, plan.scale)
    scale = max(scale, 1e-3)
    start = plan.rect.x if sketch.cut_axis == "x" or long else max(margins.left, plan.rect.x)
    return Window(Rect(max(start, margins.left), top + margins.above, w * scale, h * scale), scale, left, low)


def face_range_mm(u_mm: FloatArray, v_mm: FloatArray) -> Range:
    """Left, low, width and height of the pixels of a face's map."""
    step_u, step_v = float(u_mm[1] - u_mm[0]), float(v_mm[1] - v_mm[0])
    return (
        float(u_mm[0]) - step_u / 2,
        float(v_mm[0]) - step_v / 2,
        float(np.ptp(u_mm)) + step_u,
        float(np.ptp(v_mm)) + step_v,
    )
