"""Every family through all solvers: energy, closed forms, and what the findings say of it."""

import math
from typing import Any

import numpy as np
import pytest

from gauze.core.design.build import FamilyBuild, ModuleChoice
from gauze.core.design.channel_bar import Bar
from gauze.core.design.pixel_display import Baffle, Show
from gauze.core.design.tile_wall import Tile
from gauze.core.errors import Cancelled
from gauze.core.evaluate import (
    AT_REST,
    CavityFaceLight,
    Detail,
    Evaluation,
    Finding,
    GroupFaceLight,
    State,
    evaluate,
    find,
    search_fixes,
)
from gauze.core.evaluate.findings.bare_strip import angle_to_eye_deg
from gauze.core.evaluate.findings.sag import deflection_mm
from gauze.core.evaluate.findings.shells import most_from_others, wall_lux
from gauze.core.evaluate.light.one_cavity import forget_faces
from gauze.core.evaluate.shown import shown_in_cells
from gauze.core.evaluate.stages import forget_lights
from gauze.core.families import lay_out
from gauze.core.optics.cavity.cells import forget_exchanges
from gauze.core.optics.cavity.shadow import blocked_by_block
from tests.builders import CATALOGUE, with_purpose
from tests.families import (
    FAMILIES,
    PIXELS,
    bars,
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

QUICK = Detail(fineness=0.5, most_pixels=9_000, target_points=3)


def lit(build: FamilyBuild, **purpose: Any) -> Evaluation:
    return evaluate(family(build, **purpose), CATALOGUE, QUICK)


def finding(build: FamilyBuild, code: str, **purpose: Any) -> Finding:
    return next(one for one in find(lit(build, **purpose)) if one.code == code)


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_light_is_neither_lost_nor_made(name: str) -> None:
    evaluation = lit(FAMILIES[name])
    flux = evaluation.output
    assert flux.balance_error < 2e-3
    assert 0.0 < flux.out_lm <= flux.emitted_lm
    assert 0.0 < flux.direct_lm <= flux.lid_lm * 1.02
    assert evaluation.weight.sum() == pytest.approx(1.0, abs=1e-3)
    assert evaluation.evenness.mean_cd_m2 > 0
    findings = find(evaluation)
    even = "rim" if name.startswith("edge-lit") else "evenness"
    assert {"dots", even, "face brightness", "colour", "output"} <= {one.code for one in findings}
    assert all(str(one.sentence).endswith(".") and one.figures for one in findings)
    assert any(one.code.startswith("supply") for one in findings)


@pytest.mark.parametrize("name", ["tube", "frame", "balls", "tiles", "cells", "strip rows"])
def test_what_leaves_is_what_the_distribution_adds_up_to(name: str) -> None:
    """The flux that leaves to the front, by the intensity over the half space, agrees with the sum over the face."""
    evaluation = lit(FAMILIES[name])
    gamma = np.linspace(0.0, 90.0 if evaluation.opening_mm[2] == 0 else 180.0, 91)
    c = np.arange(0.0, 360.0, 30.0)
    candela = evaluation.intensity_cd(gamma, c).mean(axis=0)
    flux = 2 * math.pi * np.trapezoid(candela * np.sin(np.radians(gamma)), np.radians(gamma))
    assert flux == pytest.approx(evaluation.output.out_lm, rel=0.06)


def test_a_build_that_was_lit_is_not_lit_again() -> None:
    forget_faces()
    first, second = lit(tube()), lit(tube())
    assert isinstance(first.light, CavityFaceLight)
    assert isinstance(second.light, CavityFaceLight)
    assert second.light.face is first.light.face
    other = lit(tube(walls=0.3))
    assert isinstance(other.light, CavityFaceLight)
    assert other.light.face is not first.light.face


def test_a_group_gives_way_at_once() -> None:
    forget_faces()
    with pytest.raises(Cancelled):
        evaluate(family(frame(5)), CATALOGUE, QUICK, lambda: True)


def test_tiles_light_as_many_times_as_there_are() -> None:
    one, two = Tile(sides=4, x_mm=0.0, y_mm=0.0), Tile(sides=4, x_mm=90.0, y_mm=0.0)
    single, double = lit(tiles(one)), lit(tiles(one, two))
    assert double.output.out_lm == pytest.approx(2 * single.output.out_lm)
    assert double.evenness.mean_cd_m2 == pytest.approx(single.evenness.mean_cd_m2, rel=0.03)
    far = {"target_distance_mm": 20_000.0}
    assert lit(tiles(one, two), **far).target_lx == pytest.approx(2 * lit(tiles(one), **far).target_lx, rel=0.01)


def test_a_turned_tile_lights_the_same() -> None:
    upright, turned = (lit(tiles(Tile(sides=3, x_mm=5.0, y_mm=9.0, turn_deg=turn))) for turn in (0.0, 60.0))
    assert turned.output.out_lm == pytest.approx(upright.output.out_lm)
    assert turned.evenness.mean_cd_m2 == pytest.approx(upright.evenness.mean_cd_m2, rel=0.03)
    assert isinstance(turned.light, GroupFaceLight)
    mirrored = turned.inside[::-1]  # a triangle turned by a half turn of its own stands on its tip
    assert mirrored.sum() == pytest.approx(upright.inside.sum(), rel=0.05)


def test_what_a_display_shows_is_lit_as_if_nothing_else_were_computed_beside_it() -> None:
    build = cells(columns=9, rows=7, show=Show(kind="text", text="I"))
    what = family(build)
    beside = evaluate(what, CATALOGUE, AT_REST)
    for forget in (forget_lights, forget_faces, forget_exchanges):
        forget()
    layout = lay_out(what, CATALOGUE)
    face = shown_in_cells(layout, build.layers, CATALOGUE, AT_REST, lambda: False)
    assert beside.shown is not None
    assert face is not None
    assert beside.shown.xyz == pytest.approx(face.xyz(), rel=1e-4, abs=1e-4 * float(face.xyz().max()))


def test_a_display_with_all_pixels_on_is_a_panel_of_the_same_box() -> None:
    evaluation = lit(strip_display())
    assert evaluation.output.balance_error < 1e-3
    assert evaluation.shown is None


@pytest.mark.parametrize("make", [strip_display, cells])
def test_a_text_is_lit_where_it_is_written(make: Any) -> None:
    evaluation = lit(make(columns=10, rows=8, show=Show(kind="text", text="I")), viewing_distance_mm=3000.0)
    assert evaluation.shown is not None
    assert evaluation.shown.legibility is not None
    assert evaluation.shown.legibility.on_cd_m2 > evaluation.shown.legibility.off_cd_m2
    assert evaluation.luminance_cd_m2.mean() < 0.6 * evaluation.light.xyz[1].mean()
    assert evaluation.evenness.max_cd_m2 == pytest.approx(float(evaluation.light.xyz[1].max()), rel=1e-4)


def test_letters_are_measured_in_minutes_of_arc() -> None:
    """A letter of 140 mm: 16 minutes of arc are 140 / tan(16/60 deg) = 30.1 m."""
    show = Show(kind="text", text="I")
    found = finding(cells(columns=10, rows=8, show=show, row_pitch_mm=20.0), "legibility", viewing_distance_mm=10_000.0)
    assert found.value == pytest.approx(0.140 / math.tan(math.radians(16 / 60)), rel=1e-6)
    assert found.state is State.GOOD
    far = finding(cells(columns=10, rows=8, show=show), "legibility", viewing_distance_mm=60_000.0)
    assert far.state is State.FAILS


def test_a_glow_without_partitions_runs_letters_together() -> None:
    blurred = strip_display(columns=12, rows=9, depth_mm=60.0, row_pitch_mm=17.0, show=Show(kind="text", text="E"))
    found = finding(blurred, "legibility", viewing_distance_mm=2000.0)
    assert "blurs together" in str(found.sentence)
    assert found.state is State.FAILS


def test_partitions_keep_light_in_its_pixel_and_a_gap_lets_it_out() -> None:
    closed = finding(cells(depth_mm=14.0, baffle=Baffle(wall_mm=1.0, height_mm=15.9)), "crosstalk")
    open_ = finding(cells(depth_mm=14.0, baffle=Baffle(wall_mm=1.0, height_mm=8.0)), "crosstalk")
    assert closed.value < 0.025  # what is left goes sideways in the sheet
    assert open_.value > 3 * closed.value


def test_rows_too_few_for_a_glow_are_found_and_rows_to_add_computed() -> None:
    sparse = strip_display(columns=12, rows=6, row_pitch_mm=50.0, depth_mm=20.0)
    assert finding(sparse, "dots").state is State.WATCH  # soft is usual for a glow
    wanted = with_purpose(family(sparse), standard="clean")
    found = next(one for one in find(evaluate(wanted, CATALOGUE)) if one.code == "dots")
    assert str(found.sentence).startswith("From 2 m the rows are visible, but")
    fixes = search_fixes("dots", wanted, CATALOGUE)
    rows = [fix for fix in fixes if "rows" in str(fix.title)]
    assert rows
    changed = rows[0].design.build
    assert changed.rows > 6
    assert changed.rows * changed.row_pitch_mm == pytest.approx(300.0, abs=2.0)


# -- findings of the families ---------------------------------------------------------------------------------------------


def test_the_dead_end_of_a_tube_is_found_and_fixed() -> None:
    short = tube(length_mm=275.0)  # 245 mm between the caps: 200 of strip, 22.5 dark at each end
    found = finding(short, "strip ends")
    assert found.value == pytest.approx(22.5)
    assert "22.5 mm short of the cap" in str(found.sentence)
    fitted = finding(tube(length_mm=230.0), "strip ends")
    assert "reaches" in str(fitted.sentence)
    fixes = search_fixes("strip ends", family(short), CATALOGUE)
    assert [fix.design.build.length_mm for fix in fixes] == [280.0]


def test_strip_on_the_flanks_of_a_slit_tube_shows_its_dots_less_than_on_its_back() -> None:
    """Common practice, no source: the rule of the trade, which the light model has to give by itself."""
    sparse = {"lit_deg": 100.0, "diameter_mm": 26.0, "strips": PIXELS, "diffuser": "milky-silicone-sleeve-2"}
    back, flanks = (lit(tube(carrier=carrier, **sparse)) for carrier in ("back", "flanks"))
    assert max(m.amplitude for m in flanks.dots.modulations) < 0.7 * max(m.amplitude for m in back.dots.modulations)


def test_a_deep_channel_hides_what_a_shallow_one_shows() -> None:
    """Common practice: 10 mm hides 120/m and denser, hardly 60/m; 5 mm needs 240/m."""
    deep, shallow = (finding(bars(depth_mm=depth, width_mm=20.0), "dots") for depth in (25.0, 6.0))
    assert deep.value < shallow.value / 5


def test_a_corner_without_leds_is_dark_and_one_that_is_crowded_is_not() -> None:
    dark = finding(frame(4, 180.0, corner_gap_mm=14.0), "corners")
    full = finding(frame(4, 167.4 + 0.2, corner_gap_mm=0.0), "corners")
    assert dark.value < full.value
    assert dark.state in (State.WATCH, State.FAILS)
    assert "45.0° off square" in next(str(f.how) for f in dark.figures if str(f.name) == "Corner 1")
    fixes = search_fixes("corners", family(frame(4, 180.0, corner_gap_mm=14.0)), CATALOGUE)
    assert fixes
    assert fixes[0].design.build.corner_gap_mm < 14.0


def test_a_thin_sheet_gives_way_and_a_thicker_one_is_found() -> None:
    """Plate under a load in its middle, simply supported, square: w = 0.0116 F a^2 / D (Timoshenko, from memory)."""
    stiffness = 3200.0 * 3.0**3 / (12 * (1 - 0.37**2))
    assert deflection_mm(300.0, 300.0, 3.0) == pytest.approx(0.0116 * 10 * 300.0**2 / stiffness)
    # common practice, no source: 2.4 mm carries 450 x 600, a much larger face wants 6
    assert deflection_mm(450.0, 600.0, 2.4) < 450 / 50
    assert deflection_mm(900.0, 1200.0, 2.4) > 900 / 50
    assert deflection_mm(900.0, 1200.0, 6.0) < 900 / 50
    wide = edge_lit(width_mm=900.0, height_mm=700.0, diffuser="screen-film")
    assert finding(wide, "sag").state is State.FAILS
    fixed = search_fixes("sag", family(wide), CATALOGUE)
    assert fixed
    assert finding(fixed[0].design.build, "sag").state is State.GOOD


def test_bars_that_look_elsewhere_even_an_edge_lit_face() -> None:
    face = edge_lit(tilt_deg=70.0, bar_height_mm=4.0)
    fixes = search_fixes("rim", family(face), CATALOGUE)
    best = max(evaluate(fix.design, CATALOGUE, QUICK).evenness.min_over_mean for fix in fixes)
    assert best > lit(face).evenness.min_over_mean + 0.02


def test_chips_that_are_seen_through_a_film_are_told_though_they_fill_little_of_the_face() -> None:
    shown = {
        sheet: finding(head(diffuser=sheet), "dots").value
        for sheet in ("opal-acrylic-3", "screen-film", "clear-acrylic-3")
    }
    assert shown["opal-acrylic-3"] < 1.0 < shown["screen-film"] < shown["clear-acrylic-3"]
    assert shown["clear-acrylic-3"] > 80.0


def test_the_sweet_spot_of_a_funnel_is_more_even() -> None:
    near = head(depth_mm=18.0)
    fixes = search_fixes("evenness", family(near), CATALOGUE)
    film = next(fix for fix in fixes if str(fix.title).startswith("Film"))
    assert evaluate(film.design, CATALOGUE, QUICK).evenness.min_over_mean > lit(near).evenness.min_over_mean


def test_a_strip_that_looks_at_the_wall_is_hidden_and_one_turned_to_the_eye_is_not() -> None:
    hidden = finding(indirect(place="wall"), "bare strip")
    assert hidden.state is State.GOOD
    low = indirect(place="wall", stance="lying", base_mm=20.0, aim_deg=80.0, strip_mm=300.0)
    seen = finding(low, "bare strip", viewing_distance_mm=400.0)
    assert seen.state is State.FAILS
    assert seen.cautions
    fixes = search_fixes("bare strip", family(low, viewing_distance_mm=400.0), CATALOGUE)
    assert fixes
    assert finding(fixes[0].design.build, "bare strip", viewing_distance_mm=400.0).state is not State.FAILS
    assert angle_to_eye_deg(indirect(), 2000.0) == 180.0


def test_a_groove_narrows_the_wash() -> None:
    free, grooved = lit(indirect(place="wall")), lit(indirect(place="wall", groove_depth_mm=20.0))
    assert grooved.output.emitted_lm < free.output.emitted_lm
    middle = free.luminance_cd_m2.shape[0] // 2
    width = [float((e.luminance_cd_m2[middle] > 0.1 * e.luminance_cd_m2[middle].max()).mean()) for e in (free, grooved)]
    assert width[1] < width[0]


def test_a_ball_lights_the_wall_by_the_factor_of_a_sphere() -> None:
    """A sphere of even luminance seen from a plane element: E = pi L (r/d)^2 cos(theta)."""
    lux = wall_lux(np.array([[0.0, 0.0]]), np.array([30.0, 40.0]), 10.0, 120.0, 1000.0)
    assert lux == pytest.approx(math.pi * 1000 * (10 / 130) ** 2 * (120 / 130))
    found = finding(shells(), "shells")
    assert 0 < found.value < 0.5


def test_a_ball_gets_light_from_the_next_as_a_plane_element_gets_from_a_sphere():
    """Middles s apart: (r / (s - r))^2 where they face each other; handbook of view factors, from memory."""
    two = np.array([[0.0, 0.0], [50.0, 0.0]])
    assert most_from_others(two, 10.0) == pytest.approx((10.0 / 40.0) ** 2)
    assert most_from_others(two[:1], 10.0) == 0.0
    grid = np.array([[x, y] for x in (0.0, 50.0, 100.0) for y in (0.0, 50.0, 100.0)])
    assert (10.0 / 40.0) ** 2 < most_from_others(grid, 10.0) < 2.0 * (10.0 / 40.0) ** 2


def test_a_connector_higher_than_the_strip_throws_a_shadow() -> None:
    low = finding(tiles(*_pair(), link_high_mm=3.0), "link shadow")
    high = finding(tiles(*_pair(), link_high_mm=20.0, link_wide_mm=30.0), "link shadow")
    assert low.value < 0.02
    assert high.value > 5 * max(low.value, 1e-3)


def _pair() -> tuple[Tile, Tile]:
    return Tile(sides=4, x_mm=0.0, y_mm=0.0), Tile(sides=4, x_mm=90.0, y_mm=0.0)


def test_a_block_stands_in_the_way_or_it_does_not() -> None:
    start, ends = np.array([[0.0, 0.0, 0.0]]), np.array([[10.0, 0.0, 10.0], [0.0, 10.0, 10.0], [4.0, 0.0, 4.0]])
    low, high = np.array([4.5, -1.0, 0.0]), np.array([5.5, 1.0, 6.0])
    assert blocked_by_block(start, ends, low, high)[:, 0].tolist() == [True, False, False]


def test_supplies_follow_modules_and_copies() -> None:
    board = finding(head(module=ModuleChoice(module="12v-chips-3x3", cct_k=3000.0)), "supply")
    assert board.value == pytest.approx(9.0)
    grid = finding(display(columns=16, rows=8), "supply")  # 128 pixels at 0.3 W
    assert grid.value == pytest.approx(38.4)
    zones = finding(bars(bars=(Bar(length_mm=100.0), Bar(length_mm=100.0))), "supply")
    assert zones.value == pytest.approx(0.2 * 9.6)


def test_the_middle_of_a_wide_edge_lit_face_is_dark_and_of_a_deep_one_is_not() -> None:
    wide = finding(edge_lit(width_mm=500.0, height_mm=400.0, depth_mm=14.0, bar_height_mm=7.0), "rim")
    small = finding(edge_lit(width_mm=140.0, height_mm=80.0, depth_mm=40.0), "rim")
    assert wide.state is State.FAILS
    assert small.value > 2 * wide.value
    fixes = search_fixes("rim", family(edge_lit(width_mm=300.0, height_mm=220.0)), CATALOGUE)
    assert fixes


def test_every_tile_is_told_with_its_leds_and_its_links() -> None:
    chain = finding(tiles(*_pair()), "chain")
    told = {str(figure.name): (str(figure.value), str(figure.how)) for figure in chain.figures}
    assert told["Tile 1"][0].startswith("4 pieces, LEDs 1 to ")
    assert told["Tile 1"][1] == "from the feed, out to 2"
    assert told["Tile 2"][1] == "in from tile 1, the end of the chain"


@pytest.mark.parametrize("stance", ["upright", "lying"])
def test_a_sharp_cut_off_makes_no_light_below_nothing(stance: Any) -> None:
    build = indirect(place="wall", stance=stance, width_mm=1200.0, height_mm=800.0, strip_mm=700.0, groove_depth_mm=5.0)
    evaluation = evaluate(family(build), CATALOGUE)
    assert float(evaluation.luminance_cd_m2.min()) >= 0.0
    assert float(evaluation.illuminance_lx.min()) >= 0.0
