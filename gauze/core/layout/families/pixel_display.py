"""Layout of the pixel display: pixels on their grid, lit in full and as they show something."""

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Self

import numpy as np

from gauze.core.design.cavity import BaffledShape, BoxShape
from gauze.core.design.pixel_display import PixelDisplay, pitches_mm, row_is_turned
from gauze.core.design.strip_panel import StripChoice
from gauze.core.layout.built import Layout
from gauze.core.layout.cavity_layout import CavityLayout
from gauze.core.layout.families.display_sketch import display_sketch
from gauze.core.layout.families.pixel_text import picture_pixels, text_pixels
from gauze.core.layout.inner import inner_faces
from gauze.core.layout.model import Channel, EmitterSet, FloatArray, IndexArray, LightBox, Row, RowLayout
from gauze.core.layout.pieces import ModulePiece, Source, StripPiece, filled
from gauze.core.layout.shapes import surface_of
from gauze.core.materials import Catalogue, Strip, StripChannel


@dataclass(frozen=True, kw_only=True)
class DisplayLayout(Layout):
    """A display in place.

    Without partitions ``panel`` is the box with all pixels lit, and ``shown_panel`` with what it shows; between partitions
    ``cavity`` and ``shown_cavity`` are. ``shown`` are the levels of shape (channels, rows, columns), first row below;
    ``letter_rows`` the height of a letter in pixels, 0 where no text is shown. ``pixels_mm`` are the middles of the pixels, shape
    (rows, columns, 2).
    """

    pixels_mm: FloatArray
    pitch_mm: tuple[float, float]
    shown: FloatArray | None = None
    letter_rows: int = 0
    panel: RowLayout | None = None
    shown_panel: RowLayout | None = None
    shown_cavity: CavityLayout | None = None

    def with_light(
        self, of_rows: Callable[[RowLayout], RowLayout], of_cavity: Callable[[CavityLayout], CavityLayout]
    ) -> Self:
        """Return it with other light from its pixels too, all lit and as they show something."""
        return replace(
            super().with_light(of_rows, of_cavity),
            panel=None if self.panel is None else of_rows(self.panel),
            shown_panel=None if self.shown_panel is None else of_rows(self.shown_panel),
            shown_cavity=None if self.shown_cavity is None else of_cavity(self.shown_cavity),
        )

    @property
    def shows_picture(self) -> bool:
        """A display does, unless all its pixels are on."""
        return self.shown_panel is not None or self.shown_cavity is not None

    @property
    def rows_in_box(self) -> RowLayout | None:
        """Its rows of pixels where no partitions stand between them."""
        return self.panel


@dataclass(frozen=True)
class _Pixels:
    """What a pixel is made of, whatever carries it: a strip of one row of pixels, and the levels that are chosen."""

    strip: Strip
    choice: StripChoice
    per_pixel: int


def lay_out_pixel_display(build: PixelDisplay, catalogue: Catalogue) -> DisplayLayout:
    """Lay out a checked display."""
    pixels = _pixels(build, catalogue)
    pitch_x, pitch_y = pitches_mm(build, catalogue)
    rim = 0.0 if build.baffle is not None else build.rim_mm
    wide, high = build.columns * pitch_x + 2 * rim, build.rows * pitch_y + 2 * rim
    rows = tuple(_row(pixels, build, index, rim, rim + (index + 0.5) * pitch_y) for index in range(build.rows))
    shown, letter_rows = _shown(build, len(pixels.strip.channel))
    full = _sources(pixels, build, catalogue, rows, None)
    height = pixels.strip.emitter_height_mm
    inner = height + build.depth_mm
    faces = inner_faces(build, catalogue)
    if build.baffle is not None:
        baffle = build.baffle
        shape: BaffledShape | BoxShape = BaffledShape(
            columns=build.columns,
            rows=build.rows,
            pitch_x_mm=pitch_x,
            pitch_y_mm=pitch_y,
            depth_mm=inner,
            partition_mm=baffle.wall_mm,
            partition_height_mm=baffle.height_mm,
            gap_below_mm=baffle.gap_below_mm,
            rim_partition=baffle.rim_partition,
        )
    else:
        shape = BoxShape(width_mm=wide, height_mm=high, depth_mm=inner)
    size = math.sqrt(pixels.strip.package_mm[0] * pixels.strip.package_mm[1])
    cavity = filled(
        shape, surface_of(shape, faces), full, size, "build.columns", (min(pitch_x, pitch_y), max(pitch_x, pitch_y))
    )
    lit = None if shown is None else _sources(pixels, build, catalogue, rows, shown)
    panel = shown_panel = None
    if build.baffle is None:
        box = LightBox(wide, high, inner, faces.back, faces.wall, faces.lid)
        panel = RowLayout(
            box=box,
            rows=rows,
            row_direction="along_width",
            spacing_mm=pitch_y if build.rows > 1 else 0.0,
            side_margin_mm=rows[0].across_mm,
            end_margin_mm=rim,
            emitters=_sets(pixels, full),
            emitter_plane_mm=height,
            lines=build.rows,
        )
        shown_panel = None if lit is None else replace(panel, emitters=_sets(pixels, lit))
    return DisplayLayout(
        cavities=(cavity,),
        sketches=(display_sketch(build, catalogue, (pitch_x, pitch_y), (wide, high), (height, inner), rim),),
        strips=_strips(build, rows),
        modules=_modules(build, catalogue),
        pixels_mm=_middles(build, pitch_x, pitch_y, rim),
        pitch_mm=(pitch_x, pitch_y),
        shown=shown,
        letter_rows=letter_rows,
        panel=panel,
        shown_panel=shown_panel,
        shown_cavity=None if lit is None or build.baffle is None else _relit(cavity, lit),
    )


