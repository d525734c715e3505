"""Heat of whole builds: good ones and bad ones, what would cool them, and the light of warm LEDs."""

import msgspec
import pytest

from gauze.core.design import Design, RowPlan, StripChoice, with_build
from gauze.core.design.surroundings import Surroundings
from gauze.core.drawing import layers_of
from gauze.core.errors import DesignError
from gauze.core.evaluate import WHILE_DRAGGING, Evaluation, Finding, State, evaluate, find
from gauze.core.evaluate.questions import search_fixes
from gauze.core.evaluate.stages import computed_for_drawing
from gauze.core.families import check_design, lay_out
from gauze.core.thermal.warming import FALLS_PER_K, LABEL_C
from tests.builders import CATALOGUE, CAVITIES, design, emitter, loose_design
from tests.families import FAMILIES, family, head

TIMBER = Surroundings()


def standing(what: Design, **changes: object) -> Design:
    return msgspec.structs.replace(what, surroundings=msgspec.structs.replace(TIMBER, **changes))


def lit(what: Design) -> Evaluation:
    return evaluate(what, CATALOGUE, WHILE_DRAGGING)


def heat(what: Design) -> Finding:
    return next(one for one in find(lit(what)) if one.code == "heat")


def panel(rows: int, strip: str = "24v-white-120") -> Design:
    """A panel of 400 x 300 mm with so many rows of a strip of 9.6 W/m."""
    what = design(face_width_mm=400.0, face_height_mm=300.0, strips=(StripChoice(strip=strip, cct_k=4000.0),))
    return with_build(what, rows=RowPlan(count=rows, spacing_mm=270.0 / rows))


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_every_family_is_told_how_warm_it_gets(name: str) -> None:
    warmth = lit(family(FAMILIES[name])).warmth
    assert warmth is not None
    assert not warmth.chosen
    ids = [piece.id for piece in lay_out(family(FAMILIES[name]), CATALOGUE).pieces]
    assert [one.id for one in warmth.pieces] == ids
    room = warmth.surroundings.ambient_c
    for piece in warmth.pieces:
        assert room <= piece.back_c <= piece.solder_c < 400.0
    assert warmth.hottest.back_w + warmth.hottest.lid_w <= warmth.watts * 1.01


def test_a_good_build_passes_and_a_bad_one_fails() -> None:
    """10 W on 400 x 300 mm stay under 40 degC; 80 W shut against a wall on timber do not: common practice, no source."""
    good, bad = heat(standing(panel(3))), heat(standing(panel(20), against_wall=True))
    assert good.state is State.GOOD
    assert good.value is not None
    assert bad.state is State.FAILS
    assert bad.cautions


def test_what_nobody_chose_is_told_but_never_fails() -> None:
    assert heat(panel(3)).state is State.NOTE
    assert heat(panel(20, "24v-white-240")).state is State.WATCH


def test_metal_spreads_what_timber_keeps_under_the_strip() -> None:
    timber, metal = (lit(standing(panel(4), back=back, back_mm=3.0)).warmth for back in ("timber", "aluminium"))
    assert timber is not None
    assert metal is not None
    assert metal.worst.back_c < timber.worst.back_c - 3.0
    assert metal.worst.back_c == pytest.approx(metal.hottest.back_c, abs=1.0)


def test_a_hotter_room_a_wall_behind_and_a_lid_below_make_it_warmer() -> None:
    usual = heat(standing(panel(8))).value
    for change in ({"ambient_c": 35.0}, {"against_wall": True}):
        assert heat(standing(panel(8), **change)).value > usual
    sunk = heat(standing(panel(8), sink_k_per_w=0.5)).value
    assert sunk < usual


def test_vents_cool_an_upright_box_and_hardly_one_that_lies() -> None:
    drops = []
    for stance in ("upright", "face_up"):
        shut, vented = (
            lit(standing(panel(8), stance=stance, against_wall=True, **vents)).warmth
            for vents in ({}, {"vent_mm2": 2000.0})
        )
        assert shut is not None
        assert vented is not None
        assert vented.hottest.vent_w > 0 == shut.hottest.vent_w
        drops.append(shut.hottest.back_c - vented.hottest.back_c)
    assert drops[0] > 2.0 * drops[1] > 0
    channel = family(FAMILIES["bars"])  # one piece of metal: nothing to open
    assert heat(standing(channel, vent_mm2=2000.0)).value == heat(standing(channel)).value


def test_warm_leds_give_less_light_once_it_is_said_where_they_are() -> None:
    cool, warm = lit(panel(8)), lit(standing(panel(8)))
    assert warm.warmth is not None
    expected = [1.0 - FALLS_PER_K * (one.solder_c - LABEL_C) for one in warm.warmth.pieces]
    assert warm.output.emitted_lm / cool.output.emitted_lm == pytest.approx(sum(expected) / len(expected), rel=1e-3)
    assert lit(msgspec.structs.replace(standing(panel(8)), surroundings=None)).output == cool.output


@pytest.mark.parametrize(
    ("what", "titles"),
    [
        (standing(panel(20), against_wall=True), ("Aluminium back", "Space behind it", "Vents", "Dim to")),
        (
            standing(family(head()), back="plastic", against_wall=True, ambient_c=45.0),
            ("Aluminium back", "Heat sink", "Dim to"),
        ),
    ],
    ids=["panel", "head"],
)
def test_the_fixes_cool_it(what: Design, titles: tuple[str, ...]) -> None:
    before = heat(what)
    assert before.state is State.FAILS
    assert before.value is not None
    fixes = search_fixes("heat", what, CATALOGUE)
    for title in titles:
        assert any(str(fix.title).startswith(title) for fix in fixes), [str(fix.title) for fix in fixes]
    for fix in fixes:
        after = heat(fix.design)
        assert after.limit is not None
        assert before.limit is not None
        assert after.value - after.limit < before.value - before.limit


def test_the_layer_of_heat_is_drawn_where_it_is_said_where_it_stands() -> None:
    for what, drawn in ((panel(3), False), (standing(panel(3)), True)):
        laid = lay_out(what, CATALOGUE)
        layers = layers_of(what, laid, *computed_for_drawing(what, laid, CATALOGUE))
        assert ("heat" in [layer.key for layer in layers]) == drawn


def test_loose_emitters_have_no_watts_and_nothing_is_said() -> None:
    evaluation = lit(loose_design(CAVITIES["box"][0], emitter(10.0, 10.0)))
    assert evaluation.warmth is None
    assert "heat" not in [one.code for one in find(evaluation)]


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"ambient_c": 500.0}, "surroundings.ambient_c"),
        ({"back_mm": 0.0}, "surroundings.back_mm"),
        ({"sink_k_per_w": 0.0}, "surroundings.sink_k_per_w"),
        ({"vent_mm2": 0.0}, "surroundings.vent_mm2"),
        ({"vent_mm2": 1e12}, "surroundings.vent_mm2"),
        ({"ambient_c": float("nan")}, "surroundings.ambient_c"),
    ],
)
def test_impossible_surroundings_are_refused(changes: dict[str, float], field: str) -> None:
    with pytest.raises(DesignError) as told:
        check_design(standing(panel(3), **changes), CATALOGUE)
    assert told.value.field == field
