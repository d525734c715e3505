"""Paints the drawing as a whole, keeping what is costly from one painting to the next."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPixmap

from gauze.core.design import Design
from gauze.core.drawing.layers import Layer, layers_of
from gauze.core.evaluate import CavityFaceLight, Evaluation
from gauze.core.evaluate.profile import Profile, profile_at
from gauze.core.layout import Instance, Layout
from gauze.core.layout.sketch import Handle, MovableItem, Sketch, Where
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.ui.canvas.dimensions import TIER, Dimension
from gauze.ui.canvas.geometry import Range, Rect, Window
from gauze.ui.canvas.hand.hold import detail_frame
from gauze.ui.canvas.kept import antialiased, blank, ratio_of
from gauze.ui.canvas.paint.lit_faces import LitFaces, following
from gauze.ui.canvas.paint.paint_dimensions import paint_dimensions, paint_scale
from gauze.ui.canvas.paint.paint_layers import paint_layers
from gauze.ui.canvas.paint.paint_marks import paint_cut_grip, paint_detail_frame, paint_glow, paint_grips, paint_hold
from gauze.ui.canvas.paint.paint_profile import paint_cut_line, paint_profile
from gauze.ui.canvas.paint.paint_views import paint_cut, paint_plan
from gauze.ui.canvas.paint.shapes import to_qrect
from gauze.ui.canvas.sheet import Sheet, face_range_mm
from gauze.ui.text import tr
from gauze.ui.theme import Theme
from gauze.ui.view_state import ViewState


@dataclass(frozen=True)
class Scene:
    """A design laid out, its light as far as it is known, and the light of another to be set against it."""

    design: Design
    layout: Layout
    evaluation: Evaluation | None
    other: Evaluation | None = None


@dataclass(frozen=True)
class Lively:
    """What stands out at the moment: what is held, focused or under the pointer; dimensions hovered, focused and refused."""

    what: Handle | MovableItem | None = None
    line: str | None = None
    hovered: str | None = None
    focused: str | None = None
    refused: str | None = None


class DrawingPainter:
    """Paints the drawings; pictures, outlines and profile are made anew only when they change."""

    def __init__(self) -> None:
        self._faces = LitFaces()
        self._profile: tuple[Evaluation, float, Profile | None] | None = None
        self._profile_drawn: tuple[Evaluation, object, QPixmap] | None = None
        self._plan: tuple[tuple[object, ...], Layout, QPixmap] | None = None
        self._layers: tuple[Layout, tuple[Layer, ...]] | None = None

    def prepare(self, scene: Scene, state: ViewState) -> None:
        """Make the pictures of a scene's light before it is painted."""
        for evaluation in (scene.evaluation, scene.other):
            if evaluation is not None:
                self._faces.prepare(evaluation, state)

    def paint(
        self,
        painter: QPainter,
        area: QRectF,
        scene: Scene,
        sheet: Sheet,
        state: ViewState,
        theme: Theme,
        unit: LengthUnit,
        lively: Lively,
    ) -> None:
        """Paint plan, face, side cut and profile, as far as they are on the canvas."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        painter.drawPixmap(0, 0, self._plan_pixmap(painter, area, scene, sheet, theme))
        if sheet.shows("cut"):
            paint_cut(painter, sheet.cut, scene.layout, theme)
        if sheet.shows("face"):
            self._paint_face(painter, area, scene, sheet, state, theme, lively)
        sketch = scene.layout.sketch
        if not sheet.seam and sheet.shows("plan"):
            words = tr("plan, {size}").format(size=_size(sketch.plan_mm, unit)) + _alone_words(sheet)
            _title(painter, sheet.plan.rect, theme, words, _tiers_above(sketch, "plan"))
        if sheet.shows("cut"):
            words = tr("side cut, {size}").format(size=_size(sketch.cut_mm, unit)) + _alone_words(sheet)
            over = replace(sheet.cut.rect, y=sheet.cut.rect.y - 8.0)  # the sheet glows above its line
            _title(painter, over, theme, words, _tiers_above(sketch, "cut"))
        if state.layers:
            paint_layers(painter, sheet, area.height(), self._layers_of(scene), state.layers, theme)
        if scene.evaluation is not None:
            self._paint_glow(painter, sheet, scene.evaluation, state)
            painter.drawPixmap(0, 0, self._profile_pixmap(painter, area, scene.evaluation, sheet, state, theme, unit))
            if sheet.shows("face"):
                paint_cut_grip(painter, sheet.face, state.cut_share, theme, focused=lively.line == "cut")
            if state.false_colour:
                even = scene.evaluation.evenness
                bar = QRectF(area.width() - 236, area.height() - 32, 220, 9)
                paint_scale(painter, bar, theme, even.min_cd_m2, even.max_cd_m2)
        if sheet.detail is not None:
            self._paint_detail(painter, scene, sheet, sheet.detail, state, theme, focused=lively.line == "detail")

    def paint_inputs(
        self,
        painter: QPainter,
        sheet: Sheet,
        layout: Layout,
        theme: Theme,
        dimensions: Sequence[Dimension],
        lively: Lively,
    ) -> None:
        """Paint dimensions and handles."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        for where in ("plan", "cut"):
            own = [handle for handle in layout.sketch.handles if handle.where == where and handle.visited]
            if sheet.shows(where):
                paint_grips(painter, sheet.plan if where == "plan" else sheet.cut, own, theme)
        if lively.what is not None:
            where = lively.what.where if isinstance(lively.what, Handle) else "plan"
            paint_hold(painter, sheet.window(where), lively.what, theme)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        paint_dimensions(painter, theme, dimensions, lively.hovered, lively.focused, lively.refused)

    def _layers_of(self, scene: Scene) -> tuple[Layer, ...]:
        """What can lie over the plan; stated anew only when the layout is another."""
        if self._layers is None or self._layers[0] is not scene.layout:
            self._layers = (scene.layout, layers_of(scene.design, scene.layout))
        return self._layers[1]

    def _paint_glow(self, painter: QPainter, sheet: Sheet, evaluation: Evaluation, state: ViewState) -> None:
        """The sheet in the side cut, as bright as the face along the cut."""
        if sheet.shows("cut") and not evaluation.layout.cavity.surface.lit_from_inside:
            thickness_mm = evaluation.diffuser.thickness_mm
            strip = self._faces.strip(evaluation, state, across=evaluation.layout.sketch.cut_axis == "y")
            paint_glow(painter, sheet.cut, evaluation.layout.sketch.cut, strip, thickness_mm)

    def _paint_detail(
        self,
        painter: QPainter,
        scene: Scene,
        sheet: Sheet,
        detail: Window,
        state: ViewState,
        theme: Theme,
        *,
        focused: bool,
    ) -> None:
        """A part of a thin plan magnified: bare on the left, lit on the right."""
        rect = to_qrect(detail.rect)
        middle = rect.center().x()
        painter.save()
        painter.setClipRect(rect.adjusted(-1, -6, 1, 6))
        paint_plan(painter, detail, scene.layout, theme)
        if scene.evaluation is not None and not state.from_back:
            face = detail if sheet.seam else replace(detail, low_mm=_face_low_mm(scene.evaluation, detail))
            lit = QRectF(middle, rect.y() - 6, rect.width(), rect.height() + 12)
            painter.setClipRect(lit.intersected(rect.adjusted(-1, -6, 1, 6)))
            self._faces.paint_plainly(painter, face, scene.evaluation, state)
        painter.restore()
        paint_detail_frame(painter, detail_frame(sheet.plan, detail), detail, theme, focused=focused)
        times = format_number(detail.scale / sheet.plan.scale, 2)
        _title(painter, detail.rect, theme, tr("magnified {times} times: bare | lit").format(times=times))

    def _plan_pixmap(self, painter: QPainter, area: QRectF, scene: Scene, sheet: Sheet, theme: Theme) -> QPixmap:
        """The plan, painted anew only when it changes: there may be very many emitters."""
        ratio, layout = ratio_of(painter), scene.layout
        look = (theme.name, area.width(), area.height(), ratio)
        if self._plan is None or self._plan[1] is not layout or self._plan[0][::2] != (sheet.plan, look):
            key = (sheet.plan, _seen_in_plan(layout), look)
            if self._plan is None or self._plan[0] != key:
                pixmap = blank(area, ratio)
                own = antialiased(pixmap)
                if sheet.shows("plan"):
                    paint_plan(own, sheet.plan, layout, theme)
                own.end()
            else:
                pixmap = self._plan[2]
            self._plan = (key, layout, pixmap)
        return self._plan[2]

    # -- the lit face ----------------------------------------------------------------------------------------------

    def _paint_face(
        self,
        painter: QPainter,
        area: QRectF,
        scene: Scene,
        sheet: Sheet,
        state: ViewState,
        theme: Theme,
        lively: Lively,
    ) -> None:
        window, rect = sheet.face, to_qrect(sheet.face.rect)
        evaluation = scene.evaluation
        if evaluation is None:
            painter.setPen(QPen(theme.colour("line"), 1.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(rect)
            _title(painter, window.rect, theme, tr("lit face: being computed …"))
            return
        seam_x = rect.left() + state.seam_share * rect.width()
        lit = QRectF(seam_x, 0.0, 1e5, 1e5) if sheet.seam or scene.other is not None else None
        if state.from_back and sheet.seam:
            _title(painter, window.rect, theme, tr("seen from the back, mirrored, as it is wired"), 1)
            return
        follow = following(evaluation.layout, scene.layout) if sheet.seam else None
        self._faces.paint(painter, area, window, evaluation, state, lit, follow)
        if scene.other is not None:
            beside = QRectF(-1e5, 0.0, 1e5 + seam_x, 1e5)
            self._faces.paint(painter, area, window, scene.other, state, beside)
        if isinstance(evaluation.light, CavityFaceLight):
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("line"), 1.0))
            painter.drawPath(self._faces.outline(evaluation, window))
        if lit is None:
            _title(painter, window.rect, theme, _face_words(evaluation))
        else:
            right = tr("this design") if scene.other is not None else tr("lit face")
            left = scene.other.design.name if scene.other is not None else tr("bare")
            _paint_seam(painter, rect, theme, seam_x, (left, right), focused=lively.line == "seam")

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
        v_mm = _cut_mm(evaluation, state)
        ratio = ratio_of(painter)
        key = (v_mm, face, sheet.profile, unit, theme.name, area.width(), area.height(), ratio)
        if self._profile_drawn is None or self._profile_drawn[0] is not evaluation or self._profile_drawn[1] != key:
            pixmap = blank(area, ratio)
            self._profile_drawn = (evaluation, key, pixmap)
            own = antialiased(pixmap)
            own.setFont(painter.font())
            if sheet.shows("face"):
                paint_cut_line(own, face, v_mm, theme)
            profile = self._profile_at(evaluation, v_mm)
            if profile is None and sheet.shows("profile"):
                own.setPen(theme.colour("ink_dim"))
                words = tr("the line of the cut crosses no lit face: drag it up or down")
                own.drawText(to_qrect(sheet.profile), Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, words)
            if profile is not None and sheet.shows("profile"):
                words = _seen_by(evaluation)
                paint_profile(own, to_qrect(sheet.profile), face, profile, theme, words, unit)
            own.end()
        return self._profile_drawn[2]

    def _profile_at(self, evaluation: Evaluation, v_mm: float) -> Profile | None:
        if self._profile is None or self._profile[0] is not evaluation or self._profile[1] != v_mm:
            self._profile = (evaluation, v_mm, profile_at(evaluation, v_mm))
        return self._profile[2]