def _middles(build: PixelDisplay, pitch_x: float, pitch_y: float, rim: float) -> FloatArray:
    x = rim + (np.arange(build.columns) + 0.5) * pitch_x
    y = rim + (np.arange(build.rows) + 0.5) * pitch_y
    return np.stack(np.meshgrid(x, y), axis=-1)


def _pixels(build: PixelDisplay, catalogue: Catalogue) -> _Pixels:
    """The strip that is chosen; or what a row of a ready grid is: a strip of its pitch, cut at every pixel."""
    if build.module is None:
        choice = build.strips[0]
        strip = catalogue.strip(choice.strip)
        return _Pixels(strip, choice, strip.emitters_per_segment)
    module = catalogue.module(build.module.module)
    metres = module.emitters * module.pitch_mm / 1000.0
    strip = Strip(
        id=module.id,
        name=module.name,
        volts=module.volts,
        kind="pixel",
        density_per_m=1000.0 / module.pitch_mm,
        emitters_per_segment=1,
        width_mm=module.pitch_mm,
        emitter_height_mm=module.emitter_height_mm,
        package_mm=(module.package_mm, module.package_mm),
        half_angle_deg=module.half_angle_deg,
        rail_ohm_per_m=0.0,
        channel=tuple(
            StripChannel(
                name=one.name,
                power_w_per_m=one.power_w / metres,
                flux_lm_per_m=one.flux_lm / metres,
                cct_k=one.cct_k,
                peak_nm=one.peak_nm,
                width_nm=one.width_nm,
            )
            for one in module.channel
        ),
        source=module.source,
        flux_spread=module.flux_spread,
        power_spread=module.power_spread,
    )
    return _Pixels(strip, StripChoice(strip=module.id, levels=build.module.levels), 1)


def _row(pixels: _Pixels, build: PixelDisplay, index: int, start_mm: float, across_mm: float) -> Row:
    strip = pixels.strip
    return Row(
        id=f"row-{index + 1}",
        index=index,
        strip_index=0,
        strip=strip,
        choice=pixels.choice,
        start_mm=start_mm,
        length_mm=build.columns * strip.segment_mm,
        across_mm=across_mm,
        segments=build.columns,
        emitters=build.columns * pixels.per_pixel,
        start_gap_mm=0.0,
        end_gap_mm=0.0,
        line=index,
    )


