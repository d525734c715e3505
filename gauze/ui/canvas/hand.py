"""The hand on the drawing: what a press takes hold of, and where a drag puts it; no widgets, no design changes."""

from dataclasses import dataclass

from gauze.core.evaluate import AT_REST
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.ui.canvas.dimensions import Grip
from gauze.ui.canvas.geometry import View
from gauze.ui.canvas.scene import Scene
from gauze.ui.text import tr


@dataclass(frozen=True)
class Hold:
    """A grip that is held.

    ``offset_mm`` is how far from the line itself it was taken, so that it does not jump; ``gesture`` is the same for
    all steps of the drag.
    """

    grip: Grip
    offset_mm: float
    gesture: object


def take_hold(grip: Grip, view: View, scene: Scene, x: float, y: float) -> Hold:
    """Take hold of a grip at a point."""
    offset_mm = 0.0
    if grip.kind == "lid":
        offset_mm = view.z_mm(y) - scene.layout.box.inner_depth_mm
    elif grip.kind == "row":
        offset_mm = across_mm(view, scene, x, y) - scene.layout.rows[grip.index].across_mm
    return Hold(grip, offset_mm, object())


def across_mm(view: View, scene: Scene, x: float, y: float) -> float:
    """Return the place of a point across the rows."""
    return view.y_mm(y) if scene.layout.row_direction == "along_width" else view.x_mm(x)


def seam_share_at(view: View, x: float) -> float:
    """Return the seam's share of the width at a point, kept on the face."""
    return min(max((x - view.plan.x) / view.plan.width, 0.0), 1.0)


def cut_share_at(view: View, y: float) -> float:
    """Return the cut's share of the height at a point, kept on the face."""
    return min(max((view.plan.bottom - y) / view.plan.height, 0.0), 1.0)


def place_text(view: View, scene: Scene, unit: LengthUnit, x: float, y: float) -> str:
    """Say the place under a point of the plan, and the light there; empty beside the face."""
    if y >= view.cut_top or not view.plan.contains(x, y):
        return ""
    x_mm, y_mm = view.x_mm(x), view.y_mm(y)
    text = f"x {format_length(x_mm, unit)}, y {format_length(y_mm, unit)}"
    evaluation = scene.evaluation
    if evaluation is None:
        return text
    value = evaluation.luminance_at(x_mm, y_mm)
    text += f":  {format_number(value)} cd/m²"
    return text if evaluation.detail == AT_REST else text + tr(" (coarse)")
