"""The drawing of a pixel display: cells from the front, partitions and sheet from the side."""

import msgspec
import numpy as np

from gauze.core.design.build import Corner, ModuleChoice, PixelOrder
from gauze.core.design.pixel_display import Baffle, PixelDisplay
from gauze.core.design.strip_panel import StripChoice
from gauze.core.layout.cavity_sketch import partition_spans, rectangle
from gauze.core.layout.sketch import Choice, Entry, Handle, Measure, Outline, Sketch, Together
from gauze.core.materials import Catalogue
from gauze.core.words import Text, say

_SHOWS = (
    ("all", say("all pixels on")),
    ("text", say("a text")),
    ("clock", say("the time")),
    ("picture", say("a picture")),
)


def display_sketch(
    build: PixelDisplay,
    catalogue: Catalogue,
    pitch_mm: tuple[float, float],
    size_mm: tuple[float, float],
    heights_mm: tuple[float, float],
    rim_mm: float,
) -> Sketch:
    """Draw a display of a size; ``heights_mm`` are those of the LEDs and of the sheet over the back."""
    (pitch_x, pitch_y), (wide, high), (led, inner) = pitch_mm, size_mm, heights_mm
    plan = [Outline("back", rectangle(0.0, 0.0, wide, high)), *_carriers(build, catalogue, pitch_mm, rim_mm)]
    cut = [Outline("body", rectangle(0.0, 0.0, wide, inner))]
    if build.baffle is not None:
        plan += _partitions(build, build.baffle, pitch_mm, size_mm)
        spans = partition_spans(build.columns, pitch_x, build.baffle.wall_mm, at_rim=build.baffle.rim_partition)
        low, tall = build.baffle.gap_below_mm, build.baffle.height_mm
        cut += [Outline("partition", rectangle(start, low, width, tall)) for start, width in spans]
    cut.append(Outline("lit", np.array([[0.0, inner], [wide, inner]]), closed=False))
    return Sketch(
        plan_mm=(0.0, 0.0, wide, high),
        cut_mm=(0.0, 0.0, wide, inner),
        plan=tuple(plan),
        cut=tuple(cut),
        measures=tuple(_measures(build, pitch_mm, size_mm, (led, inner), rim_mm)),
        handles=tuple(_handles(build, pitch_y, size_mm, inner)),
        choices=tuple(_choices(build, catalogue, inner, min(pitch_x, pitch_y))),
        notes=tuple(_notes(build, catalogue)),
        seam=True,
    )


