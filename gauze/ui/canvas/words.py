"""What the status line says of a place on the drawing, and what the drawing says of itself to a screen reader."""

from __future__ import annotations

from typing import TYPE_CHECKING

from gauze.core.evaluate import AT_REST
from gauze.core.layout.sketch import MovableItem
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.ui.canvas.paint.frame import Scene
from gauze.ui.text import spoken, tr

if TYPE_CHECKING:
    from gauze.ui.canvas.drawing import Drawing


def scene_words(scene: Scene, unit: LengthUnit) -> str:
    """Describe a drawing in words: how many emitters, how large, every dimension."""
    _, _, wide, high = scene.layout.sketch.plan_mm
    dimensions = ", ".join(f"{spoken(d.name)} {format_number(d.value, 5)}" for d in scene.layout.sketch.measures)
    return tr("{count} emitters, plan {width} × {height}; {dimensions}").format(
        count=scene.layout.emitter_count,
        width=format_length(wide, unit),
        height=format_length(high, unit),
        dimensions=dimensions,
    )


def thing_words(drawing: Drawing, item: MovableItem) -> str:
    """Say what a item is and where it lies."""
    sheet = drawing.sheet
    if item.kind == "emitter" and sheet is not None:
        return emitter_under(drawing, sheet.plan.x(item.x_mm), sheet.plan.y(item.y_mm)) + tr("; drag it")
    x, y = (format_length(value, drawing.unit) for value in (item.x_mm, item.y_mm))
    return tr("{name} at {x}, {y}: drag it").format(name=spoken(item.name), x=x, y=y)


def emitter_under(drawing: Drawing, x: float, y: float) -> str:
    """Say which LED of a single cavity is nearest to a point of the plan."""
    sheet, scene = drawing.sheet, drawing.scene
    if scene is None or sheet is None or sheet.seam or scene.layout.instances:
        return ""
    found, cavity = sheet.plan.place_mm(x, y), scene.layout.cavity
    if found is None:
        return ""
    nearest = int(((cavity.places_mm[:, :2] - found) ** 2).sum(axis=1).argmin())
    where = [format_length(float(value), drawing.unit) for value in cavity.places_mm[nearest]]
    numbers = scene.layout.emitter_numbers
    return tr("emitter {number}: {flux} lm at {x}, {y}, {z} over the back").format(
        number=numbers[nearest] if numbers else nearest + 1,
        flux=format_number(float(cavity.flux_lm[nearest])),
        x=where[0],
        y=where[1],
        z=where[2],
    )


def light_under(drawing: Drawing, x: float, y: float) -> str:
    """Say the place on the face under a point and the light there; else the emitter that is near."""
    sheet, scene = drawing.sheet, drawing.scene
    if scene is None or sheet is None or scene.evaluation is None:
        return ""
    found = sheet.face.place_mm(x, y)
    if found is None:
        return emitter_under(drawing, x, y)
    evaluation = scene.evaluation
    u, v = (format_length(value, drawing.unit) for value in found)
    luminance = evaluation.luminance_at(*found)
    text = tr("face at {u}, {v}: {luminance} cd/m²").format(u=u, v=v, luminance=format_number(luminance))
    return text if evaluation.detail == AT_REST else text + tr(" (coarse)")
