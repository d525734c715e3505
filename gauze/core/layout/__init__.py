"""From choices to things in space: pure functions, one module for each family."""

from gauze.core.layout.built import BuiltLayout, ModuleSet, Stand
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.families import AnyLayout, lay_out, panel_layout
from gauze.core.layout.model import Channel, EmitterSet, Layout, LightBox, Row
from gauze.core.layout.runs import Run
from gauze.core.layout.strip_panel import lay_out_strip_panel

__all__ = [
    "AnyLayout",
    "BuiltLayout",
    "CavityLayout",
    "Channel",
    "EmitterSet",
    "Layout",
    "LightBox",
    "ModuleSet",
    "Row",
    "Run",
    "Stand",
    "lay_out",
    "lay_out_strip_panel",
    "panel_layout",
]
