"""Where plan, lit face and side cut of a cavity stand on the drawing."""

from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from gauze.core.layout import LooseLayout
from gauze.core.layout.model import FloatArray
from gauze.ui.canvas.geometry import Rect

_GAP, _TITLE = 26.0, 24.0  # pixels around and above each drawing
_LONG = 2.4  # width over height from which the drawings stand above each other
_LEGEND = 46.0  # pixels at the foot, kept for the scale of false colours
_MOST_PROFILE = 150.0  # pixels of its height
_MOST_ENLARGED = 8.0  # of a side cut over the plan

Place = TypeVar("Place", float, FloatArray)


@dataclass(frozen=True)
class Window:
    """One drawing to scale: millimetres from (``left_mm``, ``low_mm``) upwards, in a rectangle of pixels."""

    rect: Rect
    scale: float
    left_mm: float
    low_mm: float

    def x(self, value_mm: Place) -> Place:
        """Pixel of a place to the right, or of many."""
        return self.rect.x + (value_mm - self.left_mm) * self.scale

    def y(self, value_mm: Place) -> Place:
        """Pixel of a place upwards, or of many."""
        return self.rect.bottom - (value_mm - self.low_mm) * self.scale

    def place_mm(self, x: float, y: float) -> tuple[float, float] | None:
        """Millimetres under a pixel; None beside the drawing."""
        if not (self.rect.x <= x <= self.rect.x + self.rect.width and self.rect.y <= y <= self.rect.bottom):
            return None
        return self.left_mm + (x - self.rect.x) / self.scale, self.low_mm + (self.rect.bottom - y) / self.scale


@dataclass(frozen=True)
class Sheet:
    """The three drawings, and where the profile of the face stands."""

    plan: Window
    face: Window
    cut: Window
    profile: Rect


def lay_sheet(width: float, height: float, layout: LooseLayout, face_mm: tuple[float, float, float, float]) -> Sheet:
    """Place plan and lit face side by side over the side cut, or all above each other where the body is long.

    ``face_mm`` is the range of the unrolled face: left, low, width, height. Plan and face share a scale; a side cut that
    looks along a long body is drawn larger.
    """
    plan, section = layout.cavity.plan, layout.cavity.section
    low, size = plan.min(axis=0), np.ptp(plan, axis=0)
    cut_low, cut_size = section.min(axis=0), np.ptp(section, axis=0)
    long = max(size[0] / max(size[1], 1e-6), face_mm[2] / max(face_mm[3], 1e-6)) > _LONG
    if long:
        scale = min(
            (width - 2 * _GAP) / max(size[0], face_mm[2]),
            (height * 0.62 - 2 * _GAP - 2 * _TITLE) / (size[1] + face_mm[3]),
        )
    else:
        upper = height * 0.66
        scale = min((width - 3 * _GAP) / (size[0] + face_mm[2]), (upper - _GAP - _TITLE) / max(size[1], face_mm[3]))
    scale = max(scale, 1e-3)
    w, h, fw, fh = size[0] * scale, size[1] * scale, face_mm[2] * scale, face_mm[3] * scale
    if long:
        left = (width - max(w, fw)) / 2
        plan_rect = Rect(left, _TITLE + 6, w, h)
        face_rect = Rect(left, plan_rect.bottom + _GAP + _TITLE, fw, fh)
        cut_top = face_rect.bottom + _GAP
    else:
        left = (width - w - fw - _GAP) / 2
        plan_rect = Rect(left, _TITLE + 6, w, h)
        face_rect = Rect(left + w + _GAP, _TITLE + 6, fw, fh)
        cut_top = max(plan_rect.bottom, face_rect.bottom) + _GAP
    room = (max(width - 2 * _GAP, 1.0), max(height - cut_top - _TITLE - _GAP, 1.0))
    cut_scale = min(room[0] / max(cut_size[0], 1e-6), room[1] / max(cut_size[1], 1e-6), _MOST_ENLARGED * scale)
    if layout.cavity.section_axis == "x":
        cut_scale = min(cut_scale, scale)
    cut_scale = max(cut_scale, 1e-3)
    cut_rect = Rect(
        plan_rect.x if layout.cavity.section_axis == "x" or long else (width - cut_size[0] * cut_scale) / 2,
        cut_top + _TITLE,
        float(cut_size[0] * cut_scale),
        float(cut_size[1] * cut_scale),
    )
    if long:  # beside the side cut, which looks along the body
        left = cut_rect.x + cut_rect.width + 2 * _GAP
        profile_height = max(min(cut_rect.height, height - cut_rect.y - _LEGEND), 1.0)
        profile = Rect(left, cut_rect.y, max(width - left - _GAP, 1.0), profile_height)
    else:
        profile = Rect(face_rect.x, cut_rect.y, face_rect.width, max(height - cut_rect.y - 2 * _GAP, 1.0))
        profile = Rect(profile.x, profile.y, profile.width, min(profile.height, _MOST_PROFILE))
    return Sheet(
        Window(plan_rect, scale, float(low[0]), float(low[1])),
        Window(face_rect, scale, face_mm[0], face_mm[1]),
        Window(cut_rect, cut_scale, float(cut_low[0]), float(cut_low[1])),
        profile,
    )


def face_range_mm(u_mm: FloatArray, v_mm: FloatArray) -> tuple[float, float, float, float]:
    """Left, low, width and height of the pixels of an unrolled face."""
    step_u, step_v = float(u_mm[1] - u_mm[0]), float(v_mm[1] - v_mm[0])
    return (
        float(u_mm[0]) - step_u / 2,
        float(v_mm[0]) - step_v / 2,
        float(np.ptp(u_mm)) + step_u,
        float(np.ptp(v_mm)) + step_v,
    )
