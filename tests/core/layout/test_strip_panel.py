from typing import Any

import numpy as np
import pytest
from hypothesis import given

from gauze.core.design import Design, RowPlan, StripChoice
from gauze.core.design.strip_panel import FreeBand
from gauze.core.errors import DesignError
from gauze.core.families import lay_out
from gauze.core.layout import panel_layout
from gauze.core.layout.rows import resolve_rows
from gauze.session.build_edits import with_dragged
from gauze.session.edits import with_free_band, with_whole_pieces
from gauze.ui.canvas.hand.hold import dragged_value
from tests.builders import CATALOGUE, design, designs, layout, panel, warm_and_cool


def test_count_and_margin_give_the_spacing() -> None:
    grid = resolve_rows(RowPlan(count=5, side_margin_mm=20), 400, 8)
    assert (grid.count, grid.spacing_mm, grid.side_margin_mm) == (5, 90.0, 20)
    assert grid.across_mm() == [20, 110, 200, 290, 380]


def test_spacing_and_margin_give_the_count_and_centre_the_rows() -> None:
    grid = resolve_rows(RowPlan(spacing_mm=50, side_margin_mm=20), 400, 8)
    assert grid.count == 8  # 7 gaps of 50 in the 360 between the margins
    assert grid.side_margin_mm == 25
    assert resolve_rows(RowPlan(spacing_mm=500, side_margin_mm=20), 400, 8).count == 1


def test_count_and_spacing_give_the_margin() -> None:
    assert resolve_rows(RowPlan(count=3, spacing_mm=100), 400, 8).side_margin_mm == 100


@pytest.mark.parametrize(
    ("plan", "field"),
    [
        (RowPlan(count=60, side_margin_mm=20), "build.rows.count"),  # more rows than fit at all
        (RowPlan(count=48, side_margin_mm=20), "build.rows.count"),  # than fit between the margins
        (RowPlan(count=6, spacing_mm=100), "build.rows.spacing_mm"),
        (RowPlan(count=3, spacing_mm=5), "build.rows.spacing_mm"),  # strip wider than the spacing
        (RowPlan(spacing_mm=5, side_margin_mm=20), "build.rows.spacing_mm"),
        (RowPlan(count=3, side_margin_mm=1), "build.rows.side_margin_mm"),  # strip in the wall
        (RowPlan(count=3, side_margin_mm=300), "build.rows.side_margin_mm"),
    ],
)
def test_rows_that_do_not_fit_are_refused(plan: RowPlan, field: str) -> None:
    with pytest.raises(DesignError) as refusal:
        resolve_rows(plan, 400, 8)
    assert refusal.value.field == field


def test_rows_snap_to_cut_marks_and_show_the_shortfall() -> None:
    row = layout(face_width_mm=587.0, end_margin_mm=10.0).rows[0]
    assert row.segments == 11  # 567 mm wanted, 50 mm a segment
    assert row.length_mm == pytest.approx(550)
    assert row.start_gap_mm == pytest.approx(8.5)
    assert row.end_gap_mm == pytest.approx(8.5)
    assert row.start_mm == pytest.approx(18.5)


def test_a_row_that_fits_exactly_is_not_lost_to_rounding() -> None:
    assert layout(face_width_mm=23.6220472441 * 25.4, end_margin_mm=0.0).rows[0].segments == 12


BAD: list[tuple[dict[str, Any], str]] = [
    ({"face_width_mm": 45.0, "face_height_mm": 400.0}, "build.face_width_mm"),  # smaller than one segment
    ({"end_margin_mm": 300.0}, "build.end_margin_mm"),
    ({"end_margin_mm": 280.0}, "build.face_width_mm"),
    ({"alternate_shift_mm": 60.0, "face_width_mm": 640.0}, "build.alternate_shift_mm"),
]


@pytest.mark.parametrize(("changes", "field"), BAD)
def test_layouts_that_cannot_be_built_are_refused(changes: dict[str, Any], field: str) -> None:
    with pytest.raises(DesignError) as refusal:
        layout(**changes)
    assert refusal.value.field == field


def test_every_other_row_is_shifted() -> None:
    rows = layout(face_width_mm=640.0, alternate_shift_mm=8.0).rows
    assert rows[1].start_mm - rows[0].start_mm == pytest.approx(8.0)
    assert rows[2].start_mm == rows[0].start_mm


def test_two_strips_take_turns() -> None:
    laid = layout(strips=warm_and_cool(), rows=RowPlan(count=4, spacing_mm=90))
    assert [row.strip_index for row in laid.rows] == [0, 1, 0, 1]
    assert [emitters.channel.cct_k for emitters in laid.emitters] == [2700.0, 6500.0]
    assert len(np.unique(laid.emitters[0].y_mm)) == 2


def test_channels_of_a_pixel_share_its_place_and_interleaved_ones_take_turns() -> None:
    pixels = layout(strips=(StripChoice(strip="5v-rgb-pixel-60"),), rows=RowPlan(count=3, spacing_mm=90))
    assert len(pixels.emitters) == 3
    assert (pixels.emitters[0].x_mm == pixels.emitters[2].x_mm).all()
    both = layout(strips=(StripChoice(strip="24v-two-white-240"),), rows=RowPlan(count=3, spacing_mm=90))
    warm, cool = both.emitters
    assert not set(warm.x_mm) & set(cool.x_mm)
    assert np.diff(
        np.sort(np.concatenate([warm.x_mm[warm.y_mm == 110], cool.x_mm[cool.y_mm == 110]]))
    ) == pytest.approx(1000 / 240)


