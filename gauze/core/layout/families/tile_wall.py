"""Layout of the tile wall: one cavity for each kind of tile, as often as it stands; the chain through shared edges."""

import functools
import math
from collections import Counter
from dataclasses import dataclass, replace

import numpy as np

from gauze.core.design.tile_wall import TILE_NAMES, Tile, TileWall, polygon_mm, polygons_mm
from gauze.core.errors import DesignError
from gauze.core.layout.built import Instance, Layout
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.cavity_sketch import reach_of
from gauze.core.layout.families.tile_chain import Chain, chain_of
from gauze.core.layout.inner import inner_faces
from gauze.core.layout.model import FloatArray
from gauze.core.layout.pieces import (
    StripPiece,
    emitter_size_mm,
    filled,
    laid_strip,
    pitches_of,
    segments_in,
    sources_of,
    strip_in_plan,
    turned_strip,
)
from gauze.core.layout.placing import in_plan
from gauze.core.layout.shapes import surface_of
from gauze.core.layout.sketch import Choice, Entry, Handle, Measure, MovableItem, Outline, Sketch
from gauze.core.lazy import Lazy
from gauze.core.materials import Catalogue
from gauze.core.words import Joined, Length, Text, say

_LIGHTINGS = (("rim", say("from the rim, inwards")), ("back", say("from the back")))
_BRANCHES = ((False, say("single line, no branches")), (True, say("branches allowed")))


@dataclass(frozen=True, kw_only=True)
class TileLayout(Layout):
    """A tile wall in place: its chain, and the by_sides of strip of each kind of tile, by its number of sides."""

    chain: Chain
    by_sides: dict[int, tuple[StripPiece, ...]]


def lay_out_tile_wall(build: TileWall, catalogue: Catalogue) -> TileLayout:
    """Lay out a checked wall; raises :class:`gauze.core.errors.DesignError` where strip or chain do not fit."""
    chain = chain_of(build)
    kinds: tuple[int, ...] = tuple(sorted({tile.sides for tile in build.tiles}))
    by_sides = {sides: _pieces(build, catalogue, sides) for sides in kinds}
    cavities = tuple(_cavity(build, catalogue, sides, by_sides[sides]) for sides in kinds)
    strips, instances = _placed(build.tiles, build.tile_numbers, tuple(sorted(by_sides.items())))
    return TileLayout(
        cavities=cavities,
        sketches=Lazy(functools.partial(_sketches, build, chain, strips, by_sides)),
        instances=instances,
        strips=strips,
        chain=chain,
        by_sides=by_sides,
    )


@functools.lru_cache(maxsize=4)
def _placed(
    tiles: tuple[Tile, ...], numbers: tuple[int, ...], by_sides: tuple[tuple[int, tuple[StripPiece, ...]], ...]
) -> tuple[tuple[StripPiece, ...], tuple[Instance, ...]]:
    """Pieces of all tiles in the plan, and the tiles; kept, as a drag of the lid leaves them where they are."""
    own, kinds = dict(by_sides), [sides for sides, _ in by_sides]
    strips: list[StripPiece] = []
    instances = []
    for number, tile in zip(numbers, tiles, strict=True):
        name = f"tile-{number}"
        placed = [
            replace(turned_strip(piece, tile.x_mm, tile.y_mm, tile.turn_deg), id=f"{name}/{piece.id}")
            for piece in own[tile.sides]
        ]
        strips += placed
        here = tuple((piece.id, 0) for piece in placed)
        instances.append(Instance(kinds.index(tile.sides), tile.x_mm, tile.y_mm, tile.turn_deg, id=name, pieces=here))
    return tuple(strips), tuple(instances)


@functools.lru_cache(maxsize=4)
def _plan(
    tiles: tuple[Tile, ...],
    side_mm: float,
    wall_mm: float,
    chain: Chain,
    by_sides: tuple[tuple[int, tuple[StripPiece, ...]], ...],
) -> tuple[Outline, ...]:
    """The wall from the front: tiles with their numbers, strips, links; kept as long as it does not change."""
    number = {tile: str(place + 1) for place, tile in enumerate(chain.order)}
    bodies, inner = (polygons_mm(tiles, side_mm, grown) for grown in (0.0, -wall_mm))
    plan = [Outline("body", corners) for corners in bodies]
    plan += [Outline("back", corners, words=number[index]) for index, corners in enumerate(inner)]
    strips = {sides: np.array([strip_in_plan(one) for one in own]) for sides, own in by_sides}
    plan += [
        Outline("strip", strip)
        for tile in tiles
        for strip in in_plan(Instance(0, tile.x_mm, tile.y_mm, tile.turn_deg), strips[tile.sides])
    ]
    for link in chain.links:
        one, other = tiles[link.start], tiles[link.end]
        way = np.array([[one.x_mm, one.y_mm], [link.x_mm, link.y_mm], [other.x_mm, other.y_mm]])
        plan.append(Outline("path", way, closed=False))
    return tuple(plan)


