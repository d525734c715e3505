"""Worked figures of the trade (common practice, no published source)."""

import pytest

from gauze.core.design import RowPlan, StripChoice
from gauze.core.electrical.supply import next_rating_w, supply_needs, worst_case_w
from gauze.core.families import lay_out
from tests.builders import CATALOGUE, design, layout


def test_pixels_at_full_white_draw_60_milliamps_each() -> None:
    """246 pixels at 0.3 W are 73.8 W, with 20 % over 88.56 W, so a 100 W, 20 A supply."""
    assert worst_case_w(1) == pytest.approx(0.3)
    assert worst_case_w(246) == pytest.approx(73.8)
    assert 1.2 * worst_case_w(246) == pytest.approx(88.56)
    rating = next_rating_w(1.2 * worst_case_w(246), CATALOGUE.supply_ratings_w)
    assert rating == 100
    assert rating / 5 == 20


def test_300_leds_on_a_five_metre_reel_are_60_to_the_metre() -> None:
    strip = CATALOGUE.strip("12v-white-60")
    assert 5 * strip.density_per_m == 300
    assert strip.pitch_mm == pytest.approx(16.667, abs=1e-3)


def test_400_mm_of_12_v_pixel_strip_are_8_segments() -> None:
    strip = CATALOGUE.strip("12v-rgb-pixel-60")
    assert strip.segment_mm == pytest.approx(50.0)
    rows = layout(
        face_width_mm=400.0,
        rows=RowPlan(count=1, side_margin_mm=200.0),
        strips=(StripChoice(strip="12v-rgb-pixel-60"),),
    ).rows
    assert rows[0].segments == 8
    assert rows[0].start_gap_mm == pytest.approx(0.0, abs=1e-9)


def test_label_watts_over_volts_are_amps() -> None:
    """18 W at 12 V is 1.5 A: 3.75 m of 4.8 W/m strip."""
    changes = {"face_width_mm": 3750.0, "rows": RowPlan(count=1, side_margin_mm=200.0)}
    need = supply_needs(
        lay_out(design(**changes), CATALOGUE).pieces,
        CATALOGUE.supply_ratings_w,
        design(**changes).measured_row_current_a,
    )[0]
    assert need.label_w == pytest.approx(18.0)
    assert need.label_a == pytest.approx(1.5)


def test_a_piece_of_point_six_amps_ten_times_is_six_amps() -> None:
    import msgspec

    changes = {"rows": RowPlan(count=10, spacing_mm=36.0)}
    measured = msgspec.structs.replace(design(**changes), measured_row_current_a=0.6)
    need = supply_needs(
        lay_out(design(**changes), CATALOGUE).pieces, CATALOGUE.supply_ratings_w, measured.measured_row_current_a
    )[0]
    assert need.measured_w is not None
    assert need.measured_w / need.volts == pytest.approx(6.0)
    assert need.default.needed_w == pytest.approx(
        1.2 * 72.0
    )  # the measured watts, with the same fifth over as the label's
    assert need.default.rating_w == 100


def test_the_80_percent_rule_stands_beside_the_default() -> None:
    need = supply_needs(
        lay_out(design(), CATALOGUE).pieces, CATALOGUE.supply_ratings_w, design().measured_row_current_a
    )[0]
    by_name = {str(school.name): school for school in need.schools}
    assert str(need.default.name) == "Worst case with 20 % over"
    assert by_name["80 % rule"].needed_w == pytest.approx(need.label_w / 0.8)
    assert by_name["Exact label watts"].needed_w == pytest.approx(need.label_w)
    assert need.default.needed_w == pytest.approx(1.2 * need.label_w)


def test_more_than_any_stocked_supply_gives_none() -> None:
    assert next_rating_w(601, CATALOGUE.supply_ratings_w) is None
    assert next_rating_w(600, CATALOGUE.supply_ratings_w) == 600