def test_turned_rows_exchange_the_axes() -> None:
    along, turned = layout(), layout(row_direction="along_height", rows=RowPlan(count=11, spacing_mm=50.0))
    assert len(np.unique(along.emitters[0].y_mm)) == len(np.unique(turned.emitters[0].x_mm)) == 11


def test_levels_scale_the_flux() -> None:
    full = layout().emitters[0].flux_lm.sum()
    half = layout(strips=(StripChoice(strip="12v-white-60", cct_k=4000, levels=(0.5,)),)).emitters[0].flux_lm.sum()
    assert half == pytest.approx(full / 2)


@given(designs())
def test_everything_stays_inside_and_no_lumen_is_lost(candidate: Design) -> None:
    laid = panel_layout(lay_out(candidate, CATALOGUE))
    box, build = laid.box, candidate.build
    for row in laid.rows:
        assert row.segments >= 1
        assert row.length_mm == pytest.approx(row.segments * row.strip.segment_mm)
        assert row.start_mm >= -1e-5
        assert row.end_mm <= build.row_extent_mm + 1e-5
        assert row.strip.width_mm / 2 <= row.across_mm + 1e-5 <= build.across_extent_mm - row.strip.width_mm / 2 + 2e-5
    for emitters in laid.emitters:
        assert (emitters.x_mm > 0).all()
        assert (emitters.x_mm < box.width_mm).all()
        assert (emitters.y_mm > 0).all()
        assert (emitters.y_mm < box.height_mm).all()
    wanted = sum(
        level * channel.flux_lm_per_m * row.length_mm / 1000
        for row in laid.rows
        for level, channel in zip(build.strips[row.strip_index].levels_for(row.strip), row.strip.channel, strict=True)
    )
    assert sum(emitters.flux_lm.sum() for emitters in laid.emitters) == pytest.approx(wanted)


def test_far_too_many_leds_are_refused() -> None:
    with pytest.raises(DesignError, match="more than"):
        layout(
            face_width_mm=5000.0,
            face_height_mm=5000.0,
            strips=(StripChoice(strip="24v-chip-on-board", cct_k=4000),),
            rows=RowPlan(count=300, side_margin_mm=10),
        )
    assert panel().across_extent_mm == 400


# -- double rows, whole pieces, bands kept free ------------------------------------------------------------------------------


def test_double_rows_lie_side_by_side_and_share_a_place() -> None:
    single, double = layout(), layout(double_rows=True)
    assert double.lines == single.lines == 11
    assert len(double.rows) == 22
    first, second = double.rows[:2]
    assert second.across_mm - first.across_mm == pytest.approx(8.0)
    assert (first.across_mm + second.across_mm) / 2 == pytest.approx(single.rows[0].across_mm)
    assert double.emitter_count == 2 * single.emitter_count
    assert [row.strip_index for row in layout(double_rows=True, strips=warm_and_cool()).rows[:4]] == [0, 0, 1, 1]
    with pytest.raises(DesignError, match="overlap"):
        layout(double_rows=True, rows=RowPlan(spacing_mm=15.0, side_margin_mm=20.0))


def test_the_body_is_made_to_pieces_that_are_not_cut() -> None:
    made = with_whole_pieces(design(end_margin_mm=7.0), 500.0)
    assert made.panel.face_width_mm == 514.0
    laid = panel_layout(lay_out(made, CATALOGUE))
    assert {row.length_mm for row in laid.rows} == {500.0}
    assert {row.length_mm for row in layout(whole_piece_mm=500.0).rows} == {
        500.0
    }  # in a longer body they lie in its middle
    with pytest.raises(DesignError, match="not cut") as told:
        layout(whole_piece_mm=1000.0)
    assert told.value.field == "build.face_width_mm"
    with pytest.raises(DesignError, match="whole number of segments"):
        layout(whole_piece_mm=480.0)
    assert with_whole_pieces(made, None).panel.whole_piece_mm is None


def test_no_row_lies_where_a_fixing_goes() -> None:
    free = FreeBand(start_mm=180.0, width_mm=40.0)
    kept = layout(free=(free,))
    assert kept.lines == 11
    assert len(kept.rows) == 10
    assert all(row.across_mm + 4 <= 180.0 or row.across_mm - 4 >= 220.0 for row in kept.rows)
    with pytest.raises(DesignError, match="No room for a row is left"):
        layout(free=(FreeBand(start_mm=0.0, width_mm=400.0),))
    assert with_free_band(design(), 100.0, 0.0).panel.free == ()


def test_a_double_row_is_dragged_as_one() -> None:
    made = design(double_rows=True)
    whole = lay_out(made, CATALOGUE)
    outer = panel_layout(whole).rows[-1]
    handle = next(one for one in whole.sketch.handles if str(one.name) == f"row {outer.id.removeprefix('row-')}")
    dragged = with_dragged(made, handle.field, dragged_value(handle, (0.0, 10.0), (0.0, 0.0), 1.0))
    assert dragged.panel.rows.count == 11
    moved = panel_layout(lay_out(dragged, CATALOGUE))
    assert moved.rows[-1].across_mm == pytest.approx(outer.across_mm - 10.0, abs=0.3)
