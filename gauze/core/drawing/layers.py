"""Layers over the plan: what is drawn in each. To add one, write a function and name it in ``LAYERS`` or ``POWER_LAYERS``."""

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from gauze.core.design import Design
from gauze.core.drawing.heat_layer import warmth_of_pieces
from gauze.core.drawing.layer import Layer, Legend
from gauze.core.drawing.power_layers import light_along, wires_in_plan
from gauze.core.drawing.wiring_layer import wiring_in_plan
from gauze.core.electrical.data_line import pixel_runs
from gauze.core.electrical.power import Power
from gauze.core.families import parts_of
from gauze.core.layout import Layout, ModulePiece, StripPiece
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import Piece
from gauze.core.layout.sketch import Outline, OutlineRole
from gauze.core.materials import load_catalogue
from gauze.core.parts import Joint, Parts
from gauze.core.parts.joining import BUS, CONTROLLER
from gauze.core.parts.pads import pads_of
from gauze.core.thermal.warming import BuildWarmth
from gauze.core.words import Words, say

_MOST_LABELS = 400  # beyond that they cover each other and say nothing
_PLAIN_PADS = 2  # plus and minus: the signs say all of it
_MOST_ON_BOARDS = 8_000  # pixels whose way is drawn


def layers_of(
    design: Design, layout: Layout, power: Power | None = None, warmth: BuildWarmth | None = None
) -> tuple[Layer, ...]:
    """Return every layer that a laid-out design has something to show in; those of its power and warmth where these are known."""
    parts = parts_of(design, layout, load_catalogue())
    found = [make(layout, parts) for make in LAYERS]
    if power is not None and [one.id for one in power.pieces] == [one.id for one in layout.pieces]:
        found += [make_of(layout.pieces, power) for make_of in POWER_LAYERS]
        found[-1] = _with_data_and_holes(found[-1], parts)
    if warmth is not None and [one.id for one in warmth.pieces] == [one.id for one in layout.pieces]:
        found.append(warmth_of_pieces(layout.pieces, warmth))
    return tuple(layer for layer in found if layer.shapes)


def part_names(_layout: Layout, parts: Parts) -> Layer:
    """The ids of pieces in their middles."""
    pieces = parts.pieces if len(parts.pieces) <= _MOST_LABELS else ()
    shapes = tuple(Outline("label", _middle(piece)[None, :], closed=False, words=piece.id) for piece in pieces)
    return Layer(
        "parts", say("Names of the pieces"), shapes, Legend((("label", say("name of a piece of strip or a module")),))
    )


def data_order(_layout: Layout, parts: Parts) -> Layer:
    """The way of the data through the pieces."""
    return Layer(
        "data",
        say("Order of the data"),
        (*_ways(parts, "data"), *_through_boards(parts), *_indices(parts)),
        Legend(
            (("data", say("way of the data, from piece to piece")), ("label", say("first and last pixel of a piece")))
        ),
    )


def _through_boards(parts: Parts) -> list[Outline]:
    """The way of the data from pixel to pixel of each board."""
    boards = [
        run for run in pixel_runs(parts.pieces, parts.joints) if isinstance(run.of, ModulePiece) and run.count > 1
    ]
    if sum(run.count for run in boards) > _MOST_ON_BOARDS:
        return []
    return [Outline("data", run.places_mm[:, :2], closed=False) for run in boards]


def _indices(parts: Parts) -> list[Outline]:
    """The numbers of the first and last pixel in the middle of each piece."""
    runs = pixel_runs(parts.pieces, parts.joints)
    middles = {piece.id: _middle(piece) for piece in parts.pieces}
    return [
        Outline("label", middles[run.piece][None, :], closed=False, words=f"{run.first}–{run.last}")
        for run in runs[:_MOST_LABELS]
    ]


def supply_order(_layout: Layout, parts: Parts) -> Layer:
    """How the pieces are fed, unless the wiring is changed."""
    legend = Legend(
        (
            ("supply", say("what feeds each piece: the supply at a dot, else the piece before")),
            ("hole", say("hole for the lead")),
        )
    )
    return Layer("supply", say("How the pieces are fed"), (*_ways(parts, "supply"), *_holes(parts)), legend)


