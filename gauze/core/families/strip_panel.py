"""Rows of strip on a flat back: the record of the family."""

from gauze.core.design.strip_panel import StripPanel, check_strip_panel
from gauze.core.families.family import Family
from gauze.core.layout.families.panel_layout import lay_out_panel
from gauze.core.parts.families.strip_panel import strip_panel_parts

STRIP_PANEL = Family(
    build=StripPanel,
    check=check_strip_panel,
    lay_out=lay_out_panel,
    parts=strip_panel_parts,
    has_row_plan=True,
)
