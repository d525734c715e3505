"""Parts of the reflector head: the board of chips, the funnel as it is cut, bottom and film."""

from gauze.core.design.reflector_head import ReflectorHead
from gauze.core.layout.built import Layout
from gauze.core.materials import Catalogue
from gauze.core.parts.bodies import FEED_HOLE_MM, funnel_body, materials_of, rectangle
from gauze.core.parts.joining import on_a_bus
from gauze.core.parts.model import BodyPart, Hole, Parts, Placement


def reflector_head_parts(build: ReflectorHead, layout: Layout, catalogue: Catalogue) -> Parts:
    """State the parts of a head; the lead comes in beside the board where there is room, else under it."""
    board = layout.modules[0]
    wide, high = board.module.board_mm
    beside_mm = wide / 2.0 + FEED_HOLE_MM / 2.0 + 1.0
    x = beside_mm if beside_mm + FEED_HOLE_MM / 2.0 <= build.back_mm / 2.0 else 0.0
    hole = Hole("feed", "wire", x, 0.0, FEED_HOLE_MM)
    body = funnel_body(build.cavity, materials_of(build.back, build.walls, build.layers, catalogue), (hole,))
    body.append(
        BodyPart(
            id=f"{board.id}/plate",
            kind="board",
            use="carrier",
            name=board.module.name,
            length_mm=wide,
            width_mm=high,
            outline_mm=rectangle(wide, high) - [wide / 2.0, high / 2.0],
            placement=Placement(),
        )
    )
    return Parts(layout.pieces, tuple(body), tuple(on_a_bus(layout.pieces, "back/feed")))
