"""The drawing of a build: plan, lit face and side cut; its dimensions are typed, its handles and things are dragged."""

from dataclasses import replace

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent

from gauze.core.evaluate import AT_REST
from gauze.core.layout.sketch import Handle, Sketch, Thing
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.core.units.length import MM_PER_INCH
from gauze.ui.canvas.build_dimensions import Held, build_dimensions, dragged_value, handle_at, thing_at
from gauze.ui.canvas.build_geometry import MOST_ZOOM, Sheet, face_range_mm, lay_sheet
from gauze.ui.canvas.build_painter import BuildPainter, BuildScene
from gauze.ui.canvas.dimensions import Dimension, dimension_at
from gauze.ui.canvas.typed_view import ARROWS, OPENING_KEYS, TypedView
from gauze.ui.text import tr
from gauze.ui.theme import Theme
from gauze.ui.view_state import ViewState

_GRAB = 6.0
_MOST_STOPS = 60  # things that Tab visits: beyond that it would never get through

Stop = Dimension | Handle | Thing


class BuildView(TypedView):
    """Shows a build and asks; what an edit means is decided by whoever listens."""

    hovered = pyqtSignal(str)
    typed = pyqtSignal(str, str, str, str)  # field, kind, name, text
    dragged = pyqtSignal(str, str, float, object)  # field, name, value, gesture
    moved = pyqtSignal(object, float, float, object)  # Thing, x and y of the hand's way in mm, gesture
    let_go = pyqtSignal()
    menu_wanted = pyqtSignal(object, object, object)  # global position, Dimension | None, Thing | None
    state_changed = pyqtSignal(object)

    def __init__(self, theme: Theme, unit: LengthUnit) -> None:
        super().__init__(theme, unit, tr("Drawing: plan, lit face and side cut"))
        self._scene: BuildScene | None = None
        self._painter = BuildPainter()
        self._sheet: Sheet | None = None
        self._zoom, self._pan = 1.0, (0.0, 0.0)
        self._hover: str | None = None
        self._under: Handle | Thing | None = None
        self._held: Held | None = None
        self._line: str | None = None  # "seam" or "cut" while it is dragged
        self._pan_from: QPointF | None = None
        self._editor.typed.connect(self._take)

    # -- what is shown -------------------------------------------------------------------------------------------

    def show_scene(self, scene: BuildScene) -> None:
        """Show a design, or its light."""
        if self._scene is not None and type(scene.design.build) is not type(self._scene.design.build):
            self._zoom, self._pan, self._stop = 1.0, (0.0, 0.0), None
        self._scene, self._wrong = scene, None
        if self._under is not None:  # it may have been moved, or be gone
            self._under = _as_it_stands(self._under, scene.layout.sketch)
        self.setAccessibleDescription(self._words(scene))
        self._painter.prepare(scene, self._state)
        self._arrange()

    def set_look(self, theme: Theme, unit: LengthUnit) -> None:
        """Take another theme or unit."""
        self._theme, self._unit = theme, unit
        self._bubble.set_theme(theme)
        self._arrange()

    def set_state(self, state: ViewState) -> None:
        """Look at the face in another way."""
        turned = state.from_back != self._state.from_back
        self._state = state
        if turned:
            self._arrange()
        self.update()

    @property
    def scene(self) -> BuildScene | None:
        """What is shown."""
        return self._scene

    def sheet(self) -> Sheet | None:
        """Where the drawings stand now; None before there is a design."""
        return self._sheet

    def fit(self) -> None:
        """Show the whole design."""
        self._zoom, self._pan = 1.0, (0.0, 0.0)
        self._arrange()

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom the plan about a point, or about its middle."""
        if self._sheet is None:
            return
        rect = self._sheet.plan.rect
        point = at if at is not None else QPointF(rect.x + rect.width / 2, rect.y + rect.height / 2)
        grown = min(max(self._zoom * factor, 1.0), MOST_ZOOM)
        share = grown / self._zoom
        plan = self._sheet.plan.zoomed(share, point.x(), point.y())
        self._zoom = grown
        base = self._fitted().plan.zoomed(grown, 0.0, 0.0)
        self._pan = (plan.rect.x - base.rect.x, plan.rect.y - base.rect.y) if grown > 1.0 else (0.0, 0.0)
        self._arrange()

    def _fitted(self) -> Sheet:
        assert self._scene is not None
        face = self._scene.evaluation
        sketch = self._scene.layout.sketch
        reach = sketch.plan_mm if face is None else face_range_mm(face.x_mm, face.y_mm)
        return lay_sheet(self.width(), self.height(), sketch, reach)

    def _arrange(self) -> None:
        scene = self._scene
        if scene is None:
            return
        sketch = scene.layout.sketch
        if self._held is not None and self._sheet is not None:  # scale and place stay under the hand
            old = self._sheet
            plan = old.plan.held(sketch.plan_mm)
            self._sheet = replace(old, plan=plan, face=plan if old.seam else old.face, cut=old.cut.held(sketch.cut_mm))
        else:
            sheet = self._fitted()
            if self._zoom > 1.0:
                plan, face = (
                    window.zoomed(self._zoom, 0.0, 0.0).moved(*self._pan) for window in (sheet.plan, sheet.face)
                )
                sheet = replace(sheet, plan=plan, face=plan if sheet.seam else face)
            self._sheet = self._turned(sheet)
        metrics = self.fontMetrics()
        self._dimensions = build_dimensions(
            self._sheet,
            sketch,
            (self.width(), self.height()),
            self._unit,
            lambda text: float(metrics.horizontalAdvance(text)),
        )
        self.update()

    def _turned(self, sheet: Sheet) -> Sheet:
        """The plan mirrored where it is seen from the back."""
        plan = replace(sheet.plan, mirrored=self._state.from_back)
        return replace(sheet, plan=plan, face=plan if sheet.seam else sheet.face)

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802 - Qt's name
        """Fit the drawings to the new size."""
        super().resizeEvent(event)
        self._arrange()

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Paint the drawings and what is typed into them."""
        del event  # the whole is cheap enough
        painter = QPainter(self)
        painter.fillRect(self.rect(), self._theme.colour("paper"))
        if self._scene is not None and self._sheet is not None:
            stop = self._current_stop() if self.hasFocus() else None
            self._painter.paint(
                painter,
                self.rect().toRectF(),
                self._scene,
                self._sheet,
                self._state,
                self._theme,
                self._unit,
            )
            sketch = self._scene.layout.sketch
            lively = self._under if self._held is None else _as_it_stands(self._held.what, sketch)
            lively = stop if isinstance(stop, Handle | Thing) else lively
            self._painter.paint_inputs(
                painter,
                self._sheet,
                self._scene.layout,
                self._theme,
                self._dimensions,
                (self._hover, stop.key if isinstance(stop, Dimension) else None, self._wrong),
                lively,
            )
        painter.end()

    def _words(self, scene: BuildScene) -> str:
        _, _, wide, high = scene.layout.sketch.plan_mm
        dimensions = ", ".join(f"{d.name} {format_number(d.value, 5)}" for d in scene.layout.sketch.measures)
        return tr("{count} emitters, plan {width} × {height}; {dimensions}").format(
            count=scene.layout.emitter_count,
            width=format_length(wide, self._unit),
            height=format_length(high, self._unit),
            dimensions=dimensions,
        )

    # -- typing --------------------------------------------------------------------------------------------------

    def edit(self, key: str) -> None:
        """Open the editor on a dimension."""
        dimension = next((d for d in self._dimensions if d.key == key), None)
        if dimension is None or self._scene is None:
            return
        self._bubble.hide()
        measure = next(m for m in self._scene.layout.sketch.measures if m.field == key)
        text = dimension.text if measure.kind == "length" else f"{measure.value:g}"
        self._editor.open_on(dimension, text)

    def _take(self, key: str, text: str) -> None:
        dimension = next((d for d in self._dimensions if d.key == key), None)
        if dimension is not None:
            self.typed.emit(key, dimension.kind, dimension.name, text)

    # -- keyboard ------------------------------------------------------------------------------------------------

    def _stops(self) -> list[Stop]:
        if self._scene is None:
            return []
        sketch = self._scene.layout.sketch
        return [*self._dimensions, *sketch.handles, *sketch.things[:_MOST_STOPS]]

    def _tell_stop(self, stop: Stop) -> None:
        if isinstance(stop, Dimension):
            self.hovered.emit(tr("{name}, {value}: Enter to type").format(name=stop.name, value=stop.text))
        else:
            self.hovered.emit(tr("{name}: arrow keys to move, Shift for ten times as far").format(name=stop.name))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802 - Qt's name
        """Edit with Enter, nudge with the arrows (Shift for ten times as far)."""
        assert event is not None
        self._bubble.hide()
        stop, key = self._current_stop(), event.key()
        if isinstance(stop, Dimension) and key in OPENING_KEYS:
            self.edit(stop.key)
        elif isinstance(stop, Handle | Thing) and key in ARROWS:
            right, up = ARROWS[Qt.Key(key)]
            times = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            step = times * (MM_PER_INCH / 16 if self._unit is LengthUnit.INCH else 1.0)
            if isinstance(stop, Handle):
                self.dragged.emit(stop.field, stop.name, stop.value + (right + up) * step, "nudge " + stop.field)
            else:
                self.moved.emit(stop, right * step, up * step, f"nudge {stop.kind} {stop.index}")
                self.let_go.emit()
        elif key == Qt.Key.Key_Escape:
            self._stop, self._wrong = None, None
            self.update()
        else:
            super().keyPressEvent(event)

    # -- mouse ---------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Open a dimension, take hold of a line or a thing, or start to pan."""
        assert event is not None
        self._bubble.hide()
        x, y = event.position().x(), event.position().y()
        if event.button() == Qt.MouseButton.MiddleButton:
            self._pan_from = event.position()
            return
        if event.button() != Qt.MouseButton.LeftButton or self._sheet is None or self._scene is None:
            return
        dimension = dimension_at(self._dimensions, x, y)
        if dimension is not None:
            self.edit(dimension.key)
            return
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        self._line = self._line_at(x, y)
        if self._line is not None:
            return
        found = self._what_at(x, y)
        if found is not None:
            window = self._sheet.window(found.where) if isinstance(found, Handle) else self._sheet.plan
            self._held, self._stop = Held(found, window.at_mm(x, y), object()), None
        elif not self._sheet.seam and self._sheet.face.place_mm(x, y) is not None:
            self._line = "cut"
            self._drag_line(x, y)
        elif self._zoom > 1.0:
            self._pan_from = event.position()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Drag what is held, or tell what is under the pointer."""
        assert event is not None
        point = event.position()
        if self._pan_from is not None:
            delta = point - self._pan_from
            self._pan, self._pan_from = (self._pan[0] + delta.x(), self._pan[1] + delta.y()), point
            self._arrange()
        elif self._line is not None:
            self._drag_line(point.x(), point.y())
        elif self._held is not None:
            self._drag(self._held, point.x(), point.y())
        else:
            self._look_under(point.x(), point.y())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Let go; the view fits itself again."""
        del event
        held, self._held, self._line, self._pan_from = self._held, None, None, None
        if held is not None:
            self._arrange()
            self.let_go.emit()

    def release(self) -> None:
        """Let go of the line or thing that is held, and leave what is typed."""
        super().release()
        self._held = self._line = self._pan_from = self._under = None
        self.unsetCursor()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Fit the view on empty ground."""
        assert event is not None
        x, y = event.position().x(), event.position().y()
        if dimension_at(self._dimensions, x, y) is None and self._what_at(x, y) is None:
            self.fit()

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:  # noqa: N802 - Qt's name
        """Ask for the menu of what is under the pointer."""
        assert event is not None
        x, y = event.pos().x(), event.pos().y()
        thing = None
        if self._sheet is not None and self._scene is not None:
            thing = thing_at(self._sheet, self._scene.layout.sketch.things, x, y)
        self.menu_wanted.emit(event.globalPos(), dimension_at(self._dimensions, x, y), thing)

    def _what_at(self, x: float, y: float) -> Handle | Thing | None:
        if self._sheet is None or self._scene is None:
            return None
        sketch = self._scene.layout.sketch
        return handle_at(self._sheet, sketch, x, y) or thing_at(self._sheet, sketch.things, x, y)

    def _line_at(self, x: float, y: float) -> str | None:
        """Seam or line of the cut under a point: the seam by its handle over the face, the cut by its own at the left."""
        if self._sheet is None or self._scene is None:
            return None
        face = self._sheet.face.rect
        if (
            self._has_seam()
            and abs(x - face.x - self._state.seam_share * face.width) < _GRAB
            and face.y - 20 <= y < face.y
        ):
            return "seam"
        cut_y = face.bottom - self._state.cut_share * face.height
        if abs(y - cut_y) < _GRAB and face.x - 4 <= x <= face.x + 14:
            return "cut"
        return None

    def _has_seam(self) -> bool:
        return (
            self._sheet is not None and self._scene is not None and (self._sheet.seam or self._scene.other is not None)
        )

    def _drag_line(self, x: float, y: float) -> None:
        assert self._sheet is not None
        face = self._sheet.face.rect
        if self._line == "seam":
            share = min(max((x - face.x) / face.width, 0.0), 1.0)
            self.state_changed.emit(replace(self._state, seam_share=share))
        else:
            share = min(max((face.bottom - y) / face.height, 0.0), 1.0)
            self.state_changed.emit(replace(self._state, cut_share=share))

    def _drag(self, held: Held, x: float, y: float) -> None:
        assert self._sheet is not None
        if isinstance(held.what, Handle):
            window = self._sheet.window(held.what.where)
            value = dragged_value(held.what, held.from_mm, window.at_mm(x, y), window.scale)
            self.dragged.emit(held.what.field, held.what.name, value, held.gesture)
        else:
            at = self._sheet.plan.at_mm(x, y)
            self.moved.emit(held.what, at[0] - held.from_mm[0], at[1] - held.from_mm[1], held.gesture)

    def _look_under(self, x: float, y: float) -> None:
        dimension = dimension_at(self._dimensions, x, y)
        under = None if dimension is not None else self._what_at(x, y)
        hovered = dimension.key if dimension is not None else None
        if (hovered, under) != (self._hover, self._under):
            self._hover, self._under = hovered, under
            self.update()
        if dimension is not None:
            self.setCursor(Qt.CursorShape.IBeamCursor)
            self.hovered.emit(tr("{name}: click to type").format(name=dimension.name))
        elif self._line_at(x, y) is not None:
            self.setCursor(
                Qt.CursorShape.SizeHorCursor if self._line_at(x, y) == "seam" else Qt.CursorShape.SizeVerCursor
            )
        elif isinstance(under, Handle):
            self.setCursor(Qt.CursorShape.SizeHorCursor if under.direction[0] else Qt.CursorShape.SizeVerCursor)
            self.hovered.emit(tr("{name}: drag it").format(name=under.name))
        elif isinstance(under, Thing):
            self.setCursor(Qt.CursorShape.OpenHandCursor)
            self.hovered.emit(self._about(under))
        else:
            self.unsetCursor()
            self.hovered.emit(self._light_under(x, y))

    def _about(self, thing: Thing) -> str:
        x, y = (format_length(value, self._unit) for value in (thing.x_mm, thing.y_mm))
        text = tr("{name} at {x}, {y}: drag it").format(name=thing.name, x=x, y=y)
        if thing.kind == "emitter" and self._sheet is not None:
            plan = self._sheet.plan
            text = self._emitter_under(plan.x(thing.x_mm), plan.y(thing.y_mm)) + tr("; drag it")
        return text

    def _emitter_under(self, x: float, y: float) -> str:
        """Say which LED of a single cavity is nearest to a point of the plan."""
        if self._scene is None or self._sheet is None or self._sheet.seam or self._scene.layout.instances:
            return ""
        found, unit = self._sheet.plan.place_mm(x, y), self._scene.layout.unit
        if found is None:
            return ""
        nearest = int(((unit.places_mm[:, :2] - found) ** 2).sum(axis=1).argmin())
        where = [format_length(float(value), self._unit) for value in unit.places_mm[nearest]]
        return tr("emitter {number}: {flux} lm at {x}, {y}, {z} over the back").format(
            number=nearest + 1, flux=format_number(float(unit.flux_lm[nearest])), x=where[0], y=where[1], z=where[2]
        )

    def _light_under(self, x: float, y: float) -> str:
        if self._scene is None or self._sheet is None or self._scene.evaluation is None:
            return ""
        found = self._sheet.face.place_mm(x, y)
        if found is None:
            return self._emitter_under(x, y)
        evaluation = self._scene.evaluation
        u, v = (format_length(value, self._unit) for value in found)
        luminance = evaluation.luminance_at(*found)
        text = tr("face at {u}, {v}: {luminance} cd/m²").format(u=u, v=v, luminance=format_number(luminance))
        return text if evaluation.detail == AT_REST else text + tr(" (coarse)")


def _as_it_stands(what: Handle | Thing, sketch: Sketch) -> Handle | Thing | None:
    """What was taken hold of, where the hand has brought it; None when it is gone."""
    if isinstance(what, Handle):
        return next((one for one in sketch.handles if (one.field, one.name) == (what.field, what.name)), None)
    return next((one for one in sketch.things if (one.kind, one.index) == (what.kind, what.index)), None)
