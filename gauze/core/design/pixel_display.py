"""Choices of the pixel display: columns x rows of pixels behind a sheet, between partitions or in one glow."""

from typing import Annotated, Literal

import msgspec

from gauze.core.design.build import (
    Depth,
    FamilyBuild,
    PixelOrder,
    Share,
    Size,
    check_common,
    check_depth_over_leds,
    check_sheet_wanted,
)
from gauze.core.design.limits import check_limits
from gauze.core.errors import DesignError
from gauze.core.materials import Catalogue
from gauze.core.words import Length, say

MOST_PIXELS = 16_384
LONGEST_TEXT = 40
PixelCount = Annotated[int, msgspec.Meta(ge=1, le=128)]


class Baffle(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, omit_defaults=True):
    """Partitions on the lines between pixels, ``gap_below_mm`` over the back: the notch that lets the strip pass.

    Half of one runs along the rim, unless ``rim_partition`` is false: the pixels there reach to the bare wall.
    """

    wall_mm: Annotated[float, msgspec.Meta(ge=0, le=50)]
    height_mm: Depth
    gap_below_mm: Share = 0.0
    rim_partition: bool = True


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

    ``path`` is how the data run from grid to grid, or through the rows of strip: from which corner, and whether back and forth,
    which turns every other row so that its start lies beside the end of the one before. None is the usual way: back and forth
    through grids, every row from the left through strip.
    """

    columns: PixelCount
    rows: PixelCount
    row_pitch_mm: Size = 10.0
    depth_mm: Depth
    baffle: Baffle | None = None
    rim_mm: Share = 0.0
    show: Show = Show()
    path: PixelOrder | None = None

    @property
    def data_path(self) -> PixelOrder:
        """How the data run from grid to grid, or through the rows."""
        return self.path or PixelOrder(zigzag=self.module is not None)


def check_pixel_display(build: PixelDisplay, catalogue: Catalogue) -> None:
    """Check what can be judged without laying out; raises :class:`gauze.core.errors.DesignError`."""
    check_common(build, catalogue, lit_by="either")
    check_sheet_wanted(build, wanted=True)
    if build.columns * build.rows > MOST_PIXELS:
        raise DesignError(
            "build.columns",
            "At most {most_pixels} pixels can be computed: give fewer columns or rows.",
            most_pixels=MOST_PIXELS,
        )
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
                "Rows {row_pitch} apart overlap: the strip is {width} wide. Give at least that.",
                row_pitch=Length(build.row_pitch_mm),
                width=Length(strip.width_mm),
            )
        if build.data_path.by == "columns":
            raise DesignError("build.path", "The data run along the strip: choose an order row by row.")
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


def row_is_turned(build: PixelDisplay, index: int) -> bool:
    """Whether a row of strip, counted from below, has its start on the right."""
    path = build.data_path
    place = build.rows - 1 - index if path.start.startswith("upper") else index
    return path.start.endswith("right") != (path.zigzag and place % 2 == 1)


def _check_grids(build: PixelDisplay, catalogue: Catalogue) -> None:
    assert build.module is not None
    module = catalogue.module(build.module.module)
    if module.kind != "grid":
        raise DesignError("build.module", "“{name}” is not a grid of pixels: choose one.", name=module.name)
    sides = (("columns", say("columns"), build.columns, module.columns), ("rows", say("rows"), build.rows, module.rows))
    for field, name, count, own in sides:
        if count % own:
            fewer, more = count // own * own, (count // own + 1) * own
            nearest = say("{fewer} or {more}", fewer=fewer, more=more) if fewer else more
            raise DesignError(
                f"build.{field}",
                "{count} {name} cannot be joined from grids of {own}, which are not cut: take {nearest}.",
                count=count,
                name=name,
                own=own,
                nearest=nearest,
            )


def _check_baffle(build: PixelDisplay, baffle: Baffle, inner_mm: float, pitch_mm: float) -> None:
    check_limits(baffle, "build.baffle")
    if build.columns * build.rows > 4096:
        raise DesignError("build.columns", "Between partitions at most 4096 pixels can be computed: give fewer.")
    if baffle.height_mm + baffle.gap_below_mm > inner_mm + 1e-6:
        raise DesignError(
            "build.baffle.height_mm",
            "A baffle of {height}, {gap_below} over the back, is taller than the {inner} from the "
            "back to the sheet: lower it, or make the display deeper.",
            height=Length(baffle.height_mm),
            gap_below=Length(baffle.gap_below_mm),
            inner=Length(inner_mm),
        )
    if baffle.wall_mm >= pitch_mm / 2.0:
        raise DesignError(
            "build.baffle.wall_mm",
            "Walls of {wall} leave less than half of a pixel of {pitch}: make them thinner.",
            wall=Length(baffle.wall_mm),
            pitch=Length(pitch_mm),
        )


def _check_show(build: PixelDisplay) -> None:
    show = build.show
    if len(show.text) > LONGEST_TEXT:
        raise DesignError(
            "build.show.text", "A text has at most {longest_text} letters here: shorten it.", longest_text=LONGEST_TEXT
        )
    if any(not 0 <= level <= 1 for level in show.colour):
        raise DesignError("build.show.colour", "A level is invalid: each must be between 0 and 1.")
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
