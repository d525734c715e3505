"""Tiles to print: the base with its walls and windows, and a lid that clips into it where there is no sheet to cut."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

import numpy as np

from gauze.core.design.making import Printing
from gauze.core.design.tile_wall import TILE_NAMES, TileWall, polygon_mm
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import StripPiece
from gauze.core.making.solids.clips import SKIRT_DEEP_MM, beads, clip_lid
from gauze.core.making.solids.dividing import divided
from gauze.core.making.solids.model import PLAY_MM, Printed
from gauze.core.making.solids.shapes import area, box, plate, rod
from gauze.core.parts import BodyPart, Hole, Parts
from gauze.core.words import Text, say

if TYPE_CHECKING:
    from manifold3d import Manifold

LEAST_WALL_MM = 0.8  # of a tile that is to be handled; common practice, no source
_LEAST_CLIPPED_MM = 1.2  # of a wall into which a groove is let
_LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


def tile_prints(build: TileWall, parts: Parts, printing: Printing) -> Iterator[Printed]:
    """Yield a base for every set of windows that tiles of a kind have, and a lid for each kind."""
    if build.wall_mm < LEAST_WALL_MM:
        return
    clips = build.wall_mm >= _LEAST_CLIPPED_MM and _free_mm(build, parts) > SKIRT_DEEP_MM
    for sides in sorted({tile.sides for tile in build.tiles}):
        ids = _places(parts, sides)
        variants: dict[tuple[tuple[int, Hole], ...], list[str]] = {}
        for place in ids:
            variants.setdefault(_openings(parts, sides, place), []).append(place)
        for letter, (holes, places) in zip(_LETTERS, variants.items(), strict=False):
            yield _base(build, sides, holes, (letter, places), printing, clips=clips)
        if clips:
            yield _lid(build, sides, len(ids), printing)


def _free_mm(build: TileWall, parts: Parts) -> float:
    """Height under the lid that no strip along the walls takes."""
    taken = max((piece.strip.width_mm for piece in parts.pieces if isinstance(piece, StripPiece)), default=0.0)
    return build.depth_mm - (build.rim_height_mm + taken / 2.0 if build.lighting == "rim" else 1.0)


def _prefix(sides: int) -> str:
    return {3: "triangle-", 4: "square-", 6: "hexagon-"}[sides]


def _of_kind(parts: Parts, sides: int) -> Iterator[BodyPart]:
    return (part for part in parts.body if part.id.startswith(_prefix(sides)))


def _places(parts: Parts, sides: int) -> tuple[str, ...]:
    return next(part.places for part in _of_kind(parts, sides))


def _openings(parts: Parts, sides: int, place: str) -> tuple[tuple[int, Hole], ...]:
    """What a tile at a place has: the number of a wall from 0, or -1 for the base, with the hole in it, its places left out."""
    found = []
    for part in _of_kind(parts, sides):
        for hole in part.holes:
            if not hole.only or place in hole.only:
                wall = int(part.id.rpartition("-")[2]) - 1 if part.use == "wall" and sides != 4 else _wall(part)
                found.append((wall, Hole("", hole.purpose, hole.x_mm, hole.y_mm, hole.width_mm, hole.height_mm)))
    return tuple(found)


def _wall(part: BodyPart) -> int:
    """Number of a square tile's wall, -1 for the base."""
    order = ("bottom", "right", "top", "left")
    return order.index(part.id.rpartition("-")[2]) if part.use == "wall" else -1


def _base(
    build: TileWall,
    sides: int,
    holes: Sequence[tuple[int, Hole]],
    variant: tuple[str, list[str]],
    printing: Printing,
    *,
    clips: bool,
) -> Printed:
    inner, outer = (polygon_mm(sides, build.side_mm, grown) for grown in (-build.wall_mm, 0.0))
    floor, top = printing.wall_mm, printing.wall_mm + build.depth_mm
    shape = plate(area(outer), 0.0, top) - plate(area(inner), floor, top + 1.0)
    for wall, hole in holes:
        shape = shape - _opening(inner, wall, hole, floor, build.wall_mm)
    if clips:
        shape = shape - beads(inner, PLAY_MM / 2.0, top)
    pieces, pins = divided(shape, printing.bed)
    letter, places = variant
    name = say("Base of a tile, {kind}, {letter}", kind=TILE_NAMES[sides], letter=letter)
    notes: list[Text] = [say("for {places}", places=", ".join(places[:12]) + (" …" if len(places) > 12 else ""))]
    if pins:
        notes.append(say("{pins} holes for pins of 1.75 mm filament join the pieces", pins=pins))
    return Printed(f"base-{_prefix(sides)}{letter.lower()}", name, tuple(pieces), len(places), tuple(notes))


def _opening(inner: FloatArray, wall: int, hole: Hole, floor_mm: float, wall_mm: float) -> Manifold:
    if wall < 0:
        return rod(hole.width_mm, 2.0 * floor_mm + 2.0).translate((hole.x_mm, hole.y_mm, -floor_mm - 1.0))
    start, end = inner[wall], inner[(wall + 1) % len(inner)]
    along = (end - start) / np.hypot(*(end - start))
    half = hole.width_mm / 2.0
    window = box(
        (hole.x_mm - half, -3.0 * wall_mm, floor_mm + hole.y_mm - hole.height_mm / 2.0),
        (hole.x_mm + half, wall_mm, floor_mm + hole.y_mm + hole.height_mm / 2.0),
    )
    turn = float(np.degrees(np.arctan2(along[1], along[0])))
    return window.rotate((0.0, 0.0, turn)).translate((float(start[0]), float(start[1]), 0.0))


def _lid(build: TileWall, sides: int, count: int, printing: Printing) -> Printed:
    inner, outer = (polygon_mm(sides, build.side_mm, grown) for grown in (-build.wall_mm, 0.0))
    pieces, _ = divided(clip_lid(inner, outer, printing.wall_mm), printing.bed)
    notes: tuple[Text, ...] = (
        say(
            "in place of the sheet: print it in white, face down; what it lets through differs from the sheet's, so measure it"
        ),
    )
    return Printed(
        f"lid-{_prefix(sides)[:-1]}",
        say("Lid that clips on, {kind}", kind=TILE_NAMES[sides]),
        tuple(pieces),
        count,
        notes,
    )
