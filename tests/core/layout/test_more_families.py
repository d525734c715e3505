"""Edge-lit faces, heads, indirect lamps, shells, displays, tubes: where their LEDs lie, and what their drawing offers."""

import math
from typing import Any

import numpy as np
import pytest

from gauze.core.design import StripChoice
from gauze.core.design.build import FamilyBuild, ModuleChoice
from gauze.core.design.channel_bar import Frame
from gauze.core.design.pixel_display import Baffle, Show, pitches_mm
from gauze.core.design.reflector_head import Dies, board_reach_mm
from gauze.core.design.tile_wall import apothem_mm, overlap, polygon_mm
from gauze.core.errors import DesignError
from gauze.core.families import lay_out
from gauze.core.layout import Layout
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.families.indirect import IndirectLayout, groove_distribution
from gauze.core.layout.families.pixel_display import DisplayLayout
from gauze.core.layout.modules import board_places_mm
from gauze.core.layout.pieces import segments_in, strip_in_plan, turned_strip
from gauze.core.layout.sketch import Choice, Entry
from tests.builders import CATALOGUE
from tests.families import (
    bars,
    cells,
    display,
    edge_lit,
    family,
    head,
    indirect,
    shells,
    strip_display,
    tiles,
    tube,
)


def laid(build: FamilyBuild) -> Layout:
    layout = lay_out(family(build), CATALOGUE)
    assert isinstance(layout, Layout)
    return layout


def offered(build: FamilyBuild) -> dict[str, Choice | Entry]:
    return {str(one.name): one for one in laid(build).sketch.choices}


# -- edge-lit -------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("sides", "count"), [("long", 2), ("short", 2), ("four", 4)])
def test_bars_lie_along_the_walls_and_look_across(sides: Any, count: int) -> None:
    layout = laid(edge_lit(sides=sides))
    assert len(layout.strips) == count
    middle = np.array([80.0, 55.0])
    for run in layout.strips:
        start, end = np.array(run.start_mm[:2]), np.array(run.end_mm[:2])
        inward = middle - (start + end) / 2
        assert inward @ np.array(run.facing[:2]) > 0
        assert run.start_mm[2] == pytest.approx(8.0)
        along_width = abs(run.along[0]) > 0.5
        assert along_width == (sides == "long") or sides == "four"


def test_a_tilted_bar_looks_up_and_lies_nearer_to_the_back() -> None:
    run = laid(edge_lit(tilt_deg=30.0)).strips[0]
    assert run.facing[2] == pytest.approx(0.5)
    assert np.linalg.norm(run.facing) == pytest.approx(1.0)
    assert laid(edge_lit(bar_offset_mm=12.0)).strips[0].start_mm[1] == pytest.approx(12.0 + 1.5)


def test_the_cut_of_an_edge_lit_face_is_taken_across_its_bars() -> None:
    assert laid(edge_lit(sides="long")).sketch.cut_axis == "y"
    assert laid(edge_lit(sides="short")).sketch.cut_axis == "x"
    assert laid(edge_lit(sides="long")).sketch.cut_mm[2] == 110.0


# -- reflector head ---------------------------------------------------------------------------------------------------------


def test_chips_lie_on_their_board_about_the_axis() -> None:
    layout = laid(head())
    assert layout.cavity.emitter_count == 9
    assert layout.cavity.places_mm[:, :2].mean(axis=0) == pytest.approx([0.0, 0.0], abs=1e-9)
    assert np.unique(layout.cavity.places_mm[:, 0]) == pytest.approx([-8.0, 0.0, 8.0])
    assert len(layout.modules) == 1


def test_a_board_needs_its_diagonal_in_a_round_bottom() -> None:
    board = CATALOGUE.module("12v-chips-3x3")
    assert board_reach_mm(board, 0) == pytest.approx(32.0 * math.sqrt(2))
    assert board_reach_mm(board, 4) == 32.0
    assert len(board_places_mm(CATALOGUE.module("36v-dense-6x6"))) == 36


def test_the_flank_follows_from_mouth_bottom_and_depth() -> None:
    straight = head(opening_mm=46.0, back_mm=46.0)
    assert straight.flank_deg == 0.0
    assert head(opening_mm=146.0, back_mm=46.0, depth_mm=50.0).flank_deg == pytest.approx(45.0)
    assert straight.with_flank_deg(45.0).opening_mm == pytest.approx(146.0)


# -- indirect lamp ----------------------------------------------------------------------------------------------------------


def test_in_a_corner_the_strip_looks_into_it() -> None:
    layout = laid(indirect(distance_mm=70.0))
    run = layout.strips[0]
    assert run.facing == pytest.approx((-math.sqrt(0.5), 0.0, -math.sqrt(0.5)))
    assert run.start_mm[0] == run.start_mm[2] == pytest.approx(70.0)
    turned = laid(indirect(distance_mm=70.0, aim_deg=20.0)).strips[0]
    assert math.degrees(math.acos(np.dot(turned.facing, run.facing))) == pytest.approx(20.0)