def _sources(
    pixels: _Pixels, build: PixelDisplay, catalogue: Catalogue, rows: tuple[Row, ...], shown: FloatArray | None
) -> list[Source]:
    strip, levels = pixels.strip, pixels.choice.levels_for(pixels.strip)
    along = rows[0].start_mm + strip.pitch_mm * (np.arange(rows[0].emitters) + 0.5)
    across = np.array([row.across_mm for row in rows])
    x, y = np.meshgrid(along, across)
    places = np.column_stack([x.ravel(), y.ravel(), np.full(x.size, strip.emitter_height_mm)])
    axes = np.tile([0.0, 0.0, 1.0], (len(places), 1))
    piece, segment = _members(build, catalogue, pixels.per_pixel)
    found = []
    for index, channel in enumerate(strip.channel):
        each = levels[index] * channel.flux_lm_per_m * strip.pitch_mm / 1000.0
        share = np.ones((build.rows, build.columns)) if shown is None else shown[index]
        flux = each * np.repeat(share, pixels.per_pixel, axis=1).ravel()
        own = Channel(
            name=channel.name,
            strip_index=0,
            channel_index=index,
            level=levels[index],
            cct_k=channel.cct_k or (pixels.choice.cct_k if channel.peak_nm is None else None),
            peak_nm=channel.peak_nm,
            width_nm=channel.width_nm,
        )
        found.append(Source(own, places, axes, flux, strip.half_angle_deg, piece, segment))
    return found


def _members(build: PixelDisplay, catalogue: Catalogue, per_pixel: int) -> tuple[IndexArray, IndexArray]:
    """Of which piece every emitter is, and of which segment of it: a row and its column, or a grid and the pixel in it."""
    column, row = np.meshgrid(np.repeat(np.arange(build.columns), per_pixel), np.arange(build.rows))
    if build.module is None:
        turned = np.array([row_is_turned(build, index) for index in range(build.rows)])
        return row.ravel(), np.where(turned[:, None], build.columns - 1 - column, column).ravel()
    module = catalogue.module(build.module.module)
    across = build.columns // module.columns
    piece = row // module.rows * across + column // module.columns
    return piece.ravel(), (row % module.rows * module.columns + column % module.columns).ravel()


def _sets(pixels: _Pixels, sources: list[Source]) -> tuple[EmitterSet, ...]:
    return tuple(
        EmitterSet(
            channel=source.channel,
            x_mm=source.places_mm[:, 0],
            y_mm=source.places_mm[:, 1],
            flux_lm=source.flux_lm,
            z_mm=pixels.strip.emitter_height_mm,
            half_angle_deg=pixels.strip.half_angle_deg,
            package_mm=pixels.strip.package_mm,
            continuous=pixels.strip.continuous,
            piece=source.piece,
            segment=source.segment,
        )
        for source in sources
    )


def _relit(cavity: CavityLayout, sources: list[Source]) -> CavityLayout:
    return replace(cavity, flux_lm=np.concatenate([source.flux_lm for source in sources]))


def _strips(build: PixelDisplay, rows: tuple[Row, ...]) -> tuple[StripPiece, ...]:
    if build.module is not None:
        return ()
    found = []
    for row in rows:
        turned = row_is_turned(build, row.index)
        start_mm = row.start_mm + row.length_mm if turned else row.start_mm
        place = (start_mm, row.across_mm, row.strip.emitter_height_mm)
        along = (-1.0 if turned else 1.0, 0.0, 0.0)
        found.append(StripPiece(row.id, row.strip, build.strips[0], place, along, (0.0, 0.0, 1.0), row.segments))
    return tuple(found)


def _modules(build: PixelDisplay, catalogue: Catalogue) -> tuple[ModulePiece, ...]:
    """Ready grids joined, row by row from below, known by column and row."""
    if build.module is None:
        return ()
    module = catalogue.module(build.module.module)
    rim = 0.0 if build.baffle is not None else build.rim_mm
    wide, high = module.columns * module.pitch_mm, module.rows * module.pitch_mm
    return tuple(
        ModulePiece(
            f"grid-{column + 1}-{row + 1}",
            module,
            build.module,
            (rim + (column + 0.5) * wide, rim + (row + 0.5) * high, module.emitter_height_mm),
        )
        for row in range(build.rows // module.rows)
        for column in range(build.columns // module.columns)
    )


def _shown(build: PixelDisplay, channels: int) -> tuple[FloatArray | None, int]:
    """Levels of what is shown, shape (channels, rows, columns), or None for all on; and the height of its letters."""
    show = build.show
    if show.kind == "all":
        return None, 0
    if show.kind == "picture":
        colours = picture_pixels(show.picture, build.columns, build.rows)
        return (colours if channels == 3 else np.tile(colours.mean(axis=0), (channels, 1, 1))), 0
    default = "10:42" if show.kind == "clock" else "TIDE"
    field, letters = text_pixels(show.text or default, build.columns, build.rows)
    colour = (show.colour + (1.0,) * channels)[:channels]
    return np.array(colour)[:, None, None] * field, letters
