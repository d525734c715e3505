"""Which parts of a build can be printed, by its family, and what goes beside it."""

from collections.abc import Iterator

from gauze.core.design import Design
from gauze.core.design.cavity import BaffledShape
from gauze.core.design.channel_bar import ChannelBar, path_of, turns_deg
from gauze.core.design.making import Printing
from gauze.core.design.tile_wall import TileWall
from gauze.core.design.tube import Tube
from gauze.core.layout import Layout
from gauze.core.making.solids.ends import channel_caps, inner_corners, tube_caps
from gauze.core.making.solids.extras import electronics_case, feet
from gauze.core.making.solids.grid import partition_grid
from gauze.core.making.solids.model import Printed
from gauze.core.making.solids.tiles import tile_prints
from gauze.core.parts import Parts


def printed_parts(design: Design, layout: Layout, parts: Parts, printing: Printing) -> tuple[Printed, ...]:
    """Return all parts of a build that can be printed."""
    return tuple(_printed(design, layout, parts, printing))


def _printed(design: Design, layout: Layout, parts: Parts, printing: Printing) -> Iterator[Printed]:
    shape = layout.cavity.shape
    if isinstance(shape, BaffledShape):
        grid = partition_grid(shape, printing)
        if grid is not None:
            yield grid
    tiles, channel, tube = (design.build_if(kind) for kind in (TileWall, ChannelBar, Tube))
    if isinstance(tiles, TileWall):
        yield from tile_prints(tiles, parts, printing)
    if isinstance(channel, ChannelBar):
        yield from channel_caps(channel, parts, layout.cavity, printing)
        if not channel.bars:
            points, closed = path_of(channel)
            yield from inner_corners(channel, turns_deg(points, closed=closed), printing)
    if isinstance(tube, Tube):
        yield from tube_caps(tube, printing)
    yield from electronics_case(printing)
    foot = feet(printing, layout.sketch.cut_mm[3], layout.sketch.plan_mm[3])
    if foot is not None:
        yield foot
