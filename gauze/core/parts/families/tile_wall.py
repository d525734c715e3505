"""Parts of the tile wall: base, walls and sheet of each kind of tile, stated once with the tiles of it; strips and links."""

import itertools
import math

import numpy as np

from gauze.core.design.tile_wall import TileWall, polygon_mm
from gauze.core.layout.built import Instance
from gauze.core.layout.families.tile_wall import TileLayout
from gauze.core.layout.pieces import Piece
from gauze.core.layout.placing import turn_of
from gauze.core.materials import Catalogue
from gauze.core.parts.bodies import FEED_HOLE_MM, Materials, flat, mark_of, materials_of, sheets, walls_about
from gauze.core.parts.joining import BUS, CONTROLLER, carries_data, joined
from gauze.core.parts.model import BodyPart, Hole, Joint, JointKind, Parts

_NAMES = {3: "triangle", 4: "square", 6: "hexagon"}


def tile_wall_parts(build: TileWall, layout: TileLayout, catalogue: Catalogue) -> Parts:
    """State the parts of a wall; in each tile the strips follow each other, and the links go through windows in shared walls."""
    materials = materials_of(build.back, build.walls, build.layers, catalogue)
    by_kind: dict[int, list[Instance]] = {sides: [] for sides in layout.by_sides}
    for tile, instance in zip(build.tiles, layout.instances, strict=True):
        by_kind[tile.sides].append(instance)
    windows = _windows(build, layout)
    body = [
        part for sides, places in by_kind.items() for part in _tile(build, layout, sides, places, windows, materials)
    ]
    return Parts(layout.pieces, tuple(body), tuple(_joints(layout)), layout.instances)


def _tile(
    build: TileWall,
    layout: TileLayout,
    sides: int,
    places: list[Instance],
    windows: dict[tuple[str, int], Hole],
    materials: Materials,
) -> list[BodyPart]:
    prefix, ids = f"{_NAMES[sides]}-", tuple(one.id for one in places)
    inner, outer = (polygon_mm(sides, build.side_mm, grown) for grown in (-build.wall_mm, 0.0))
    first = layout.instances[layout.chain.order[0]].id
    feed = (Hole("feed", "wire", 0.0, 0.0, FEED_HOLE_MM, only=(first,)),) if first in ids else ()
    marks = tuple(mark_of(piece.id, piece.start_mm, piece.end_mm) for piece in layout.by_sides[sides])
    base = flat(
        f"{prefix}base",
        "base",
        f"Base, {_NAMES[sides]}",
        outer,
        0.0,
        material=materials.back,
        holes=feed,
        marks=marks if build.lighting == "back" else (),
        places=ids,
    )
    holes = [
        tuple(_alike([windows[key] for key in windows if key[0] in ids and key[1] == wall])) for wall in range(sides)
    ]
    walls = walls_about(
        inner,
        build.depth_mm,
        materials.walls,
        thickness_mm=build.wall_mm,
        holes=holes,
        places=ids,
        prefix=prefix,
    )
    return [base, *walls, *sheets(outer, build.depth_mm, materials.layers, ids, prefix)]


def _alike(holes: list[Hole]) -> list[Hole]:
    """One window for all places that have it at the same wall."""
    if not holes:
        return []
    one = holes[0]
    only = tuple(place for hole in holes for place in hole.only)
    return [Hole(one.id, one.purpose, one.x_mm, one.y_mm, one.width_mm, one.height_mm, only)]


def _windows(build: TileWall, layout: TileLayout) -> dict[tuple[str, int], Hole]:
    """The window in a wall of a tile for every link: by the tile and the number of the wall from 0."""
    found = {}
    for link in layout.chain.links:
        for tile in (link.start, link.end):
            place = layout.instances[tile]
            wall = wall_at(build.tiles[tile].sides, place, link.x_mm, link.y_mm)
            middle = (build.side_mm - 2.0 * build.wall_mm * math.tan(math.pi / build.tiles[tile].sides)) / 2.0
            found[place.id, wall] = Hole(
                f"link-{wall + 1}",
                "link",
                middle,
                build.link_high_mm / 2.0,
                build.link_wide_mm,
                build.link_high_mm,
                only=(place.id,),
            )
    return found


def wall_at(sides: int, place: Instance, x_mm: float, y_mm: float) -> int:
    """Return the number of the wall, from 0, whose middle lies towards a place of the plan."""
    x, y = (np.array([x_mm - place.x_mm, y_mm - place.y_mm]) @ turn_of(place)[:2, :2]).tolist()
    turn = math.degrees(math.atan2(y, x)) + 90.0
    return round(turn / (360.0 / sides)) % sides


def _joints(layout: TileLayout) -> list[Joint]:
    """Supply, and data where there are any: through the strips of a tile, and from the last of one to the first of the next."""
    own: list[list[Piece]] = [[] for _ in layout.instances]
    which = {piece_id: index for index, one in enumerate(layout.instances) for piece_id, _ in one.pieces}
    for piece in layout.pieces:
        own[which[piece.id]].append(piece)
    first = own[layout.chain.order[0]][0]
    kinds: tuple[JointKind, ...] = ("supply", "data") if carries_data(first) else ("supply",)
    found = []
    for kind in kinds:
        source = BUS if kind == "supply" else CONTROLLER
        base = f"{layout.instances[layout.chain.order[0]].id}/feed"
        found.append(Joint(f"{kind}-{first.id}", kind, source, None, first.id, "start", base))
        for pieces in own:
            found += [joined(kind, one, other) for one, other in itertools.pairwise(pieces)]
        for link in layout.chain.links:
            window = f"{layout.instances[link.end].id}/link"
            found.append(joined(kind, own[link.start][-1], own[link.end][0], window))
    return found
