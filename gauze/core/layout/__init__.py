"""From choices to things in space: pure functions, one module for each family."""

from gauze.core.layout.built import Instance, Layout
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.families.panel_layout import PanelLayout, panel_layout
from gauze.core.layout.families.strip_panel import lay_out_strip_panel
from gauze.core.layout.model import Channel, EmitterSet, LightBox, Row, RowLayout
from gauze.core.layout.pieces import ModulePiece, Piece, StripPiece

__all__ = [
    "CavityLayout",
    "Channel",
    "EmitterSet",
    "Instance",
    "Layout",
    "LightBox",
    "ModulePiece",
    "PanelLayout",
    "Piece",
    "Row",
    "RowLayout",
    "StripPiece",
    "lay_out_strip_panel",
    "panel_layout",
]
