"""Parts of the pixel display: rows of strip or ready grids on a back, partitions between pixels, the diffuser."""

from gauze.core.design.cavity import BaffledShape, BoxShape
from gauze.core.design.pixel_display import PixelDisplay
from gauze.core.layout.families.pixel_display import DisplayLayout
from gauze.core.layout.pieces import Piece
from gauze.core.layout.pixel_order import order_on_board
from gauze.core.materials import Catalogue
from gauze.core.parts.bodies import FEED_HOLE_MM, box_body, mark_of, materials_of, partition_grid
from gauze.core.parts.families.strip_panel import feed_hole
from gauze.core.parts.joining import on_a_bus
from gauze.core.parts.model import Hole, Parts


def pixel_display_parts(build: PixelDisplay, layout: DisplayLayout, catalogue: Catalogue) -> Parts:
    """State the parts of a display; the data go through them as chosen."""
    shape = layout.cavity.shape
    materials = materials_of(build.back, build.walls, build.layers, catalogue)
    if isinstance(shape, BaffledShape):
        wide, high, deep = shape.columns * shape.pitch_x_mm, shape.rows * shape.pitch_y_mm, shape.depth_mm
    else:
        assert isinstance(shape, BoxShape)
        wide, high, deep = shape.width_mm, shape.height_mm, shape.depth_mm
    if layout.strips:
        hole = feed_hole(layout.strips[0], wide, high)
    else:
        first = layout.modules[0]
        hole = Hole("feed", "wire", first.place_mm[0], first.place_mm[1], FEED_HOLE_MM)
    marks = tuple(mark_of(piece.id, piece.start_mm, piece.end_mm) for piece in layout.strips)
    body = box_body(wide, high, deep, materials, holes=(hole,), marks=marks)
    if isinstance(shape, BaffledShape):
        body += partition_grid(shape, materials.walls)
    return Parts(layout.pieces, tuple(body), tuple(on_a_bus(_in_order(build, layout, catalogue), "back/feed")))


def _in_order(build: PixelDisplay, layout: DisplayLayout, catalogue: Catalogue) -> list[Piece]:
    """The pieces in the order of the data: rows of strip from below or from above, grids by their path."""
    path = build.data_path
    if build.module is None:
        return list(layout.strips[::-1] if path.start.startswith("upper") else layout.strips)
    module = catalogue.module(build.module.module)
    order = order_on_board(build.columns // module.columns, build.rows // module.rows, path)
    return [layout.modules[index] for index in order]
