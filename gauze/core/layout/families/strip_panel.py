"""Layout of the strip panel: every row snapped to its cut marks, every emitter in its place."""

import math

import numpy as np

from gauze.core.design import StripChoice, StripPanel
from gauze.core.design.strip_panel import finish_of
from gauze.core.errors import DesignError
from gauze.core.layout.model import Channel, EmitterSet, FloatArray, IndexArray, LightBox, Row, RowLayout
from gauze.core.layout.rows import RowGrid, resolve_rows
from gauze.core.materials import Catalogue, Strip
from gauze.core.words import Length

MOST_EMITTERS = 200_000
_SLACK = 1e-6  # of a segment: rounding of typed inches must not lose one


def lay_out_strip_panel(panel: StripPanel, catalogue: Catalogue, path: str = "build") -> RowLayout:
    """Lay out a checked panel.

    Raises
    ------
    DesignError
        Where rows do not fit: too many, too wide, shorter than one segment, shifted into a wall.
    """
    strips = tuple(catalogue.strip(choice.strip) for choice in panel.strips)
    widest_mm = max(strip.width_mm for strip in strips) * (2 if panel.double_rows else 1)
    grid = resolve_rows(panel.rows, panel.across_extent_mm, widest_mm, f"{path}.rows")
    _check_end_margin(panel, path)
    rows = _lay_rows(panel, strips, grid, path)
    if sum(row.emitters for row in rows) > MOST_EMITTERS:
        raise DesignError(
            f"{path}.rows.count",
            "That is more than {most_emitters} LEDs: give fewer rows or a sparser strip.",
            most_emitters=MOST_EMITTERS,
        )
    plane_mm = max(strip.emitter_height_mm for strip in strips)
    return RowLayout(
        box=_box(panel, catalogue, plane_mm),
        rows=rows,
        row_direction=panel.row_direction,
        spacing_mm=grid.spacing_mm,
        side_margin_mm=grid.side_margin_mm,
        end_margin_mm=panel.end_margin_mm,
        emitters=tuple(_emitter_sets(panel, strips, rows)),
        emitter_plane_mm=plane_mm,
        lines=grid.count,
    )


def _box(panel: StripPanel, catalogue: Catalogue, plane_mm: float) -> LightBox:
    return LightBox(
        width_mm=panel.face_width_mm,
        height_mm=panel.face_height_mm,
        inner_depth_mm=plane_mm + panel.depth_mm,
        back_reflectance=finish_of(panel.back, catalogue).reflectance,
        wall_reflectance=finish_of(panel.walls, catalogue).reflectance,
        lid_reflectance=catalogue.sheet(panel.layers).reflectance,
    )


def _check_end_margin(panel: StripPanel, path: str) -> None:
    if 2 * panel.end_margin_mm >= panel.row_extent_mm:
        raise DesignError(
            f"{path}.end_margin_mm",
            "Two end margins of {end_margin} leave no part of {row_extent}: make them smaller than {row_extent2}.",
            end_margin=Length(panel.end_margin_mm),
            row_extent=Length(panel.row_extent_mm),
            row_extent2=Length(panel.row_extent_mm / 2),
        )


def _lay_rows(panel: StripPanel, strips: tuple[Strip, ...], grid: RowGrid, path: str) -> tuple[Row, ...]:
    """Lay a row, or two close together, at every place across that no free band takes."""
    rows: list[Row] = []
    for line, across_mm in enumerate(grid.across_mm()):
        width_mm = strips[line % len(strips)].width_mm
        half_mm = width_mm if panel.double_rows else width_mm / 2.0
        if any(
            across_mm + half_mm > band.start_mm + _SLACK
            and across_mm - half_mm < band.start_mm + band.width_mm - _SLACK
            for band in panel.free
        ):
            continue
        lanes = (("a", -width_mm / 2.0), ("b", width_mm / 2.0)) if panel.double_rows else (("", 0.0),)
        for lane, offset_mm in lanes:
            name = f"row-{line + 1}{lane}"
            rows.append(_lay_row(panel, strips, name, len(rows), line, across_mm + offset_mm, path))
    if not rows:
        raise DesignError(
            f"{path}.free[0].width_mm", "No room for a row is left beside the free bands: make them narrower."
        )
    return tuple(rows)


def _segments(panel: StripPanel, strip: Strip, wanted_mm: float, path: str) -> int:
    """How many segments a row has: as many as fit, or those of a piece that is not cut."""
    size = f"{path}.face_width_mm" if panel.row_direction == "along_width" else f"{path}.face_height_mm"
    if panel.whole_piece_mm is None:
        return math.floor(wanted_mm / strip.segment_mm + _SLACK)
    piece_mm = panel.whole_piece_mm
    segments = round(piece_mm / strip.segment_mm)
    if segments < 1 or abs(segments * strip.segment_mm - piece_mm) > 0.02 * strip.segment_mm:
        raise DesignError(
            f"{path}.whole_piece_mm",
            "A piece of {piece} is not a whole number of segments of {segment}: give {segments}.",
            piece=Length(piece_mm),
            segment=Length(strip.segment_mm),
            segments=Length(max(segments, 1) * strip.segment_mm),
        )
    if piece_mm > wanted_mm + 0.02 * strip.segment_mm:
        raise DesignError(
            size,
            "Pieces of {piece} are not cut and do not fit in the {wanted} between the end margins: "
            "make the face at least {piece2}, or let the strip be cut.",
            piece=Length(piece_mm),
            wanted=Length(wanted_mm),
            piece2=Length(piece_mm + 2 * panel.end_margin_mm),
        )
    return segments


