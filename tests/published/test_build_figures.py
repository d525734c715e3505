"""Figures of the trade for whole builds. Common practice, no published source; the values are those that builders count with."""

import pytest

from gauze.core.design import StripChoice
from gauze.core.design.channel_bar import Bar
from gauze.core.design.tile_wall import Tile
from gauze.core.electrical.loads import loads_of
from gauze.core.electrical.supply import supply_needs
from gauze.core.evaluate import Detail, evaluate, find
from gauze.core.evaluate.finding import Caution
from gauze.core.families import lay_out
from gauze.core.layout.families.channel_bar import ChannelLayout
from tests.builders import CATALOGUE, design
from tests.families import PIXELS, WHITE, bars, display, family, frame, head, shells, strip_display, tiles, tube

QUICK = Detail(fineness=0.4, most_pixels=6_000, target_points=1)


def needs(build):
    made = family(build)
    return supply_needs(lay_out(made, CATALOGUE).pieces, CATALOGUE.supply_ratings_w, made.measured_row_current_a)


def test_pixels_are_sized_at_sixty_milliamps_each():
    """41 x 6 = 246 pixels: 73.8 W, with a fifth over 88.56 W, so a 100 W supply of 20 A."""
    need = needs(strip_display(columns=41, rows=6))[0]
    assert need.loads[0].pixels == 246
    assert need.default.needed_w == pytest.approx(88.56)
    assert need.default.rating_w == 100
    assert need.default.rating_w / need.volts == pytest.approx(20.0)


def test_a_piece_that_draws_so_much_draws_ten_times_that_in_ten_pieces():
    """0.6 A, ten times, is 6 A."""
    ten = bars(bars=(Bar(length_mm=150.0),) * 10, strips=(StripChoice(strip="12v-white-60", cct_k=4000.0),))
    made = family(ten).__class__(name="ten", purpose=design().purpose, build=ten, measured_row_current_a=0.6)
    need = supply_needs(lay_out(made, CATALOGUE).pieces, CATALOGUE.supply_ratings_w, made.measured_row_current_a)[0]
    assert need.measured_w is not None
    assert need.measured_w / need.volts == pytest.approx(6.0)


def test_four_hundred_millimetres_of_threes_are_eight_segments():
    """12 V pixel strip at 60/m in threes has a cut mark every 50 mm."""
    layout = lay_out(
        family(bars(bars=(Bar(length_mm=400.0),), strips=(StripChoice(strip="12v-rgb-pixel-60"),))), CATALOGUE
    )
    assert layout.strips[0].segments == 8


def test_two_kinds_of_volts_need_two_supplies_and_one_needs_one():
    assert [need.volts for need in needs(tube())] == [24.0]
    assert [need.volts for need in needs(head())] == [12.0]
    assert [need.volts for need in needs(shells())] == [5.0]


def test_dimmed_strips_draw_less_and_are_sized_in_full():
    dim = needs(tube(strips=(StripChoice(strip="24v-white-120", cct_k=4000.0, levels=(0.25,)),)))[0]
    full = needs(tube())[0]
    assert dim.set_w == pytest.approx(full.set_w / 4)
    assert dim.default.needed_w == pytest.approx(full.default.needed_w)


def test_every_tile_and_every_shell_counts():
    pair = (Tile(sides=4, x_mm=0.0, y_mm=0.0), Tile(sides=4, x_mm=90.0, y_mm=0.0))
    assert needs(tiles(*pair))[0].label_w == pytest.approx(2 * needs(tiles(pair[0]))[0].label_w)
    assert needs(shells(columns=5, rows=4))[0].loads[0].pixels == 20


def test_loads_say_how_they_come_about():
    made = family(display(columns=16, rows=16))
    load = loads_of(lay_out(made, CATALOGUE).pieces)[0]
    assert load.pieces == 4
    assert load.terms == pytest.approx((4.0, 19.2))
    assert load.label_w == pytest.approx(76.8)
    strip = loads_of(lay_out(family(tube()), CATALOGUE).pieces)[0]
    assert strip.terms[0] * strip.terms[1] == pytest.approx(strip.label_w)
    assert "typical" in strip.source


@pytest.mark.parametrize(("sides", "other_scale"), [(3, 30.0), (4, 45.0), (6, 60.0), (8, 67.5)])
def test_mitres_are_told_by_both_scales_of_the_saw(sides, other_scale):
    """60 off square for a triangle, 45 square, 30 hexagon, 22.5 octagon; saws that read from the other side say 90 less that."""
    evaluation = evaluate(family(frame(sides, 200.0)), CATALOGUE, QUICK)
    assert isinstance(evaluation.layout, ChannelLayout)
    corners = next(one for one in find(evaluation) if one.code == "corners")
    told = next(str(figure.how) for figure in corners.figures if str(figure.name) == "Corner 1")
    assert f"{90 - other_scale:.1f}° off square" in told
    assert f"{other_scale:.1f}° on a saw" in told


@pytest.mark.parametrize(
    ("build", "caution"),
    [
        (tiles(), Caution.OVERHEAD),
        (strip_display(), Caution.FLASHING),
        (tube(), Caution.MAINS),
        (tube(), Caution.CURRENT),
    ],
    ids=["tiles", "pixels", "mains", "current"],
)
def test_cautions_stand_where_they_apply(build, caution):
    findings = find(evaluate(family(build), CATALOGUE, QUICK))
    assert any(caution in finding.cautions for finding in findings)


def test_twice_the_leds_are_not_twice_as_good():
    """Too dense is a mistake as well: twice the LEDs, twice the supply, and behind a deep channel no dot less to be seen."""
    deep = {"depth_mm": 30.0, "width_mm": 24.0, "bars": (Bar(length_mm=200.0),)}
    once = evaluate(family(bars(**deep, strips=WHITE)), CATALOGUE, QUICK)
    twice = evaluate(family(bars(**deep, strips=(StripChoice(strip="24v-white-240", cct_k=4000.0),))), CATALOGUE, QUICK)
    assert once.dots.vanish_distance_mm == twice.dots.vanish_distance_mm == 0.0
    assert twice.supplies[0].label_w == pytest.approx(2 * once.supplies[0].label_w, rel=0.01)


def test_white_inside_gets_more_light_out_than_wood():
    """White inner faces raise output and evenness."""
    white, wood = (
        evaluate(family(tiles(strips=PIXELS, back=finish, walls=finish)), CATALOGUE, QUICK)
        for finish in ("matt-white-paint", "fibreboard")
    )
    assert white.output.efficiency > 1.2 * wood.output.efficiency
    assert white.evenness.min_over_mean > wood.evenness.min_over_mean
