"""Parts of the tube: strips, the tube with its sleeve, a bed, two caps."""

from gauze.core.design.tube import Tube
from gauze.core.layout.built import Layout
from gauze.core.materials import Catalogue
from gauze.core.parts.bodies import materials_of, tube_body
from gauze.core.parts.joining import on_a_bus
from gauze.core.parts.model import Parts


def tube_parts(build: Tube, layout: Layout, catalogue: Catalogue) -> Parts:
    """State the parts of a tube; its strips are fed side by side through the cap at the start."""
    body = tube_body(build.cavity, materials_of(build.back, build.walls, build.layers, catalogue))
    return Parts(layout.pieces, tuple(body), tuple(on_a_bus(layout.pieces, "cap-start/feed")))
