"""The drawing as a widget: shows the layers, hands out the dimensions, and follows the hand."""

from dataclasses import dataclass, replace

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QWidget

from gauze.core.design import Design
from gauze.core.evaluate import AT_REST, Evaluation
from gauze.core.evaluate.profile import Profile, profile_along_x
from gauze.core.layout import Layout
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.core.units.length import MM_PER_INCH, format_distance
from gauze.ui.canvas.dimensions import Dimension, Grip, dimension_at, dimensions, grip_at, grips
from gauze.ui.canvas.geometry import View, fit_view, panned, with_box, zoomed
from gauze.ui.canvas.inline_editor import Bubble, InlineEditor
from gauze.ui.canvas.layers import Layers
from gauze.ui.canvas.paint_cut import paint_box, paint_lid, paint_profile
from gauze.ui.canvas.paint_dimensions import paint_dimensions, paint_legend
from gauze.ui.canvas.paint_plan import paint_bare, paint_cut_line, paint_face_border, paint_seam, to_qrect
from gauze.ui.text import tr
from gauze.ui.theme import Theme
from gauze.ui.view_state import ViewState

_ZOOM_STEP = 1.2
_NUDGE_SHARE = 0.02  # of seam and cut for one press of an arrow key
_CURSORS = {
    "lid": Qt.CursorShape.SizeVerCursor,
    "seam": Qt.CursorShape.SizeHorCursor,
    "cut": Qt.CursorShape.SizeVerCursor,
}


@dataclass(frozen=True)
class Scene:
    """What the canvas shows: the design laid out, and its light when there is one."""

    design: Design
    layout: Layout
    evaluation: Evaluation | None


