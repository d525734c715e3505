"""Templates at true size, to be glued or traced onto the work: flat parts with their holes and rows, developments, mitres."""

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.drawing.layer import Layer, Legend
from gauze.core.drawing.views import View, mirrored_layer
from gauze.core.layout import Layout
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import StripPiece
from gauze.core.layout.shapes import regular
from gauze.core.layout.sketch import Outline, OutlineRole
from gauze.core.parts import BodyPart, Hole, Parts
from gauze.core.words import Fixed, Text, say

TAB_MM = 10.0  # of a development, to be glued; common practice, no source
_MARGIN_MM = 12.0
_MITRE_LONG_MM = 100.0  # of a template for the end of a member
_CROSS_MM = 4.0  # of the cross in the middle of a hole, beyond its rim
_ROUND = 48
_TEXT_ROOM_MM = 3.0  # about the size that stands across its line
_NAMES: dict[OutlineRole, Text] = {
    "cut": say("cut"),
    "fold": say("fold"),
    "hole": say("drill, or cut out"),
    "strip": say("strip, with its cut marks"),
    "mark": say("mark"),
    "dimension": say("size in mm"),
}


@dataclass(frozen=True)
class Template:
    """One shape at true size, and how many parts have it; ``ids`` are the first of them."""

    view: View
    count: int
    ids: tuple[str, ...]


def templates_of(parts: Parts, layout: Layout, wall_mm: float | None) -> tuple[Template, ...]:
    """Return a template for every shape of a flat part, every development and every mitre, and the whole front.

    ``wall_mm`` is the thickness of the boards of which walls are made, None where it is not chosen: their mitres are then left
    out.
    """
    found = [*_flat_parts(parts), *_boards(parts), *_funnels(parts), *_mitres(parts, wall_mm)]
    plan = [one for one in layout.sketch.plan if one.role in ("back", "part", "body", "partition")]
    if plan:
        traced = [replace(one, role="cut", words="", marks_mm=None) for one in plan]
        found.append(Template(_view("plan", say("The whole front, to trace"), traced), 1, ()))
    return tuple(found)


def mirrored(template: Template) -> Template:
    """Return a template as it is seen from the other side of the sheet."""
    view = template.view
    left, _, wide, _ = view.reach_mm
    layers = tuple(mirrored_layer(layer, left + wide / 2.0) for layer in view.layers)
    return replace(template, view=replace(view, name=say("{name}, mirrored", name=view.name), layers=layers))


# -- flat parts --------------------------------------------------------------------------------------------------------


def _flat_parts(parts: Parts) -> Iterator[Template]:
    strips = {piece.id: piece for piece in parts.pieces if isinstance(piece, StripPiece)}
    alike: dict[tuple[object, ...], list[BodyPart]] = {}
    for part in parts.body:
        if part.outline_mm is not None and not part.id.startswith("facet-"):
            alike.setdefault(_signature(part), []).append(part)
    for number, some in enumerate(alike.values(), start=1):
        first = some[0]
        shapes = list(_part_shapes(first, strips))
        if first.id == "funnel":
            shapes += _tab(first.outline_mm[-1], first.outline_mm[0]) if first.outline_mm is not None else []
        ids = tuple(name for part in some for name in part.ids())
        yield Template(_view(f"part-{number}", first.name, shapes), len(ids), ids)


def _signature(part: BodyPart) -> tuple[object, ...]:
    """What makes two parts the same to cut: use, shape, holes, slots and lines."""
    outline = None if part.outline_mm is None else np.round(part.outline_mm, 2).tobytes()
    holes = tuple((one.x_mm, one.y_mm, one.width_mm, one.height_mm) for one in part.holes)
    grooves = tuple((one.start_mm, one.end_mm, one.width_mm) for one in part.grooves)
    marks = tuple((one.start_mm, one.end_mm) for one in part.marks)
    return part.name, part.use, part.thickness_mm, outline, holes, grooves, marks


def _part_shapes(part: BodyPart, strips: dict[str, StripPiece]) -> Iterator[Outline]:
    assert part.outline_mm is not None
    yield Outline("cut", part.outline_mm)
    for groove in part.grooves:
        yield Outline("cut", _band(groove.start_mm, groove.end_mm, groove.width_mm))
    for mark in part.marks:
        piece = strips.get(mark.part.rpartition("/")[2]) or strips.get(mark.part)
        wide = piece.strip.width_mm if piece is not None else 0.0
        yield from _laid(mark.start_mm, mark.end_mm, wide, piece.segments if piece is not None else 1, mark.part)
    for hole in part.holes:
        yield from _hole(hole)


