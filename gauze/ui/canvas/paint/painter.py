"""Paints the drawing as a whole, keeping what is costly from one painting to the next."""

from collections.abc import Sequence
from dataclasses import replace

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from gauze.core.drawing import Layer, layers_of
from gauze.core.electrical.power import Power
from gauze.core.evaluate import CavityFaceLight, Evaluation
from gauze.core.layout import Layout
from gauze.core.layout.sketch import Handle, Sketch, Where
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.ui.canvas.dimensions import TIER, Dimension
from gauze.ui.canvas.geometry import Range, Rect, Window
from gauze.ui.canvas.hand.hold import detail_frame
from gauze.ui.canvas.paint.frame import Frame, Scene
from gauze.ui.canvas.paint.kept_views import KeptPlan, KeptProfile
from gauze.ui.canvas.paint.lit_faces import LitFaces, following
from gauze.ui.canvas.paint.paint_dimensions import paint_dimensions, paint_scale
from gauze.ui.canvas.paint.paint_layers import paint_layers, paint_picked
from gauze.ui.canvas.paint.paint_marks import paint_cut_grip, paint_detail_frame, paint_glow, paint_grips, paint_hold
from gauze.ui.canvas.paint.paint_profile import paint_cut_line
from gauze.ui.canvas.paint.paint_views import paint_cut, paint_plan
from gauze.ui.canvas.paint.shapes import to_qrect
from gauze.ui.canvas.sheet import Sheet, face_range_mm
from gauze.ui.text import tr
from gauze.ui.theme import Theme
from gauze.ui.view_state import ViewState


