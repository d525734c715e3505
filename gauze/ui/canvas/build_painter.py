"""Paints a build's drawing as a whole, keeping what is costly from one painting to the next."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPixmap

from gauze.core.design import Design
from gauze.core.evaluate import CavityFaceLight, Evaluation
from gauze.core.evaluate.profile import Profile, profile_at
from gauze.core.layout import BuiltLayout, Instance
from gauze.core.layout.sketch import Handle, Sketch, Thing, Where
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.core.units.length import format_distance
from gauze.ui.canvas.build_geometry import Range, Sheet, Window
from gauze.ui.canvas.dimensions import TIER, Dimension
from gauze.ui.canvas.kept import antialiased, blank, ratio_of
from gauze.ui.canvas.lit_faces import LitFaces, following
from gauze.ui.canvas.paint_build import paint_cut, paint_grips, paint_hold, paint_plan
from gauze.ui.canvas.paint_build_profile import paint_cut_line, paint_profile
from gauze.ui.canvas.paint_dimensions import paint_dimensions, paint_scale
from gauze.ui.canvas.paint_plan import to_qrect
from gauze.ui.text import tr
from gauze.ui.theme import Theme
from gauze.ui.view_state import ViewState


@dataclass(frozen=True)
class BuildScene:
    """A design laid out, its light as far as it is known, and the light of another to be set against it."""

    design: Design
    layout: BuiltLayout
    evaluation: Evaluation | None
    other: Evaluation | None = None


class BuildPainter:
    """Paints the drawings; pictures, outlines and profile are made anew only when they change."""

    def __init__(self) -> None:
        self._faces = LitFaces()
        self._profile: tuple[Evaluation, float, Profile | None] | None = None
        self._profile_drawn: tuple[Evaluation, object, QPixmap] | None = None
        self._plan: tuple[object, BuiltLayout, QPixmap] | None = None
        self._drawn: tuple[BuiltLayout, object, QPixmap] | None = None

    def prepare(self, scene: BuildScene, state: ViewState) -> None:
        """Make the pictures of a scene's light before it is painted."""
        for evaluation in (scene.evaluation, scene.other):
            if evaluation is not None:
                self._faces.prepare(evaluation, state)

    def paint(
        self,
        painter: QPainter,
        area: QRectF,
        scene: BuildScene,
        sheet: Sheet,
        state: ViewState,
        theme: Theme,
        unit: LengthUnit,
    ) -> None:
        """Paint plan, face, side cut and profile."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        painter.drawPixmap(0, 0, self._body(painter, area, scene, sheet, theme))
        self._paint_face(painter, area, scene, sheet, state, theme)
        sketch = scene.layout.sketch
        if not sheet.seam:
            words = tr("plan, {size}").format(size=_size(sketch.plan_mm, unit))
            _title(painter, sheet.plan, theme, words, _tiers_above(sketch, "plan"))
        words = tr("side cut, {size}").format(size=_size(sketch.cut_mm, unit))
        _title(painter, sheet.cut, theme, words, _tiers_above(sketch, "cut"))
        if scene.evaluation is not None:
            painter.drawPixmap(0, 0, self._profile_pixmap(painter, area, scene.evaluation, sheet, state, theme, unit))
            if state.false_colour:
                even = scene.evaluation.evenness
                bar = QRectF(area.width() - 236, area.height() - 34, 220, 9)
                paint_scale(painter, bar, theme, even.min_cd_m2, even.max_cd_m2)

    def paint_inputs(
        self,
        painter: QPainter,
        sheet: Sheet,
        layout: BuiltLayout,
        theme: Theme,
        dimensions: Sequence[Dimension],
        keys: tuple[str | None, str | None, str | None],
        lively: Handle | Thing | None,
    ) -> None:
        """Paint dimensions and handles; ``keys`` are of those hovered, focused and refused."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        for where in ("plan", "cut"):
            own = [handle for handle in layout.sketch.handles if handle.where == where]
            paint_grips(painter, sheet.plan if where == "plan" else sheet.cut, own, theme)
        if lively is not None:
            where = lively.where if isinstance(lively, Handle) else "plan"
            paint_hold(painter, sheet.window(where), lively, theme)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        paint_dimensions(painter, theme, dimensions, *keys)

    def _body(self, painter: QPainter, area: QRectF, scene: BuildScene, sheet: Sheet, theme: Theme) -> QPixmap:
        """Plan and side cut, painted anew only when they change: there may be very many emitters."""
        ratio = ratio_of(painter)
        layout = scene.layout
        look = (theme.name, area.width(), area.height(), ratio)
        plan = (sheet.plan, _seen_in_plan(layout), look)
        if self._plan is None or self._plan[0] != plan:
            self._plan = (plan, layout, blank(area, ratio))
            own = antialiased(self._plan[2])
            paint_plan(own, sheet.plan, layout, theme)
            own.end()
        key = (sheet.cut, plan, look)
        if self._drawn is None or self._drawn[0] is not layout or self._drawn[1] != key:
            pixmap = QPixmap(self._plan[2])
            own = antialiased(pixmap)
            paint_cut(own, sheet.cut, layout, theme)
            own.end()
            self._drawn = (layout, key, pixmap)
        return self._drawn[2]

    # -- the lit face ----------------------------------------------------------------------------------------------

    def _paint_face(
        self, painter: QPainter, area: QRectF, scene: BuildScene, sheet: Sheet, state: ViewState, theme: Theme
    ) -> None:
        window, rect = sheet.face, to_qrect(sheet.face.rect)
        evaluation = scene.evaluation
        if evaluation is None:
            painter.setPen(QPen(theme.colour("line"), 1.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(rect)
            _title(painter, window, theme, tr("lit face: being computed …"))
            return
        seam_x = rect.left() + state.seam_share * rect.width()
        lit = QRectF(seam_x, 0.0, 1e5, 1e5) if sheet.seam or scene.other is not None else None
        if state.from_back and sheet.seam:
            _title(painter, window, theme, tr("seen from the back, mirrored, as it is wired"), 1)
            return
        follow = None
        if sheet.seam and isinstance(evaluation.layout, BuiltLayout):
            follow = following(evaluation.layout, scene.layout)
        self._faces.paint(painter, area, window, evaluation, state, lit, follow)
        if scene.other is not None:
            beside = QRectF(-1e5, 0.0, 1e5 + seam_x, 1e5)
            self._faces.paint(painter, area, window, scene.other, state, beside)
        if isinstance(evaluation.light, CavityFaceLight):
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("line"), 1.0))
            painter.drawPath(self._faces.outline(evaluation, window))
        if lit is None:
            _title(painter, window, theme, _face_words(evaluation))
        else:
            right = tr("this design") if scene.other is not None else tr("lit face")
            left = scene.other.design.name if scene.other is not None else tr("bare")
            _paint_seam(painter, rect, theme, seam_x, (left, right))

    def _profile_pixmap(
        self,
        painter: QPainter,
        area: QRectF,
        evaluation: Evaluation,
        sheet: Sheet,
        state: ViewState,
        theme: Theme,
        unit: LengthUnit,
    ) -> QPixmap:
        """The luminance along the cut, painted anew only when light, cut or drawing change."""
        face = sheet.face
        v_mm = state.cut_share * face.rect.height / face.scale + face.low_mm
        ratio = ratio_of(painter)
        key = (v_mm, face, sheet.profile, unit, theme.name, area.width(), area.height(), ratio)
        if self._profile_drawn is None or self._profile_drawn[0] is not evaluation or self._profile_drawn[1] != key:
            pixmap = blank(area, ratio)
            self._profile_drawn = (evaluation, key, pixmap)
            own = antialiased(pixmap)
            own.setFont(painter.font())
            paint_cut_line(own, face, v_mm, theme)
            profile = self._profile_at(evaluation, v_mm)
            if profile is not None:
                paint_profile(own, to_qrect(sheet.profile), face, profile, theme, _seen_from(evaluation, unit))
            own.end()
        return self._profile_drawn[2]

    def _profile_at(self, evaluation: Evaluation, v_mm: float) -> Profile | None:
        if self._profile is None or self._profile[0] is not evaluation or self._profile[1] != v_mm:
            self._profile = (evaluation, v_mm, profile_at(evaluation, v_mm))
        return self._profile[2]