def _cavity(build: TileWall, catalogue: Catalogue, sides: int, strips: tuple[StripPiece, ...]) -> CavityLayout:
    shape = build.cavity(sides)
    strip = strips[0].strip
    pitch = pitches_of(strip)
    widest = max(pitch[1], build.row_spacing_mm) if build.lighting == "back" and len(strips) > 1 else pitch[1]
    return filled(
        shape,
        surface_of(shape, inner_faces(build, catalogue)),
        sources_of(strips, build.strips),
        emitter_size_mm([strip]),
        "build.side_mm",
        (pitch[0], widest),
    )


def _pieces(build: TileWall, catalogue: Catalogue, sides: int) -> tuple[StripPiece, ...]:
    """Pieces of strip of one tile about its middle."""
    corners = polygon_mm(sides, build.side_mm, -build.wall_mm)
    return _along_rim(build, catalogue, corners) if build.lighting == "rim" else _on_back(build, catalogue, corners)


def _along_rim(build: TileWall, catalogue: Catalogue, corners: FloatArray) -> tuple[StripPiece, ...]:
    found = []
    for number, (start, end) in enumerate(zip(corners, np.roll(corners, -1, axis=0), strict=True), start=1):
        side = float(np.hypot(*(end - start)))
        along = (end - start) / side
        inward = (-along[1], along[0])
        at = start + along * build.end_gap_mm
        found.append(
            laid_strip(
                catalogue,
                build.strips[0],
                (float(at[0]), float(at[1]), build.rim_height_mm),
                (float(along[0]), float(along[1]), 0.0),
                (float(inward[0]), float(inward[1]), 0.0),
                side - 2.0 * build.end_gap_mm,
                "build.side_mm",
                id=f"strip-{number}",
            )
        )
    return tuple(found)


def _on_back(build: TileWall, catalogue: Catalogue, corners: FloatArray) -> tuple[StripPiece, ...]:
    """Rows across the tile, as long as whole segments fit, spread evenly about the middle of its height."""
    choice = build.strips[0]
    strip = catalogue.strip(choice.strip)
    low, high = float(corners[:, 1].min()), float(corners[:, 1].max())
    count = max(math.floor((high - low - strip.width_mm) / build.row_spacing_mm) + 1, 1)
    first = (low + high) / 2.0 - (count - 1) / 2.0 * build.row_spacing_mm
    found = []
    for index in range(count):
        y = first + index * build.row_spacing_mm
        spans = [_span(corners, y + offset) for offset in (-strip.width_mm / 2.0, strip.width_mm / 2.0)]
        left, right = max(span[0] for span in spans), min(span[1] for span in spans)
        room = right - left - 2.0 * build.end_gap_mm
        if segments_in(strip, room) < 1:
            continue
        start = (left + build.end_gap_mm, y, 0.0)
        along, facing, name = (1.0, 0.0, 0.0), (0.0, 0.0, 1.0), f"strip-{index + 1}"
        found.append(laid_strip(catalogue, choice, start, along, facing, room, "build.side_mm", id=name))
    if not found:
        raise DesignError(
            "build.side_mm",
            "No row of “{name}” fits in a tile: its segments are {segment}. Make the tiles larger, or"
            " take a strip with shorter segments.",
            name=strip.name,
            segment=Length(strip.segment_mm),
        )
    return tuple(found)


def _span(corners: FloatArray, y_mm: float) -> tuple[float, float]:
    """Left and right of a convex polygon at a height; nothing beside it."""
    crossings = []
    for (x0, y0), (x1, y1) in zip(corners.tolist(), np.roll(corners, -1, axis=0).tolist(), strict=True):
        if min(y0, y1) <= y_mm <= max(y0, y1) and y0 != y1:
            crossings.append(x0 + (x1 - x0) * (y_mm - y0) / (y1 - y0))
    return (min(crossings), max(crossings)) if len(crossings) > 1 else (0.0, 0.0)


