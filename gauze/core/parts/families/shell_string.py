"""Parts of the shell string: pixels on a cord, each in its shell."""

from gauze.core.design.shell_string import ShellString
from gauze.core.layout.families.shell_string import ShellLayout
from gauze.core.materials import Catalogue
from gauze.core.parts.bodies import materials_of, shell_body
from gauze.core.parts.joining import in_a_row
from gauze.core.parts.model import Parts


def shell_string_parts(build: ShellString, layout: ShellLayout, catalogue: Catalogue) -> Parts:
    """State the parts of a string; supply and data go along the cord from pixel to pixel."""
    layers = materials_of(build.back, build.walls, build.layers, catalogue).layers
    places = tuple(one.id for one in layout.instances)
    body = shell_body(build.cavity, layers, build.shell_wall_mm, places)
    cord = [layout.modules[index] for index in layout.order]
    return Parts(layout.pieces, tuple(body), tuple(in_a_row(cord)), layout.instances)