class DrawingPainter:
    """Paints the drawings; pictures, outlines and profile are made again only when they change."""

    def __init__(self) -> None:
        self._faces = LitFaces()
        self._plan = KeptPlan()
        self._profile = KeptProfile()
        self._layers: tuple[Layout, Power | None, tuple[Layer, ...]] | None = None

    def prepare(self, scene: Scene, state: ViewState) -> None:
        """Make the pictures of a scene's light before it is painted."""
        for evaluation in (scene.evaluation, scene.other):
            if evaluation is not None:
                self._faces.prepare(evaluation, state)

    def paint(self, painter: QPainter, frame: Frame) -> None:
        """Paint plan, face, side cut and profile, as far as they are on the canvas."""
        scene, sheet, state, theme = frame.scene, frame.sheet, frame.state, frame.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        self._plan.paint(painter, frame)
        if sheet.shows("cut"):
            paint_cut(painter, sheet.cut, scene.layout, theme)
        if sheet.shows("face"):
            self._paint_face(painter, frame)
        _paint_titles(painter, frame)
        if state.layers:
            area = QRectF(0.0, 0.0, frame.area.width(), frame.area.height())
            paint_layers(painter, sheet, area, self._layers_of(scene), state.layers, theme)
        if frame.picked and sheet.shows("plan"):
            paint_picked(painter, sheet.plan, frame.picked, theme)
        if frame.picked_in_cut and sheet.shows("cut"):
            paint_picked(painter, sheet.cut, frame.picked_in_cut, theme)
        if scene.evaluation is not None:
            self._paint_light(painter, frame, scene.evaluation)
        if sheet.detail is not None:
            self._paint_detail(painter, frame, sheet.detail)

    def _paint_light(self, painter: QPainter, frame: Frame, evaluation: Evaluation) -> None:
        """What is known of the light beside the face: the sheet's glow, the cut with its profile, the scale of false colours."""
        sheet, state, theme, v_mm = frame.sheet, frame.state, frame.theme, _cut_mm(evaluation, frame.state)
        self._paint_glow(painter, sheet, evaluation, state)
        if sheet.shows("face"):
            paint_cut_line(painter, sheet.face, v_mm, theme)
        self._profile.paint(painter, frame, evaluation, v_mm)
        if sheet.shows("face"):
            paint_cut_grip(painter, sheet.face, state.cut_share, theme, focused=frame.lively.line == "cut")
        if state.false_colour:
            even = evaluation.evenness
            bar = QRectF(frame.area.width() - 236, frame.area.height() - 32, 220, 9)
            paint_scale(painter, bar, theme, even.min_cd_m2, even.max_cd_m2)

    def paint_inputs(self, painter: QPainter, frame: Frame, dimensions: Sequence[Dimension]) -> None:
        """Paint dimensions and handles."""
        sheet, theme, lively = frame.sheet, frame.theme, frame.lively
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        for where in ("plan", "cut"):
            own = [one for one in frame.scene.layout.sketch.handles if one.where == where and one.visited]
            if sheet.shows(where):
                paint_grips(painter, sheet.plan if where == "plan" else sheet.cut, own, theme)
        if lively.what is not None:
            where = lively.what.where if isinstance(lively.what, Handle) else "plan"
            paint_hold(painter, sheet.window(where), lively.what, theme)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        paint_dimensions(painter, theme, dimensions, lively.hovered, lively.focused, lively.refused)

    def _layers_of(self, scene: Scene) -> tuple[Layer, ...]:
        """What can lie over the plan; stated again only when the layout or its power is another."""
        power = None if scene.evaluation is None else scene.evaluation.network.power
        warmth = None if scene.evaluation is None else scene.evaluation.warmth
        if self._layers is None or self._layers[0] is not scene.layout or self._layers[1] is not power:
            self._layers = (scene.layout, power, layers_of(scene.design, scene.layout, power, warmth))
        return self._layers[2]

    def _paint_glow(self, painter: QPainter, sheet: Sheet, evaluation: Evaluation, state: ViewState) -> None:
        """The sheet in the side cut, as bright as the face along the cut."""
        if sheet.shows("cut") and not evaluation.layout.cavity.surface.lit_from_inside:
            thickness_mm = evaluation.diffuser.thickness_mm
            strip = self._faces.strip(evaluation, state, across=evaluation.layout.sketch.cut_axis == "y")
            paint_glow(painter, sheet.cut, evaluation.layout.sketch.cut, strip, thickness_mm)

    def _paint_detail(self, painter: QPainter, frame: Frame, detail: Window) -> None:
        """A part of a thin plan magnified: bare on the left, lit on the right."""
        scene, sheet, state, theme = frame.scene, frame.sheet, frame.state, frame.theme
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
        paint_detail_frame(
            painter, detail_frame(sheet.plan, detail), detail, theme, focused=frame.lively.line == "detail"
        )
        times = format_number(detail.scale / sheet.plan.scale, 2)
        _title(painter, detail.rect, theme, tr("magnified {times} times: bare | lit").format(times=times))

    # -- the lit face ----------------------------------------------------------------------------------------------

    def _paint_face(self, painter: QPainter, frame: Frame) -> None:
        scene, sheet, state, theme, area = frame.scene, frame.sheet, frame.state, frame.theme, frame.area
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
            _paint_seam(painter, rect, theme, seam_x, (left, right), focused=frame.lively.line == "seam")


def _cut_mm(evaluation: Evaluation, state: ViewState) -> float:
    """Where on the face the profile is taken."""
    _, low, _, high = face_range_mm(evaluation.x_mm, evaluation.y_mm)
    return low + state.cut_share * high


def _face_low_mm(evaluation: Evaluation, detail: Window) -> float:
    """What lies at the foot of a magnified part of an unrolled face: its middle in the middle."""
    _, low, _, high = face_range_mm(evaluation.x_mm, evaluation.y_mm)
    return low + (high - detail.rect.height / detail.scale) / 2.0


def _paint_titles(painter: QPainter, frame: Frame) -> None:
    """Say what plan and side cut are; a plan under its lit face needs no title."""
    sheet, sketch = frame.sheet, frame.scene.layout.sketch
    if not sheet.seam and sheet.shows("plan"):
        words = tr("plan, {size}").format(size=_size(sketch.plan_mm, frame.unit)) + _alone_words(sheet)
        _title(painter, sheet.plan.rect, frame.theme, words, _tiers_above(sketch, "plan"))
    if sheet.shows("cut"):
        words = tr("side cut, {size}").format(size=_size(sketch.cut_mm, frame.unit)) + _alone_words(sheet)
        over = replace(sheet.cut.rect, y=sheet.cut.rect.y - 8.0)  # the sheet glows above its line
        _title(painter, over, frame.theme, words, _tiers_above(sketch, "cut"))


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
