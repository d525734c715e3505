"""Every family's layout. To add one, name its class here."""

from collections.abc import Callable
from typing import Any

from gauze.core.design import Design, LooseEmitters, StripPanel
from gauze.core.design.channel_bar import ChannelBar
from gauze.core.design.design import catalogue_of, check_design
from gauze.core.design.edge_lit import EdgeLit
from gauze.core.design.indirect import IndirectLamp
from gauze.core.design.pixel_display import PixelDisplay
from gauze.core.design.reflector_head import ReflectorHead
from gauze.core.design.shell_string import ShellString
from gauze.core.design.tile_wall import TileWall
from gauze.core.design.tube import Tube
from gauze.core.layout.built import BuiltLayout
from gauze.core.layout.channel_bar import lay_out_channel_bar
from gauze.core.layout.edge_lit import lay_out_edge_lit
from gauze.core.layout.indirect import lay_out_indirect
from gauze.core.layout.loose import lay_out_loose
from gauze.core.layout.model import Layout
from gauze.core.layout.panel_layout import PanelLayout, lay_out_panel
from gauze.core.layout.pixel_display import lay_out_pixel_display
from gauze.core.layout.reflector_head import lay_out_reflector_head
from gauze.core.layout.shell_string import lay_out_shell_string
from gauze.core.layout.tile_wall import lay_out_tile_wall
from gauze.core.layout.tube import lay_out_tube
from gauze.core.materials import Catalogue

_LAYOUTS: dict[type, Callable[[Any, Catalogue], BuiltLayout]] = {
    StripPanel: lay_out_panel,
    LooseEmitters: lay_out_loose,
    Tube: lay_out_tube,
    ChannelBar: lay_out_channel_bar,
    EdgeLit: lay_out_edge_lit,
    ReflectorHead: lay_out_reflector_head,
    IndirectLamp: lay_out_indirect,
    ShellString: lay_out_shell_string,
    PixelDisplay: lay_out_pixel_display,
    TileWall: lay_out_tile_wall,
}


def lay_out(design: Design, catalogue: Catalogue) -> BuiltLayout:
    """Check a design and lay it out; raises :class:`gauze.core.errors.DesignError`."""
    check_design(design, catalogue)
    return _LAYOUTS[type(design.build)](design.build, catalogue_of(design, catalogue))


def panel_layout(layout: BuiltLayout) -> Layout:
    """Return the rows of a strip panel in their box; raises :class:`TypeError` for another family."""
    if not isinstance(layout, PanelLayout):
        raise TypeError(f"{type(layout).__name__} is no strip panel's")
    return layout.panel