def _sketches(
    build: TileWall, chain: Chain, strips: tuple[StripPiece, ...], by_sides: dict[int, tuple[StripPiece, ...]]
) -> tuple[Sketch]:
    bodies = polygons_mm(build.tiles, build.side_mm)
    reach = reach_of(np.concatenate(bodies))
    first = build.tiles[0]
    inner = polygon_mm(min(by_sides), build.side_mm, -build.wall_mm)
    cut_low, cut_high = float(inner[:, 1].min()), float(inner[:, 1].max())
    depth = build.depth_mm
    section = np.array([[cut_low, 0.0], [cut_high, 0.0], [cut_high, depth], [cut_low, depth]])
    cut = [Outline("body", section), Outline("lit", section[[3, 2]], closed=False)]
    half = build.link_high_mm
    cut.append(
        Outline("part", np.array([[cut_low, 0.0], [cut_low + half, 0.0], [cut_low + half, half], [cut_low, half]]))
    )
    measures = [
        Measure(
            "build.side_mm",
            say("Side of a tile"),
            build.side_mm,
            "plan",
            "below",
            first.x_mm - build.side_mm / 2,
            first.x_mm + build.side_mm / 2,
        ),
        Measure("build.depth_mm", say("Depth inside"), depth, "cut", "left", 0.0, depth),
    ]
    if build.lighting == "rim":
        measures.append(
            Measure(
                "build.rim_height_mm",
                say("Strip over the back"),
                build.rim_height_mm,
                "cut",
                "right",
                0.0,
                build.rim_height_mm,
            )
        )
    sketch = Sketch(
        plan_mm=reach,
        cut_mm=reach_of(section),
        plan=_plan(build.tiles, build.side_mm, build.wall_mm, chain, tuple(by_sides.items())),
        cut=tuple(cut),
        measures=tuple(measures),
        handles=(
            Handle("build.depth_mm", say("the lid"), "cut", (cut_low, depth), (cut_high, depth), (0.0, 1.0), depth),
            _side_handle(build, strips[0].strip.segment_mm, cut_high),
        ),
        movable_items=tuple(
            MovableItem(
                "tile",
                index,
                say("tile {number}, {names}", number=number, names=TILE_NAMES[tile.sides]),
                tile.x_mm,
                tile.y_mm,
                bodies[index],
            )
            for index, (number, tile) in enumerate(zip(build.tile_numbers, build.tiles, strict=True))
        ),
        choices=tuple(_choices(build)),
        notes=tuple(_notes(build, by_sides)),
        seam=True,
        cut_axis="y",
    )
    return (sketch,)


def _side_handle(build: TileWall, segment_mm: float, wall_mm: float) -> Handle:
    """The wall of the tile in the side cut; rim-lit, sides attract along which whole segments fit."""
    sides = min(tile.sides for tile in build.tiles)
    taken_mm = 2.0 * (build.end_gap_mm + build.wall_mm * math.tan(math.pi / sides))
    return Handle(
        "build.side_mm",
        say("wall of the tile"),
        "cut",
        (wall_mm, 0.0),
        (wall_mm, build.depth_mm),
        (1.0, 0.0),
        build.side_mm,
        1.0 / float(polygon_mm(sides, 1.0)[:, 1].max()),
        (taken_mm, segment_mm) if build.lighting == "rim" else None,
    )


def _choices(build: TileWall) -> list[Choice | Entry]:
    found: list[Choice | Entry] = [
        Choice("build.lighting", say("Lit"), build.lighting, _LIGHTINGS),
        Entry("build.tiles", say("Tiles"), len(build.tiles), "count"),
        Entry("build.wall_mm", say("Wall thickness"), build.wall_mm, "length"),
    ]
    if build.lighting == "back":
        found.append(Entry("build.row_spacing_mm", say("Rows apart"), build.row_spacing_mm, "length"))
    found += [
        Choice("build.branches", say("Data chain"), build.branches, _BRANCHES),
        Entry("build.link_wide_mm", say("Connector width"), build.link_wide_mm, "length"),
        Entry("build.link_high_mm", say("Connector height"), build.link_high_mm, "length"),
    ]
    return found


def _notes(build: TileWall, by_sides: dict[int, tuple[StripPiece, ...]]) -> list[Text]:
    """What each kind of tile takes."""
    counts = Counter(tile.sides for tile in build.tiles)
    found: list[Text] = []
    for sides, count in sorted(counts.items()):
        own = Counter(piece.segments for piece in by_sides[sides])
        strip = by_sides[sides][0].strip
        words = Joined.of(
            [
                say("{number} × {length}", number=number, length=Length(segments * strip.segment_mm))
                for segments, number in sorted(own.items())
            ]
        )
        leds = sum(piece.emitters for piece in by_sides[sides])
        found.append(
            say(
                "{count} × {names}: {words} of strip, {leds} LEDs each.",
                count=count,
                names=TILE_NAMES[sides],
                words=words,
                leds=leds,
            )
        )
    found.append(say("{tiles} links. Right-click a tile to add, remove, or begin there.", tiles=len(build.tiles) - 1))
    return found
