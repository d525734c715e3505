"""What the canvas shows, and its painting as a whole."""

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from gauze.core.design import Design
from gauze.core.evaluate import Evaluation
from gauze.core.evaluate.profile import Profile, profile_at
from gauze.core.layout import Layout, panel_layout
from gauze.core.units import LengthUnit
from gauze.core.units.length import format_distance
from gauze.ui.canvas.geometry import View
from gauze.ui.canvas.layers import Layers
from gauze.ui.canvas.paint_cut import paint_box, paint_lid, paint_profile
from gauze.ui.canvas.paint_dimensions import paint_legend
from gauze.ui.canvas.paint_plan import paint_bare, paint_cut_line, paint_face_border, paint_seam, to_qrect
from gauze.ui.text import tr
from gauze.ui.theme import Theme
from gauze.ui.view_state import ViewState

_CATALOGUE_LID_MM = 3.0  # drawn until the first light tells the sheet's own thickness


@dataclass(frozen=True)
class Scene:
    """The design laid out, its light when there is one, and that of another to be set against it."""

    design: Design
    layout: Layout
    evaluation: Evaluation | None
    other: Evaluation | None = None

    def cut_y_mm(self, state: ViewState) -> float:
        """Return where the side cut is taken."""
        return state.cut_share * self.layout.box.height_mm


@dataclass(frozen=True)
class Lively:
    """What stands out at the moment: by kind of grip, as focused or held."""

    focused: str | None
    held: str | None
    lid_hovered: bool


class ScenePainter:
    """Paints plan and side cut, keeping what is costly from one painting to the next."""

    def __init__(self) -> None:
        self._layers = Layers()
        self._profile: tuple[object, Profile] | None = None

    def paint_plan(
        self, painter: QPainter, view: View, scene: Scene, state: ViewState, theme: Theme, lively: Lively
    ) -> None:
        """Paint bare strips and lit face on either side of the seam."""
        device = painter.device()
        ratio = device.devicePixelRatioF() if device is not None else 1.0
        seam_x = view.plan.x + state.seam_share * view.plan.width
        painter.save()
        painter.setClipRect(QRectF(0, 0, view.width, view.cut_top))
        painter.fillRect(to_qrect(view.plan), theme.colour("panel"))
        painter.save()
        painter.setClipRect(QRectF(0, 0, seam_x, view.cut_top), Qt.ClipOperation.IntersectClip)
        if scene.other is not None:
            self._layers.paint_other(painter, view, scene.other, state)
        elif lively.held == "row":
            paint_bare(painter, view, scene.layout)  # changes with every step: no use in keeping it
        else:
            painter.drawPixmap(0, 0, self._layers.bare(view, scene.layout, ratio))
        painter.restore()
        if scene.evaluation is not None:
            painter.save()
            painter.setClipRect(QRectF(seam_x, 0, view.width, view.cut_top), Qt.ClipOperation.IntersectClip)
            painter.drawPixmap(0, 0, self._layers.lit(view, scene.evaluation, state, ratio))
            painter.restore()
        paint_face_border(painter, view, theme)
        paint_cut_line(painter, view, theme, scene.cut_y_mm(state), focused=lively.focused == "cut")
        words = (tr("bare strips"), tr("lit face"))
        if scene.other is not None:
            words = (scene.other.design.name, tr("this design"))
        paint_seam(painter, view, theme, seam_x, words, focused=lively.focused == "seam")
        painter.restore()

    def paint_cut(
        self,
        painter: QPainter,
        view: View,
        scene: Scene,
        state: ViewState,
        theme: Theme,
        unit: LengthUnit,
        lively: Lively,
    ) -> None:
        """Paint the box in section with its lid, and the profile over it."""
        painter.save()
        painter.setClipRect(QRectF(0, view.cut_top, view.width, view.height - view.cut_top))
        painter.setPen(QPen(theme.colour("line"), 1.0))
        painter.drawLine(QPointF(0, view.cut_top), QPointF(view.width, view.cut_top))
        seam_x = view.plan.x + state.seam_share * view.plan.width
        paint_box(painter, view, scene.layout, theme, seam_x, scene.cut_y_mm(state))
        evaluation = scene.evaluation
        thickness_mm, line = _CATALOGUE_LID_MM, None
        if evaluation is not None:
            thickness_mm = evaluation.diffuser.thickness_mm
            line = self._layers.line(evaluation, state, state.cut_share)
            lid_top = view.cut.y - max(thickness_mm * view.scale, 4.0)
            purpose = scene.design.purpose
            distance = format_distance(purpose.viewing_distance_mm, unit)
            by_camera = purpose.viewer == "camera"
            seen_from = tr("by the camera") if by_camera else tr("from {distance}").format(distance=distance)
            paint_profile(painter, view, theme, self._current_profile(evaluation, state), lid_top, seen_from)
        active = "lid" in (lively.focused, lively.held) or lively.lid_hovered
        paint_lid(painter, view, theme, seam_x, thickness_mm, line, active=active)
        if state.false_colour and evaluation is not None:
            paint_legend(painter, view, theme, evaluation.evenness.min_cd_m2, evaluation.evenness.max_cd_m2)
        painter.restore()

    def _current_profile(self, evaluation: Evaluation, state: ViewState) -> Profile:
        key = (id(evaluation), state.cut_share)
        if self._profile is None or self._profile[0] != key:
            profile = profile_at(evaluation, state.cut_share * panel_layout(evaluation.layout).box.height_mm)
            assert profile is not None  # a panel's face fills its map
            self._profile = (key, profile)
        return self._profile[1]