def test_before_a_wall_the_emitting_faces_are_at_the_distance() -> None:
    for stance in ("upright", "lying"):
        layout = laid(indirect(place="wall", stance=stance, distance_mm=55.0))
        assert layout.cavity.places_mm[:, 2] == pytest.approx(np.full(layout.cavity.emitter_count, 55.0))
        assert layout.cavity.axes[:, 2] == pytest.approx(np.full(layout.cavity.emitter_count, -1.0))


@pytest.mark.parametrize(("width", "depth", "package"), [(14.0, 6.0, 2.5), (8.0, 20.0, 2.5), (30.0, 1.0, 2.5)])
def test_a_groove_is_blind_beyond_its_cut_off(width: float, depth: float, package: float) -> None:
    table, kept = groove_distribution(width, depth, package, 1.0, across_c_deg=0.0)
    cut_off = math.degrees(math.atan((width + package) / 2 / depth))
    gamma, across = np.array(table.gamma_deg), np.array(table.candela[0])
    assert (across[gamma > cut_off + 1.0] == 0.0).all()
    assert (across[gamma < cut_off - 1.5] > 0.0).all()
    along = np.array(table.candela[list(table.c_deg).index(90.0)])
    assert along == pytest.approx(
        np.cos(np.radians(np.minimum(gamma, 90.0))), abs=1e-9
    )  # along the groove nothing is in the way
    assert 0.0 < kept <= 1.0


def test_what_leaves_the_groove_is_what_lights_the_wall() -> None:
    free, grooved = laid(indirect()), laid(indirect(groove_depth_mm=12.0))
    assert isinstance(grooved, IndirectLayout)
    assert grooved.cavity.flux_lm.sum() == pytest.approx(free.cavity.flux_lm.sum() * grooved.kept_share)
    assert grooved.cut_off_deg < 45.0
    assert grooved.cavity.distributions


# -- shells and displays --------------------------------------------------------------------------------------------------------


def test_shells_of_a_display_of_one_are_where_they_should_be() -> None:
    layout = laid(shells(columns=1, rows=1))
    assert len(layout.instances) == 1
    fields = {measure.field for measure in layout.sketch.measures}
    assert "build.pitch_x_mm" not in fields  # one shell has no spacing
    assert {"build.columns", "build.rows", "build.diameter_mm"} <= fields


def test_the_notch_of_a_baffle_is_a_gap_below_it() -> None:
    layout = laid(cells(baffle=Baffle(wall_mm=1.2, height_mm=10.0, gap_below_mm=2.5)))
    box = layout.cavity.surface
    assert isinstance(box, BaffledBox)
    assert (box.low_mm, box.high_mm, box.partition_mm) == pytest.approx((2.5, 12.5, 1.2))
    assert box.depth_mm == pytest.approx(14.0 + 1.9)


@pytest.mark.parametrize(
    ("wall_mm", "rim_partition", "is_open"), [(1.2, True, False), (1.2, False, True), (0.0, False, False)]
)
def test_no_partition_along_the_rim_is_drawn_where_there_is_none(
    wall_mm: float, rim_partition: bool, is_open: bool
) -> None:
    """Half of one else, inside of the body; one without thickness is none."""
    layout = laid(cells(baffle=Baffle(wall_mm=wall_mm, height_mm=10.0, rim_partition=rim_partition)))
    box = layout.cavity.surface
    assert isinstance(box, BaffledBox)
    assert box.open_rim == is_open
    drawn = [outline.points_mm for outline in layout.sketch.cut if outline.role == "partition"]
    columns = round(box.width_mm / box.pitch_x_mm)
    assert len(drawn) == (columns + 1 if rim_partition else columns - 1)
    assert min(points[:, 0].min() for points in drawn) >= 0.0
    assert max(points[:, 0].max() for points in drawn) <= box.width_mm
    assert sum(np.ptp(points[:, 0]) for points in drawn) == pytest.approx(
        wall_mm * (columns if rim_partition else columns - 1)
    )


def test_pixels_of_three_leds_are_segments() -> None:
    build = strip_display(strips=(StripChoice(strip="12v-rgb-pixel-60"),), columns=4, rows=2)
    layout = laid(build)
    assert pitches_mm(build, CATALOGUE)[0] == pytest.approx(50.0)
    assert layout.cavity.emitter_count == 3 * 4 * 2 * 3
    assert isinstance(layout, DisplayLayout)
    assert layout.panel is not None
    assert layout.panel.rows[0].segments == 4


def test_a_text_in_three_led_pixels_lights_all_three() -> None:
    build = strip_display(
        strips=(StripChoice(strip="12v-rgb-pixel-60"),), columns=8, rows=8, show=Show(kind="text", text="I")
    )
    layout = laid(build)
    assert isinstance(layout, DisplayLayout)
    assert layout.shown is not None
    assert layout.shown_panel is not None
    lit = (layout.shown_panel.emitters[0].flux_lm > 0).sum()
    assert lit == 3 * int(layout.shown[0].sum())


@pytest.mark.parametrize("kind", ["text", "clock"])
def test_what_is_shown_without_a_text_is_something(kind: Any) -> None:
    layout = laid(strip_display(columns=30, rows=9, show=Show(kind=kind)))
    assert isinstance(layout, DisplayLayout)
    assert layout.shown is not None
    assert layout.shown.sum() > 0
    assert layout.letter_rows == 7


