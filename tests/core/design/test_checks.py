import math
from typing import Any

import pytest

from gauze.core.design import RowPlan, StripChoice
from gauze.core.design.strip_panel import check_strip_panel
from gauze.core.errors import CatalogueError, DesignError
from gauze.core.families import check_design
from tests.builders import CATALOGUE, design, panel

BAD = [
    ({"face_width_mm": 0.0}, "build.face_width_mm"),
    ({"face_width_mm": -600.0}, "build.face_width_mm"),
    ({"face_height_mm": 1e9}, "build.face_height_mm"),
    ({"face_height_mm": math.nan}, "build.face_height_mm"),
    ({"depth_mm": 0.0}, "build.depth_mm"),
    ({"depth_mm": math.inf}, "build.depth_mm"),
    ({"depth_mm": 1.0}, "build.depth_mm"),  # less than the height of the LEDs
    ({"end_margin_mm": -1.0}, "build.end_margin_mm"),
    ({"rows": RowPlan(count=3)}, "build.rows"),
    ({"rows": RowPlan(count=3, spacing_mm=40, side_margin_mm=10)}, "build.rows"),
    ({"rows": RowPlan(count=0, spacing_mm=40)}, "build.rows.count"),
    ({"rows": RowPlan(count=3, spacing_mm=-4)}, "build.rows.spacing_mm"),
    ({"diffuser": "gossamer"}, "build.diffuser"),
    ({"back": "velvet"}, "build.back"),
    ({"walls": 1.4}, "build.walls"),
    ({"strips": ()}, "build.strips"),
    ({"strips": (StripChoice(strip="rope"),)}, "build.strips[0].strip"),
    ({"strips": (StripChoice(strip="12v-white-60"),)}, "build.strips[0].cct_k"),
    ({"strips": (StripChoice(strip="12v-white-60", cct_k=9000),)}, "build.strips[0].cct_k"),
    ({"strips": (StripChoice(strip="5v-rgb-pixel-60", cct_k=4000),)}, "build.strips[0].cct_k"),
    ({"strips": (StripChoice(strip="12v-white-60", cct_k=4000, levels=(1.0, 1.0)),)}, "build.strips[0].levels"),
    ({"strips": (StripChoice(strip="12v-white-60", cct_k=4000, levels=(1.2,)),)}, "build.strips[0].levels"),
]


@pytest.mark.parametrize(("changes", "field"), BAD)
def test_what_cannot_stand_is_refused_at_its_dimension(changes: dict[str, Any], field: str) -> None:
    with pytest.raises(DesignError) as refusal:
        check_strip_panel(panel(**changes), CATALOGUE)
    assert refusal.value.field == field
    assert str(refusal.value).endswith(".")


def test_a_sound_panel_passes() -> None:
    check_design(design(), CATALOGUE)


def test_purpose_and_name_are_checked_too() -> None:
    with pytest.raises(DesignError) as refusal:
        check_design(design({"viewing_distance_mm": 1.0}), CATALOGUE)
    assert refusal.value.field == "purpose.viewing_distance_mm"
    assert "20 mm" in str(refusal.value)
    import msgspec

    with pytest.raises(DesignError, match="name"):
        check_design(msgspec.structs.replace(design(), name="x" * 500), CATALOGUE)


def test_the_catalogue_is_large_enough_and_sound() -> None:
    assert len(CATALOGUE.strips) >= 8
    assert len(CATALOGUE.diffusers) >= 8
    assert {strip.volts for strip in CATALOGUE.strips.values()} == {5.0, 12.0, 24.0}
    for strip in CATALOGUE.strips.values():
        assert strip.source
        assert strip.flux_spread > 0
        assert strip.segment_mm >= strip.pitch_mm
        assert strip.emitter_height_mm > 0
        # lumens per watt as such strips have them: a slip of a digit in the data shows here
        assert 10 < strip.flux_lm_per_m / strip.power_w_per_m < 160
    with pytest.raises(CatalogueError, match="Choose one of"):
        CATALOGUE.strip("rope")
