"""Where every part lies in the plan, by its id: for what is picked, and for what a step of the making is about."""

from collections.abc import Mapping, Sequence

import numpy as np

from gauze.core.drawing.layer import Layer, Legend
from gauze.core.drawing.views import View
from gauze.core.layout import Layout
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Piece, StripPiece, strip_in_plan
from gauze.core.layout.placing import in_plan
from gauze.core.layout.shapes import regular
from gauze.core.layout.sketch import Outline
from gauze.core.parts import BodyPart, Fixing, Parts
from gauze.core.words import say

_EDGE_MM = 2.0  # half of how wide a part is drawn that stands on edge and has no thickness yet
_ROUND = 36
_MARGIN_MM = 6.0
_MANY, _PART = 80, 0.25  # shapes of a plan that are shown whole; of a larger one this share of it about a step's parts
Reach = tuple[float, float, float, float]


def plan_shapes(parts: Parts, layout: Layout) -> dict[str, FloatArray]:
    """Return the outline in the plan, (n, 2), of every piece and of every part of the body, at each of its places."""
    places = {one.id: one for one in layout.instances}
    found = {piece.id: piece_in_plan(piece) for piece in parts.pieces}
    for part in parts.body:
        own = part_in_plan(part)
        for name in part.ids():
            place = places.get(name.removesuffix(f"/{part.id}")) if part.places else None
            found[name] = own if place is None else in_plan(place, own)
    for one in parts.fixings:
        found[one.id] = fixing_in_plan(one)
    return found


def fixing_in_plan(one: Fixing) -> FloatArray:
    """Outline of a screw or the like from the front: round where it points to the eye."""
    start, end = np.array(one.head_mm[:2]), np.array(one.end_mm[:2])
    half = max(one.diameter_mm, _EDGE_MM) / 2.0
    along = end - start
    long = float(np.hypot(*along))
    if long < half:
        return np.asarray(start + regular(_ROUND, half))
    across = np.array([-along[1], along[0]]) / long * half
    return np.array([start - across, end - across, end + across, start + across])


def piece_in_plan(piece: Piece) -> FloatArray:
    """Outline of a strip or of a module from the front."""
    if isinstance(piece, StripPiece):
        return strip_in_plan(piece)
    module = piece.module
    half = np.array([module.columns, module.rows]) * module.pitch_mm / 2.0
    along = np.array(piece.along)
    up = np.cross(np.array(piece.facing), along)
    corners = np.array([[-1.0, -1.0], [1.0, -1.0], [1.0, 1.0], [-1.0, 1.0]]) * half
    return np.asarray((np.array(piece.place_mm) + corners[:, :1] * along + corners[:, 1:] * up)[:, :2])


def part_in_plan(part: BodyPart) -> FloatArray:
    """Outline of a part from the front, in the frame of its unit; what stands on edge is as wide as it is thick."""
    origin = np.array(part.placement.origin_mm)
    right, up = np.array(part.placement.right), np.array(part.placement.up)
    if part.kind == "shell":
        return regular(_ROUND, part.length_mm / 2.0)
    flat = own_outline(part)
    points = np.asarray((origin + flat[:, :1] * right + flat[:, 1:] * up)[:, :2])
    wide = np.ptp(points, axis=0)
    if part.outline_mm is None or min(wide) > _EDGE_MM:
        return points
    return _on_edge(points, max((part.thickness_mm or 0.0) / 2.0, _EDGE_MM))


def own_outline(part: BodyPart) -> FloatArray:
    """Return the outline in the part's own plane: of what is cut to length its footprint."""
    if part.outline_mm is not None:
        return part.outline_mm
    long_mm = part.length_mm
    if part.kind in ("profile", "lens", "tube"):
        low, high = -part.width_mm / 2.0, part.width_mm / 2.0
    elif part.use == "wall":  # its own y points inwards
        low, high = -(part.thickness_mm or 2.0 * _EDGE_MM), 0.0
    else:
        low, high = 0.0, part.width_mm
    return np.array([[0.0, low], [long_mm, low], [long_mm, high], [0.0, high]])


def _on_edge(points: FloatArray, half_mm: float) -> FloatArray:
    """A band about the line that a part on edge is from the front."""
    middle = points.mean(axis=0)
    away = points - middle
    way = away[int(np.argmax(np.hypot(*away.T)))]
    length = max(float(np.hypot(*way)), 1e-9)
    along = way / length
    across = np.array([-along[1], along[0]]) * half_mm
    return np.array([middle - way - across, middle + way - across, middle + way + across, middle - way + across])


def highlighted(layout: Layout, shapes: Mapping[str, FloatArray], ids: Sequence[str]) -> View:
    """Return the plan in thin lines with some parts filled, as a view; of a plan with many shapes what lies about them."""
    bold = [shapes[name] for name in ids if name in shapes]
    plan = [one for one in layout.sketch.plan if one.role in ("back", "body", "part", "strip")]
    reach = layout.sketch.plan_mm
    if len(plan) > _MANY and bold:
        reach = _about(bold, reach)
        plan = [one for one in plan if one.role != "strip" and _meets(one.points_mm, reach)]
    left, low, wide, high = reach
    thin = tuple(Outline("mark", one.points_mm, closed=one.closed) for one in plan)
    layers = (
        Layer("plan", say("Plan"), thin, Legend((("mark", say("Plan")),))),
        Layer(
            "now",
            say("In this step"),
            tuple(Outline("marked", ring) for ring in bold),
            Legend((("marked", say("In this step")),)),
        ),
    )
    frame = (left - _MARGIN_MM, low - _MARGIN_MM, wide + 2.0 * _MARGIN_MM, high + 2.0 * _MARGIN_MM)
    return View("step", say("In this step"), frame, layers)


def _about(rings: Sequence[FloatArray], whole: Reach) -> Reach:
    """What lies about some parts: at least a quarter of the plan either way, and no more than all of it."""
    every = np.concatenate(rings)
    low, high = every.min(axis=0), every.max(axis=0)
    left, bottom, wide, tall = whole
    room = np.array([wide, tall]) * _PART
    start = np.maximum(low - room / 2.0, [left, bottom])
    end = np.minimum(high + room / 2.0, [left + wide, bottom + tall])
    x, y = np.minimum(start, low).tolist()
    right, top = np.maximum(end, high).tolist()
    return x, y, right - x, top - y


def _meets(ring: FloatArray, reach: Reach) -> bool:
    low, high = ring.min(axis=0), ring.max(axis=0)
    left, bottom, wide, tall = reach
    return bool(high[0] >= left and low[0] <= left + wide and high[1] >= bottom and low[1] <= bottom + tall)


def part_under(shapes: Mapping[str, FloatArray], x: float, y: float) -> str | None:
    """Return the part with the smallest outline of those about a place, by its id; None where none is."""
    hit = [(_area(ring), name) for name, ring in shapes.items() if _contains(ring, x, y)]
    return min(hit)[1] if hit else None


def _area(ring: FloatArray) -> float:
    (x0, y0), (x1, y1) = ring.min(axis=0).tolist(), ring.max(axis=0).tolist()
    return float((x1 - x0) * (y1 - y0))


def _contains(ring: FloatArray, x: float, y: float) -> bool:
    """Whether a place lies in a ring: by how often a ray to the right crosses it."""
    inside = False
    points = ring.tolist()
    for (ax, ay), (bx, by) in zip(points, points[1:] + points[:1], strict=True):
        if (ay > y) != (by > y) and x < ax + (y - ay) / (by - ay) * (bx - ax):
            inside = not inside
    return inside
