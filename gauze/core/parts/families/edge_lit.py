"""Parts of the edge-lit face: strips on carriers along the walls, the body, a clear support, the diffuser."""

from gauze.core.design.edge_lit import EdgeLit
from gauze.core.layout.built import Layout
from gauze.core.materials import Catalogue
from gauze.core.parts.bodies import FEED_HOLE_MM, flat, materials_of, rectangle, sheets, walls_about
from gauze.core.parts.joining import on_a_bus
from gauze.core.parts.model import BodyPart, Hole, Parts, Placement


def edge_lit_parts(build: EdgeLit, layout: Layout, catalogue: Catalogue) -> Parts:
    """State the parts of a face; the strips are fed side by side."""
    materials = materials_of(build.back, build.walls, build.layers, catalogue)
    outline = rectangle(build.width_mm, build.height_mm)
    x, y, _ = layout.strips[0].start_mm
    half = FEED_HOLE_MM / 2.0
    hole = Hole("feed", "wire", max(x, half + 1.0), max(y, half + 1.0), FEED_HOLE_MM)
    body = [flat("back", "back", "Back", outline, 0.0, material=materials.back, holes=(hole,))]
    body += walls_about(outline, build.depth_mm, materials.walls)
    body += [
        BodyPart(
            id=piece.id.replace("strip", "carrier"),
            kind="member",
            use="carrier",
            name=f"Carrier, {piece.id.removeprefix('strip-')}",
            length_mm=piece.length_mm + piece.start_gap_mm + piece.end_gap_mm,
            width_mm=piece.strip.width_mm,
            placement=Placement(piece.start_mm, piece.along, (0.0, 0.0, 1.0)),
        )
        for piece in layout.strips
    ]
    over_mm = build.depth_mm
    if build.support_mm > 0:
        body.append(
            flat(
                "support",
                "support",
                "Clear sheet under the diffuser",
                outline,
                over_mm,
                thickness_mm=build.support_mm,
                material="clear sheet",
            )
        )
        over_mm += build.support_mm
    body += sheets(outline, over_mm, materials.layers)
    return Parts(layout.pieces, tuple(body), tuple(on_a_bus(layout.pieces, "back/feed")))