def _seen_from(evaluation: Evaluation, unit: LengthUnit) -> str:
    purpose = evaluation.design.purpose
    if purpose.viewer == "camera":
        return tr("by the camera")
    return tr("from {distance}").format(distance=format_distance(purpose.viewing_distance_mm, unit))


def _seen_in_plan(layout: BuiltLayout) -> tuple[object, ...]:
    """What is seen from the front: a lid that moves leaves it as it is."""
    outlines = layout.sketch.plan
    drawn = tuple((outline.role, outline.closed, outline.words, len(outline.points_mm)) for outline in outlines)
    where = np.concatenate([outline.points_mm for outline in outlines]).tobytes() if outlines else b""
    units = tuple(
        (hash(unit.places_mm[:, :2].tobytes()), hash(unit.flux_lm.tobytes()), unit.channels) for unit in layout.units
    )
    return drawn, where, units, tuple(_instance_key(instance) for instance in layout.instances)


def _instance_key(instance: Instance) -> tuple[object, ...]:
    clip = None if instance.clip_mm is None else instance.clip_mm.tobytes()
    return instance.unit, instance.x_mm, instance.y_mm, instance.turn_deg, clip


def _face_words(evaluation: Evaluation) -> str:
    even = evaluation.evenness
    return tr("lit face{unrolled}, {least} to {most} cd/m²").format(
        unrolled="" if evaluation.opening_mm[2] == 0 else tr(", unrolled"),
        least=format_number(even.min_cd_m2),
        most=format_number(even.max_cd_m2),
    )


def _paint_seam(painter: QPainter, face: QRectF, theme: Theme, seam_x: float, words: tuple[str, str]) -> None:
    painter.setPen(QPen(theme.colour("accent"), 1.0))
    painter.drawLine(QPointF(seam_x, face.top() - 2), QPointF(seam_x, face.bottom()))
    painter.setBrush(theme.colour("accent"))
    painter.drawRoundedRect(QRectF(seam_x - 6, face.top() - 17, 12, 14), 3, 3)
    painter.setPen(theme.colour("ink_dim"))
    left, right = words
    width = painter.fontMetrics().horizontalAdvance(left)
    painter.drawText(QPointF(seam_x - 12 - width, face.top() - 6), left)
    painter.drawText(QPointF(seam_x + 12, face.top() - 6), right)


def _tiers_above(sketch: Sketch, where: Where) -> int:
    above = (one.tier + 1 for one in sketch.measures if one.where == where and one.edge == "above")
    return max(above, default=0)


def _title(painter: QPainter, window: Window, theme: Theme, words: str, tiers: int = 0) -> None:
    """Write what a drawing shows, above its dimensions."""
    painter.setPen(theme.colour("ink_dim"))
    painter.drawText(QPointF(window.rect.x, window.rect.y - 8 - tiers * (TIER + 7)), words)


def _size(reach_mm: Range, unit: LengthUnit) -> str:
    return f"{format_length(reach_mm[2], unit)} × {format_length(reach_mm[3], unit)}"
