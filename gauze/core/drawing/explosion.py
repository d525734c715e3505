"""The build taken apart: its parts one above the other in the order in which they lie, seen at an angle, with their names."""

from collections.abc import Mapping, Sequence

import numpy as np

from gauze.core.drawing.layer import Layer, Legend
from gauze.core.drawing.views import View
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import StripPiece
from gauze.core.layout.sketch import Outline
from gauze.core.parts import Parts
from gauze.core.words import Text, say

_SQUEEZED, _LEANING = 0.45, 0.35  # how much of a depth is seen, and how far it leans to the right
_GAP = 0.22  # between two levels, of the larger side of the plan
_MARGIN, _LABEL = 0.03, 0.45  # about it, and for the names on the right, of its width
_MOST_SHAPES = 4000


def explosion(parts: Parts, shapes: Mapping[str, FloatArray]) -> View | None:
    """Return the view; None for a build without parts.

    ``shapes`` are the outlines of all parts in the plan, by id: what stands upright is drawn by its foot.
    """
    levels = [level for level in _levels(parts, shapes) if level[1]]
    if not levels:
        return None
    every = np.concatenate([ring for _, rings in levels for ring in rings])
    low, high = every.min(axis=0), every.max(axis=0)
    step = _GAP * float(max(high - low)) + _SQUEEZED * float(high[1] - low[1])
    drawn: list[Outline] = []
    names: list[Outline] = []
    for number, (name, rings) in enumerate(levels):
        shifted = [_seen(ring - low) + np.array([0.0, number * step]) for ring in rings]
        drawn += [Outline("part", ring) for ring in shifted]
        points = np.concatenate(shifted)
        right, middle = float(points[:, 0].max()), float((points[:, 1].min() + points[:, 1].max()) / 2.0)
        wide = float(high[0] - low[0])
        line = np.array([[right + _MARGIN * wide, middle], [right + _LABEL * wide, middle]])
        names.append(Outline("label", line, closed=False, words=name))
    layers = (
        Layer("exploded", say("Parts"), tuple(drawn), Legend((("part", say("Parts")),))),
        Layer("names", say("Names of the pieces"), tuple(names), Legend((("label", say("Parts")),))),
    )
    points = np.concatenate([shape.points_mm for layer in layers for shape in layer.shapes])
    margin = _MARGIN * float(max(high - low))
    (x0, y0), (x1, y1) = points.min(axis=0) - margin, points.max(axis=0) + margin
    return View("exploded", say("Taken apart"), (float(x0), float(y0), float(x1 - x0), float(y1 - y0)), layers)


def _seen(points: FloatArray) -> FloatArray:
    """Points of the plan as they are seen from the front and above."""
    x, y = points.T
    return np.stack([x + _LEANING * y, _SQUEEZED * y], axis=1)


def _levels(parts: Parts, shapes: Mapping[str, FloatArray]) -> Sequence[tuple[Text, list[FloatArray]]]:
    """Names and outlines of what lies at one height, the lowest first; parts that are alike are one level."""
    heights: dict[str, float] = {}
    rings: dict[str, list[FloatArray]] = {}
    count = 0
    for piece in parts.pieces:
        if isinstance(piece, StripPiece):
            name, place = piece.strip.name, piece.start_mm
        else:
            name, place = piece.module.name, piece.place_mm
        heights.setdefault(name, place[2])
        rings.setdefault(name, []).append(shapes[piece.id])
    for part in parts.body:
        if part.kind == "board" and parts.pieces:
            continue
        heights.setdefault(part.name, part.placement.origin_mm[2])
        for one in part.ids():
            count += 1
            if one in shapes and count <= _MOST_SHAPES:
                rings.setdefault(part.name, []).append(shapes[one])
    return [(name, rings.get(name, [])) for name in sorted(heights, key=lambda one: heights[one])]
