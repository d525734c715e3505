"""The views of a build as display lists, to be written at their true size: plan and section."""

from dataclasses import dataclass, replace

import numpy as np

from gauze.core.design import Design
from gauze.core.drawing.layer import Layer, Legend
from gauze.core.drawing.layers import layers_of
from gauze.core.electrical.power import Power
from gauze.core.layout import Layout
from gauze.core.layout.model import FloatArray
from gauze.core.layout.placing import placed_cavities
from gauze.core.layout.sketch import Measure, Outline, Sketch, Where
from gauze.core.thermal.warming import BuildWarmth
from gauze.core.words import Text, say

_LINE_MM, _TIER_MM = 8.0, 9.0  # from the drawing to the first dimension line, and from one to the next
_MOST_EMITTERS = 20_000
_NAMES: dict[str, Text] = {
    "back": say("Back"),
    "body": say("Body"),
    "strip": say("Strip and cut marks"),
    "partition": say("Partitions"),
    "part": say("Parts"),
    "sheet": say("Sheets"),
    "lit": say("Diffuser"),
    "path": say("Chain"),
    "dark": say("Dark ends"),
    "eye": say("Line of sight"),
}


@dataclass(frozen=True)
class View:
    """One view at true size: what it reaches over (left, low, width, height, mm) and its layers, the lowest first."""

    key: str
    name: Text
    reach_mm: tuple[float, float, float, float]
    layers: tuple[Layer, ...]

    def shapes(self) -> list[Outline]:
        """Every shape, in the order in which they are drawn."""
        return [shape for layer in self.layers for shape in layer.shapes]


def views_of(
    design: Design, layout: Layout, power: Power | None = None, warmth: BuildWarmth | None = None
) -> tuple[View, ...]:
    """Return plan and section of a laid-out design, with their sizes, and its wires and heat where these are given.

    With wires there is a third, the plan as it is seen from the back, where it is wired.
    """
    sketch = layout.sketch
    emitters = _emitters(layout)
    overlays = [layer for layer in layers_of(design, layout, power, warmth) if layer.key != "parts"]
    plan = [*_by_role(sketch.plan, "plan"), *([emitters] if emitters.shapes else []), *overlays, _sizes(sketch, "plan")]
    cut = [*_by_role(sketch.cut, "cut"), _sizes(sketch, "cut")]
    found = (
        View("plan", say("Plan"), _reach(sketch.plan_mm, plan), tuple(plan)),
        View("section", say("Section"), _reach(sketch.cut_mm, cut), tuple(cut)),
    )
    if power is None:
        return found
    left, _, wide, _ = sketch.plan_mm
    back = [mirrored_layer(layer, left + wide / 2.0) for layer in [*_by_role(sketch.plan, "plan"), *overlays]]
    return (*found, View("back", say("Plan from the back"), _reach(sketch.plan_mm, back), tuple(back)))


def mirrored_layer(layer: Layer, about_x_mm: float) -> Layer:
    """Return a layer as it is seen from the other side, about an upright line."""

    def turned(points: FloatArray) -> FloatArray:
        return np.asarray(points * [-1.0, 1.0] + [2.0 * about_x_mm, 0.0])

    shapes = tuple(
        replace(
            shape,
            points_mm=turned(shape.points_mm),
            marks_mm=None if shape.marks_mm is None else turned(shape.marks_mm),
        )
        for shape in layer.shapes
    )
    return replace(layer, shapes=shapes)


def _by_role(outlines: tuple[Outline, ...], where: Where) -> list[Layer]:
    """The outlines of a drawing, a layer for each thing that they are, in the order in which these first come."""
    roles = list(dict.fromkeys(outline.role for outline in outlines))
    return [
        Layer(
            f"{where}-{role}",
            _NAMES.get(role, role),
            tuple(one for one in outlines if one.role == role),
            Legend(((role, _NAMES.get(role, role)),)),
        )
        for role in roles
    ]


def _emitters(layout: Layout) -> Layer:
    cavities = placed_cavities(layout)
    legend = Legend((("emitter", say("LED")),))
    if sum(cavity.emitter_count for cavity in cavities) > _MOST_EMITTERS:
        return Layer("emitters", say("LEDs"), (), legend)
    shapes = []
    for cavity in cavities:
        places = np.unique(np.round(cavity.places_mm[:, :2], 3), axis=0)
        half = cavity.emitter_size_mm / 2.0
        square = half * np.array([[-1.0, -1.0], [1.0, -1.0], [1.0, 1.0], [-1.0, 1.0]])
        shapes += [Outline("emitter", place + square) for place in places]
    return Layer("emitters", say("LEDs"), tuple(shapes), legend)


def _sizes(sketch: Sketch, where: Where) -> Layer:
    """Dimension lines with their values, as the window has them: here only to be read."""
    reach = sketch.plan_mm if where == "plan" else sketch.cut_mm
    shapes: list[Outline] = []
    for measure in sketch.measures:
        if measure.where == where and measure.kind == "length" and not measure.text:
            shapes += _dimension(measure, reach)
    return Layer(f"{where}-sizes", say("Sizes"), tuple(shapes), Legend((("dimension", say("size in mm")),)))


def _dimension(measure: Measure, reach: tuple[float, float, float, float]) -> list[Outline]:
    left, low, wide, high = reach
    away = _LINE_MM + measure.tier * _TIER_MM
    ends = np.array([measure.start_mm, measure.end_mm])
    if measure.edge in ("above", "below"):
        edge = low + high if measure.edge == "above" else low
        at = edge + (away if measure.edge == "above" else -away)
        line = np.stack([ends, np.full(2, at)], axis=1)
        ticks = [np.array([[x, edge], [x, at + (1.5 if at > edge else -1.5)]]) for x in ends]
    else:
        edge = left + wide if measure.edge == "right" else left
        at = edge + (away if measure.edge == "right" else -away)
        line = np.stack([np.full(2, at), ends], axis=1)
        ticks = [np.array([[edge, y], [at + (1.5 if at > edge else -1.5), y]]) for y in ends]
    text = f"{measure.value:.4g}" if measure.value < 1000 else f"{measure.value:.1f}".rstrip("0").rstrip(".")
    return [
        Outline("dimension", line, closed=False, words=f"{text} mm"),
        *(Outline("dimension", tick, closed=False) for tick in ticks),
    ]


def _reach(reach: tuple[float, float, float, float], layers: list[Layer]) -> tuple[float, float, float, float]:
    """What a view reaches over with its dimension lines, and room for their texts."""
    points: list[FloatArray] = [shape.points_mm for layer in layers for shape in layer.shapes]
    points.append(np.array([[reach[0], reach[1]], [reach[0] + reach[2], reach[1] + reach[3]]]))
    every = np.concatenate(points)
    low, high = every.min(axis=0) - _LINE_MM, every.max(axis=0) + _LINE_MM
    return float(low[0]), float(low[1]), float(high[0] - low[0]), float(high[1] - low[1])
