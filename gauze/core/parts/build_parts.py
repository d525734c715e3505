"""The parts of any design. To add a family, name its function here."""

from collections.abc import Callable
from typing import Any

from gauze.core.design import Design, LooseEmitters, StripPanel
from gauze.core.design.channel_bar import ChannelBar
from gauze.core.design.design import catalogue_of
from gauze.core.design.edge_lit import EdgeLit
from gauze.core.design.indirect import IndirectLamp
from gauze.core.design.pixel_display import PixelDisplay
from gauze.core.design.reflector_head import ReflectorHead
from gauze.core.design.shell_string import ShellString
from gauze.core.design.tile_wall import TileWall
from gauze.core.design.tube import Tube
from gauze.core.layout import BuiltLayout
from gauze.core.materials import Catalogue
from gauze.core.parts.families.channel_bar import channel_bar_parts
from gauze.core.parts.families.edge_lit import edge_lit_parts
from gauze.core.parts.families.indirect import indirect_parts
from gauze.core.parts.families.loose import loose_parts
from gauze.core.parts.families.pixel_display import pixel_display_parts
from gauze.core.parts.families.reflector_head import reflector_head_parts
from gauze.core.parts.families.shell_string import shell_string_parts
from gauze.core.parts.families.strip_panel import strip_panel_parts
from gauze.core.parts.families.tile_wall import tile_wall_parts
from gauze.core.parts.families.tube import tube_parts
from gauze.core.parts.model import Parts

_PARTS: dict[type, Callable[[Any, Any, Catalogue], Parts]] = {
    StripPanel: strip_panel_parts,
    LooseEmitters: loose_parts,
    Tube: tube_parts,
    ChannelBar: channel_bar_parts,
    EdgeLit: edge_lit_parts,
    ReflectorHead: reflector_head_parts,
    IndirectLamp: indirect_parts,
    ShellString: shell_string_parts,
    PixelDisplay: pixel_display_parts,
    TileWall: tile_wall_parts,
}


def parts_of(design: Design, layout: BuiltLayout, catalogue: Catalogue) -> Parts:
    """State the parts of a design that has been laid out."""
    return _PARTS[type(design.build)](design.build, layout, catalogue_of(design, catalogue))
