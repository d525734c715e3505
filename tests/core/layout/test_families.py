"""Every family laid out: the trade's figures, closed shapes, what must add up, and what is invalid."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given

from gauze.core.design import StripChoice
from gauze.core.design.build import FamilyBuild, ModuleChoice
from gauze.core.design.channel_bar import Bar, Frame, frame_apothem_mm
from gauze.core.design.fields import get_field
from gauze.core.design.pixel_display import Baffle, Show
from gauze.core.design.tile_wall import Tile
from gauze.core.errors import DesignError
from gauze.core.families import lay_out
from gauze.core.layout import Layout
from gauze.core.layout.families.channel_bar import ChannelLayout
from gauze.core.layout.families.indirect import IndirectLayout, groove_distribution
from gauze.core.layout.families.pixel_display import DisplayLayout
from gauze.core.layout.families.pixel_text import picture_pixels, text_pixels
from gauze.core.layout.families.shell_string import ShellLayout
from gauze.core.layout.families.tile_chain import beside, free_places, shared_edges
from gauze.core.layout.families.tile_wall import TileLayout
from gauze.core.layout.placing import placed_cavities
from tests.builders import CATALOGUE
from tests.families import (
    FAMILIES,
    PIXELS,
    WHITE,
    bars,
    builds,
    cells,
    display,
    edge_lit,
    family,
    frame,
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


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_every_led_lies_inside_its_cavity_and_gives_what_the_catalogue_says(name: str) -> None:
    layout = laid(FAMILIES[name])
    for unit in layout.cavities:
        assert unit.surface.clearance_mm(unit.places_mm).min() > -0.06
        assert np.linalg.norm(unit.axes, axis=1) == pytest.approx(1.0)
    given_lm = sum(
        level * channel.flux_lm_per_m * run.length_mm / 1000
        for run in layout.strips
        for level, channel in zip(run.choice.levels_for(run.strip), run.strip.channel, strict=True)
    )
    given_lm += sum(c.flux_lm for piece in layout.modules for c in piece.module.channel)
    kept = layout.kept_share if isinstance(layout, IndirectLayout) else 1.0
    placed = sum(float(unit.flux_lm.sum()) for unit in placed_cavities(layout))
    assert placed == pytest.approx(kept * given_lm, rel=1e-6)


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_what_the_drawing_states_is_what_the_design_has(name: str) -> None:
    design = family(FAMILIES[name])
    sketch = laid(FAMILIES[name]).sketch
    assert sketch.measures
    for measure in sketch.measures:
        assert float(get_field(design, measure.field)) == pytest.approx(measure.value, abs=0.006)
    for handle in sketch.handles:
        assert float(get_field(design, handle.field)) == pytest.approx(handle.value)
    for left, low, width, height in (sketch.plan_mm, sketch.cut_mm):
        assert width > 0
        assert height > 0
        assert math.isfinite(left + low)
    low, high = np.array(sketch.plan_mm[:2]), np.array(sketch.plan_mm[:2]) + sketch.plan_mm[2:]
    for unit in placed_cavities(laid(FAMILIES[name])):
        assert (unit.places_mm[:, :2] >= low - 0.1).all()
        assert (unit.places_mm[:, :2] <= high + 0.1).all()


@given(builds())
def test_a_random_build_stands_or_says_where_it_does_not(build: FamilyBuild) -> None:
    layout, refusal = _laid_or_refused(build)
    if layout is None:
        assert refusal is not None
        assert refusal.field.startswith("build")
        assert str(refusal).endswith(".")
        return
    assert layout.emitter_count > 0
    for run in layout.strips:
        assert run.length_mm == pytest.approx(run.segments * run.strip.segment_mm)
        assert run.start_gap_mm >= -1e-6
        assert run.start_gap_mm + run.end_gap_mm < run.strip.segment_mm + 1e-6


def _laid_or_refused(build: FamilyBuild) -> tuple[Layout | None, DesignError | None]:
    try:
        return laid(build), None
    except DesignError as error:
        return None, error


BAD: dict[str, tuple[FamilyBuild, str, str]] = {
    "tube narrower than its strip": (tube(diameter_mm=8.0), "build.diameter_mm", "narrower than"),
    "bed too high": (tube(carrier="bed", bed_height_mm=29.0), "build.bed_height_mm", ""),
    "flanks in the slit": (tube(lit_deg=200.0, carrier="flanks", flank_deg=100.0), "build.flank_deg", "slit"),
    "flanks on each other": (tube(carrier="flanks", flank_deg=10.0), "build.flank_deg", "overlap"),
    "caps over all": (tube(end_spare_mm=114.0), "build.end_spare_mm", "Caps"),
    "tube shorter than a segment": (tube(length_mm=60.0), "build.length_mm", "segment"),
    "strip wider than the channel": (bars(width_mm=7.0), "build.width_mm", "does not fit"),
    "too many side by side": (bars(side_by_side=3), "build.side_by_side", "at most 1"),
    "lens on the LEDs": (bars(depth_mm=1.2), "build.depth_mm", "lens would rest"),
    "mitres overlap": (frame(6, 18.0), "build.frame.size_mm", "mitres overlap"),
    "path too short": (bars(bars=(), corners_mm=((0, 0), (8, 0), (8, 200))), "build.corners_mm[1]", "overlap"),
    "path turns back": (bars(bars=(), corners_mm=((0, 0), (200, 0), (0, 4))), "build.corners_mm[1]", "turns back"),
    "nothing to lay": (bars(bars=()), "build.bars", "one of the three"),
    "bars in the middle": (edge_lit(bar_offset_mm=60.0), "build.bar_offset_mm", "meet"),
    "strip taller than the body": (edge_lit(depth_mm=6.0), "build.bar_height_mm", "does not fit"),
    "board wider than the bottom": (head(back_mm=30.0), "build.back_mm", "needs"),
    "funnel of two sides": (head(sides=2), "build.sides", "at least 3"),
    "strip longer than the wall": (indirect(strip_mm=900.0), "build.strip_mm", "shorten"),
    "beyond the reach": (indirect(distance_mm=450.0), "build.distance_mm", "beyond"),
    "lying in a corner": (indirect(stance="lying"), "build.stance", "upright"),
    "groove narrower than its strip": (
        indirect(groove_depth_mm=4.0, groove_width_mm=6.0),
        "build.groove_width_mm",
        "narrower",
    ),
    "a sheet before a wall": (indirect(diffuser="opal-acrylic-3"), "build.diffuser", "Leave the diffuser out"),
    "shells on each other": (shells(pitch_x_mm=40.0), "build.pitch_x_mm", "overlap"),
    "pixel wider than the ring": (shells(base_mm=8.0), "build.base_mm", "does not pass"),
    "grid for a shell": (shells(module=ModuleChoice(module="5v-rgb-grid-8x8")), "build.module", "single"),
    "baffle taller than the depth": (
        cells(baffle=Baffle(wall_mm=1.0, height_mm=40.0)),
        "build.baffle.height_mm",
        "taller",
    ),
    "baffle thicker than half a cell": (
        cells(baffle=Baffle(wall_mm=9.0, height_mm=9.0)),
        "build.baffle.wall_mm",
        "thinner",
    ),
    "grids that are cut": (display(columns=12), "build.columns", "8 or 16"),
    "rows that overlap": (strip_display(row_pitch_mm=6.0), "build.row_pitch_mm", "overlap"),
    "sheet on the LEDs": (display(depth_mm=1.0), "build.depth_mm", "rest on them"),
    "strip and module": (display(strips=PIXELS), "build.strips", "one of the two"),
    "a damaged picture": (display(show=Show(kind="picture", picture=("12x",))), "build.show.picture", "damaged"),
    "no picture": (display(show=Show(kind="picture")), "build.show.picture", "chosen"),
    "tiles on each other": (
        tiles(Tile(sides=6, x_mm=0, y_mm=0), Tile(sides=4, x_mm=40, y_mm=0)),
        "build.tiles[1]",
        "overlaps tile 1",
    ),
    "a tile out of reach": (
        tiles(Tile(sides=6, x_mm=0, y_mm=0), Tile(sides=6, x_mm=900, y_mm=0)),
        "build.tiles[1]",
        "cannot reach tile 2",
    ),
    "tiles of nothing but wall": (tiles(side_mm=10.0, wall_mm=9.0), "build.side_mm", "leave nothing"),
    "no tile to begin": (tiles(first=4), "build.first", "no tile 5"),
    "a chain that names one twice": (tiles(chain=(0, 0)), "build.chain", "once"),
    "tile strip too high": (tiles(rim_height_mm=23.0), "build.rim_height_mm", "does not fit"),
    "an unknown strip": (tube(strips=(StripChoice(strip="none"),)), "build.strips[0].strip", "no strip"),
    "an unknown module": (head(module=ModuleChoice(module="none")), "build.module.module", "no module"),
    "a white that is not sold": (
        head(module=ModuleChoice(module="12v-chips-3x3", cct_k=9000.0)),
        "build.module.cct_k",
        "is sold from",
    ),
    "a level over one": (
        head(module=ModuleChoice(module="12v-chips-3x3", cct_k=3000.0, levels=(2.0,))),
        "build.module",
        "",
    ),
    "zero": (tube(length_mm=0.0), "build.length_mm", "more than"),
    "huge": (edge_lit(width_mm=1e9), "build.width_mm", "too large"),
    "not a number": (edge_lit(depth_mm=math.nan), "build.depth_mm", "not a number"),
}


@pytest.mark.parametrize("name", sorted(BAD))
def test_what_cannot_stand_is_told_at_its_place(name: str) -> None:
    build, field, words = BAD[name]
    with pytest.raises(DesignError) as told:
        laid(build)
    assert told.value.field.startswith(field)
    assert words in str(told.value)


# -- figures of the trade: common practice, no source --------------------------------------------------------------------


def test_a_fifteen_by_ten_channel_takes_eight_millimetre_strip_once() -> None:
    layout = laid(bars())
    assert len(layout.strips) == 1
    assert "8" in str(layout.sketch.notes[0])
    assert len(laid(bars(width_mm=24.0, side_by_side=2)).strips) == 2


@pytest.mark.parametrize(("sides", "cut_deg"), [(3, 60.0), (4, 45.0), (6, 30.0), (8, 22.5)])
def test_mitres_are_cut_half_of_the_turn_off_square(sides: int, cut_deg: float) -> None:
    layout = laid(frame(sides, 160.0))
    assert isinstance(layout, ChannelLayout)
    assert len(layout.corners) == sides
    for corner in layout.corners:
        assert abs(corner.turn_deg) / 2 == pytest.approx(cut_deg)


@pytest.mark.parametrize("sides", range(3, 13))
def test_a_frame_closes_whatever_it_is_sized_by(sides: int) -> None:
    by_side = frame(sides, 200.0, wall_mm=2.0)
    assert by_side.frame is not None
    apothem = frame_apothem_mm(by_side, by_side.frame)
    outer = 2.0 * (apothem + by_side.outer_width_mm / 2.0)
    across = frame(sides, outer, frame=Frame(sides=sides, size_mm=outer, sized_by="across_flats"), wall_mm=2.0)
    inner = Frame(sides=sides, size_mm=outer - 2 * by_side.outer_width_mm, sized_by="across_flats", edge="inner")
    assert across.frame is not None
    assert frame_apothem_mm(across, across.frame) == pytest.approx(apothem)
    assert frame_apothem_mm(frame(sides, 1.0, frame=inner, wall_mm=2.0), inner) == pytest.approx(apothem)
    instances = laid(by_side).instances
    assert len({instance.cavity for instance in instances}) == 1  # all sides alike: lit once
    bodies = [outline for outline in laid(by_side).sketch.plan if outline.role == "body"]
    ends = np.concatenate([outline.points_mm for outline in bodies])
    for corner in ends:  # every corner of a body is a corner of its neighbour too
        assert (np.hypot(*(ends - corner).T) < 1e-6).sum() == 2


def test_a_square_frame_of_known_size_takes_known_pieces() -> None:
    layout = laid(frame(4, 315.0, width_mm=12.6, wall_mm=1.2))  # outer width 15: middle line 300 mm
    assert [run.segments for run in layout.strips] == [6, 6, 6, 6]  # cut every 50 mm
    assert layout.corners[0].between_leds_mm == pytest.approx(
        1000 / 120
    )  # half a pitch on either side: as along the strip


def test_bars_lie_end_to_end_with_their_gaps_and_dark_zones_are_dark() -> None:
    three = (
        Bar(length_mm=100.0, gap_after_mm=10.0),
        Bar(length_mm=150.0, gap_after_mm=0.0, zone=2),
        Bar(length_mm=100.0),
    )
    layout = laid(bars(bars=three))
    assert [instance.x_mm for instance in layout.instances] == [0.0, 110.0, 260.0]
    assert len(layout.cavities) == 2
    dark = laid(bars(bars=three, dark_zones=(2,)))
    assert sum(unit.flux_lm.sum() == 0 for unit in dark.cavities) == 1


@pytest.mark.parametrize("carrier", ["back", "flanks"])
def test_strips_in_a_tube_lie_on_chords_and_look_to_its_axis(carrier: Any) -> None:
    layout = laid(tube(carrier=carrier, lit_deg=150.0))
    width, radius = 8.0, 15.0
    for run in layout.strips:
        middle = np.array(run.start_mm[1:]) - [0.0, radius] - np.array(run.facing[1:]) * run.strip.emitter_height_mm
        assert np.hypot(*middle) == pytest.approx(math.sqrt(radius**2 - (width / 2) ** 2))
        assert np.dot(middle, run.facing[1:]) == pytest.approx(-np.hypot(*middle))
        assert run.start_mm[0] >= 15.0  # nothing under the cap


def test_a_groove_lets_out_what_geometry_says() -> None:
    """A narrow source in a slit: the share within the angle, by integrating cos over it across a line: sin of the cut-off."""
    _, kept = groove_distribution(10.0, 10.0, 1e-3, 1.0, across_c_deg=0.0)
    half = math.atan(0.5)
    assert kept == pytest.approx(math.sin(half), rel=0.01)  # Lambertian: half-space flux in a wedge is sin(half angle)
    whole, all_of_it = groove_distribution(1e4, 0.01, 1.0, 1.0, across_c_deg=0.0)
    assert all_of_it == pytest.approx(1.0, abs=1e-3)
    assert len(whole.candela) == len(whole.c_deg)


def test_shells_stand_on_their_grid_and_the_cord_passes_each_once() -> None:
    layout = laid(shells(columns=4, rows=3, zigzag=True))
    assert isinstance(layout, ShellLayout)
    assert layout.places_mm is not None
    assert sorted(layout.order) == list(range(12))
    steps = np.diff(layout.places_mm[list(layout.order)], axis=0)
    assert np.hypot(*steps.T).max() <= np.hypot(90.0, 120.0) + 1e-6  # to a neighbour each time
    assert layout.places_mm[1, 1] == pytest.approx(-40.0)


def test_a_display_of_joined_grids_counts_its_boards() -> None:
    layout = laid(display(columns=24, rows=16))
    assert len(layout.modules) == 6
    assert isinstance(layout, DisplayLayout)
    assert layout.panel is not None
    assert layout.panel.box.width_mm == pytest.approx(240.0)
    assert len(layout.panel.emitters) == 3
    assert layout.pixels_mm.shape == (16, 24, 2)


def test_text_is_drawn_as_large_as_whole_pixels_allow() -> None:
    field, letters = text_pixels("I", 16, 16)
    assert letters == 14
    assert set(np.unique(field)) == {0.0, 1.0}
    assert field[1].sum() > 0  # its foot is below: the first row is the lowest
    small, letters = text_pixels("10:42", 32, 8)
    assert letters == 7
    assert small.shape == (8, 32)
    cut, _ = text_pixels("A LONG TEXT", 10, 7)
    assert cut.shape == (7, 10)
    assert text_pixels("", 5, 5)[0].sum() == 0
    assert text_pixels("ж", 5, 7)[0].sum() == 35  # what the alphabet has not is a block


def test_a_picture_is_linear_light_the_first_row_below() -> None:
    levels = picture_pixels(("ff0000808080", "000000ffffff"), 2, 2)
    assert levels[:, 1, 0] == pytest.approx([1.0, 0.0, 0.0])
    assert levels[:, 0, 1] == pytest.approx([1.0, 1.0, 1.0])
    assert levels[0, 1, 1] == pytest.approx(0.2159, abs=1e-3)  # IEC 61966-2-1: half of the code is a fifth of the light


def test_what_a_display_shows_is_lit_and_the_rest_dark() -> None:
    layout = laid(strip_display(columns=12, rows=8, show=Show(kind="text", text="I", colour=(1.0, 0.5, 0.0))))
    assert isinstance(layout, DisplayLayout)
    assert layout.shown is not None
    assert layout.shown_panel is not None
    red, green, blue = (emitters.flux_lm.sum() for emitters in layout.shown_panel.emitters)
    assert blue == 0
    full = [emitters.flux_lm.sum() for emitters in layout.panel.emitters] if layout.panel else []
    assert red / full[0] == pytest.approx(2 * green / full[1])


# -- tiles ----------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("sides", [3, 4, 6])
@pytest.mark.parametrize("other", [3, 4, 6])
def test_tiles_are_laid_edge_to_edge(sides: Any, other: Any) -> None:
    one = tiles(Tile(sides=sides, x_mm=10.0, y_mm=-20.0, turn_deg=17.0), strips=WHITE)
    for edge in range(sides):
        both = tiles(one.tiles[0], beside(one, 0, edge, other), strips=WHITE)
        assert list(shared_edges(both)) == [(0, 1)]
        layout = laid(both)
        assert isinstance(layout, TileLayout)
        assert layout.chain.order == (0, 1)


def _flower() -> tuple[Tile, ...]:
    wall = tiles()
    return (*wall.tiles, *(beside(wall, 0, edge, 6) for edge in range(6)))


def test_a_chain_goes_through_every_tile_once() -> None:
    layout = laid(tiles(*_flower(), first=1))
    assert isinstance(layout, TileLayout)
    assert sorted(layout.chain.order) == list(range(7))
    assert layout.chain.order[0] == 1
    for link, before, after in zip(layout.chain.links, layout.chain.order, layout.chain.order[1:], strict=False):
        assert (link.start, link.end) == (before, after)


def test_a_star_needs_branches() -> None:
    wall = tiles()
    star = (*wall.tiles, *(beside(wall, 0, edge, 6) for edge in (0, 2, 4)))
    with pytest.raises(DesignError, match="allow branches"):
        laid(tiles(*star))
    layout = laid(tiles(*star, branches=True))
    assert isinstance(layout, TileLayout)
    assert [link.start for link in layout.chain.links] == [0, 0, 0]
    chosen = laid(tiles(*star, branches=True, chain=(2, 0, 1, 3)))
    assert isinstance(chosen, TileLayout)
    assert chosen.chain.order == (2, 0, 1, 3)
    with pytest.raises(DesignError, match="share no edge"):
        laid(tiles(*star, chain=(1, 2, 0, 3)))


def test_free_places_touch_no_other_tile() -> None:
    wall = tiles(*_flower(), branches=True)
    for place in free_places(wall, 6):
        laid(tiles(*wall.tiles, place, branches=True))
    assert len(free_places(wall, 6)) == 12


def test_every_tile_takes_its_own_pieces() -> None:
    layout = laid(tiles(*_flower(), first=1))
    assert len(layout.strips) == 7 * 6
    assert len(layout.cavities) == 1
    assert len(layout.instances) == 7