def _cut_mm(evaluation: Evaluation, state: ViewState) -> float:
    """Where on the face the profile is taken."""
    _, low, _, high = face_range_mm(evaluation.x_mm, evaluation.y_mm)
    return low + state.cut_share * high


def _face_low_mm(evaluation: Evaluation, detail: Window) -> float:
    """What lies at the foot of a magnified part of an unrolled face: its middle in the middle."""
    _, low, _, high = face_range_mm(evaluation.x_mm, evaluation.y_mm)
    return low + (high - detail.rect.height / detail.scale) / 2.0


def _seen_by(evaluation: Evaluation) -> str:
    return tr("by the camera") if evaluation.design.purpose.viewer == "camera" else tr("by the eye")


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


def _face_words(evaluation: Evaluation) -> str:
    even = evaluation.evenness
    return tr("lit face{unrolled}, {least} to {most} cd/m²").format(
        unrolled="" if evaluation.opening_mm[2] == 0 else tr(", unrolled"),
        least=format_number(even.min_cd_m2),
        most=format_number(even.max_cd_m2),
    )


def _paint_seam(
    painter: QPainter, face: QRectF, theme: Theme, seam_x: float, words: tuple[str, str], *, focused: bool
) -> None:
    painter.setPen(QPen(theme.colour("accent"), 1.0))
    painter.drawLine(QPointF(seam_x, face.top() - 2), QPointF(seam_x, face.bottom()))
    painter.setBrush(theme.colour("accent"))
    handle = QRectF(seam_x - 6, face.top() - 17, 12, 14)
    painter.drawRoundedRect(handle, 3, 3)
    painter.setPen(QPen(theme.colour("on_accent"), 1.0))
    for offset in (-2.0, 2.0):
        painter.drawLine(QPointF(seam_x + offset, face.top() - 13), QPointF(seam_x + offset, face.top() - 7))
    if focused:
        painter.setPen(QPen(theme.colour("accent"), 1.5))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(handle.adjusted(-3, -3, 3, 3), 4, 4)
    painter.setPen(theme.colour("ink_dim"))
    left, right = words
    width = painter.fontMetrics().horizontalAdvance(left)
    painter.drawText(QPointF(seam_x - 12 - width, face.top() - 6), left)
    painter.drawText(QPointF(seam_x + 12, face.top() - 6), right)


def _alone_words(sheet: Sheet) -> str:
    return "" if sheet.alone is None else tr("; Esc shows all views")


def _tiers_above(sketch: Sketch, where: Where) -> int:
    above = (one.tier + 1 for one in sketch.measures if one.where == where and one.edge == "above")
    return max(above, default=0)


def _title(painter: QPainter, rect: Rect, theme: Theme, words: str, tiers: int = 0) -> None:
    """Write what a drawing shows, above its dimensions."""
    painter.setPen(theme.colour("ink_dim"))
    painter.drawText(QPointF(rect.x, rect.y - 8 - tiers * (TIER + 7)), words)


def _size(reach_mm: Range, unit: LengthUnit) -> str:
    return f"{format_length(reach_mm[2], unit)} × {format_length(reach_mm[3], unit)}"