LAYERS: tuple[Callable[[Layout, Parts], Layer], ...] = (part_names, data_order, supply_order)
POWER_LAYERS: tuple[Callable[[tuple[Piece, ...], Power], Layer], ...] = (light_along, wires_in_plan, wiring_in_plan)


def _with_data_and_holes(wiring: Layer, parts: Parts) -> Layer:
    """The wiring plan with the way of the data, the holes for leads, and the order of the pads where there are more than two."""
    extra: dict[OutlineRole, tuple[Outline, ...]] = {
        "data": _ways(parts, "data"),
        "hole": tuple(_holes(parts)),
        "label": tuple(_pad_orders(parts)),
    }
    words: dict[OutlineRole, Words] = {
        "data": say("way of the data, from piece to piece"),
        "hole": say("hole for the lead"),
        "label": say("pads at the start of a piece, in their order; go by the print on it"),
    }
    shapes = (*extra["label"], *wiring.shapes, *extra["data"], *extra["hole"])  # of words that meet the first is shown
    told = tuple((role, words[role]) for role, some in extra.items() if some)
    return replace(wiring, shapes=shapes, legend=Legend((*wiring.legend.entries, *told)))


def _pad_orders(parts: Parts) -> list[Outline]:
    """The pads of strips that have more than a plus and a minus, from one edge to the other: at the first piece of each kind."""
    found = []
    met: set[tuple[str, ...]] = set()
    for piece in parts.pieces[:_MOST_LABELS]:
        pads = tuple(pads_of(piece, "start"))
        if isinstance(piece, StripPiece) and len(pads) > _PLAIN_PADS and pads not in met:
            met.add(pads)
            at = np.array(piece.start_mm[:2]) - piece.strip.width_mm * np.array(piece.along[:2])
            found.append(Outline("label", at[None, :], closed=False, words=" ".join(pads)))
    return found


def _ways(parts: Parts, kind: str) -> tuple[Outline, ...]:
    pieces = {piece.id: piece for piece in parts.pieces}
    role: OutlineRole = "data" if kind == "data" else "supply"
    found: list[Outline] = []
    for joint in parts.joints:
        if joint.kind == kind:
            found += _way(joint, pieces, role)
    return tuple(found)


def _way(joint: Joint, pieces: dict[str, Piece], role: OutlineRole) -> Sequence[Outline]:
    """A joint as a line from end to end, and the piece that it leads to as an arrow along it; a dot where it begins."""
    there = _end_mm(pieces[joint.second], "start")
    along = Outline(role, np.array([there, _end_mm(pieces[joint.second], "end")]), closed=False)
    if joint.first in (BUS, CONTROLLER):
        return (Outline(role, there[None, :], closed=False), along)
    return (Outline(role, np.array([_end_mm(pieces[joint.first], "end"), there]), closed=False), along)


def _end_mm(piece: Piece, end: str) -> FloatArray:
    if isinstance(piece, StripPiece):
        return np.array((piece.start_mm if end == "start" else piece.end_mm)[:2])
    half = piece.module.board_mm[0] / 2.0 * (-0.8 if end == "start" else 0.8)
    return np.array([piece.place_mm[0] + piece.along[0] * half, piece.place_mm[1] + piece.along[1] * half])


def _middle(piece: Piece) -> FloatArray:
    if isinstance(piece, ModulePiece):
        return np.array(piece.place_mm[:2])
    return np.asarray((np.array(piece.start_mm[:2]) + np.array(piece.end_mm[:2])) / 2.0)


def _holes(parts: Parts) -> list[Outline]:
    """Holes for leads in level sheets, where these lie in the plan's own frame."""
    found = []
    for part in parts.body:
        if part.kind != "sheet" or part.places or part.outline_mm is None or part.placement.right != (1.0, 0.0, 0.0):
            continue
        found += [Outline("hole", circle_mm(hole.x_mm, hole.y_mm, hole.width_mm)) for hole in part.holes]
    return found


def circle_mm(x_mm: float, y_mm: float, diameter_mm: float, steps: int = 32) -> FloatArray:
    """Corners that stand for a circle, shape (steps, 2)."""
    angle = 2.0 * np.pi * np.arange(steps) / steps
    middle = np.array([x_mm, y_mm])
    return np.asarray(middle + diameter_mm / 2.0 * np.stack([np.cos(angle), np.sin(angle)], axis=1))
