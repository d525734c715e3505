"""The mouse on the drawing: what a press takes hold of, where a drag brings it, and what is said about what lies under it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QMouseEvent

from gauze.core.design.wiring import Injection
from gauze.core.electrical.pad_places import pads_near
from gauze.core.layout.sketch import Handle, MovableItem, Sketch
from gauze.ui.canvas.dimensions import Dimension
from gauze.ui.canvas.geometry import Rect
from gauze.ui.canvas.hand.hold import (
    Held,
    HeldPads,
    Line,
    dragged_value,
    handle_at,
    handle_rect,
    item_at,
    line_rects,
    line_share,
    with_line,
)
from gauze.ui.canvas.words import light_under, thing_words
from gauze.ui.text import spoken, tr

if TYPE_CHECKING:
    from gauze.ui.canvas.drawing import Drawing


_FEEDING = frozenset({"drop"})  # layers that show feeds: on these pads are clicked
_PAD_PIXELS = 7.0


class Hand:
    """Follows the mouse for a drawing; ``held`` is a handle or item, ``line`` one of seam, cut and detail."""

    def __init__(self, drawing: Drawing) -> None:
        self._drawing = drawing
        self.held: Held | None = None
        self.held_pads: HeldPads | None = None
        self.line: Line | None = None
        self.hovered: str | None = None
        self._under: Handle | MovableItem | None = None
        self._pan_from: QPointF | None = None

    def follow(self, sketch: Sketch) -> None:
        """Take another design: what is under the pointer may have been moved, or be gone."""
        if self._under is not None:
            self._under = as_it_stands(self._under, sketch)

    def lively(self, sketch: Sketch) -> Handle | MovableItem | None:
        """What is held, or under the pointer."""
        return self._under if self.held is None else as_it_stands(self.held.what, sketch)

    def what_at(self, x: float, y: float) -> Handle | MovableItem | None:
        """Return the handle or item under a point."""
        sheet, scene = self._drawing.sheet, self._drawing.scene
        if sheet is None or scene is None:
            return None
        sketch = scene.layout.sketch
        return handle_at(sheet, sketch, x, y) or item_at(sheet, sketch.movable_items, x, y)

    def item_at(self, x: float, y: float) -> MovableItem | None:
        """Return the item under a point, though a handle lies over it."""
        sheet, scene = self._drawing.sheet, self._drawing.scene
        return None if sheet is None or scene is None else item_at(sheet, scene.layout.sketch.movable_items, x, y)

    def pads_at(self, x: float, y: float) -> Injection | None:
        """Return the pads under a point, where a layer shows how pieces are fed."""
        sheet, scene = self._drawing.sheet, self._drawing.scene
        if sheet is None or scene is None or not _FEEDING & self._drawing.state.layers or not sheet.shows("plan"):
            return None
        return pads_near(scene.layout.pieces, *sheet.plan.at_mm(x, y), _PAD_PIXELS / sheet.plan.scale)

    def line_at(self, x: float, y: float) -> Line | None:
        """Return the line under a point."""
        sheet, state = self._drawing.sheet, self._drawing.state
        if sheet is None or self._drawing.scene is None:
            return None
        rects = line_rects(sheet, state.seam_share, state.cut_share, has_seam=self._drawing.has_seam())
        return next((line for line, rect in rects.items() if rect.contains(x, y)), None)

    def press(self, event: QMouseEvent) -> None:
        """Take hold of a line or a item, or start to pan."""
        x, y = event.position().x(), event.position().y()
        if event.button() == Qt.MouseButton.MiddleButton:
            self._pan_from = event.position()
            return
        sheet = self._drawing.sheet
        if event.button() != Qt.MouseButton.LeftButton or sheet is None:
            return
        self.line = self.line_at(x, y)
        if self.line is not None:
            return
        pads = self.pads_at(x, y)
        if pads is not None:
            self.held_pads = HeldPads(pads, object())
            return
        found = self.what_at(x, y)
        if found is not None:
            window = sheet.window(found.where) if isinstance(found, Handle) else sheet.plan
            self.held = Held(found, window.at_mm(x, y), object())
        elif not sheet.seam and sheet.face.place_mm(x, y) is not None:
            self.line = "cut"
            self._drag_line(x, y)
        else:
            self._pan_from = event.position()

    def move(self, event: QMouseEvent, dimension: Dimension | None) -> None:
        """Drag what is held, or tell what is under the pointer."""
        point = event.position()
        if self._pan_from is not None:
            delta, self._pan_from = point - self._pan_from, point
            self._drawing.placement.pan(delta.x(), delta.y())
        elif self.line is not None:
            self._drag_line(point.x(), point.y())
        elif self.held_pads is not None:
            self._drag_pads(self.held_pads, point.x(), point.y())
        elif self.held is not None:
            self._drag(self.held, point.x(), point.y())
        else:
            self._look_under(point.x(), point.y(), dimension)

    def let_go(self) -> bool:
        """Let go of everything; returns whether something was held."""
        held, self.held, self.line, self._pan_from = self.held, None, None, None
        pads, self.held_pads = self.held_pads, None
        if pads is not None and not pads.left:
            self._drawing.pad_clicked.emit(pads.pads)
            return False
        return held is not None or pads is not None

    def drop(self) -> None:
        """Forget what is held and what is under the pointer: another design is open."""
        self.held = self.line = self._pan_from = self._under = self.held_pads = None

    def _drag_line(self, x: float, y: float) -> None:
        sheet, state = self._drawing.sheet, self._drawing.state
        assert sheet is not None
        assert self.line is not None
        share = line_share(sheet, self.line, x, y)
        self._drawing.set_state(with_line(state, self.line, share))

    def _drag_pads(self, held: HeldPads, x: float, y: float) -> None:
        """Take a feed along from pads to pads."""
        there = self.pads_at(x, y)
        held.left = held.left or there != held.pads
        if there is not None and held.left:
            self._drawing.setCursor(Qt.CursorShape.ClosedHandCursor)
            self._drawing.feed_dragged.emit(held.pads, there, held.gesture)

    def _drag(self, held: Held, x: float, y: float) -> None:
        sheet = self._drawing.sheet
        assert sheet is not None
        if isinstance(held.what, Handle):
            window = sheet.window(held.what.where)
            value = dragged_value(held.what, held.from_mm, window.at_mm(x, y), window.scale)
            self._drawing.dragged.emit(held.what, value, held.gesture)
        else:
            at = sheet.plan.at_mm(x, y)
            self._drawing.moved.emit(held.what, at[0] - held.from_mm[0], at[1] - held.from_mm[1], held.gesture)

    def _look_under(self, x: float, y: float, dimension: Dimension | None) -> None:
        drawing = self._drawing
        pads = None if dimension is not None else self.pads_at(x, y)
        under = None if dimension is not None or pads is not None else self.what_at(x, y)
        hovered = dimension.key if dimension is not None else None
        if (hovered, under) != (self.hovered, self._under):
            self.hovered, self._under = hovered, under
            drawing.update()
        line = self.line_at(x, y)
        if dimension is not None:
            drawing.setCursor(Qt.CursorShape.IBeamCursor)
            drawing.hovered.emit(tr("{name}: click to type").format(name=dimension.name))
        elif pads is not None and line is None:
            drawing.setCursor(Qt.CursorShape.PointingHandCursor)
            words = tr("{piece}, after segment {after}: click to add or remove a feed, drag to move it")
            drawing.hovered.emit(words.format(piece=pads.piece, after=pads.after))
        elif line is not None:
            drawing.setCursor(Qt.CursorShape.SizeVerCursor if line == "cut" else Qt.CursorShape.SizeHorCursor)
        elif isinstance(under, Handle):
            upright = not under.direction[0]
            drawing.setCursor(Qt.CursorShape.SizeVerCursor if upright else Qt.CursorShape.SizeHorCursor)
            words = tr("{name}: drag it").format(name=spoken(under.name))
            light = light_under(drawing, x, y)
            drawing.hovered.emit(f"{light}; {words}" if light else words)
        elif isinstance(under, MovableItem):
            drawing.setCursor(Qt.CursorShape.OpenHandCursor)
            drawing.hovered.emit(thing_words(drawing, under))
        else:
            drawing.unsetCursor()
            drawing.hovered.emit(light_under(drawing, x, y))


def grips_of(drawing: Drawing) -> dict[str, Rect]:
    """Where everything that can be dragged is taken: handles by their names, seam, cut and magnified part."""
    sheet, scene, state = drawing.sheet, drawing.scene, drawing.state
    if sheet is None or scene is None:
        return {}
    found = {str(one.name): handle_rect(sheet.window(one.where), one) for one in scene.layout.sketch.handles}
    lines = line_rects(sheet, state.seam_share, state.cut_share, has_seam=drawing.has_seam())
    return found | {str(line): rect for line, rect in lines.items()}


def as_it_stands(what: Handle | MovableItem, sketch: Sketch) -> Handle | MovableItem | None:
    """What was taken hold of, where the hand has brought it; None when it is gone."""
    if isinstance(what, Handle):
        return next((one for one in sketch.handles if (one.field, one.name) == (what.field, what.name)), None)
    return next((one for one in sketch.movable_items if (one.kind, one.index) == (what.kind, what.index)), None)