def _band(start: Sequence[float], end: Sequence[float], wide_mm: float) -> FloatArray:
    one, other = np.asarray(start, float), np.asarray(end, float)
    along = (other - one) / max(float(np.hypot(*(other - one))), 1e-9)
    across = np.array([-along[1], along[0]]) * wide_mm / 2.0
    return np.array([one - across, other - across, other + across, one + across])


def _laid(start: Sequence[float], end: Sequence[float], wide_mm: float, segments: int, name: str) -> Iterator[Outline]:
    """Where a strip is laid: its middle line, its edges, and its cut marks."""
    yield Outline("mark", np.array([start, end]), closed=False)
    if wide_mm <= 0:
        return
    corners = _band(start, end, wide_mm)
    share = np.arange(1, segments) / segments
    low, high = (a + share[:, None] * (b - a) for a, b in ((corners[0], corners[1]), (corners[3], corners[2])))
    marks = np.stack([low, high], axis=1) if len(share) else None
    yield Outline("strip", corners, words=name, marks_mm=marks)


def _hole(hole: Hole) -> Iterator[Outline]:
    middle = np.array([hole.x_mm, hole.y_mm])
    if hole.height_mm:
        half = np.array([hole.width_mm, hole.height_mm]) / 2.0
        yield Outline("hole", middle + half * np.array([[-1.0, -1.0], [1.0, -1.0], [1.0, 1.0], [-1.0, 1.0]]))
    else:
        yield Outline("hole", middle + regular(_ROUND, hole.width_mm / 2.0))
    arm = max(hole.width_mm, hole.height_mm) / 2.0 + _CROSS_MM
    for way in (np.array([arm, 0.0]), np.array([0.0, arm])):
        yield Outline("mark", np.array([middle - way, middle + way]), closed=False)


# -- boards ------------------------------------------------------------------------------------------------------------


def _boards(parts: Parts) -> Iterator[Template]:
    """Boards that have holes or grooves, from their inner face."""
    alike: dict[tuple[object, ...], list[BodyPart]] = {}
    for part in parts.body:
        if part.kind == "member" and part.outline_mm is None and (part.holes or part.grooves):
            key = part.length_mm, part.width_mm, *_signature(part)[3:]
            alike.setdefault(key, []).append(part)
    for number, some in enumerate(alike.values(), start=1):
        first = some[0]
        face = np.array([[0.0, 0.0], [first.length_mm, 0.0], [first.length_mm, first.width_mm], [0.0, first.width_mm]])
        shapes = [Outline("cut", face)]
        for groove in first.grooves:
            band = _band(groove.start_mm, groove.end_mm, groove.width_mm)
            deep = "" if groove.depth_mm is None else f"{_millimetres(groove.depth_mm)} deep"
            shapes.append(Outline("fold", band, words=deep))
        for hole in first.holes:
            shapes += _hole(hole)
        ids = tuple(name for part in some for name in part.ids())
        name = say("{part}, from inside", part=first.name)
        yield Template(_view(f"board-{number}", name, shapes), len(ids), ids)


# -- developments ------------------------------------------------------------------------------------------------------


def _funnels(parts: Parts) -> Iterator[Template]:
    facets = [part for part in parts.body if part.id.startswith("facet-") and part.outline_mm is not None]
    if not facets:
        return
    assert facets[0].outline_mm is not None
    outline, folds = unfolded(facets[0].outline_mm, len(facets))
    right = outline[len(facets)], outline[len(facets) + 1]
    shapes = [Outline("cut", outline), *(Outline("fold", fold, closed=False) for fold in folds), *_tab(*right)]
    name = say("Funnel in one piece, {count} facets", count=len(facets))
    yield Template(_view("funnel", name, shapes), 1, tuple(part.id for part in facets))


