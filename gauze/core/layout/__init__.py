"""From choices to things in space: pure functions, one module for each family."""

from gauze.core.layout.loose import LooseLayout
from gauze.core.layout.model import Channel, EmitterSet, Layout, LightBox, Row
from gauze.core.layout.strip_panel import lay_out_strip_panel

AnyLayout = Layout | LooseLayout

__all__ = [
    "AnyLayout",
    "Channel",
    "EmitterSet",
    "Layout",
    "LightBox",
    "LooseLayout",
    "Row",
    "lay_out_strip_panel",
    "panel_layout",
]


def panel_layout(layout: AnyLayout) -> Layout:
    """Return the layout of a strip panel; raises :class:`TypeError` for another family."""
    if not isinstance(layout, Layout):
        raise TypeError(f"{type(layout).__name__} is no strip panel's")
    return layout
