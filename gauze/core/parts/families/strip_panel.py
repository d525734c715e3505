"""Parts of the strip panel: rows on a back, four walls, the diffuser."""

from gauze.core.design.strip_panel import StripPanel
from gauze.core.layout.families.panel_layout import PanelLayout
from gauze.core.layout.pieces import StripPiece
from gauze.core.materials import Catalogue
from gauze.core.parts.bodies import FEED_HOLE_MM, box_body, mark_of, materials_of
from gauze.core.parts.joining import on_a_bus
from gauze.core.parts.model import Hole, Parts


def strip_panel_parts(build: StripPanel, layout: PanelLayout, catalogue: Catalogue) -> Parts:
    """State the parts of a panel; the rows are fed at their starts from one bus."""
    pieces, strips, box = layout.pieces, layout.strips, layout.panel.box
    body = box_body(
        box.width_mm,
        box.height_mm,
        box.inner_depth_mm,
        materials_of(build.back, build.walls, build.layers, catalogue),
        holes=(feed_hole(strips[0], box.width_mm, box.height_mm),),
        marks=tuple(mark_of(piece.id, piece.start_mm, piece.end_mm) for piece in strips),
    )
    return Parts(pieces, tuple(body), tuple(on_a_bus(pieces, "back/feed")))


def feed_hole(first: StripPiece, width_mm: float, height_mm: float) -> Hole:
    """The hole through which the lead comes in: before the start of the first piece, or beside it where there is no room."""
    x, y, _ = first.start_mm
    half = FEED_HOLE_MM / 2.0
    x, y = x - first.along[0] * FEED_HOLE_MM, y - first.along[1] * FEED_HOLE_MM
    if x < half:
        x, y = half + 1.0, y + first.strip.width_mm / 2.0 + half + 1.0
    elif y < half:
        x, y = x + first.strip.width_mm / 2.0 + half + 1.0, half + 1.0
    return Hole("feed", "wire", min(x, width_mm - half), min(y, height_mm - half), FEED_HOLE_MM)