def unfolded(facet_mm: FloatArray, count: int) -> tuple[FloatArray, list[FloatArray]]:
    """Lay facets side by side in a plane, each on the leg of the one before.

    Parameters
    ----------
    facet_mm:
        A trapezium, its lower edge first, counter-clockwise, (4, 2).

    Returns
    -------
    outline, folds
        The outline counter-clockwise, lower edge first, (2 count + 2, 2); and the legs between facets, (2, 2) each.
    """
    points = facet_mm[:, 0] + 1j * facet_mm[:, 1]
    low, high = [points[0], points[1]], [points[3], points[2]]
    for _ in range(count - 1):
        leg, own = high[-1] - low[-1], points[3] - points[0]
        turn = leg / own
        turn /= abs(turn)
        low.append(low[-1] + turn * (points[1] - points[0]))
        high.append(high[-1] + turn * (points[2] - points[3]))
    ring = np.array([*low, *high[::-1]])
    folds = [np.array([[a.real, a.imag], [b.real, b.imag]]) for a, b in zip(low[1:-1], high[1:-1], strict=True)]
    return np.stack([ring.real, ring.imag], axis=1), folds


def _tab(start: FloatArray, end: FloatArray) -> list[Outline]:
    """A tab to be glued, outside of an edge that runs counter-clockwise, its ends cut back by as much as it is wide."""
    along = end - start
    length = float(np.hypot(*along))
    along = along / max(length, 1e-9)
    out = np.array([along[1], -along[0]])
    wide = min(TAB_MM, length / 3.0)
    points = np.array([start, start + wide * (along + out), end + wide * (out - along), end])
    return [Outline("cut", points, closed=False), Outline("fold", np.array([start, end]), closed=False)]


# -- mitres ------------------------------------------------------------------------------------------------------------


def _mitres(parts: Parts, wall_mm: float | None) -> Iterator[Template]:
    alike: dict[tuple[float, float], list[str]] = {}
    for part in parts.body:
        wide = part.width_mm if part.kind == "profile" else part.thickness_mm or wall_mm
        if part.kind not in ("profile", "member") or wide is None:
            continue
        for cut in {round(abs(part.start_cut_deg), 2), round(abs(part.end_cut_deg), 2)} - {0.0}:
            alike.setdefault((cut, round(wide, 2)), []).extend(part.ids())
    for number, ((cut, wide), ids) in enumerate(sorted(alike.items()), start=1):
        name = say(
            "Mitre, {cut}° from square ({other}° on a saw that counts from the fence)",
            cut=Fixed(cut, ".4g"),
            other=Fixed(90.0 - cut, ".4g"),
        )
        yield Template(_view(f"mitre-{number}", name, [Outline("cut", mitre_end(cut, wide))]), len(ids), tuple(ids))


def mitre_end(cut_deg: float, wide_mm: float) -> FloatArray:
    """Footprint of the end of a member as wide as told, its upper edge the longer one, (4, 2)."""
    lean = wide_mm * math.tan(math.radians(cut_deg))
    long_mm = _MITRE_LONG_MM + lean
    return np.array([[lean, 0.0], [long_mm, 0.0], [long_mm, wide_mm], [0.0, wide_mm]])


# -- the view ----------------------------------------------------------------------------------------------------------


def _view(key: str, name: Text, shapes: Sequence[Outline]) -> View:
    points = np.concatenate([shape.points_mm for shape in shapes])
    low, high = points.min(axis=0), points.max(axis=0)
    every = [*shapes, *_sizes(low, high)]
    layers = tuple(
        Layer(role, words, own, Legend(((role, words),)))
        for role, words in _NAMES.items()
        if (own := tuple(shape for shape in every if shape.role == role))
    )
    left, below = (low - _MARGIN_MM).tolist()
    wide, tall = (high - low + 2.0 * _MARGIN_MM).tolist()
    return View(key, name, (left, below, wide, tall), layers)


def _sizes(low: FloatArray, high: FloatArray) -> Iterable[Outline]:
    """Overall width below and height on the left."""
    (x0, y0), (x1, y1) = low.tolist(), high.tolist()
    below, left = y0 - _MARGIN_MM / 2.0, x0 - _MARGIN_MM / 2.0
    yield Outline("dimension", np.array([[x0, below], [x1, below]]), closed=False, words=_millimetres(x1 - x0))
    middle = (y0 + y1) / 2.0
    room = min(_TEXT_ROOM_MM, (y1 - y0) / 2.0)
    for start, end in ((y0, middle - room), (middle + room, y1)):
        yield Outline("dimension", np.array([[left, start], [left, end]]), closed=False)
    words = np.array([[left - 0.1, middle - _TEXT_ROOM_MM / 2.0], [left + 0.1, middle - _TEXT_ROOM_MM / 2.0]])
    yield Outline("dimension", words, closed=False, words=_millimetres(y1 - y0))


def _millimetres(value: float) -> str:
    return f"{value:.1f}".removesuffix(".0") + " mm"
