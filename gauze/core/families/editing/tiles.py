"""A wall of tiles on the drawing: tiles added at free edges, removed, moved to free places, and their chain."""

import math
from functools import partial

import msgspec
import numpy as np

from gauze.core.design import Design, with_build
from gauze.core.design.numbering import kept, numbers_of, without
from gauze.core.design.tile_wall import MOST_TILES, Tile, TileWall
from gauze.core.errors import DesignError
from gauze.core.families.family import Change
from gauze.core.layout.families.tile_chain import chain_of, free_places, free_places_beside
from gauze.core.layout.sketch import MovableItem
from gauze.core.words import Fixed, Text, say


def tile_edits(design: Design, item: MovableItem) -> list[tuple[Text, Change]]:
    """Tiles added beside this one, this one removed, or taken earlier or later in the chain."""
    build, index = design.build_as(TileWall), item.index
    found: list[tuple[Text, Change]] = []
    for sides, name in ((3, say("Add triangle beside")), (4, say("Add square beside")), (6, say("Add hexagon beside"))):
        place = next(iter(free_places_beside(build, index, sides)), None)
        if place is not None:
            tiles = (*build.tiles, place)
            found.append((name, partial(with_tiles, tiles=tiles)))
    if len(build.tiles) > 1:
        fewer, numbers = (
            (*build.tiles[:index], *build.tiles[index + 1 :]),
            without(build.numbers, len(build.tiles), index),
        )
        found.append((say("Remove tile"), partial(with_tiles, tiles=fewer, numbers=numbers)))
        found.append((say("Begin the chain here"), lambda one: with_build(one, first=index, chain=())))
        found += _chain_edits(build, index)
    return found


def _chain_edits(build: TileWall, index: int) -> list[tuple[Text, Change]]:
    """Take a tile earlier or later in the chain, as far as shared edges let it; or have the chain proposed again."""
    order = chain_of(build).order
    at = order.index(index)
    found: list[tuple[Text, Change]] = []
    for step, words in ((-1, say("Earlier in the chain")), (1, say("Later in the chain"))):
        if 0 < at + step < len(order) and at > 0:
            changed = list(order)
            changed[at], changed[at + step] = changed[at + step], changed[at]
            found.append((words, partial(with_build, chain=tuple(changed))))
    if build.chain:
        found.append((say("Propose the chain again"), lambda one: with_build(one, chain=())))
    return found


def with_tiles(design: Design, tiles: tuple[Tile, ...], numbers: tuple[int, ...] | None = None) -> Design:
    """Return the design with other tiles; an order of the chain that was chosen by hand no longer holds.

    ``numbers`` are those by which they are known; None where tiles were only moved, or put at the end or taken from there. The
    chain begins at the tile where it did, as far as that is still there.
    """
    build = design.build_as(TileWall)
    known = build.tile_numbers[build.first]
    left = numbers_of(build.numbers if numbers is None else numbers, len(tiles))
    first = left.index(known) if known in left else 0
    return with_build(design, tiles=tiles, chain=(), first=first, numbers=kept(left))


def with_tile_count(design: Design, count: float) -> Design:
    """Add tiles like the last one at free edges, or take the last ones away."""
    build = design.build_as(TileWall)
    if count != int(count) or not 1 <= count <= MOST_TILES:
        raise DesignError(
            "build.tiles",
            "{count} is invalid: give a whole number from 1 to {most_tiles}.",
            count=Fixed(count, "g"),
            most_tiles=MOST_TILES,
        )
    tiles = build.tiles[: int(count)]
    grown = msgspec.structs.replace(build, tiles=tiles)
    middle = np.array([(tile.x_mm, tile.y_mm) for tile in tiles]).mean(axis=0)
    while len(grown.tiles) < count:
        places = free_places(grown, tiles[-1].sides)
        if not places:
            raise DesignError("build.tiles", "No edge is free for another tile: move one away.")
        nearest = min(places, key=lambda one: math.hypot(one.x_mm - middle[0], one.y_mm - middle[1]))
        grown = msgspec.structs.replace(grown, tiles=(*grown.tiles, nearest))
    return with_tiles(design, grown.tiles)


def _tile_at(build: TileWall, index: int, x_mm: float, y_mm: float) -> Tile:
    """The free place on the lattice that is nearest to where a tile is held; alone it lies where it is held."""
    tile = build.tiles[index]
    if len(build.tiles) == 1:
        return msgspec.structs.replace(tile, x_mm=round(x_mm, 1), y_mm=round(y_mm, 1))
    places = [*free_places(build, tile.sides, index), tile]
    return min(places, key=lambda one: math.hypot(one.x_mm - x_mm, one.y_mm - y_mm))


def with_tile_moved(design: Design, item: MovableItem, dx_mm: float, dy_mm: float) -> Design:
    """Return the design with a tile at the free place that is nearest to where it is held."""
    build = design.build_as(TileWall)
    tiles = list(build.tiles)
    tiles[item.index] = _tile_at(build, item.index, item.x_mm + dx_mm, item.y_mm + dy_mm)
    return with_tiles(design, tuple(tiles)) if tuple(tiles) != build.tiles else design
