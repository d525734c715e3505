"""Where the views of a build stand on the drawing: packed so that they fill it; no Qt."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.layout.model import FloatArray
from gauze.core.layout.sketch import Edge, Measure, Sketch, Where
from gauze.ui.canvas.geometry import Range, Rect, Window

_GAP, _TITLE = 26.0, 24.0  # pixels around and above each drawing
_SIDE_TIER, _TIER = 62.0, 26.0  # pixels that a dimension beside, above or below a drawing takes
_FOOT = 40.0  # pixels at the foot, kept for the scale of false colours
_SCALE_WIDTH = 74.0  # pixels beside a profile, for its numbers
_LEAST_PROFILE, _MOST_PROFILE = 64.0, 260.0  # pixels of its height
_MOST_ENLARGED = 24.0  # of a side cut over the plan
_SHARES = (0.38, 0.46, 0.54, 0.6, 0.66, 0.72, 0.78)
_CUT_WEIGHT, _PROFILE_WEIGHT = 0.45, 0.2  # of their areas in pixels beside the plan's, by logarithm
_THIN = 46.0  # pixels of a plan's height below which a part of it is magnified
_DETAIL = 84.0  # pixels of the magnified part's height
_MOST_MAGNIFIED, _LEAST_MAGNIFIED = 30.0, 2.0
MOST_ZOOM = 16.0
VIEWS = ("plan", "face", "cut", "profile")


@dataclass(frozen=True)
class Sheet:
    """The views, and whether the lit face lies over the plan.

    ``profile`` is where the luminance along the cut is drawn. ``detail`` is a part of a thin plan magnified, None for none.
    ``alone`` names the view that has the whole canvas, None where all are shown.
    """

    plan: Window
    face: Window
    cut: Window
    profile: Rect
    seam: bool
    detail: Window | None = None
    alone: str | None = None

    def window(self, where: Where) -> Window:
        """Return plan or side cut."""
        return self.plan if where == "plan" else self.cut

    def shows(self, view: str) -> bool:
        """Whether a view is on the canvas."""
        if self.alone is None:
            return True
        return view == self.alone or (self.seam and {view, self.alone} == {"plan", "face"})

    def title_at(self, x: float, y: float) -> str | None:
        """Return the view whose title, just above it, is under a point."""
        places = (("cut", self.cut.rect), ("profile", self.profile), ("plan", self.plan.rect), ("face", self.face.rect))
        for view, rect in places:
            wide = max(rect.width, 180.0)
            if self.shows(view) and rect.x - 4 <= x <= rect.x + wide and rect.y - 44.0 <= y < rect.y - 1.0:
                return view
        return None


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
        max(_TIER * tiers("above") + 8.0, _TITLE)
        + _TITLE
        + (10.0 if where == "cut" else 0.0),  # over a sheet that glows
        _SIDE_TIER * tiers("right") + 40.0 if tiers("right") else _GAP,
        _TIER * tiers("below") + 22.0 if tiers("below") else _GAP / 2,
    )


def lay_sheet(
    width: float,
    height: float,
    sketch: Sketch,
    face_mm: Range,
    alone: str | None = None,
    detail_share: float = 0.5,
) -> Sheet:
    """Place the views on a canvas, in the arrangement that shows most of them.

    Where the lit face lies over the plan the two are one view. ``face_mm`` is the range of the (unrolled) face: left, low, width,
    height. Plan and face share a scale; a side cut along the plan may stand under it at the same. ``alone`` puts one view on the
    whole canvas; ``detail_share`` is where along the plan a magnified part is taken.
    """
    width, height = max(width, 200.0), max(height, 160.0)
    if alone is not None:
        return _alone(width, height, sketch, face_mm, alone)
    found = max(_arrangements(width, height, sketch, face_mm), key=_score)
    return _with_detail(found, width, detail_share, _margins(sketch.measures, "cut").above)


def _score(sheet: Sheet) -> float:
    """How much is shown: the logarithms of the views' areas, the plan's foremost."""

    def area(rect: Rect) -> float:
        return math.log(max(rect.width, 1.0) * max(rect.height, 1.0))

    return area(sheet.plan.rect) + _CUT_WEIGHT * area(sheet.cut.rect) + _PROFILE_WEIGHT * area(sheet.profile)


def _arrangements(width: float, height: float, sketch: Sketch, face_mm: Range) -> Iterator[Sheet]:
    for share in _SHARES:
        upper, lower = Rect(0.0, 0.0, width, height * share), Rect(0.0, height * share, width, height * (1.0 - share))
        left, right = Rect(0.0, 0.0, width * share, height), Rect(width * share, 0.0, width * (1.0 - share), height)
        for first, second, is_below in ((upper, lower, True), (left, right, False)):
            for plan, face in _plans(first, sketch, face_mm):
                yield from _with_cut(second, sketch, plan, face, is_below=is_below)


def _fitted(area: Rect, margins: _Margins, reach_mm: Range, most_scale: float = math.inf) -> Window:
    """One drawing as large as it goes in an area, in its middle."""
    left, low, wide, high = reach_mm
    room_x = max(area.width - margins.left - margins.right, 20.0)
    room_y = max(area.height - margins.above - margins.below, 12.0)
    scale = max(min(room_x / max(wide, 1e-6), room_y / max(high, 1e-6), most_scale), 1e-4)
    x = area.x + margins.left + (room_x - wide * scale) / 2.0
    y = area.y + margins.above + (room_y - high * scale) / 2.0
    return Window(Rect(x, y, wide * scale, high * scale), scale, left, low)


def _plans(area: Rect, sketch: Sketch, face_mm: Range) -> Iterator[tuple[Window, Window]]:
    """Plan and face in an area: as one, beside each other, or one above the other."""
    margins = _margins(sketch.measures, "plan")
    if sketch.seam:
        if sketch.cut_axis == "x":  # the side cut may stand below it, and the profile with its scale
            cut = _margins(sketch.measures, "cut")
            right = max(margins.right, cut.right, _SCALE_WIDTH + 8.0)
            margins = replace(margins, left=max(margins.left, cut.left), right=right)
        plan = _fitted(area, margins, sketch.plan_mm)
        yield plan, plan
        return
    left, low, wide, high = sketch.plan_mm
    room_x, room_y = area.width - margins.left - margins.right, area.height - margins.above - margins.below
    beside = min((room_x - _GAP) / (wide + face_mm[2]), room_y / max(high, face_mm[3]))
    above = min(room_x / max(wide, face_mm[2]), (room_y - _GAP - 2 * _TITLE) / (high + face_mm[3]))
    if beside > 0:
        start = area.x + margins.left + (room_x - _GAP - (wide + face_mm[2]) * beside) / 2.0
        top = area.y + margins.above
        plan = Window(Rect(start, top, wide * beside, high * beside), beside, left, low)
        rect = Rect(plan.rect.right + margins.right + _GAP / 2, top, face_mm[2] * beside, face_mm[3] * beside)
        yield plan, Window(rect, beside, face_mm[0], face_mm[1])
    if above > 0:
        start = area.x + margins.left + (room_x - max(wide, face_mm[2]) * above) / 2.0
        spare = max(room_y - _GAP - 2 * _TITLE - (high + face_mm[3]) * above, 0.0) / 3.0
        plan = Window(Rect(start, area.y + margins.above + spare, wide * above, high * above), above, left, low)
        along = left <= face_mm[0] and face_mm[0] + face_mm[2] <= left + wide  # then each lies below its own place
        x = start + (face_mm[0] - left) * above if along else start
        top = plan.rect.bottom + margins.below + _GAP + _TITLE + spare
        yield plan, Window(Rect(x, top, face_mm[2] * above, face_mm[3] * above), above, face_mm[0], face_mm[1])


def _with_cut(area: Rect, sketch: Sketch, plan: Window, face: Window, *, is_below: bool) -> Iterator[Sheet]:
    """Side cut and profile in what is left: under the plan at its scale, one above the other, or beside each other."""
    margins = _margins(sketch.measures, "cut")
    area = replace(area, height=area.height - _FOOT)
    most = plan.scale * _MOST_ENLARGED
    if is_below and sketch.cut_axis == "x" and sketch.seam:
        aligned = _under_the_plan(area, sketch, plan, margins)
        if aligned is not None:
            yield Sheet(plan, face, *aligned, sketch.seam)
    for share in (0.4, 0.5, 0.6):
        if is_below:
            one = Rect(area.x, area.y, area.width * share, area.height)
            other = Rect(area.x + one.width, area.y, area.width - one.width, area.height)
        else:
            one = Rect(area.x, area.y, area.width, area.height * share)
            other = Rect(area.x, area.y + one.height, area.width, area.height - one.height)
        cut = _fitted(one, margins, sketch.cut_mm, most)
        yield Sheet(plan, face, cut, _profile_in(other), sketch.seam)


def _profile_in(area: Rect) -> Rect:
    room = max(area.height - 2 * _TITLE - _GAP / 2, 1.0)
    tall = min(room, max(_MOST_PROFILE, 0.4 * area.width))
    top = area.y + 2 * _TITLE + (room - tall) / 2.0
    return Rect(area.x + _GAP, top, max(area.width - 2 * _GAP - _SCALE_WIDTH, 1.0), tall)


def _under_the_plan(area: Rect, sketch: Sketch, plan: Window, margins: _Margins) -> tuple[Window, Rect] | None:
    """The side cut under the plan, at its scale and place, the profile over it; None where there is no room."""
    left, low, wide, high = sketch.cut_mm
    tall = high * plan.scale
    room = area.height - tall - margins.above - margins.below - _TITLE
    if room < _LEAST_PROFILE:
        return None
    profile_height = min(room, _MOST_PROFILE)
    spare = room - profile_height
    top = area.y + 1.6 * _TITLE + spare / 2.0
    profile = Rect(plan.rect.x, top, plan.rect.width, profile_height - _TITLE / 2)
    rect = Rect(plan.x(left), profile.bottom + margins.above, wide * plan.scale, tall)
    return Window(rect, plan.scale, left, low), profile


def _alone(width: float, height: float, sketch: Sketch, face_mm: Range, alone: str) -> Sheet:
    """One view on the whole canvas, the others beyond its edge."""
    area = Rect(0.0, 0.0, width, height - _FOOT)
    beyond = Window(Rect(-1e6, -1e6, 1.0, 1.0), 1e-3, 0.0, 0.0)
    plan = face = cut = beyond
    profile = Rect(-1e6, -1e6, 1.0, 1.0)
    if alone == "cut":
        cut = _fitted(area, _margins(sketch.measures, "cut"), sketch.cut_mm)
    elif alone == "profile":
        profile = Rect(_GAP, 2 * _TITLE, width - 2 * _GAP - _SCALE_WIDTH, area.height - 3 * _TITLE)
        face = Window(Rect(profile.x, -1e6, profile.width, 1.0), profile.width / face_mm[2], face_mm[0], face_mm[1])
    elif alone == "face" and not sketch.seam:
        face = _fitted(area, _Margins(_GAP, 2 * _TITLE, _GAP, _GAP), face_mm)
    else:
        plan = _fitted(area, _margins(sketch.measures, "plan"), sketch.plan_mm)
        face = plan if sketch.seam else beyond
    return Sheet(plan, face, cut, profile, sketch.seam, alone=alone)


def _with_detail(sheet: Sheet, width: float, share: float, above_cut: float) -> Sheet:
    """A part of a plan that is long and thin, magnified below it, where there is room over the cut's title and dimensions."""
    rect = sheet.plan.rect
    if rect.height > _THIN or rect.width < 6.0 * rect.height:
        return sheet
    top = rect.bottom + 2.2 * _TIER + 4.0 if sheet.seam else max(rect.bottom, sheet.face.rect.bottom) + 2.2 * _TIER
    over = ((sheet.cut.rect, max(above_cut, _TITLE + 14.0)), (sheet.profile, _TITLE + 14.0))
    below = [one.y - title for one, title in over if one.y > rect.bottom]
    room = min(below, default=math.inf) - top - _TITLE
    tall = min(_DETAIL, room)
    high_mm = rect.height / sheet.plan.scale
    scale = min(tall / high_mm, _MOST_MAGNIFIED * sheet.plan.scale)
    if tall < 24.0 or scale < _LEAST_MAGNIFIED * sheet.plan.scale:
        return sheet
    wide = min(rect.width, width - 2 * _GAP)
    shown_mm = wide / scale
    whole_mm = rect.width / sheet.plan.scale
    start_mm = sheet.plan.left_mm + share * max(whole_mm - shown_mm, 0.0)
    place = Rect(rect.x, top + _TITLE, wide, high_mm * scale)
    return replace(sheet, detail=Window(place, scale, start_mm, sheet.plan.low_mm))


def face_range_mm(u_mm: FloatArray, v_mm: FloatArray) -> Range:
    """Left, low, width and height of the pixels of a face's map."""
    step_u, step_v = float(u_mm[1] - u_mm[0]), float(v_mm[1] - v_mm[0])
    return (
        float(u_mm[0]) - step_u / 2,
        float(v_mm[0]) - step_v / 2,
        float(np.ptp(u_mm)) + step_u,
        float(np.ptp(v_mm)) + step_v,
    )
