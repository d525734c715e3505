"""The drawing of any build as a widget: plan, lit face, side cut and profile; its dimensions are typed, its parts dragged."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent, QWheelEvent

from gauze.core.evaluate import Evaluation
from gauze.core.layout.model import FloatArray
from gauze.core.layout.sketch import Handle, MovableItem
from gauze.core.units import LengthUnit
from gauze.ui.canvas.dimensions import Dimension, Maker, dimension_at, dimensions_of
from gauze.ui.canvas.hand.hand import Hand
from gauze.ui.canvas.hand.placement import Placement
from gauze.ui.canvas.hand.stops import nudge, stops_of, tell_stop
from gauze.ui.canvas.hand.typed_view import ARROWS, OPENING_KEYS, TypedView
from gauze.ui.canvas.paint.frame import Frame, Lively, Scene
from gauze.ui.canvas.paint.painter import DrawingPainter
from gauze.ui.canvas.sheet import Sheet
from gauze.ui.canvas.words import scene_words
from gauze.ui.text import tr
from gauze.ui.theme import Theme
from gauze.ui.view_state import ViewState
from gauze.ui.workbench import Workbench

_BESIDE_CUT = 16.0  # pixels about the side cut that belong to it
_ZOOM_STEP = 1.2


class Drawing(TypedView):
    """Shows a build and asks; its listeners decide what an edit means."""

    hovered = pyqtSignal(str)
    dragged = pyqtSignal(object, float, object)  # Handle, value, gesture
    moved = pyqtSignal(object, float, float, object)  # Thing, x and y of the hand's way in mm, gesture
    let_go = pyqtSignal()
    pad_clicked = pyqtSignal(object)  # Injection
    plan_clicked = pyqtSignal(float, float)  # place in the plan, mm
    cut_clicked = pyqtSignal(float, float)  # place in the side cut, across and over the back, mm
    feed_dragged = pyqtSignal(
        object, object, object
    )  # Injection where it was taken, Injection where it is now, gesture
    menu_wanted = pyqtSignal(object, object, object)  # global position, Dimension | None, Thing | None
    state_changed = pyqtSignal(object)

    def __init__(self, theme: Theme, unit: LengthUnit) -> None:
        super().__init__(theme, unit, tr("Drawing: plan, lit face and side cut"))
        self.scene: Scene | None = None
        self._shown_last: tuple[Workbench, Evaluation | None] | None = None
        self._other: Evaluation | None = None
        self._picked: tuple[FloatArray, ...] = ()
        self._picked_in_cut: tuple[FloatArray, ...] = ()
        self._painter = DrawingPainter()
        self.placement = Placement(self.arrange)
        self._hand = Hand(self)

    # -- what is shown -------------------------------------------------------------------------------------------

    @property
    def state(self) -> ViewState:
        """How the face is looked at."""
        return self._state

    def show_design(self, bench: Workbench, evaluation: Evaluation | None) -> None:
        """Show the open design with its light, as far as that is of the same build."""
        self._shown_last = (bench, evaluation)
        same = evaluation is not None and type(evaluation.design.build) is type(bench.design.build)
        self.show_scene(Scene(bench.design, bench.layout, evaluation if same else None, self._other))

    def compare_with(self, other: Evaluation | None) -> None:
        """Show another design's light on the left of the seam; None for the bare side."""
        if other is not self._other:
            self._other = other
            if self._shown_last is not None:
                self.show_design(*self._shown_last)

    def show_scene(self, scene: Scene) -> None:
        """Show a design, or its light."""
        if self.scene is not None and type(scene.design.build) is not type(self.scene.design.build):
            self._stop = None
            self.placement.reset()
            self.set_state(replace(self._state, alone=None))
        if self.scene is not None and scene.design is not self.scene.design:
            self._bubble.hide()  # what was refused is settled
        self.scene, self._wrong = scene, None
        self._hand.follow(scene.layout.sketch)
        self.setAccessibleDescription(scene_words(scene, self._unit))
        self._painter.prepare(scene, self._state)
        self.arrange()

    def show_picked(self, rings_mm: Sequence[FloatArray], in_cut_mm: Sequence[FloatArray] = ()) -> None:
        """Mark parts by their outlines in the plan, and in the side cut; none to mark nothing."""
        self._picked, self._picked_in_cut = tuple(rings_mm), tuple(in_cut_mm)
        self.update()

    def set_look(self, theme: Theme, unit: LengthUnit) -> None:
        """Take another theme or unit."""
        self._theme, self._unit = theme, unit
        self._bubble.set_theme(theme)
        self.arrange()

    def set_state(self, state: ViewState) -> None:
        """Look at the face in another way."""
        before, self._state = self._state, state
        if (before.from_back, before.alone, before.detail_share) != (state.from_back, state.alone, state.detail_share):
            self.arrange()
        if state != before:
            self.state_changed.emit(state)
        self.update()

    @property
    def sheet(self) -> Sheet | None:
        """Where the views stand now; None before there is a design."""
        return self.placement.sheet

    def fit(self) -> None:
        """Show the whole design, in all its views."""
        self.placement.reset()
        self.set_state(replace(self._state, alone=None))
        self.arrange()

    def put_alone(self, view: str | None) -> None:
        """Put one view on the whole canvas, or back among the others."""
        self.set_state(replace(self._state, alone=None if view == self._state.alone else view))

    def arrange(self) -> None:
        """Place views and dimensions again; under the hand scale and place stay."""
        scene = self.scene
        if scene is None:
            return
        if self._hand.held is not None and self.sheet is not None:
            self.placement.hold(scene)
        else:
            self.placement.fit(self.width(), self.height(), scene, self._state)
        sheet = self.sheet
        assert sheet is not None
        metrics = self.fontMetrics()
        maker = Maker(self.width(), self.height(), self._unit, lambda text: float(metrics.horizontalAdvance(text)))
        viewing_mm = scene.design.purpose.viewing_distance_mm
        self._dimensions = dimensions_of(maker, sheet, scene.layout.sketch, viewing_mm)
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802 - Qt's name
        """Fit the views to the new size."""
        super().resizeEvent(event)
        self.arrange()

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Paint the views and what is typed into them."""
        del event  # the whole is cheap enough
        painter = QPainter(self)
        painter.fillRect(self.rect(), self._theme.colour("paper"))
        if self.scene is not None and self.sheet is not None:
            stop = self.current_stop() if self.hasFocus() else None
            lively = Lively(
                what=stop if isinstance(stop, Handle | MovableItem) else self._hand.lively(self.scene.layout.sketch),
                line=stop if isinstance(stop, str) else self._hand.line,
                hovered=self._hand.hovered,
                focused=stop.key if isinstance(stop, Dimension) else None,
                refused=self._wrong,
            )
            area = self.rect().toRectF()
            picked = self._picked, self._picked_in_cut
            frame = Frame(area, self.scene, self.sheet, self._state, self._theme, self._unit, lively, *picked)
            self._painter.paint(painter, frame)
            self._painter.paint_inputs(painter, frame, self._dimensions)
        painter.end()

    # -- typing and keyboard -------------------------------------------------------------------------------------

    def _stops(self) -> Sequence[Any]:
        if self.scene is None or self.sheet is None:
            return []
        return stops_of(self._dimensions, self.scene.layout.sketch, self.sheet, has_seam=self.has_seam())

    def has_seam(self) -> bool:
        """Whether two things lie on either side of a seam."""
        return self.sheet is not None and self.scene is not None and (self.sheet.seam or self.scene.other is not None)

    def _tell_stop(self, stop: Any) -> None:
        self.hovered.emit(tell_stop(stop))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802 - Qt's name
        """Edit with Enter, nudge with the arrows (Shift for ten times as far), Escape puts a view back."""
        assert event is not None
        self._bubble.hide()
        stop, key = self.current_stop(), event.key()
        if isinstance(stop, Dimension) and key in OPENING_KEYS:
            self.edit(stop.key)
        elif stop is not None and not isinstance(stop, Dimension) and key in ARROWS:
            times = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            nudge(self, stop, ARROWS[Qt.Key(key)], times, self._unit)
        elif key == Qt.Key.Key_Escape:
            if self._state.alone is not None and stop is None:
                self.put_alone(None)
            self._stop, self._wrong = None, None
            self.update()
        else:
            super().keyPressEvent(event)

    # -- mouse ---------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Open a dimension, take hold of a line or an item, or start to pan."""
        assert event is not None
        self._bubble.hide()
        x, y = event.position().x(), event.position().y()
        dimension = dimension_at(self._dimensions, x, y)
        if event.button() == Qt.MouseButton.LeftButton and dimension is not None:
            self.edit(dimension.key)
            return
        if event.button() == Qt.MouseButton.LeftButton:
            self.setFocus(Qt.FocusReason.MouseFocusReason)
            self._stop = None
            self._tell_place(x, y)
        self._hand.press(event)

    def _tell_place(self, x: float, y: float) -> None:
        """Tell where in the plan or in the side cut was clicked; what is outside of a cut lies a little beside it."""
        sheet = self.sheet
        if sheet is None:
            return
        plan = sheet.plan.place_mm(x, y) if sheet.shows("plan") else None
        cut = sheet.cut.place_mm(x, y, _BESIDE_CUT) if sheet.shows("cut") else None
        if plan is not None:
            self.plan_clicked.emit(*plan)
        elif cut is not None:
            self.cut_clicked.emit(*cut)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Drag what is held, or tell what is under the pointer."""
        assert event is not None
        self._hand.move(event, dimension_at(self._dimensions, event.position().x(), event.position().y()))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Let go; the view fits itself again."""
        del event
        if self._hand.let_go():
            self.arrange()
            self.let_go.emit()

    def release(self) -> None:
        """Let go of the line or item that is held, and leave what is typed."""
        super().release()
        self._hand.drop()
        self.unsetCursor()

    def wheelEvent(self, event: QWheelEvent | None) -> None:  # noqa: N802 - Qt's name
        """Zoom about the pointer."""
        assert event is not None
        steps = event.angleDelta().y() / 120.0
        if steps:
            self.placement.zoom(_ZOOM_STEP**steps, event.position())

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Put the view whose title is clicked on the whole canvas and back; fit on empty ground."""
        assert event is not None
        x, y = event.position().x(), event.position().y()
        if self.sheet is None or dimension_at(self._dimensions, x, y) is not None:
            return
        view = self.sheet.title_at(x, y)
        if view is not None:
            self.put_alone(view)
        elif self._hand.what_at(x, y) is None:
            self.fit()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:  # noqa: N802 - Qt's name
        """Ask for the menu of what is under the pointer."""
        assert event is not None
        x, y = event.pos().x(), event.pos().y()
        what = self._hand.what_at(x, y)
        item = what if isinstance(what, MovableItem) else self._hand.item_at(x, y)
        self.menu_wanted.emit(event.globalPos(), dimension_at(self._dimensions, x, y), item)
