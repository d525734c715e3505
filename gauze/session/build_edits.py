"""The edits that the drawing of a build offers: its choices by their path, things moved by hand."""

import math
from collections.abc import Callable
from functools import partial
from typing import Any

import msgspec
import numpy as np

from gauze.core.design import Design, LooseEmitters
from gauze.core.design.channel_bar import ChannelBar
from gauze.core.design.fields import get_field, has_field, with_field
from gauze.core.design.numbering import inserted, kept, numbers_of, without
from gauze.core.design.tile_wall import MOST_TILES, Tile, TileWall
from gauze.core.errors import DesignError, QuantityError
from gauze.core.layout.sketch import Thing, Together
from gauze.core.layout.tile_chain import chain_of, free_places, free_places_beside
from gauze.core.units import LengthUnit, parse_length, parse_number
from gauze.session.edits import with_build

Corner = tuple[float, float]
MOST_ITEMS = 64
_LEAST_MM = 0.1  # what is dragged stays above nothing


def read_value(kind: str, words: str, unit: LengthUnit) -> Any:
    """Read what was typed for a choice of a kind: a length, a count, an angle, a share, a text.

    Raises
    ------
    QuantityError
        When it cannot be read.
    """
    if kind == "text":
        return words
    if kind == "length":
        return parse_length(words, unit)
    if kind == "angle":
        return parse_number(words.split("°", maxsplit=1)[0], "°")
    if kind == "share":
        return parse_number(words, "%") / 100.0
    first = words.strip().split(" ", maxsplit=1)[0]
    if not first:
        raise QuantityError("Nothing was typed. Give a number.")
    return parse_number(first)


def with_choice_at(design: Design, field: str, value: Any) -> Design:
    """Return the design with another choice at a path; of a row of things a number says how many, the last one repeated."""
    if isinstance(value, Together):
        for path, one in value.changes:
            design = with_choice_at(design, path, one)
        return design
    if isinstance(design.build, TileWall) and field == "build.tiles" and isinstance(value, int | float):
        return with_tile_count(design, value)
    if isinstance(design.build, ChannelBar) and field == "build.corners_mm" and isinstance(value, int | float):
        return _with_corner_count(design, design.build, value)
    present = get_field(design, field) if has_field(design, field) else None
    if isinstance(present, tuple) and isinstance(value, int | float):
        value = _as_many(present, value, field)
    changed: Design = with_field(design, field, value)
    return changed


def _with_corner_count(design: Design, build: ChannelBar, count: float) -> Design:
    """Lengthen a path by sides that alternate left and right (closed: by pushing out its longest sides), or shorten it."""
    corners = _as_many(build.corners_mm, count, "build.corners_mm")[: len(build.corners_mm)]
    numbers = numbers_of(build.numbers, len(corners))
    while len(corners) < count:
        at = _longest_side(corners) + 1 if build.closed else len(corners)
        numbers = numbers_of(inserted(numbers, len(corners), at), len(corners) + 1)
        corners = _pushed_out(corners, at) if build.closed else (*corners, _turned_on(corners))
    return with_build(design, corners_mm=corners, numbers=kept(numbers))


def _turned_on(corners: tuple[Corner, ...]) -> Corner:
    """The end of a side as long as the last one, at a right angle to it, turned the other way than before."""
    points = np.array(corners)
    along = points[-1] - points[-2]
    before = points[-2] - points[-3] if len(points) > 2 else along
    turn = -1.0 if before[0] * along[1] - before[1] * along[0] > 0 else 1.0
    return _corner(points[-1] + turn * np.array([-along[1], along[0]]))


def _longest_side(corners: tuple[Corner, ...]) -> int:
    points = np.array(corners)
    return int(np.hypot(*(np.roll(points, -1, axis=0) - points).T).argmax())


def _pushed_out(corners: tuple[Corner, ...], at: int) -> tuple[Corner, ...]:
    """A closed path with one more corner at a number, a little outside the middle of the side there."""
    points = np.array(corners)
    middle = (points[at - 1] + points[at % len(points)]) / 2.0
    new = _corner(middle + 0.3 * (middle - points.mean(axis=0)))
    return (*corners[:at], new, *corners[at:])


def _corner(place_mm: np.ndarray) -> Corner:
    return round(float(place_mm[0]), 1), round(float(place_mm[1]), 1)


def _as_many(items: tuple[Any, ...], count: float, field: str) -> tuple[Any, ...]:
    if count != int(count) or not 1 <= count <= MOST_ITEMS:
        raise DesignError(field, f"{count:g} is invalid: give a whole number from 1 to {MOST_ITEMS}.")
    return (items + items[-1:] * int(count))[: int(count)]


def with_picture(design: Design, lines: tuple[str, ...]) -> Design:
    """Let a display show a picture, as lines of hexadecimal pixels."""
    shown = with_choice_at(design, "build.show.picture", lines)
    return with_choice_at(shown, "build.show.kind", "picture")


def with_dragged(design: Design, field: str, value: float) -> Design:
    """Return the design with a dragged size, to a tenth of a millimetre and above nothing; what snapped stays exact."""
    tenth = round(value, 1)
    exact = value if abs(value - tenth) < 1e-6 or round(value, 4) == round(value, 6) else tenth
    return with_choice_at(design, field, max(exact, _LEAST_MM))


Change = Callable[[Design], Design]


