"""Choices of the pixel display: columns x rows of pixels behind a sheet, between partitions or in one glow."""

from typing import Annotated, Literal

import msgspec

from gauze.core.design.build import (
    Depth,
    FamilyBuild,
    Share,
    Size,
    check_common,
    check_depth_over_leds,
    check_sheet_wanted,
)
from gauze.core.design.limits import check_limits
from gauze.core.errors import DesignError, length
from gauze.core.materials import Catalogue

MOST_PIXELS = 16_384
LONGEST_TEXT = 40
PixelCount = Annotated[int, msgspec.Meta(ge=1, le=128)]


class Baffle(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """Partitions on the lines between pixels, ``gap_below_mm`` over the back: the notch that lets the strip pass."""

    wall_mm: Annotated[float, msgspec.Meta(gt=0, le=50)]
    height_mm: Depth
    gap_below_mm: Share = 0.0


class Show(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """What is shown: every pixel on, a text, the time, or a picture.

    ``text`` is also the time, as 10:42. ``colour`` are the levels of the channels, 0 to 1. ``picture`` has a line of six
    hexadecimal digits a pixel for every row, from above.
    """

    kind: Literal["all", "text", "clock", "picture"] = "all"
    text: str = ""
    colour: tuple[Annotated[float, msgspec.Meta(ge=0, le=1)], ...] = ()
    picture: tuple[str, ...] = ()


class PixelDisplay(FamilyBuild, frozen=True, kw_only=True, tag="pixel_display"):
    """A display: ``columns`` x ``rows`` pixels, ``depth_mm`` from the LEDs to the sheet.

    Made of ready grids (``module``) joined, which set the pitch; or of rows of pixel strip, whose segments are the pixels,
    ``row_pitch_mm`` apart. Without a ``baffle`` the outer pixels' cells end ``rim_mm`` before the wall.
    """

    columns: PixelCount
    rows: PixelCount
    row_pitch_mm: Size = 10.0
    depth_mm: Depth
    baffle: Baffle | None = None
    rim_mm: Share = 0.0
    show: Show = Show()


def check_pixel_display(build: PixelDisplay, catalogue: Catalogue) -> None:
    """Check what can be judged without laying out; raises :class:`gauze.core.errors.DesignError`."""
    check_common(build, catalogue, lit_by="either")
    check_sheet_wanted(build, wanted=True)
    if build.columns * build.rows > MOST_PIXELS:
        raise DesignError("build.columns", f"At most {MOST_PIXELS} pixels can be computed: give fewer columns or rows.")
    pitch_x, pitch_y = pitches_mm(build, catalogue)
    if build.module is not None:
        _check_grids(build, catalogue)
        height_mm = catalogue.module(build.module.module).emitter_height_mm
    else:
        strip = catalogue.strip(build.strips[0].strip)
        height_mm = strip.emitter_height_mm
        if build.rows > 1 and build.row_pitch_mm < strip.width_mm:
            raise DesignError(
                "build.row_pitch_mm",
                f"Rows {length(build.row_pitch_mm)} apart overlap: the strip is {length(strip.width_mm)} wide. "
                "Give at least that.",
            )
    check_depth_over_leds(build.depth_mm, height_mm)
    if build.baffle is not None:
        _check_baffle(build, build.baffle, build.depth_mm + height_mm, min(pitch_x, pitch_y))
    _check_show(build)


def pitches_mm(build: PixelDisplay, catalogue: Catalogue) -> tuple[float, float]:
    """Distance of the pixels along a row and from row to row."""
    if build.module is not None:
        pitch = catalogue.module(build.module.module).pitch_mm
        return pitch, pitch
    return catalogue.strip(build.strips[0].strip).segment_mm, build.row_pitch_mm


def _check_grids(build: PixelDisplay, catalogue: Catalogue) -> None:
    assert build.module is not None
    module = catalogue.module(build.module.module)
    if module.kind != "grid":
        raise DesignError("build.module", f"“{module.name}” is not a grid of pixels: choose one.")
    for field, count, own in (("columns", build.columns, module.columns), ("rows", build.rows, module.rows)):
        if count % own:
            fewer, more = count // own * own, (count // own + 1) * own
            nearest = f"{fewer} or {more}" if fewer else f"{more}"
            raise DesignError(
                f"build.{field}",
                f"{count} {field} cannot be joined from grids of {own}, which are not cut: take {nearest}.",
            )


def _check_baffle(build: PixelDisplay, baffle: Baffle, inner_mm: float, pitch_mm: float) -> None:
    check_limits(baffle, "build.baffle")
    if build.columns * build.rows > 4096:
        raise DesignError("build.columns", "Between partitions at most 4096 pixels can be computed: give fewer.")
    if baffle.height_mm + baffle.gap_below_mm > inner_mm + 1e-6:
        raise DesignError(
            "build.baffle.height_mm",
            f"A baffle of {length(baffle.height_mm)}, {length(baffle.gap_below_mm)} over the back, is taller than the "
            f"{length(inner_mm)} from the back to the sheet: lower it, or make the display deeper.",
        )
    if baffle.wall_mm >= pitch_mm / 2.0:
        raise DesignError(
            "build.baffle.wall_mm",
            f"Walls of {length(baffle.wall_mm)} leave less than half of a pixel of {length(pitch_mm)}: make them thinner.",
        )


def _check_show(build: PixelDisplay) -> None:
    show = build.show
    if len(show.text) > LONGEST_TEXT:
        raise DesignError("build.show.text", f"A text has at most {LONGEST_TEXT} letters here: shorten it.")
    if any(not 0 <= level <= 1 for level in show.colour):
        raise DesignError("build.show.colour", "A level is invalid: each lies between 0 and 1.")
    if show.kind != "picture":
        return
    if not show.picture:
        raise DesignError("build.show.picture", "No picture was chosen yet: choose one, or show something else.")
    width = {len(line) for line in show.picture}
    digits = set("".join(show.picture).lower())
    if len(width) != 1 or not next(iter(width)) or next(iter(width)) % 6 or digits - set("0123456789abcdef"):
        raise DesignError(
            "build.show.picture",
            "The picture is damaged: every line has six hexadecimal digits for each of as many pixels.",
        )
