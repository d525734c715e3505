"""From choices to things in space: pure functions, one module for each family."""

from gauze.core.layout.built import BuiltLayout, Instance
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.families import lay_out, panel_layout
from gauze.core.layout.model import Channel, EmitterSet, Layout, LightBox, Row
from gauze.core.layout.panel_layout import PanelLayout
from gauze.core.layout.pieces import ModulePiece, Piece, StripPiece
from gauze.core.layout.strip_panel import lay_out_strip_panel

__all__ = [
    "BuiltLayout",
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
    "StripPiece",
    "lay_out",
    "lay_out_strip_panel",
    "panel_layout",
]