def thing_edits(design: Design, thing: Thing) -> list[tuple[str, Change]]:
    """What can be done with a thing besides moving it: names and changes."""
    build = design.build
    if isinstance(build, TileWall):
        return _tile_edits(build, thing)
    index = thing.index
    if isinstance(build, LooseEmitters):
        copied = msgspec.structs.replace(build.emitters[index], x_mm=build.emitters[index].x_mm + 5.0)
        found: list[tuple[str, Change]] = [
            ("Copy emitter", lambda one: with_build(one, emitters=(*build.emitters, copied))),
        ]
        if len(build.emitters) > 1:
            found.append(
                (
                    "Remove emitter",
                    partial(
                        with_build,
                        emitters=_without(build.emitters, index),
                        numbers=_fewer(build.numbers, build.emitters, index),
                    ),
                )
            )
        return found
    if isinstance(build, ChannelBar):
        corners = build.corners_mm
        following = corners[(index + 1) % len(corners)] if index + 1 < len(corners) or build.closed else None
        found = []
        if following is not None:
            middle = tuple(round((a + b) / 2.0 + 20.0, 1) for a, b in zip(corners[index], following, strict=True))
            longer = (*corners[: index + 1], middle, *corners[index + 1 :])
            found.append(
                (
                    "Insert corner",
                    partial(with_build, corners_mm=longer, numbers=inserted(build.numbers, len(corners), index + 1)),
                )
            )
        if len(corners) > (3 if build.closed else 2):
            found.append(
                (
                    "Remove corner",
                    partial(
                        with_build, corners_mm=_without(corners, index), numbers=_fewer(build.numbers, corners, index)
                    ),
                )
            )
        return found
    return []


def _without(items: tuple[Any, ...], index: int) -> tuple[Any, ...]:
    return (*items[:index], *items[index + 1 :])


def _fewer(numbers: tuple[int, ...], items: tuple[Any, ...], index: int) -> tuple[int, ...]:
    return without(numbers, len(items), index)


def _tile_edits(build: TileWall, thing: Thing) -> list[tuple[str, Change]]:
    index = thing.index
    found: list[tuple[str, Change]] = []
    for sides, name in ((3, "triangle"), (4, "square"), (6, "hexagon")):
        place = next(iter(free_places_beside(build, index, sides)), None)
        if place is not None:
            tiles = (*build.tiles, place)
            found.append((f"Add {name} beside", partial(with_tiles, tiles=tiles)))
    if len(build.tiles) > 1:
        found.append(
            (
                "Remove tile",
                partial(
                    with_tiles, tiles=_without(build.tiles, index), numbers=_fewer(build.numbers, build.tiles, index)
                ),
            )
        )
        found.append(("Begin the chain here", lambda one: with_build(one, first=index, chain=())))
        found += _chain_edits(build, index)
    return found


def _chain_edits(build: TileWall, index: int) -> list[tuple[str, Change]]:
    """Take a tile earlier or later in the chain, as far as shared edges let it; or have the chain proposed anew."""
    order = chain_of(build).order
    at = order.index(index)
    found: list[tuple[str, Change]] = []
    for step, words in ((-1, "Earlier in the chain"), (1, "Later in the chain")):
        if 0 < at + step < len(order) and at > 0:
            changed = list(order)
            changed[at], changed[at + step] = changed[at + step], changed[at]
            found.append((words, partial(with_build, chain=tuple(changed))))
    if build.chain:
        found.append(("Propose the chain anew", lambda one: with_build(one, chain=())))
    return found


def with_tiles(design: Design, tiles: tuple[Tile, ...], numbers: tuple[int, ...] | None = None) -> Design:
    """Return the design with other tiles; an order of the chain that was chosen by hand no longer holds.

    ``numbers`` are those by which they are known; None where tiles were only moved, or put at the end or taken from there. The
    chain begins at the tile where it did, as far as that is still there.
    """
    build = design.build
    assert isinstance(build, TileWall)
    known = build.tile_numbers[build.first]
    left = numbers_of(build.numbers if numbers is None else numbers, len(tiles))
    first = left.index(known) if known in left else 0
    return with_build(design, tiles=tiles, chain=(), first=first, numbers=kept(left))


def with_tile_count(design: Design, count: float) -> Design:
    """Add tiles like the last one at free edges, or take the last ones away."""
    build = design.build
    assert isinstance(build, TileWall)
    if count != int(count) or not 1 <= count <= MOST_TILES:
        raise DesignError("build.tiles", f"{count:g} is invalid: give a whole number from 1 to {MOST_TILES}.")
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


def with_moved(design: Design, thing: Thing, dx_mm: float, dy_mm: float) -> Design:
    """Return the design with a thing moved from where it was drawn."""
    if thing.kind == "emitter" and isinstance(design.build, LooseEmitters):
        emitters = list(design.build.emitters)
        emitters[thing.index] = msgspec.structs.replace(
            emitters[thing.index], x_mm=round(thing.x_mm + dx_mm, 1), y_mm=round(thing.y_mm + dy_mm, 1)
        )
        return with_build(design, emitters=tuple(emitters))
    if thing.kind == "tile" and isinstance(design.build, TileWall):
        tiles = list(design.build.tiles)
        tiles[thing.index] = _tile_at(design.build, thing.index, thing.x_mm + dx_mm, thing.y_mm + dy_mm)
        return with_tiles(design, tuple(tiles)) if tuple(tiles) != design.build.tiles else design
    if thing.kind == "corner" and isinstance(design.build, ChannelBar):
        corners = list(design.build.corners_mm)
        corners[thing.index] = (round(thing.x_mm + dx_mm, 1), round(thing.y_mm + dy_mm, 1))
        return with_build(design, corners_mm=tuple(corners))
    raise TypeError(f"no {thing.kind} to be moved in {type(design.build).__name__}")