class Canvas(QWidget):
    """Plan and side cut. It shows and asks; what an edit means is decided by whoever listens."""

    typed = pyqtSignal(str, str)  # key of a dimension, text
    lid_dragged = pyqtSignal(float, object)  # inner depth in mm, gesture
    row_dragged = pyqtSignal(int, float, object)  # index, place across in mm, gesture
    view_changed = pyqtSignal(object)  # ViewState
    hovered = pyqtSignal(str)
    menu_wanted = pyqtSignal(object, object)  # global position, Dimension | None

    def __init__(self, theme: Theme, unit: LengthUnit) -> None:
        super().__init__()
        self._theme, self._unit = theme, unit
        self._scene: Scene | None = None
        self._state = ViewState()
        self._view: View | None = None
        self._fitted = True
        self._layers = Layers()
        self._profile: tuple[object, Profile] | None = None
        self._dimensions: list[Dimension] = []
        self._grips: list[Grip] = []
        self._hovered: str | None = None
        self._wrong: str | None = None
        self._stop: int | None = None
        self._grabbed: Grip | None = None
        self._grab_offset = 0.0
        self._gesture: object = None
        self._pan_from: QPointF | None = None
        self._editor = InlineEditor(self)
        self._editor.typed.connect(self.typed)
        self._editor.left.connect(lambda: self.setFocus(Qt.FocusReason.OtherFocusReason))
        self._bubble = Bubble(self)
        self._bubble.set_theme(theme)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(520, 460)
        self.setAccessibleName(tr("Drawing: plan and side cut"))

    # -- what is shown --------------------------------------------------------------------------------------------

    def show_scene(self, scene: Scene) -> None:
        """Show a design, or its light."""
        self._scene = scene
        self._wrong = None
        if self._grabbed is not None and self._view is not None:
            self._view = with_box(self._view, scene.layout.box)
        elif self._fitted or self._view is None:
            self._view = fit_view(self.width(), self.height(), scene.layout.box)
        else:
            self._view = with_box(self._view, scene.layout.box)
        if self._editor.key is not None and not self._editor.isHidden():
            self._editor.close_editor()
        self._arrange()

    def set_look(self, theme: Theme, unit: LengthUnit) -> None:
        """Take another theme or unit."""
        self._theme, self._unit = theme, unit
        self._bubble.set_theme(theme)
        self._arrange()

    def set_state(self, state: ViewState) -> None:
        """Look at the face in another way."""
        self._state = state
        self._arrange()

    @property
    def state(self) -> ViewState:
        """How the face is looked at."""
        return self._state

    def fit(self) -> None:
        """Show the whole design."""
        self._fitted = True
        if self._scene is not None:
            self._view = fit_view(self.width(), self.height(), self._scene.layout.box)
            self._arrange()

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom about a point, or the middle of the plan's area."""
        if self._view is None or self._scene is None:
            return
        point = at if at is not None else QPointF(self.width() / 2, self._view.cut_top / 2)
        fitted = fit_view(self.width(), self.height(), self._scene.layout.box)
        self._view = zoomed(self._view, fitted, factor, point.x(), point.y())
        self._fitted = False
        self._arrange()

    def refuse(self, field: str, message: str) -> None:
        """Say at the dimension concerned why a value will not do."""
        dimension = next((d for d in self._dimensions if d.field == field), None)
        edited = next((d for d in self._dimensions if d.key == self._editor.key), None)
        place = edited or dimension
        self._wrong = place.key if place is not None else None
        if place is not None:
            rect = place.text_rect
            self._bubble.say(message, rect.x + rect.width / 2, rect.y, rect.bottom)
        else:
            self._bubble.say(message, self.width() / 2, 40, 40)
        self.update()

    def edit(self, key: str) -> None:
        """Open the editor on a dimension."""
        dimension = next((d for d in self._dimensions if d.key == key), None)
        if dimension is not None and self._scene is not None:
            self._bubble.hide()
            self._editor.open_on(dimension, self._value_text(dimension))

    def finish_editing(self) -> None:
        """Close the editor: its value was taken."""
        if self._editor.key is not None:
            self._editor.close_editor()

    def _value_text(self, dimension: Dimension) -> str:
        assert self._scene is not None
        design = self._scene.design
        if dimension.key == "row_count":
            return str(len(self._scene.layout.rows))
        if dimension.key == "shift":
            return format_length(design.build.alternate_shift_mm, self._unit)
        if dimension.key == "viewing_distance":
            return format_length(design.purpose.viewing_distance_mm, self._unit)
        return dimension.text

    def _arrange(self) -> None:
        if self._scene is None or self._view is None:
            return
        metrics = self.fontMetrics()
        self._dimensions = dimensions(
            self._view, self._scene.design, self._scene.layout, self._unit, lambda text: float(metrics.horizontalAdvance(text))
        )
        self._grips = grips(self._view, self._scene.layout, self._state.seam_share, self._cut_y_mm())
        words = ", ".join(f"{d.name} {d.text}" for d in self._dimensions)
        self.setAccessibleDescription(words)
        self.update()

    def grips_now(self) -> list[Grip]:
        """Return what can be dragged, where it stands now."""
        return list(self._grips)

    def dimensions_now(self) -> list[Dimension]:
        """Return the dimensions, where they stand now."""
        return list(self._dimensions)

    def _cut_y_mm(self) -> float:
        assert self._scene is not None
        return self._state.cut_share * self._scene.layout.box.height_mm

    # -- painting -------------------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Paint plan, side cut and dimensions."""
        del event  # the whole is cheap enough
        painter = QPainter(self)
        painter.fillRect(self.rect(), self._theme.colour("paper"))
        if self._scene is None or self._view is None:
            return
        self._paint_plan(painter, self._view, self._scene)
        self._paint_cut(painter, self._view, self._scene)
        key = self._stop_key()
        paint_dimensions(
            painter, self._theme, self._dimensions, self._hovered, key if isinstance(key, str) else None, self._wrong
        )
        painter.end()

    def _paint_plan(self, painter: QPainter, view: View, scene: Scene) -> None:
        ratio = self.devicePixelRatioF()
        seam_x = view.plan.x + self._state.seam_share * view.plan.width
        painter.save()
        painter.setClipRect(QRectF(0, 0, view.width, view.cut_top))
        plan = to_qrect(view.plan)
        painter.fillRect(plan, self._theme.colour("panel"))
        painter.save()
        painter.setClipRect(QRectF(0, 0, seam_x, view.cut_top), Qt.ClipOperation.IntersectClip)
        if self._grabbed is not None and self._grabbed.kind == "row":
            paint_bare(painter, view, scene.layout)  # changes with every step: no use in keeping it
        else:
            painter.drawPixmap(0, 0, self._layers.bare(view, scene.layout, ratio))
        painter.restore()
        if scene.evaluation is not None:
            painter.save()
            painter.setClipRect(QRectF(seam_x, 0, view.width, view.cut_top), Qt.ClipOperation.IntersectClip)
            painter.drawPixmap(0, 0, self._layers.lit(view, scene.evaluation, self._state, ratio))
            painter.restore()
        paint_face_border(painter, view, self._theme)
        paint_cut_line(painter, view, self._theme, self._cut_y_mm(), self._is_stop("cut"))
        paint_seam(painter, view, self._theme, seam_x, (tr("bare strips"), tr("lit face")), self._is_stop("seam"))
        painter.restore()

    def _paint_cut(self, painter: QPainter, view: View, scene: Scene) -> None:
        painter.save()
        painter.setClipRect(QRectF(0, view.cut_top, view.width, view.height - view.cut_top))
        painter.setPen(QPen(self._theme.colour("line"), 1.0))
        painter.drawLine(QPointF(0, view.cut_top), QPointF(view.width, view.cut_top))
        seam_x = view.plan.x + self._state.seam_share * view.plan.width
        paint_box(painter, view, scene.layout, self._theme, seam_x, self._cut_y_mm())
        evaluation = scene.evaluation
        thickness_mm, line = 3.0, None
        if evaluation is not None:
            thickness_mm = evaluation.face.diffuser.thickness_mm
            line = self._layers.line(evaluation, self._state, self._state.cut_share)
            lid_top = view.cut.y - max(thickness_mm * view.scale, 4.0)
            seen_from = format_distance(scene.design.purpose.viewing_distance_mm, self._unit)
            paint_profile(painter, view, self._theme, self._current_profile(evaluation), lid_top, seen_from)
        active = self._is_stop("lid") or (self._grabbed is not None and self._grabbed.kind == "lid") or self._hovered == "lid"
        paint_lid(painter, view, self._theme, seam_x, thickness_mm, line, active)
        if self._state.false_colour and evaluation is not None:
            even = evaluation.evenness
            paint_legend(painter, view, self._theme, even.min_cd_m2, even.max_cd_m2)
        painter.restore()

    def _current_profile(self, evaluation: Evaluation) -> Profile:
        key = (id(evaluation), self._state.cut_share)
        if self._profile is None or self._profile[0] != key:
            self._profile = (key, profile_along_x(evaluation, self._state.cut_share * evaluation.layout.box.height_mm))
        return self._profile[1]

    # -- keyboard -------------------------------------------------------------------------------------------------

    def _stops(self) -> list[str | Grip]:
        """Everything that Tab visits: the dimensions, then lid, outermost row, seam and cut."""
        rows = [grip for grip in self._grips if grip.kind == "row"]
        singles = {grip.kind: grip for grip in reversed(self._grips) if grip.kind != "row"}
        order = [singles[kind] for kind in ("lid", "seam", "cut") if kind in singles]
        return [*(dimension.key for dimension in self._dimensions), *order, *rows[-1:]]

    def _stop_key(self) -> str | Grip | None:
        stops = self._stops()
        return stops[self._stop] if self._stop is not None and self._stop < len(stops) and self.hasFocus() else None

    def _is_stop(self, kind: str) -> bool:
        stop = self._stop_key()
        return isinstance(stop, Grip) and stop.kind == kind

    def focusNextPrevChild(self, next: bool) -> bool:  # noqa: N802, A002 - Qt's names
        """Walk through dimensions and grips before the focus leaves the drawing."""
        stops = self._stops()
        start = -1 if self._stop is None else self._stop
        following = start + (1 if next else -1)
        if self._stop is None and not next:
            following = len(stops) - 1
        if 0 <= following < len(stops):
            self._stop = following
            stop = stops[following]
            name = next_name(stop, self._dimensions)
            self.hovered.emit(name)
            self.update()
            return True
        self._stop = None
        self.update()
        return super().focusNextPrevChild(next)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802 - Qt's name
        """Edit with Enter, nudge with the arrows (Shift for ten times as far)."""
        assert event is not None
        self._bubble.hide()
        stop, key = self._stop_key(), event.key()
        arrows = {
            Qt.Key.Key_Up: (0, 1),
            Qt.Key.Key_Down: (0, -1),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Left: (-1, 0),
        }
        if isinstance(stop, str) and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space, Qt.Key.Key_F2):
            self.edit(stop)
        elif isinstance(stop, Grip) and key in arrows:
            right, up = arrows[Qt.Key(key)]
            times = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            self._nudge(stop, right * times, up * times)
        elif key == Qt.Key.Key_Escape:
            self._stop, self._wrong = None, None
            self.update()
        else:
            super().keyPressEvent(event)

    def _nudge(self, grip: Grip, right: int, up: int) -> None:
        assert self._scene is not None
        layout = self._scene.layout
        step_mm = MM_PER_INCH / 16 if self._unit is LengthUnit.INCH else 1.0
        if grip.kind == "lid":
            self.lid_dragged.emit(layout.box.inner_depth_mm + (up + right) * step_mm, ("nudge", "lid"))
        elif grip.kind == "row":
            row = layout.rows[grip.index]
            self.row_dragged.emit(row.index, row.across_mm + (up + right) * step_mm, ("nudge", "row"))
        elif grip.kind == "seam":
            self._change_state(seam_share=_share(self._state.seam_share + _NUDGE_SHARE * right))
        else:
            self._change_state(cut_share=_share(self._state.cut_share + _NUDGE_SHARE * up))

    # -- mouse ----------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Open a dimension, take hold of a grip, or start to pan."""
        assert event is not None
        self._bubble.hide()
        point = event.position()
        if event.button() == Qt.MouseButton.MiddleButton:
            self._pan_from = point
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            return
        if event.button() != Qt.MouseButton.LeftButton or self._view is None:
            return
        dimension = dimension_at(self._dimensions, point.x(), point.y())
        if dimension is not None:
            self.edit(dimension.key)
            return
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        grip = grip_at(self._grips, point.x(), point.y())
        if grip is None:
            if self._in_plan_area(point):
                self._pan_from = point
            return
        self._grabbed, self._gesture, self._stop = grip, object(), None
        self._grab_offset = self._offset(grip, point)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Drag what is held, or tell what is under the pointer."""
        assert event is not None
        point = event.position()
        if self._pan_from is not None and self._view is not None:
            delta = point - self._pan_from
            if delta.manhattanLength() > 0:
                self._view = panned(self._view, delta.x(), delta.y())
                self._fitted, self._pan_from = False, point
                self._arrange()
        elif self._grabbed is not None:
            self._drag(self._grabbed, point)
        else:
            self._hover(point)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Let go; the view fits itself again where it did before."""
        del event
        held = self._grabbed
        self._pan_from, self._grabbed = None, None
        self.unsetCursor()
        if held is not None and self._scene is not None:
            self.show_scene(self._scene)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Fit the view on empty ground."""
        assert event is not None
        point = event.position()
        if dimension_at(self._dimensions, point.x(), point.y()) is None and grip_at(self._grips, point.x(), point.y()) is None:
            self.fit()

    def wheelEvent(self, event: QWheelEvent | None) -> None:  # noqa: N802 - Qt's name
        """Zoom about the pointer."""
        assert event is not None
        steps = event.angleDelta().y() / 120.0
        if steps:
            self.zoom(_ZOOM_STEP**steps, event.position())

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:  # noqa: N802 - Qt's name
        """Ask for the menu of what is under the pointer."""
        assert event is not None
        point = event.pos()
        self.menu_wanted.emit(event.globalPos(), dimension_at(self._dimensions, point.x(), point.y()))

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802 - Qt's name
        """Fit the design to the new size, or keep the zoom and move the side cut to the new base."""
        super().resizeEvent(event)
        if self._scene is None:
            return
        fitted = fit_view(self.width(), self.height(), self._scene.layout.box)
        if self._fitted or self._view is None:
            self._view = fitted
        else:
            self._view = replace(fitted, scale=self._view.scale, left=self._view.left, plan_bottom=self._view.plan_bottom)
        self._arrange()

    def _in_plan_area(self, point: QPointF) -> bool:
        return self._view is not None and point.y() < self._view.cut_top

    def _offset(self, grip: Grip, point: QPointF) -> float:
        """How far from the line itself it was taken hold of, so that it does not jump."""
        assert self._view is not None
        assert self._scene is not None
        view, layout = self._view, self._scene.layout
        if grip.kind == "lid":
            return view.z_mm(point.y()) - layout.box.inner_depth_mm
        if grip.kind == "row":
            return self._across_mm(point) - layout.rows[grip.index].across_mm
        return 0.0

    def _across_mm(self, point: QPointF) -> float:
        assert self._view is not None
        assert self._scene is not None
        if self._scene.layout.row_direction == "along_width":
            return self._view.y_mm(point.y())
        return self._view.x_mm(point.x())

    def _drag(self, grip: Grip, point: QPointF) -> None:
        assert self._view is not None
        view = self._view
        if grip.kind == "lid":
            self.lid_dragged.emit(view.z_mm(point.y()) - self._grab_offset, self._gesture)
        elif grip.kind == "row":
            self.row_dragged.emit(grip.index, self._across_mm(point) - self._grab_offset, self._gesture)
        elif grip.kind == "seam":
            self._change_state(seam_share=_share((point.x() - view.plan.x) / view.plan.width))
        else:
            self._change_state(cut_share=_share((view.plan.bottom - point.y()) / view.plan.height))

    def _change_state(self, **changes: float) -> None:
        self.set_state(replace(self._state, **changes))
        self.view_changed.emit(self._state)

    def _hover(self, point: QPointF) -> None:
        dimension = dimension_at(self._dimensions, point.x(), point.y())
        grip = None if dimension else grip_at(self._grips, point.x(), point.y())
        hovered = dimension.key if dimension else ("lid" if grip is not None and grip.kind == "lid" else None)
        if hovered != self._hovered:
            self._hovered = hovered
            self.update()
        if dimension is not None:
            self.setCursor(Qt.CursorShape.IBeamCursor)
            self.hovered.emit(tr("{name}: click to type").format(name=dimension.name))
            return
        if grip is not None:
            self.setCursor(self._cursor_of(grip))
        else:
            self.unsetCursor()
        self.hovered.emit(self._place_text(point))

    def _cursor_of(self, grip: Grip) -> Qt.CursorShape:
        assert self._scene is not None
        if grip.kind == "row":
            along_width = self._scene.layout.row_direction == "along_width"
            return Qt.CursorShape.SizeVerCursor if along_width else Qt.CursorShape.SizeHorCursor
        return _CURSORS[grip.kind]

    def _place_text(self, point: QPointF) -> str:
        """Say the place under the pointer, and the light there."""
        if self._view is None or self._scene is None or not self._view.plan.contains(point.x(), point.y()) or not self._in_plan_area(point):
            return ""
        x_mm, y_mm = self._view.x_mm(point.x()), self._view.y_mm(point.y())
        text = f"x {format_length(x_mm, self._unit)}, y {format_length(y_mm, self._unit)}"
        evaluation = self._scene.evaluation
        if evaluation is not None:
            column = min(max(int(x_mm / self._scene.layout.box.width_mm * len(evaluation.x_mm)), 0), len(evaluation.x_mm) - 1)
            row = min(max(int(y_mm / self._scene.layout.box.height_mm * len(evaluation.y_mm)), 0), len(evaluation.y_mm) - 1)
            text += f":  {format_number(float(evaluation.luminance_cd_m2[row, column]))} cd/m²"
            if evaluation.detail != AT_REST:
                text += tr(" (coarse)")
        return text


def _share(value: float) -> float:
    return min(max(value, 0.0), 1.0)


def next_name(stop: str | Grip, found: list[Dimension]) -> str:
    """Say in words where the keyboard stands."""
    if isinstance(stop, str):
        dimension = next(dimension for dimension in found if dimension.key == stop)
        return tr("{name}, {value}: Enter to type").format(name=dimension.name, value=dimension.text)
    names = {"lid": tr("Sheet"), "row": tr("Outer row"), "seam": tr("Seam"), "cut": tr("Line of the cut")}
    return tr("{name}: arrow keys to move, Shift for ten times as far").format(name=names[stop.kind])
