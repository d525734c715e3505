"""From choices to things in space: pure functions, one module for each family."""

from gauze.core.layout.model import Channel, EmitterSet, Layout, LightBox, Row
from gauze.core.layout.strip_panel import lay_out_strip_panel

__all__ = ["Channel", "EmitterSet", "Layout", "LightBox", "Row", "lay_out_strip_panel"]
