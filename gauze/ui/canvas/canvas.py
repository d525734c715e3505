"""The drawing as a widget: hands out its dimensions, follows the hand and the keyboard, paints the scene."""

from dataclasses import replace

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent

from gauze.core.units import LengthUnit, format_length
from gauze.core.units.length import MM_PER_INCH
from gauze.ui.canvas.dimensions import Dimension, Grip, dimension_at, dimensions, grip_at, grips
from gauze.ui.canvas.geometry import View, fit_view, panned, with_box, zoomed
from gauze.ui.canvas.hand import Hold, across_mm, cut_share_at, place_text, seam_share_at, take_hold
from gauze.ui.canvas.paint_dimensions import paint_dimensions
from gauze.ui.canvas.scene import Lively, Scene, ScenePainter
from gauze.ui.canvas.stops import Stop, stop_name, tab_stops
from gauze.ui.canvas.typed_view import ARROWS, OPENING_KEYS, TypedView
from gauze.ui.text import tr
from gauze.ui.theme import Theme
from gauze.ui.view_state import ViewState

_NUDGE_SHARE = 0.02  # of seam and cut for one press of an arrow key


class Canvas(TypedView):
    """Plan and side cut. It shows and asks; what an edit means is decided by whoever listens."""

    typed = pyqtSignal(str, str)  # key of a dimension, text
    lid_dragged = pyqtSignal(float, object)  # inner depth in mm, gesture
    row_dragged = pyqtSignal(int, float, object)  # index, place across in mm, gesture
    hovered = pyqtSignal(str)
    menu_wanted = pyqtSignal(object, object)  # global position, Dimension | None

    def __init__(self, theme: Theme, unit: LengthUnit) -> None:
        super().__init__(theme, unit, tr("Drawing: plan and side cut"))
        self._scene: Scene | None = None
        self._view: View | None = None
        self._fitted = True
        self._painter = ScenePainter()
        self._grips: list[Grip] = []
        self._hovered: str | None = None
        self._hold: Hold | None = None
        self._pan_from: QPointF | None = None
        self._editor.typed.connect(self.typed)

    # -- what is shown -------------------------------------------------------------------------------------------

    @property
    def state(self) -> ViewState:
        """How the face is looked at."""
        return self._state

    def grips_now(self) -> list[Grip]:
        """Return what can be dragged, where it stands now."""
        return list(self._grips)

    def show_scene(self, scene: Scene) -> None:
        """Show a design, or its light."""
        self._scene = scene
        self._wrong = None
        if self._hold is None and (self._fitted or self._view is None):
            self._view = fit_view(self.width(), self.height(), scene.layout.box)
        elif self._view is not None:
            self._view = with_box(self._view, scene.layout.box)  # scale and place stay under the hand
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

    def _arrange(self) -> None:
        if self._scene is None or self._view is None:
            return
        metrics = self.fontMetrics()
        self._dimensions = dimensions(
            self._view,
            self._scene.design,
            self._scene.layout,
            self._unit,
            lambda text: float(metrics.horizontalAdvance(text)),
        )
        self._grips = grips(self._view, self._scene.layout, self._state.seam_share, self._scene.cut_y_mm(self._state))
        self.setAccessibleDescription(", ".join(f"{d.name} {d.text}" for d in self._dimensions))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Paint plan, side cut and dimensions."""
        del event  # the whole is cheap enough
        painter = QPainter(self)
        painter.fillRect(self.rect(), self._theme.colour("paper"))
        scene, view = self._scene, self._view
        if scene is None or view is None:
            return
        stop = self._current_stop() if self.hasFocus() else None
        lively = Lively(
            focused=stop.kind if isinstance(stop, Grip) else None,
            held=self._hold.grip.kind if self._hold is not None else None,
            lid_hovered=self._hovered == "lid",
        )
        self._painter.paint_plan(painter, view, scene, self._state, self._theme, lively)
        self._painter.paint_cut(painter, view, scene, self._state, self._theme, self._unit, lively)
        focused = stop.key if isinstance(stop, Dimension) else None
        paint_dimensions(painter, self._theme, self._dimensions, self._hovered, focused, self._wrong)
        painter.end()

    # -- typing --------------------------------------------------------------------------------------------------

    def edit(self, key: str) -> None:
        """Open the editor on a dimension."""
        dimension = next((d for d in self._dimensions if d.key == key), None)
        if dimension is not None and self._scene is not None:
            self._bubble.hide()
            self._editor.open_on(dimension, self._value_text(dimension, self._scene))

    def _value_text(self, dimension: Dimension, scene: Scene) -> str:
        """Text to start from: the value alone where the drawing wraps it in words."""
        values = {
            "shift": scene.design.panel.alternate_shift_mm,
            "viewing_distance": scene.design.purpose.viewing_distance_mm,
        }
        if dimension.key == "row_count":
            return str(scene.layout.lines)
        return format_length(values[dimension.key], self._unit) if dimension.key in values else dimension.text

    # -- keyboard ------------------------------------------------------------------------------------------------

    def _stops(self) -> list[Stop]:
        return tab_stops(self._dimensions, self._grips)

    def _tell_stop(self, stop: Stop) -> None:
        self.hovered.emit(stop_name(stop))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802 - Qt's name
        """Edit with Enter, nudge with the arrows (Shift for ten times as far)."""
        assert event is not None
        self._bubble.hide()
        stop, key = self._current_stop(), event.key()
        if isinstance(stop, Dimension) and key in OPENING_KEYS:
            self.edit(stop.key)
        elif isinstance(stop, Grip) and key in ARROWS:
            right, up = ARROWS[Qt.Key(key)]
            times = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            self._nudge(stop, right * times, up * times)
        elif key == Qt.Key.Key_Escape:
            self._stop, self._wrong = None, None
            self.update()
        else:
            super().keyPressEvent(event)

    def _nudge(self, grip: Grip, right: int, up: int) -> None:
        assert self._scene is not None
        layout, state = self._scene.layout, self._state
        step_mm = (up + right) * (MM_PER_INCH / 16 if self._unit is LengthUnit.INCH else 1.0)
        if grip.kind == "lid":
            self.lid_dragged.emit(layout.box.inner_depth_mm + step_mm, "nudge the sheet")
        elif grip.kind == "row":
            self.row_dragged.emit(grip.index, layout.rows[grip.index].across_mm + step_mm, "nudge a row")
        elif grip.kind == "seam":
            self.set_state(replace(state, seam_share=min(max(state.seam_share + _NUDGE_SHARE * right, 0.0), 1.0)))
        else:
            self.set_state(replace(state, cut_share=min(max(state.cut_share + _NUDGE_SHARE * up, 0.0), 1.0)))

    # -- mouse ---------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Open a dimension, take hold of a grip, or start to pan."""
        assert event is not None
        self._bubble.hide()
        x, y = event.position().x(), event.position().y()
        if event.button() == Qt.MouseButton.MiddleButton:
            self._pan_from = event.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            return
        if event.button() != Qt.MouseButton.LeftButton or self._view is None or self._scene is None:
            return
        dimension = dimension_at(self._dimensions, x, y)
        if dimension is not None:
            self.edit(dimension.key)
            return
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        grip = grip_at(self._grips, x, y)
        if grip is not None:
            self._hold, self._stop = take_hold(grip, self._view, self._scene, x, y), None
        elif y < self._view.cut_top:
            self._pan_from = event.position()

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
        elif self._hold is not None:
            self._drag(self._hold, point.x(), point.y())
        else:
            self._hover(point.x(), point.y())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Let go; the view fits itself again where it did before."""
        del event
        held, self._hold, self._pan_from = self._hold, None, None
        self.unsetCursor()
        if held is not None and self._scene is not None:
            self.show_scene(self._scene)

    def release(self) -> None:
        """Let go of the grip that is held, and leave what is typed."""
        super().release()
        self._hold = self._pan_from = None
        self.unsetCursor()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Fit the view on empty ground."""
        assert event is not None
        x, y = event.position().x(), event.position().y()
        if dimension_at(self._dimensions, x, y) is None and grip_at(self._grips, x, y) is None:
            self.fit()

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
            old = self._view
            self._view = replace(fitted, scale=old.scale, left=old.left, plan_bottom=old.plan_bottom)
        self._arrange()

    def _drag(self, hold: Hold, x: float, y: float) -> None:
        assert self._view is not None
        assert self._scene is not None
        kind = hold.grip.kind
        if kind == "lid":
            self.lid_dragged.emit(self._view.z_mm(y) - hold.offset_mm, hold.gesture)
        elif kind == "row":
            place_mm = across_mm(self._view, self._scene, x, y) - hold.offset_mm
            self.row_dragged.emit(hold.grip.index, place_mm, hold.gesture)
        elif kind == "seam":
            self.set_state(replace(self._state, seam_share=seam_share_at(self._view, x)))
        else:
            self.set_state(replace(self._state, cut_share=cut_share_at(self._view, y)))

    def _hover(self, x: float, y: float) -> None:
        if self._view is None or self._scene is None:
            return
        dimension = dimension_at(self._dimensions, x, y)
        grip = None if dimension else grip_at(self._grips, x, y)
        hovered = dimension.key if dimension else ("lid" if grip is not None and grip.kind == "lid" else None)
        if hovered != self._hovered:
            self._hovered = hovered
            self.update()
        if dimension is not None:
            self.setCursor(Qt.CursorShape.IBeamCursor)
            self.hovered.emit(tr("{name}: click to type").format(name=dimension.name))
            return
        if grip is None:
            self.unsetCursor()
        else:
            along_width = self._scene.layout.row_direction == "along_width"
            upright = grip.kind in ("lid", "cut") or (grip.kind == "row" and along_width)
            self.setCursor(Qt.CursorShape.SizeVerCursor if upright else Qt.CursorShape.SizeHorCursor)
        self.hovered.emit(place_text(self._view, self._scene, self._unit, x, y))
