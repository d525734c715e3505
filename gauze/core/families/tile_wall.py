"""Tiles edge to edge: the record of the family."""

from gauze.core.design.surroundings import Surroundings
from gauze.core.design.tile_wall import TileWall, check_tile_wall
from gauze.core.families.editing import tiles
from gauze.core.families.family import Family, as_decoration
from gauze.core.layout.families.tile_wall import lay_out_tile_wall
from gauze.core.parts.families.tile_wall import tile_wall_parts

TILE_WALL = Family(
    build=TileWall,
    check=check_tile_wall,
    lay_out=lay_out_tile_wall,
    parts=tile_wall_parts,
    counts={"build.tiles": tiles.with_tile_count},
    item_edits=tiles.tile_edits,
    move_item=tiles.with_tile_moved,
    usual_standard=as_decoration,
    body_kind="box",
    usual_surroundings=Surroundings(against_wall=True, back="plastic", back_mm=3.0),
)
