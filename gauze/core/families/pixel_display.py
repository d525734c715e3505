"""Pixels, each with a cell or in one glow: the record of the family."""

from gauze.core.design.design import StandardKey
from gauze.core.design.pixel_display import PixelDisplay, check_pixel_display
from gauze.core.families.family import Family
from gauze.core.layout.families.pixel_display import lay_out_pixel_display
from gauze.core.parts.families.pixel_display import pixel_display_parts


def _usual_standard(build: PixelDisplay) -> StandardKey:
    return "soft" if build.baffle is None else "crisp"


PIXEL_DISPLAY = Family(
    build=PixelDisplay,
    check=check_pixel_display,
    lay_out=lay_out_pixel_display,
    parts=pixel_display_parts,
    usual_standard=_usual_standard,
)
