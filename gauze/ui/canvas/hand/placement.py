"""Where the views of a drawing stand: fitted to the canvas, enlarged and moved by hand, or held still under it."""

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import QPointF

from gauze.ui.canvas.paint.frame import Scene
from gauze.ui.canvas.sheet import MOST_ZOOM, Sheet, face_range_mm, lay_sheet
from gauze.ui.view_state import ViewState


class Placement:
    """Keeps ``sheet``, the views where they stand; ``changed`` is called when the hand has asked for another place."""

    def __init__(self, changed: Callable[[], None]) -> None:
        self.sheet: Sheet | None = None
        self._changed = changed
        self._zoom, self._pan = 1.0, (0.0, 0.0)
        self._fitted: Sheet | None = None

    def reset(self) -> None:
        """Forget how the plan was enlarged and moved."""
        self._zoom, self._pan = 1.0, (0.0, 0.0)

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom the plan about a point, or about its middle."""
        if self.sheet is None or self._fitted is None:
            return
        rect = self.sheet.plan.rect
        point = at if at is not None else QPointF(rect.x + rect.width / 2, rect.y + rect.height / 2)
        grown = min(max(self._zoom * factor, 1.0), MOST_ZOOM)
        plan = self.sheet.plan.zoomed(grown / self._zoom, point.x(), point.y())
        self._zoom = grown
        base = self._fitted.plan.zoomed(grown, 0.0, 0.0)
        self._pan = (plan.rect.x - base.rect.x, plan.rect.y - base.rect.y) if grown > 1.0 else (0.0, 0.0)
        self._changed()

    def pan(self, dx: float, dy: float) -> None:
        """Move an enlarged plan by pixels."""
        if self._zoom > 1.0:
            self._pan = (self._pan[0] + dx, self._pan[1] + dy)
            self._changed()

    def hold(self, scene: Scene) -> None:
        """Follow a drawing that is being dragged: scale and place stay under the hand."""
        old, sketch, lit = self.sheet, scene.layout.sketch, scene.evaluation
        assert old is not None
        plan = old.plan.held(sketch.plan_mm)
        face = old.face if lit is None else old.face.held(face_range_mm(lit.x_mm, lit.y_mm))
        self.sheet = replace(old, plan=plan, face=plan if old.seam else face, cut=old.cut.held(sketch.cut_mm))

    def fit(self, width: int, height: int, scene: Scene, state: ViewState) -> None:
        """Lay the views out on a canvas of some pixels."""
        face, sketch = scene.evaluation, scene.layout.sketch
        reach = sketch.plan_mm if face is None else face_range_mm(face.x_mm, face.y_mm)
        sheet = self._fitted = lay_sheet(width, height, sketch, reach, state.alone, state.detail_share)
        if self._zoom > 1.0:
            plan, face_window = (
                window.zoomed(self._zoom, 0.0, 0.0).moved(*self._pan) for window in (sheet.plan, sheet.face)
            )
            sheet = replace(sheet, plan=plan, face=plan if sheet.seam else face_window, detail=None)
        plan = replace(sheet.plan, mirrored=state.from_back)
        over_plan = sheet.seam and sheet.alone != "profile"
        self.sheet = replace(sheet, plan=plan, face=plan if over_plan else sheet.face)