def test_a_picture_of_another_size_stands_in_the_middle() -> None:
    layout = laid(strip_display(columns=6, rows=5, show=Show(kind="picture", picture=("ffffff",))))
    assert isinstance(layout, DisplayLayout)
    assert layout.shown is not None
    assert np.argwhere(layout.shown[0] > 0).tolist() == [[2, 2]]
    assert layout.letter_rows == 0


def test_grids_and_strip_are_offered_to_each_other() -> None:
    for build in (display(), strip_display()):
        made = offered(build)["Made of"]
        assert isinstance(made, Choice)
        assert len(made.options) == 2


# -- what all share --------------------------------------------------------------------------------------------------------------


def test_segments_are_whole_and_typed_inches_lose_none() -> None:
    strip = CATALOGUE.strip("24v-white-120")
    assert segments_in(strip, 149.999_999_9) == 3
    assert segments_in(strip, 149.9) == 2
    assert segments_in(strip, -5.0) == 0


def test_a_run_is_turned_about_its_frame() -> None:
    run = laid(tube()).strips[0]
    turned = turned_strip(run, 10.0, 20.0, 90.0)
    assert turned.along == pytest.approx((0.0, 1.0, 0.0), abs=1e-9)
    assert turned.start_mm[:2] == pytest.approx((10.0 - run.start_mm[1], 20.0 + run.start_mm[0]))
    outline = strip_in_plan(turned)
    assert np.ptp(outline[:, 1]) == pytest.approx(run.length_mm)
    assert np.ptp(outline[:, 0]) == pytest.approx(8.0)


@pytest.mark.parametrize("sides", [3, 4, 6])
def test_tiles_are_regular(sides: int) -> None:
    corners = polygon_mm(sides, 90.0)
    lengths = np.hypot(*(np.roll(corners, -1, axis=0) - corners).T)
    assert lengths == pytest.approx(np.full(sides, 90.0))
    assert corners[:, 1].min() == pytest.approx(-apothem_mm(sides, 90.0))  # it stands on a side
    assert overlap(corners, corners + 1.0)
    assert not overlap(corners, corners + np.array([200.0, 0.0]))


def test_the_side_of_tiles_is_typed_and_their_rows_are_spread() -> None:
    rim, back = offered(tiles()), offered(tiles(lighting="back", row_spacing_mm=25.0))
    assert "Rows apart" not in rim
    entry = back["Rows apart"]
    assert isinstance(entry, Entry)
    assert entry.value == 25.0
    heights = sorted({run.start_mm[1] for run in laid(tiles(lighting="back", row_spacing_mm=25.0)).strips})
    assert np.diff(heights) == pytest.approx(np.full(len(heights) - 1, 25.0))


def test_modules_are_lit_at_their_levels() -> None:
    full = laid(head()).cavity.flux_lm.sum()
    half = laid(head(module=ModuleChoice(module="12v-chips-3x3", cct_k=3000.0, levels=(0.5,)))).cavity.flux_lm.sum()
    assert half == pytest.approx(full / 2)


def test_dies_of_ones_own_are_laid_as_they_are_said() -> None:
    own = Dies(columns=2, rows=3, pitch_mm=5.0, size_mm=2.0)
    layout = laid(head(dies=own))
    assert layout.cavity.emitter_count == 6
    assert np.unique(layout.cavity.places_mm[:, 1]) == pytest.approx([-5.0, 0.0, 5.0])
    assert layout.cavity.flux_lm.sum() == pytest.approx(990.0 * 6 / 9)
    assert layout.modules[0].module.power_w == pytest.approx(9.0 * 6 / 9)
    for bad, words in (
        (Dies(columns=2, rows=3, pitch_mm=1.0, size_mm=2.0), "overlap"),
        (Dies(columns=12, rows=12, pitch_mm=5.0, size_mm=2.0), "needs"),
        (Dies(columns=0, rows=3, pitch_mm=5.0, size_mm=2.0), "too small"),
    ):
        with pytest.raises(DesignError, match=words):
            laid(head(dies=bad))


@pytest.mark.parametrize("sized_by", ["side", "across_flats"])
@pytest.mark.parametrize("edge", ["outer", "inner"])
def test_a_frame_is_attracted_where_whole_segments_fit(sized_by: Any, edge: Any) -> None:
    layout = laid(bars(bars=(), frame=Frame(sides=6, size_mm=300.0, sized_by=sized_by, edge=edge), corner_gap_mm=3.0))
    handle = next(one for one in layout.sketch.handles if one.field == "build.frame.size_mm")
    assert handle.snap is not None
    size = handle.snap[0] + 4 * handle.snap[1]
    fitted = laid(bars(bars=(), frame=Frame(sides=6, size_mm=size, sized_by=sized_by, edge=edge), corner_gap_mm=3.0))
    assert {run.segments for run in fitted.strips} == {4}
    assert max(run.start_gap_mm for run in fitted.strips) == pytest.approx(0.0, abs=1e-6)
