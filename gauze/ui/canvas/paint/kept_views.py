"""Views that are costly to paint, kept from one painting to the next as pixmaps no larger than they are."""

import numpy as np
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPixmap

from gauze.core.evaluate import Evaluation
from gauze.core.evaluate.profile import Profile, profile_at
from gauze.core.evaluate.standards import standard_of
from gauze.core.layout import Instance, Layout
from gauze.ui.canvas.kept import antialiased, blank, ratio_of
from gauze.ui.canvas.paint.frame import Frame
from gauze.ui.canvas.paint.paint_profile import paint_profile
from gauze.ui.canvas.paint.paint_views import paint_plan
from gauze.ui.canvas.paint.shapes import to_qrect
from gauze.ui.text import spoken, tr

_ABOUT_PLAN = 24.0  # pixels that outlines and their words reach beyond the plan
_ABOUT_PROFILE = (30.0, 30.0, 130.0, 34.0)  # of its scales and title: left, above, right, below


class _Cropped:
    """A pixmap of a part of the canvas, and where it lies."""

    def __init__(self, reach: QRectF, area: QRectF, painter: QPainter) -> None:
        self._at = reach.intersected(area).toAlignedRect()
        self._pixmap: QPixmap = blank(self._at.toRectF(), ratio_of(painter))
        self.own = antialiased(self._pixmap)
        self.own.setFont(painter.font())
        self.own.translate(-self._at.x(), -self._at.y())

    def paint(self, painter: QPainter) -> None:
        """Paint it where it lies."""
        painter.drawPixmap(self._at.topLeft(), self._pixmap)


class KeptPlan:
    """The plan, painted again only when it changes: there may be very many emitters."""

    def __init__(self) -> None:
        self._kept: tuple[tuple[object, ...], Layout, _Cropped] | None = None

    def paint(self, painter: QPainter, frame: Frame) -> None:
        """Paint the plan, where it is on the canvas."""
        sheet, layout = frame.sheet, frame.scene.layout
        if not sheet.shows("plan"):
            return
        look = (frame.theme.name, frame.area.width(), frame.area.height(), ratio_of(painter))
        if self._kept is None or self._kept[1] is not layout or self._kept[0][::2] != (sheet.plan, look):
            key = (sheet.plan, _seen_in_plan(layout), look)
            view = self._kept[2] if self._kept is not None and self._kept[0] == key else None
            if view is None:
                about = _ABOUT_PLAN
                view = _Cropped(to_qrect(sheet.plan.rect).adjusted(-about, -about, about, about), frame.area, painter)
                paint_plan(view.own, sheet.plan, layout, frame.theme)
                view.own.end()
            self._kept = (key, layout, view)
        self._kept[2].paint(painter)


class KeptProfile:
    """The luminance along the cut, painted again only when light, cut or drawing change."""

    def __init__(self) -> None:
        self._profile: tuple[Evaluation, float, Profile | None] | None = None
        self._kept: tuple[Evaluation, object, _Cropped] | None = None

    def paint(self, painter: QPainter, frame: Frame, evaluation: Evaluation, v_mm: float) -> None:
        """Paint the profile at a height of the face, where it is on the canvas."""
        sheet, area = frame.sheet, frame.area
        if not sheet.shows("profile"):
            return
        key = (
            v_mm,
            sheet.face,
            sheet.profile,
            frame.unit,
            frame.theme.name,
            area.width(),
            area.height(),
            ratio_of(painter),
        )
        if self._kept is None or self._kept[0] is not evaluation or self._kept[1] != key:
            left, above, right, below = _ABOUT_PROFILE
            view = _Cropped(to_qrect(sheet.profile).adjusted(-left, -above, right, below), area, painter)
            self._paint(view.own, frame, evaluation, v_mm)
            view.own.end()
            self._kept = (evaluation, key, view)
        self._kept[2].paint(painter)

    def _paint(self, painter: QPainter, frame: Frame, evaluation: Evaluation, v_mm: float) -> None:
        profile, rect = self._profile_at(evaluation, v_mm), to_qrect(frame.sheet.profile)
        if profile is None:
            painter.setPen(frame.theme.colour("ink_dim"))
            words = tr("the line of the cut crosses no lit face: drag it up or down")
            painter.drawText(rect, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words)
            return
        standard = spoken(standard_of(evaluation.design).name)
        paint_profile(painter, rect, frame.sheet.face, profile, frame.theme, standard, frame.unit)

    def _profile_at(self, evaluation: Evaluation, v_mm: float) -> Profile | None:
        if self._profile is None or self._profile[0] is not evaluation or self._profile[1] != v_mm:
            self._profile = (evaluation, v_mm, profile_at(evaluation, v_mm))
        return self._profile[2]


def _seen_in_plan(layout: Layout) -> tuple[object, ...]:
    """What is seen from the front: a lid that moves leaves it as it is."""
    outlines = layout.sketch.plan
    drawn = tuple((outline.role, outline.closed, outline.words, len(outline.points_mm)) for outline in outlines)
    where = np.concatenate([outline.points_mm for outline in outlines]).tobytes() if outlines else b""
    cavities = tuple(
        (hash(one.places_mm[:, :2].tobytes()), hash(one.flux_lm.tobytes()), one.channels) for one in layout.cavities
    )
    return drawn, where, cavities, tuple(_instance_key(instance) for instance in layout.instances)


def _instance_key(instance: Instance) -> tuple[object, ...]:
    clip = None if instance.clip_mm is None else instance.clip_mm.tobytes()
    return instance.cavity, instance.x_mm, instance.y_mm, instance.turn_deg, clip
