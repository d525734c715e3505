"""Choices of the tile wall: triangles, squares and hexagons of one side, placed edge to edge, chained by links."""

import functools
import math
from dataclasses import dataclass
from typing import Annotated, Literal

import msgspec
import numpy as np
from numpy.typing import NDArray

from gauze.core.design.build import Coordinate, Depth, FamilyBuild, Share, Size, check_common, check_sheet_wanted
from gauze.core.design.cavity import PrismShape, check_cavity
from gauze.core.design.limits import check_limits
from gauze.core.design.numbering import check_numbers, numbers_of
from gauze.core.errors import DesignError
from gauze.core.materials import Catalogue
from gauze.core.words import Length, Text, say

MOST_TILES = 200
OVERLAP_MM = 0.5  # by which tiles may lie in each other: rounding of where they were placed
TILE_NAMES: dict[int, Text] = {3: say("triangle"), 4: say("square"), 6: say("hexagon")}


class Tile(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """A tile: how many sides, its middle, and by how much it is turned from standing on a side."""

    sides: Literal[3, 4, 6]
    x_mm: Coordinate
    y_mm: Coordinate
    turn_deg: Annotated[float, msgspec.Meta(ge=-360, le=360)] = 0.0


class TileWall(FamilyBuild, frozen=True, kw_only=True, tag="tile_wall"):
    """Tiles of outer side ``side_mm`` with walls ``wall_mm`` thick, ``depth_mm`` deep inside.

    Lit from the ``rim``: strips along the walls, their middles ``rim_height_mm`` over the back, or from the ``back``: rows
    ``row_spacing_mm`` apart. ``chain`` is the order in which tiles are linked, by number from 0; empty for the one that is
    proposed from tile ``first`` on, with ``branches`` or without. A link is a connector ``link_wide_mm`` along the shared edge
    and ``link_high_mm`` high, on the back. ``numbers`` are those by which the tiles are known, where they are not 1, 2, 3 and so
    on.
    """

    side_mm: Size
    depth_mm: Depth
    wall_mm: Annotated[float, msgspec.Meta(ge=0, le=100)] = 1.6
    lighting: Literal["rim", "back"] = "rim"
    rim_height_mm: Share = 8.0
    row_spacing_mm: Size = 20.0
    end_gap_mm: Share = 2.0
    tiles: tuple[Tile, ...]
    first: Annotated[int, msgspec.Meta(ge=0, le=1000)] = 0
    branches: bool = False
    chain: tuple[int, ...] = ()
    link_wide_mm: Size = 12.0
    link_high_mm: Size = 5.0
    numbers: tuple[int, ...] = ()

    @property
    def tile_numbers(self) -> tuple[int, ...]:
        """The number by which each tile is known."""
        return numbers_of(self.numbers, len(self.tiles))

    def cavity(self, sides: int) -> PrismShape:
        """The inner shape of a regular tile, about its middle."""
        inner = polygon_mm(sides, self.side_mm, -self.wall_mm)
        return PrismShape(corners_mm=tuple((float(x), float(y)) for x, y in inner), depth_mm=self.depth_mm)

    def with_side_mm(self, side_mm: float) -> "TileWall":
        """Return the wall with tiles of another side, moved about the first one so that edges that were shared still are."""
        scale, middle = side_mm / self.side_mm, self.tiles[0]
        moved = tuple(
            msgspec.structs.replace(
                tile,
                x_mm=round(middle.x_mm + scale * (tile.x_mm - middle.x_mm), 4),
                y_mm=round(middle.y_mm + scale * (tile.y_mm - middle.y_mm), 4),
            )
            for tile in self.tiles
        )
        return msgspec.structs.replace(self, side_mm=side_mm, tiles=moved)


def apothem_mm(sides: int, side_mm: float) -> float:
    """Distance of a tile's middle from its sides."""
    return side_mm / (2.0 * math.tan(math.pi / sides))


def polygon_mm(
    sides: int, side_mm: float, grown_mm: float = 0.0, x_mm: float = 0.0, y_mm: float = 0.0, turn_deg: float = 0.0
) -> np.ndarray:
    """Corners of a tile, counter-clockwise, standing on a side where it is not turned; its apothem grown by so much."""
    radius = (apothem_mm(sides, side_mm) + grown_mm) / math.cos(math.pi / sides)
    angles = np.radians(turn_deg - 90.0) + np.pi / sides + 2.0 * np.pi * np.arange(sides) / sides
    return np.stack([x_mm + radius * np.cos(angles), y_mm + radius * np.sin(angles)], axis=1)


def polygons_mm(tiles: tuple[Tile, ...], side_mm: float, grown_mm: float = 0.0) -> list[np.ndarray]:
    """Corners of tiles in the plan, of all of a kind at once: there may be hundreds, and a hand that drags waits for them."""
    found: list[np.ndarray] = [np.empty(0)] * len(tiles)
    for sides in {tile.sides for tile in tiles}:
        which = [index for index, tile in enumerate(tiles) if tile.sides == sides]
        places = np.array([(tiles[index].x_mm, tiles[index].y_mm) for index in which])
        turn = np.radians([tiles[index].turn_deg for index in which])
        x, y = polygon_mm(sides, side_mm, grown_mm).T
        cosine, sine = np.cos(turn)[:, None], np.sin(turn)[:, None]
        turned = np.stack([x * cosine - y * sine, x * sine + y * cosine], axis=2) + places[:, None]
        for index, polygon in zip(which, turned, strict=True):
            found[index] = polygon
    return found


def check_tile_wall(build: TileWall, catalogue: Catalogue) -> None:
    """Check what can be judged without laying out; raises :class:`gauze.core.errors.DesignError`."""
    check_common(build, catalogue, lit_by="strip")
    check_sheet_wanted(build, wanted=True)
    if not 1 <= len(build.tiles) <= MOST_TILES:
        raise DesignError(
            "build.tiles",
            "A wall has 1 to {most_tiles} tiles here; {tiles} are given.",
            most_tiles=MOST_TILES,
            tiles=len(build.tiles),
        )
    for index, tile in enumerate(build.tiles):
        check_limits(tile, f"build.tiles[{index}]")
    check_numbers(build.numbers, "build.numbers")
    for sides in sorted({tile.sides for tile in build.tiles}):
        inner = apothem_mm(sides, build.side_mm) - build.wall_mm
        if inner <= 1.0:
            raise DesignError(
                "build.side_mm",
                "Walls of {wall} leave nothing inside a {sides} of {side}: make it larger, or the walls thinner.",
                wall=Length(build.wall_mm),
                sides=TILE_NAMES[sides],
                side=Length(build.side_mm),
            )
        check_cavity(build.cavity(sides), "build")
    _check_strips(build, catalogue)
    _check_overlaps(build.tiles, build.tile_numbers, build.side_mm)
    _check_chain(build)


def _check_strips(build: TileWall, catalogue: Catalogue) -> None:
    strip = catalogue.strip(build.strips[0].strip)
    half = strip.width_mm / 2.0
    if build.lighting == "rim" and not half - 1e-6 <= build.rim_height_mm <= build.depth_mm - half + 1e-6:
        raise DesignError(
            "build.rim_height_mm",
            "A strip of {width} with its middle {rim_height} over the back does not fit in a depth of"
            " {depth}: give {half} to {depth2}.",
            width=Length(strip.width_mm),
            rim_height=Length(build.rim_height_mm),
            depth=Length(build.depth_mm),
            half=Length(half),
            depth2=Length(max(build.depth_mm - half, half)),
        )
    if build.lighting == "back" and build.depth_mm <= strip.emitter_height_mm:
        raise DesignError(
            "build.depth_mm",
            "A depth of {depth} is less than the height of the LEDs: deepen it.",
            depth=Length(build.depth_mm),
        )
    if build.lighting == "back" and build.row_spacing_mm < strip.width_mm:
        raise DesignError(
            "build.row_spacing_mm",
            "Rows {row_spacing} apart overlap: “{name}” is {width} wide.",
            row_spacing=Length(build.row_spacing_mm),
            name=strip.name,
            width=Length(strip.width_mm),
        )


@functools.lru_cache(maxsize=8)
def _check_overlaps(tiles: tuple[Tile, ...], numbers: tuple[int, ...], side_mm: float) -> None:
    laid = np.argwhere(np.tril(lying_on(tiles, tiles, side_mm), -1))
    if len(laid):
        index, other = laid[0].tolist()
        raise DesignError(
            f"build.tiles[{index}]",
            "Tile {index} overlaps tile {other}: move one of them to a free edge.",
            index=numbers[index],
            other=numbers[other],
        )


def lying_on(ones: tuple[Tile, ...], others: tuple[Tile, ...], side_mm: float) -> NDArray[np.bool_]:
    """Which tiles lie on which others by more than rounding explains; shape (ones, others)."""
    mine, theirs = (_Outlines.of(tiles, side_mm) for tiles in (ones, others))
    away = np.hypot(*np.moveaxis(mine.middles_mm[:, None] - theirs.middles_mm, -1, 0))
    found: NDArray[np.bool_] = away < mine.radii_mm[:, None] + theirs.radii_mm
    near = np.argwhere(found)
    kinds = np.stack([mine.sides[near[:, 0]], theirs.sides[near[:, 1]]], axis=1)
    for kind in np.unique(kinds, axis=0):
        pairs = near[(kinds == kind).all(axis=1)]
        polygons = (
            np.stack([mine.polygons_mm[i] for i in pairs[:, 0]]),
            np.stack([theirs.polygons_mm[i] for i in pairs[:, 1]]),
        )
        found[pairs[:, 0], pairs[:, 1]] = overlap(*polygons)
    return found


@dataclass(frozen=True)
class _Outlines:
    """Tiles as polygons, a little smaller than they are, each within a radius about its middle."""

    sides: np.ndarray
    middles_mm: np.ndarray
    radii_mm: np.ndarray
    polygons_mm: list[np.ndarray]

    @classmethod
    def of(cls, tiles: tuple[Tile, ...], side_mm: float) -> "_Outlines":
        sides = np.array([tile.sides for tile in tiles])
        middles_mm = np.array([(tile.x_mm, tile.y_mm) for tile in tiles])
        radii_mm = np.array([apothem_mm(n, side_mm) / math.cos(math.pi / n) for n in sides.tolist()])
        return cls(sides, middles_mm, radii_mm, polygons_mm(tiles, side_mm, -OVERLAP_MM / 2.0))


def overlap(ones: np.ndarray, others: np.ndarray) -> np.ndarray:
    """Whether pairs of convex polygons of shapes (..., n, 2), (..., m, 2) share any area: no side of either separates them."""
    sides = np.concatenate([np.roll(polygons, -1, axis=-2) - polygons for polygons in (ones, others)], axis=-2)
    across = np.stack([-sides[..., 1], sides[..., 0]], axis=-2)
    first, second = ones @ across, others @ across
    apart = (first.max(axis=-2) <= second.min(axis=-2)) | (second.max(axis=-2) <= first.min(axis=-2))
    return np.asarray(~apart.any(axis=-1))


def _check_chain(build: TileWall) -> None:
    count = len(build.tiles)
    if build.first >= count:
        raise DesignError(
            "build.first",
            "There is no tile {first}: the chain begins at one of {count}.",
            first=build.first + 1,
            count=count,
        )
    if build.chain and sorted(build.chain) != list(range(count)):
        raise DesignError(
            "build.chain",
            "The chain must name each of the {count} tiles once, by number from 0. Leave it out for a proposal.",
            count=count,
        )
