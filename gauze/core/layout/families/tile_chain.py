"""Which tiles share an edge, and the way of the chain through shared edges."""

from __future__ import annotations

import functools
import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from gauze.core.design.tile_wall import OVERLAP_MM, Tile, TileWall, apothem_mm, lying_on, polygons_mm
from gauze.core.errors import DesignError
from gauze.core.layout.model import FloatArray

if TYPE_CHECKING:
    from scipy.sparse import csr_array

_MATCH_MM = 1.0  # how far the middles of two edges may be apart
_MOST_STEPS = 60_000  # of a search for a way without branches


@dataclass(frozen=True)
class Link:
    """A link from one tile to another, through the middle of the edge that they share."""

    start: int
    end: int
    x_mm: float
    y_mm: float


@dataclass(frozen=True)
class Chain:
    """The order of the tiles, and the links in the order in which they are made."""

    order: tuple[int, ...]
    links: tuple[Link, ...]


def edges_mm(build: TileWall) -> list[FloatArray]:
    """Middles of every tile's edges, shape (sides, 2) each."""
    return [(corners + np.roll(corners, -1, axis=0)) / 2.0 for corners in polygons_mm(build.tiles, build.side_mm)]


def shared_edges(build: TileWall) -> dict[tuple[int, int], tuple[float, float]]:
    """Pairs of tiles, the lower number first, that share an edge, and its middle."""
    from scipy.spatial import cKDTree

    middles = edges_mm(build)
    tile = np.concatenate([np.full(len(own), index) for index, own in enumerate(middles)])
    points = np.concatenate(middles)
    found: dict[tuple[int, int], tuple[float, float]] = {}
    for one, other in sorted(cKDTree(points).query_pairs(_MATCH_MM)):
        pair = (int(min(tile[one], tile[other])), int(max(tile[one], tile[other])))
        if pair[0] != pair[1]:
            x, y = points[one]
            found[pair] = (float(x), float(y))
    return found


def chain_of(build: TileWall) -> Chain:
    """Return the chain that is chosen, or the one that is proposed; the last ones are kept.

    Raises
    ------
    DesignError
        When a tile cannot be reached through shared edges, when no way without branches is found, or when the chosen order
        goes between tiles that share none.
    """
    return _chain_of(_as_far_as_it_counts(build))


def _as_far_as_it_counts(build: TileWall) -> TileWall:
    """The build with nothing else in it than the chain depends on, so that a drag of the lid does not search again."""
    return TileWall(
        side_mm=build.side_mm,
        depth_mm=1.0,
        tiles=build.tiles,
        first=build.first,
        branches=build.branches,
        chain=build.chain,
        numbers=build.numbers,
    )


@functools.lru_cache(maxsize=8)
def _chain_of(build: TileWall) -> Chain:
    shared = shared_edges(build)
    _check_reached(build, shared)
    if build.chain:
        return _chosen(build, shared)
    return _tree(build, shared) if build.branches else _way(build, shared)


def _check_reached(build: TileWall, shared: dict[tuple[int, int], tuple[float, float]]) -> None:
    from scipy.sparse.csgraph import connected_components

    count, which = connected_components(_graph(len(build.tiles), list(shared)), directed=False)
    if count > 1:
        first = build.tile_numbers[build.first]
        lost = int(np.flatnonzero(which != which[build.first])[0])
        raise DesignError(
            f"build.tiles[{lost}]",
            "The chain cannot reach tile {lost}: it shares no edge with the tiles about tile {first}."
            " Move it to a free edge.",
            lost=build.tile_numbers[lost],
            first=first,
        )


def _graph(count: int, pairs: Sequence[tuple[int, int]]) -> csr_array:
    from scipy.sparse import csr_array

    rows, columns = [pair[0] for pair in pairs], [pair[1] for pair in pairs]
    return csr_array((np.ones(len(pairs)), (rows, columns)), shape=(count, count))


def _chosen(build: TileWall, shared: dict[tuple[int, int], tuple[float, float]]) -> Chain:
    links = []
    for before, after in itertools.pairwise(build.chain):
        at = shared.get((min(before, after), max(before, after)))
        if at is None and not build.branches:
            raise DesignError(
                "build.chain",
                "In the chain tile {after} follows tile {before}, and they share no edge: change the "
                "order, or allow branches.",
                after=build.tile_numbers[after],
                before=build.tile_numbers[before],
            )
        if at is not None:
            links.append(Link(before, after, *at))
    if len(links) < len(build.chain) - 1:
        return _branched(build, shared)
    return Chain(build.chain, tuple(links))


def _branched(build: TileWall, shared: dict[tuple[int, int], tuple[float, float]]) -> Chain:
    """Link every tile of a chosen order to the latest before it that it shares an edge with."""
    links = []
    for number, tile in enumerate(build.chain[1:], start=1):
        for before in reversed(build.chain[:number]):
            at = shared.get((min(before, tile), max(before, tile)))
            if at is not None:
                links.append(Link(before, tile, *at))
                break
        else:
            raise DesignError(
                "build.chain",
                "Tile {tile} comes before any tile that it shares an edge with: change the order.",
                tile=build.tile_numbers[tile],
            )
    return Chain(build.chain, tuple(links))