def _carriers(build: PixelDisplay, catalogue: Catalogue, pitch_mm: tuple[float, float], rim: float) -> list[Outline]:
    pitch_x, pitch_y = pitch_mm
    if build.module is None:
        width = catalogue.strip(build.strips[0].strip).width_mm
        return [
            Outline("strip", rectangle(rim, rim + (row + 0.5) * pitch_y - width / 2, build.columns * pitch_x, width))
            for row in range(build.rows)
        ]
    module = catalogue.module(build.module.module)
    own_x, own_y = module.columns * pitch_x, module.rows * pitch_y
    return [
        Outline("part", rectangle(rim + column * own_x, rim + row * own_y, own_x, own_y))
        for column in range(build.columns // module.columns)
        for row in range(build.rows // module.rows)
    ]


def _partitions(
    build: PixelDisplay, baffle: Baffle, pitch_mm: tuple[float, float], size_mm: tuple[float, float]
) -> list[Outline]:
    (pitch_x, pitch_y), (wide, high), thick = pitch_mm, size_mm, baffle.wall_mm
    along = partition_spans(build.columns, pitch_x, thick, at_rim=baffle.rim_partition)
    up = partition_spans(build.rows, pitch_y, thick, at_rim=baffle.rim_partition)
    found = [rectangle(start, 0.0, width, high) for start, width in along]
    found += [rectangle(0.0, start, wide, width) for start, width in up]
    return [Outline("partition", corners) for corners in found]


def _measures(
    build: PixelDisplay,
    pitch_mm: tuple[float, float],
    size_mm: tuple[float, float],
    heights_mm: tuple[float, float],
    rim: float,
) -> list[Measure]:
    (wide, high), (led, inner) = size_mm, heights_mm
    found = [
        Measure("build.columns", say("Columns"), build.columns, "plan", "above", 0.0, wide, "count", say("columns")),
        Measure("build.rows", say("Rows"), build.rows, "plan", "left", 0.0, high, "count", say("rows")),
        Measure("build.depth_mm", say("Depth, LEDs to sheet"), build.depth_mm, "cut", "left", led, inner),
    ]
    if build.module is None and build.rows > 1:
        start = rim + pitch_mm[1] / 2
        found.append(
            Measure(
                "build.row_pitch_mm", say("Row pitch"), build.row_pitch_mm, "plan", "right", start, start + pitch_mm[1]
            )
        )
    if build.baffle is not None:
        low = build.baffle.gap_below_mm
        top = low + build.baffle.height_mm
        found.append(
            Measure("build.baffle.height_mm", say("Baffle height"), build.baffle.height_mm, "cut", "right", low, top)
        )
    else:
        found.append(Measure("build.rim_mm", say("Rim, cells to wall"), rim, "plan", "below", 0.0, rim))
    return found


def _handles(build: PixelDisplay, pitch_y: float, size_mm: tuple[float, float], inner: float) -> list[Handle]:
    wide, high = size_mm
    found = [Handle("build.depth_mm", say("the sheet"), "cut", (0.0, inner), (wide, inner), (0.0, 1.0), build.depth_mm)]
    if build.baffle is not None:
        low = build.baffle.gap_below_mm
        top = low + build.baffle.height_mm
        if top < inner - 0.5:
            found.insert(
                0,
                Handle(
                    "build.baffle.height_mm",
                    say("top of the baffle"),
                    "cut",
                    (0.0, top),
                    (wide, top),
                    (0.0, 1.0),
                    build.baffle.height_mm,
                ),
            )
    if build.module is None and build.rows > 1:
        found.append(
            Handle(
                "build.row_pitch_mm",
                say("upper edge"),
                "plan",
                (0.0, high),
                (wide, high),
                (0.0, 1.0),
                pitch_y,
                1.0 / build.rows,
            )
        )
    return found


def _choices(build: PixelDisplay, catalogue: Catalogue, inner: float, pitch: float) -> list[Choice | Entry]:
    walls = Baffle(wall_mm=round(min(1.2, pitch / 5.0), 2), height_mm=round(max(0.85 * inner, 0.5), 2))
    partitions = build.baffle if build.baffle is not None else walls
    found: list[Choice | Entry] = [
        Choice(
            "build.baffle",
            say("Between pixels"),
            build.baffle,
            ((None, say("nothing: one glow")), (partitions, say("partitions"))),
        )
    ]
    if build.baffle is not None:
        found.append(Entry("build.baffle.wall_mm", say("Partition thickness"), build.baffle.wall_mm, "length"))
        found.append(Entry("build.baffle.gap_below_mm", say("Notch below"), build.baffle.gap_below_mm, "length"))
        found.append(Choice("build.baffle.rim_partition", say("Along the rim"), build.baffle.rim_partition, _RIMS))
    found += [_made_of(build, catalogue), *_way_of_data(build, catalogue)]
    found.append(Choice("build.show.kind", say("Shows"), build.show.kind, _SHOWS if build.show.picture else _SHOWS[:3]))
    if build.show.kind in ("text", "clock"):
        found.append(
            Entry("build.show.text", say("Text") if build.show.kind == "text" else say("Time"), build.show.text, "text")
        )
    found.append(Entry("build.show.picture", say("Picture"), len(build.show.picture), "picture"))
    return found


_RIMS: tuple[tuple[object, Text], ...] = ((True, say("half a partition")), (False, say("the bare wall")))
_CORNERS: tuple[tuple[Corner, Text], ...] = (
    ("lower_left", say("lower left")),
    ("lower_right", say("lower right")),
    ("upper_left", say("upper left")),
    ("upper_right", say("upper right")),
)


def _way_of_data(build: PixelDisplay, catalogue: Catalogue) -> list[Choice]:
    """From which corner the data run, and how; asked where there are several rows or grids."""
    if build.module is None:
        several = build.rows > 1
        ways = {
            PixelOrder(zigzag=False): say("every row the same way"),
            PixelOrder(zigzag=True): say("every other row turned"),
        }
    else:
        module = catalogue.module(build.module.module)
        several = build.columns * build.rows > module.columns * module.rows
        ways = {
            PixelOrder(zigzag=True): say("back and forth"),
            PixelOrder(): say("row by row"),
            PixelOrder(by="columns", zigzag=True): say("columns, back and forth"),
            PixelOrder(by="columns"): say("column by column"),
        }
    if not several:
        return []
    options = tuple(
        (msgspec.structs.replace(way, start=corner), say("from {corner}, {way}", corner=name, way=words))
        for corner, name in _CORNERS
        for way, words in ways.items()
    )
    return [Choice("build.path", say("Data run"), build.data_path, options)]


def _made_of(build: PixelDisplay, catalogue: Catalogue) -> Choice:
    strip = next(one for one in catalogue.strips.values() if one.kind == "pixel" and one.emitters_per_segment == 1)
    grid = next(one for one in catalogue.modules.values() if one.kind == "grid")
    rows = Together(
        (
            ("build.module", None),
            ("build.path", None),
            ("build.strips", (StripChoice(strip=strip.id),)),
            ("build.row_pitch_mm", round(strip.segment_mm, 2)),
        )
    )
    columns, lines = (
        max(round(count / own), 1) * own for count, own in ((build.columns, grid.columns), (build.rows, grid.rows))
    )
    grids = Together(
        (
            ("build.strips", ()),
            ("build.path", None),
            ("build.module", ModuleChoice(module=grid.id)),
            ("build.columns", columns),
            ("build.rows", lines),
        )
    )
    is_grid = build.module is not None
    options: tuple[tuple[object, Text], ...] = (("grids" if is_grid else grids, say("ready grids, joined")),)
    options += (("strip" if not is_grid else rows, say("rows of pixel strip")),)
    return Choice("build", say("Made of"), "grids" if is_grid else "strip", options)


def _notes(build: PixelDisplay, catalogue: Catalogue) -> list[Text]:
    pixels = build.columns * build.rows
    if build.module is None:
        return [say("{pixels} pixels in {rows} rows of strip.", pixels=pixels, rows=build.rows)]
    module = catalogue.module(build.module.module)
    across, up = build.columns // module.columns, build.rows // module.rows
    return [
        say(
            "{pixels} pixels: {across} × {up} grids of {columns} × {rows}, joined edge to edge.",
            pixels=pixels,
            across=across,
            up=up,
            columns=module.columns,
            rows=module.rows,
        )
    ]