def _lay_row(
    panel: StripPanel, strips: tuple[Strip, ...], name: str, index: int, line: int, across_mm: float, path: str
) -> Row:
    strip = strips[line % len(strips)]
    wanted_mm = panel.row_extent_mm - 2 * panel.end_margin_mm
    segments = _segments(panel, strip, wanted_mm, path)
    if segments < 1:
        size = "face_width_mm" if panel.row_direction == "along_width" else "face_height_mm"
        raise DesignError(
            f"{path}.{size}",
            "Between the end margins there are {wanted}, less than one segment of “{name}” "
            "({segment}). Make the face larger, the end margin smaller, or take a strip with shorter "
            "segments.",
            wanted=Length(wanted_mm),
            name=strip.name,
            segment=Length(strip.segment_mm),
        )
    length_mm = segments * strip.segment_mm
    shift_mm = panel.alternate_shift_mm if line % 2 else 0.0
    start_mm = (panel.row_extent_mm - length_mm) / 2 + shift_mm
    if start_mm < -_SLACK or start_mm + length_mm > panel.row_extent_mm + _SLACK:
        free_mm = (panel.row_extent_mm - length_mm) / 2
        raise DesignError(
            f"{path}.alternate_shift_mm",
            "Shifted by {alternate_shift} every other row would pass through the wall: there are "
            "{free} free at each end.",
            alternate_shift=Length(panel.alternate_shift_mm),
            free=Length(free_mm),
        )
    end_limit_mm = panel.row_extent_mm - panel.end_margin_mm
    return Row(
        id=name,
        index=index,
        strip_index=line % len(strips),
        strip=strip,
        choice=panel.strips[line % len(strips)],
        start_mm=start_mm,
        length_mm=length_mm,
        across_mm=across_mm,
        segments=segments,
        emitters=segments * strip.emitters_per_segment,
        start_gap_mm=start_mm - panel.end_margin_mm,
        end_gap_mm=end_limit_mm - start_mm - length_mm,
        line=line,
    )


def _emitter_sets(panel: StripPanel, strips: tuple[Strip, ...], rows: tuple[Row, ...]) -> list[EmitterSet]:
    sets: list[EmitterSet] = []
    for strip_index, (strip, choice) in enumerate(zip(strips, panel.strips, strict=True)):
        own = [row for row in rows if row.strip_index == strip_index]
        if own:
            sets += [
                _emitter_set(panel, strip, choice, strip_index, channel_index, own)
                for channel_index in range(len(strip.channel))
            ]
    return sets


def _emitter_set(
    panel: StripPanel, strip: Strip, choice: StripChoice, strip_index: int, channel_index: int, rows: list[Row]
) -> EmitterSet:
    along, across, piece, segment = _places(strip, channel_index, rows)
    source = strip.channel[channel_index]
    level = choice.levels_for(strip)[channel_index]
    along_width = panel.row_direction == "along_width"
    total_length_m = sum(row.length_mm for row in rows) / 1000.0
    flux_lm = level * source.flux_lm_per_m * total_length_m / len(along)
    along_mm, across_mm = strip.package_mm
    return EmitterSet(
        channel=Channel(
            name=source.name,
            strip_index=strip_index,
            channel_index=channel_index,
            level=level,
            cct_k=source.cct_k or (choice.cct_k if source.peak_nm is None else None),
            peak_nm=source.peak_nm,
            width_nm=source.width_nm,
        ),
        x_mm=along if along_width else across,
        y_mm=across if along_width else along,
        flux_lm=np.full(len(along), flux_lm),
        z_mm=strip.emitter_height_mm,
        half_angle_deg=strip.half_angle_deg,
        package_mm=(along_mm, across_mm) if along_width else (across_mm, along_mm),
        continuous=strip.continuous,
        piece=piece,
        segment=segment,
    )


def _places(strip: Strip, channel_index: int, rows: list[Row]) -> tuple[FloatArray, FloatArray, IndexArray, IndexArray]:
    """Places along and across the rows, the row of every emitter, and its segment there."""
    step = len(strip.channel) if strip.interleaved else 1
    first = channel_index if strip.interleaved else 0
    numbers = {count: np.arange(first, count, step) for count in {row.emitters for row in rows}}  # most rows are alike
    counts = [len(numbers[row.emitters]) for row in rows]
    number = np.concatenate([numbers[row.emitters] for row in rows])
    along = np.repeat([row.start_mm for row in rows], counts) + strip.pitch_mm * (number + 0.5)
    across = np.repeat([row.across_mm for row in rows], counts)
    return along, across, np.repeat([row.index for row in rows], counts), number // strip.emitters_per_segment