def _tree(build: TileWall, shared: dict[tuple[int, int], tuple[float, float]]) -> Chain:
    from scipy.sparse.csgraph import breadth_first_order

    order, before = breadth_first_order(_graph(len(build.tiles), list(shared)), build.first, directed=False)
    links = [
        Link(
            int(before[tile]),
            int(tile),
            *shared[(min(int(before[tile]), int(tile)), max(int(before[tile]), int(tile)))],
        )
        for tile in order[1:]
    ]
    return Chain(tuple(int(tile) for tile in order), tuple(links))


def _way(build: TileWall, shared: dict[tuple[int, int], tuple[float, float]]) -> Chain:
    """Search a way through all tiles, to the neighbour with the fewest ways on first (H. C. von Warnsdorff, 1823)."""
    neighbours: list[list[int]] = [[] for _ in build.tiles]
    for one, other in shared:
        neighbours[one].append(other)
        neighbours[other].append(one)
    path, used, steps = [build.first], {build.first}, 0
    ways = [_ordered(neighbours, build.first, used)]
    while len(path) < len(build.tiles):
        steps += 1
        if steps > _MOST_STEPS or not path:
            first = build.tile_numbers[build.first]
            raise DesignError(
                "build.branches",
                "No chain without branches was found from tile {first} through all {tiles} tiles: allow "
                "branches, or begin at another tile.",
                first=first,
                tiles=len(build.tiles),
            )
        if ways[-1]:
            following = ways[-1].pop(0)
            path.append(following)
            used.add(following)
            ways.append(_ordered(neighbours, following, used))
        else:
            ways.pop()
            used.discard(path.pop())
    links = [Link(a, b, *shared[(min(a, b), max(a, b))]) for a, b in itertools.pairwise(path)]
    return Chain(tuple(path), tuple(links))


def _ordered(neighbours: list[list[int]], tile: int, used: set[int]) -> list[int]:
    free = [other for other in neighbours[tile] if other not in used]
    return sorted(free, key=lambda other: sum(one not in used for one in neighbours[other]))


def beside(build: TileWall, index: int, edge: int, sides: int) -> Tile:
    """Return a regular tile that shares an edge with another."""
    return _beside(build.tiles[index], build.side_mm, edge, sides)


def _beside(tile: Tile, side_mm: float, edge: int, sides: int) -> Tile:
    angle = math.radians(tile.turn_deg - 90.0 + 360.0 * (edge + 1) / tile.sides)
    away = apothem_mm(tile.sides, side_mm) + apothem_mm(sides, side_mm)
    turn = (math.degrees(angle) - 90.0) % (360.0 / sides)
    return Tile(
        sides=sides,  # type: ignore[arg-type]  # 3, 4 or 6, as of the tile that was chosen
        x_mm=round(tile.x_mm + away * math.cos(angle), 4),
        y_mm=round(tile.y_mm + away * math.sin(angle), 4),
        turn_deg=round(turn, 4) if turn < 360.0 / sides - 1e-6 else 0.0,
    )


def free_places_beside(build: TileWall, index: int, sides: int) -> list[Tile]:
    """Places at the free edges of one tile where another regular tile could lie."""
    every = {(round(one.x_mm), round(one.y_mm)) for one in free_places(build, sides)}
    own = [beside(build, index, edge, sides) for edge in range(build.tiles[index].sides)]
    return [one for one in own if (round(one.x_mm), round(one.y_mm)) in every]


def free_places(build: TileWall, sides: int, without: int | None = None) -> list[Tile]:
    """Places at free edges where a regular tile could lie; ``without`` leaves a tile out that is to be moved."""
    kept = tuple(tile for index, tile in enumerate(build.tiles) if index != without)
    return list(_free_places(kept, build.side_mm, sides))


@functools.lru_cache(maxsize=8)
def _free_places(tiles: tuple[Tile, ...], side_mm: float, sides: int) -> tuple[Tile, ...]:
    """Free places beside tiles; kept, as a tile that is dragged leaves the others where they are."""
    found: dict[tuple[int, int], Tile] = {}
    for tile in tiles:
        for edge in range(tile.sides):
            one = _beside(tile, side_mm, edge, sides)
            found.setdefault((round(one.x_mm), round(one.y_mm)), one)
    places = list(found.values())
    middles = np.array([(tile.x_mm, tile.y_mm) for tile in tiles])
    apart = np.array([(one.x_mm, one.y_mm) for one in places])[:, np.newaxis] - middles
    distance = np.hypot(apart[..., 0], apart[..., 1])
    reach = np.array([apothem_mm(tile.sides, side_mm) for tile in tiles]) + apothem_mm(sides, side_mm)
    open_places = np.flatnonzero(
        (distance > reach - 2.0 * OVERLAP_MM).all(axis=1)
    )  # else a tile lies on it for certain
    candidates = tuple(places[index] for index in open_places)
    if not candidates:
        return ()
    laid = lying_on(candidates, tiles, side_mm)
    return tuple(one for one, on in zip(candidates, laid, strict=True) if not on.any())
