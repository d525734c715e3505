"""Where every part lies in the side cut, by its id: for what is picked there.

The cut goes through the middle of the plan, or of the first of several units across its length; what it passes through is
shown as the rectangle that it takes there, tubes and shells as circles.
"""

from collections.abc import Mapping

import numpy as np

from gauze.core.design.cavity import FrustumShape
from gauze.core.drawing.part_shapes import own_outline
from gauze.core.layout import Layout
from gauze.core.layout.built import Instance
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Piece, StripPiece
from gauze.core.layout.placing import turn_of
from gauze.core.layout.shapes import regular
from gauze.core.parts import BodyPart, Parts

_LEAST_MM = 1.5  # thickness that is shown of what has none: else nothing could be hit
_ROUND = 36


def section_shapes(parts: Parts, layout: Layout, plan: Mapping[str, FloatArray]) -> dict[str, FloatArray]:
    """Return the outline in the side cut, (n, 2), of every part that the cut passes through.

    ``plan`` are the outlines in the plan by id, as :func:`gauze.core.drawing.part_shapes.plan_shapes` gives them.
    """
    first = layout.instances[0] if layout.instances else None
    axis = 0 if layout.sketch.cut_axis == "x" else 1
    own = {name: _in_unit(ring, first) for name, ring in plan.items() if _is_of(name, first)}
    if not own:
        return {}
    unit = [ring for name, ring in own.items() if first is None or name.startswith(f"{first.id}/")]
    every = np.concatenate(unit or list(own.values()))
    middle = float((every[:, 1 - axis].min() + every[:, 1 - axis].max()) / 2.0)
    found: dict[str, FloatArray] = {}
    developed = [name for part in parts.body if part.kind == "sheet" and part.use == "wall" for name in part.ids()]
    for name, (low, high) in _heights(parts).items():
        if name not in own or name in developed:  # a development lies flat, not where it will be
            continue
        span = _across(own[name], axis, middle)
        if span is not None and every[:, axis].min() <= sum(span) / 2.0 <= every[:, axis].max():  # not of the next unit
            found[name] = _box(*span, low, high)
    for part in parts.body:
        if part.kind in ("tube", "shell"):
            found |= {name: _round(found[name], ball=part.kind == "shell") for name in part.ids() if name in found}
    shape = layout.cavity.shape
    if developed and isinstance(shape, FrustumShape):
        found |= dict.fromkeys(developed, _funnel(shape))
    return found


def _funnel(shape: FrustumShape) -> FloatArray:
    low, high = shape.back_mm / 2.0, shape.lid_mm / 2.0
    return np.array([[-low, 0.0], [low, 0.0], [high, shape.depth_mm], [-high, shape.depth_mm]])


def _is_of(name: str, first: Instance | None) -> bool:
    """Whether a part is of the unit that is cut."""
    return first is None or name.startswith(f"{first.id}/") or "/" not in name


def _in_unit(ring: FloatArray, first: Instance | None) -> FloatArray:
    if first is None:
        return ring
    return np.asarray((ring - np.array([first.x_mm, first.y_mm])) @ turn_of(first)[:2, :2])


def _heights(parts: Parts) -> dict[str, tuple[float, float]]:
    """From where to where over the back every part reaches."""
    found = {piece.id: _piece_heights(piece) for piece in parts.pieces}
    for part in parts.body:
        found |= dict.fromkeys(part.ids(), _body_heights(part))
    for one in parts.fixings:
        half = one.diameter_mm / 2.0 * (1.0 - abs(one.along[2]))
        ends = one.head_mm[2], one.end_mm[2]
        found[one.id] = min(ends) - half, max(ends) + half
    return found


def _piece_heights(piece: Piece) -> tuple[float, float]:
    if isinstance(piece, StripPiece):
        up = np.cross(np.array(piece.facing), np.array(piece.along))
        half = max(abs(float(up[2])) * piece.strip.width_mm / 2.0, _LEAST_MM / 2.0)
        z = sorted((piece.start_mm[2], piece.end_mm[2]))
        return z[0] - half, z[1] + half
    z_mm = piece.place_mm[2]
    return z_mm - _LEAST_MM / 2.0, z_mm + _LEAST_MM / 2.0


def _body_heights(part: BodyPart) -> tuple[float, float]:
    low = part.placement.origin_mm[2]
    if part.kind == "shell" or (part.use == "wall" and part.kind == "member"):
        return low, low + part.width_mm
    if part.kind == "tube":
        return 0.0, part.width_mm
    right, up = part.placement.right, part.placement.up
    out = np.cross(np.array(right), np.array(up))
    flat = own_outline(part)
    thick = max(part.thickness_mm or 0.0, _LEAST_MM) * np.array([0.0, 1.0])
    z = low + flat[:, :1] * right[2] + flat[:, 1:] * up[2] + thick[None] * float(out[2])
    return float(z.min()), float(max(z.max(), z.min() + _LEAST_MM))


def _across(ring: FloatArray, axis: int, at: float) -> tuple[float, float] | None:
    """From where to where along one axis a line at a place of the other passes through a polygon; None where it misses it."""
    along, other = ring[:, axis], ring[:, 1 - axis]
    if not other.min() <= at <= other.max():
        return None
    next_along, next_other = np.roll(along, -1), np.roll(other, -1)
    crosses = (other - at) * (next_other - at) <= 0.0
    step = np.where(next_other == other, 1.0, next_other - other)
    share = np.where(next_other == other, 0.0, (at - other) / step)
    places = (along + share * (next_along - along))[crosses]
    low, high = float(places.min()), float(places.max())
    spare = max(_LEAST_MM - (high - low), 0.0) / 2.0
    return low - spare, high + spare


def _box(left: float, right: float, low: float, high: float) -> FloatArray:
    return np.array([[left, low], [right, low], [right, high], [left, high]])


def _round(box: FloatArray, *, ball: bool) -> FloatArray:
    """A circle as wide as a box; of a ball it stands on the back."""
    (left, low), (right, high) = box.min(axis=0).tolist(), box.max(axis=0).tolist()
    radius = (right - left) / 2.0
    middle = high - radius if ball else (low + high) / 2.0
    return np.asarray(regular(_ROUND, radius) + np.array([(left + right) / 2.0, middle]))
