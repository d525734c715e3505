import json

import msgspec
import pytest

from gauze.core.design import Design, RowPlan, StripChoice
from gauze.core.errors import Cancelled
from gauze.core.evaluate import Caution, Finding, State, evaluate, find, search_fixes
from gauze.core.evaluate.candidates import light_candidate
from gauze.core.formats.report import report_json, report_text
from gauze.core.optics.target import exposure_f_number
from gauze.core.units import LengthUnit
from gauze.core.words import Reader
from tests.builders import CATALOGUE, design, warm_and_cool


def findings(what: Design) -> dict[str, Finding]:
    return {finding.code: finding for finding in find(evaluate(what, CATALOGUE))}


def test_every_figure_can_say_how_it_was_got() -> None:
    for finding in findings(design(strips=warm_and_cool())).values():
        assert str(finding.sentence).endswith(".")
        assert finding.figures
        for figure in finding.figures:
            assert str(figure.name)
            assert str(figure.value)
            assert str(figure.how) or str(figure.source)


def test_dots_are_judged_from_the_viewing_distance() -> None:
    plain = findings(design(depth_mm=20.0))["dots"]
    assert plain.state is State.FAILS
    assert plain.value > plain.limit == 12.0
    assert plain.fixable
    assert str(plain.sentence).startswith("From 2 m the rows are visible, but “clean” asks for faint or better")
    assert findings(design({"viewing_distance_mm": 20_000.0}, depth_mm=20.0))["dots"].value < plain.value
    hidden = findings(design(depth_mm=70.0))["dots"]
    assert hidden.state is State.GOOD
    assert str(hidden.sentence) == "From 2 m the rows are invisible."


@pytest.mark.parametrize(
    ("changes", "state"),
    [
        ({"standard": "reference"}, State.FAILS),
        ({"standard": "clean"}, State.FAILS),
        ({"standard": "soft"}, State.GOOD),
        ({"use": "lighting"}, State.GOOD),  # light only is usual there
        ({"use": "lighting", "standard": "clean"}, State.FAILS),
        ({"standard": "crisp"}, State.FAILS),  # no cells: the usual one holds
    ],
)
def test_the_standard_that_is_chosen_decides(changes: dict[str, str], state: State) -> None:
    assert findings(design(changes, depth_mm=20.0))["dots"].state is state


def test_a_camera_judges_by_a_plain_limit() -> None:
    plain = findings(design({"viewer": "camera", "camera_contrast_limit": 0.01}, depth_mm=30.0))["dots"]
    assert plain.state is State.FAILS
    assert "to the camera" in str(plain.sentence)
    patient = findings(design({"viewer": "camera", "camera_contrast_limit": 0.05}, depth_mm=30.0))["dots"]
    assert patient.state is State.GOOD
    assert "do not show" in str(patient.sentence)
    fixes = search_fixes("dots", design({"viewer": "camera", "camera_contrast_limit": 0.01}), CATALOGUE)
    assert fixes
    assert all(findings(fix.design)["dots"].state is State.GOOD for fix in fixes)


def test_exposure_by_incident_light() -> None:
    """E = C N^2 / (t S): 2500 lx at 1/50 s and ISO 100 with C = 250 is f/4.47; four times the light is one more doubling."""
    assert exposure_f_number(2500, 1 / 50, 100) == pytest.approx(4.472, abs=1e-3)
    assert exposure_f_number(10_000, 1 / 50, 100) == pytest.approx(2 * exposure_f_number(2500, 1 / 50, 100))


def test_label_watts_name_every_strip() -> None:
    mixed = (StripChoice(strip="24v-white-60", cct_k=4000), StripChoice(strip="24v-white-120", cct_k=4000))
    supply = findings(design(strips=mixed))["supply"]
    label = next(figure for figure in supply.figures if str(figure.name) == "Label watts")
    assert "× 4.8 W/m + " in str(label.how)
    assert "× 9.6 W/m" in str(label.how)


def test_brightness_is_judged_where_it_is_wanted() -> None:
    lamp = findings(design({"use": "lighting", "wanted_illuminance_lx": 100_000.0}))
    assert lamp["target brightness"].state is State.FAILS
    assert lamp["face brightness"].state is State.NOTE
    sign = findings(design({"use": "looked_at", "wanted_luminance_cd_m2": 2500.0}))
    assert sign["face brightness"].state is State.GOOD
    assert sign["target brightness"].state is State.NOTE
    dimmed = findings(design({"use": "looked_at", "wanted_luminance_cd_m2": 100.0}))["face brightness"]
    assert dimmed.state is State.GOOD  # it can be dimmed
    assert str(dimmed.sentence).endswith("the 100 cd/m² you want is reached, at 3% of that.")
    assert dimmed.fixable


def test_a_face_that_dazzles_is_told_and_doubtful_where_it_is_wanted_so_bright() -> None:
    clear = {"diffuser": "clear-acrylic-3", "strips": (StripChoice(strip="24v-white-240", cct_k=4000.0),)}
    told = findings(design({"wanted_luminance_cd_m2": 500.0}, **clear))["glare"]
    assert told.state is State.NOTE
    assert "At the level that you want it does not." in str(told.sentence)
    assert findings(design({"wanted_luminance_cd_m2": 20_000.0}, **clear))["glare"].state is State.WATCH
    assert "glare" not in findings(design())
    assert "glare" not in findings(design({"use": "lighting"}, **clear))


def test_two_whites_tell_their_range_and_their_stripes() -> None:
    both = findings(design(strips=warm_and_cool(), rows=RowPlan(count=6, spacing_mm=60)))
    assert "2700 K to 6500 K" in str(both["colour"].sentence)
    assert both["colour evenness"].state is State.FAILS
    assert "colour evenness" not in findings(design())
    pixels = findings(design(strips=(StripChoice(strip="5v-rgb-pixel-60", levels=(0.0, 0.0, 1.0)),)))
    assert "is a colour" in str(pixels["colour"].sentence)


def test_supply_names_size_and_dangers() -> None:
    supply = findings(design())["supply"]
    assert supply.limit is not None
    assert supply.limit >= 1.2 * supply.value
    assert set(supply.cautions) == {Caution.MAINS, Caution.CURRENT}
    mixed = (StripChoice(strip="12v-white-60", cct_k=4000), StripChoice(strip="24v-white-60", cct_k=4000))
    both = findings(design(strips=mixed))
    assert both["supply 12 V"].state is both["supply 24 V"].state is State.WATCH
    huge = findings(
        design(
            face_width_mm=3000.0,
            face_height_mm=2000.0,
            strips=(StripChoice(strip="24v-white-240", cct_k=4000),),
            rows=RowPlan(count=30, side_margin_mm=30),
            depth_mm=60.0,
        )
    )
    assert huge["supply"].state is State.FAILS
    assert huge["supply"].limit is None


def test_row_ends_tell_what_the_cut_marks_leave() -> None:
    short = findings(design(face_width_mm=645.0))["row ends"]
    assert short.value == pytest.approx(22.5)
    assert "22.5 mm short" in str(short.sentence)
    assert short.fixable
    assert not findings(design())["row ends"].fixable
    assert "0.886 in short" in Reader(LengthUnit.INCH).read(short.sentence)


def test_a_bare_sheet_brings_the_caution_for_eyes() -> None:
    assert findings(design(diffuser="clear-acrylic-3"))["output"].cautions == (Caution.EYES,)
    assert findings(design())["output"].cautions == ()


def test_fixes_for_dots_do_what_they_say() -> None:
    start = design({"standard": "reference"}, depth_mm=26.0)
    assert findings(start)["dots"].state is State.FAILS
    shares: list[float] = []
    fixes = search_fixes("dots", start, CATALOGUE, progress=shares.append)
    assert shares == sorted(shares)
    assert shares[-1] == 1.0
    titles = " | ".join(str(fix.title) for fix in fixes)
    assert "Depth" in titles
    assert "rows" in titles
    for fix in fixes:
        assert findings(fix.design)["dots"].state is State.GOOD, str(fix.title)
    deeper = next(fix for fix in fixes if str(fix.title).startswith("Depth")).design
    half_a_step_less = msgspec.structs.replace(
        deeper, build=msgspec.structs.replace(deeper.build, depth_mm=deeper.build.depth_mm - 1.5)
    )
    assert findings(half_a_step_less)["dots"].state is not State.GOOD  # it is the least depth


def test_a_sheet_is_found_that_hides_the_dots() -> None:
    start = design(depth_mm=45.0, diffuser="satin-acrylic-3")
    sheet = [fix for fix in search_fixes("dots", start, CATALOGUE) if fix.design.build.diffuser != "satin-acrylic-3"]
    assert len(sheet) == 1
    assert findings(sheet[0].design)["dots"].state is State.GOOD


@pytest.mark.parametrize("code", ["target brightness", "face brightness"])
def test_fixes_for_brightness_reach_what_is_wanted(code: str) -> None:
    use = "lighting" if code == "target brightness" else "looked_at"
    wanted = {"use": use, "wanted_illuminance_lx": 2000.0, "wanted_luminance_cd_m2": 3800.0}
    start = design(wanted)
    assert findings(start)[code].state in (State.FAILS, State.WATCH)
    fixes = search_fixes(code, start, CATALOGUE)
    assert fixes
    for fix in fixes:
        assert findings(fix.design)[code].state is State.GOOD, str(fix.title)


def test_too_much_light_is_dimmed() -> None:
    start = design({"wanted_luminance_cd_m2": 300.0})
    dimmed = search_fixes("face brightness", start, CATALOGUE)[0]
    assert dimmed.design.build.strips[0].levels[0] < 0.2
    assert findings(dimmed.design)["face brightness"].state in (State.GOOD, State.WATCH)


def test_fixes_for_evenness_lift_the_darkest_place() -> None:
    start = design(walls="matt-black-paint", depth_mm=50.0)
    before = findings(start)["evenness"].value
    fixes = search_fixes("evenness", start, CATALOGUE)
    assert any("white paint" in str(fix.title) for fix in fixes)
    for fix in fixes:
        assert findings(fix.design)["evenness"].value > before


def test_fixes_for_row_ends_close_the_gap() -> None:
    fixes = search_fixes("row ends", design(face_width_mm=625.0, end_margin_mm=10.0), CATALOGUE)
    assert fixes
    for fix in fixes:
        assert findings(fix.design)["row ends"].value < 0.5


def test_colours_are_mixed_by_depth() -> None:
    start = design(strips=warm_and_cool(), rows=RowPlan(count=12, spacing_mm=33), depth_mm=40.0)
    fixes = search_fixes("colour evenness", start, CATALOGUE)
    assert fixes
    for fix in fixes:
        assert findings(fix.design)["colour evenness"].state is State.GOOD
        assert fix.design.build.depth_mm > 40


@pytest.mark.parametrize("strips", [warm_and_cool(), (StripChoice(strip="24v-two-white-240"),)])
@pytest.mark.parametrize("wanted_k", [3000.0, 4000.0, 5500.0])
def test_levels_are_found_for_a_wanted_white(strips: tuple[StripChoice, ...], wanted_k: float) -> None:
    start = design({"wanted_cct_k": wanted_k}, strips=strips, rows=RowPlan(count=12, spacing_mm=33))
    fixes = search_fixes("colour", start, CATALOGUE)
    assert len(fixes) == 1
    assert findings(fixes[0].design)["colour"].value == pytest.approx(wanted_k, rel=0.005)
    levels = [level for choice in fixes[0].design.build.strips for level in choice.levels]
    assert max(levels) == 1.0


def test_red_green_and_blue_make_a_white_on_the_locus() -> None:
    start = design({"wanted_cct_k": 5000.0}, strips=(StripChoice(strip="5v-rgb-pixel-60"),))
    before = findings(start)["colour"]
    assert before.state is State.WATCH
    assert "You want 5000 K" in str(before.sentence)
    fixed = findings(search_fixes("colour", start, CATALOGUE)[0].design)["colour"]
    assert fixed.value == pytest.approx(5000, rel=0.005)
    assert "looks white" in str(fixed.sentence)
    assert fixed.state is State.GOOD


def test_a_white_out_of_reach_offers_nothing() -> None:
    assert search_fixes("colour", design({"wanted_cct_k": 9000.0}, strips=warm_and_cool()), CATALOGUE) == []
    single = design({"wanted_cct_k": 3000.0})
    assert findings(single)["colour"].state is State.WATCH
    assert not findings(single)["colour"].fixable
    assert search_fixes("colour", single, CATALOGUE) == []


def test_a_search_can_be_stopped() -> None:
    with pytest.raises(Cancelled):
        search_fixes("dots", design(), CATALOGUE, cancelled=lambda: True)
    assert search_fixes("no such finding", design(), CATALOGUE) == []


def test_candidates_show_the_design_or_say_why_not() -> None:
    sheet = light_candidate(design(), CATALOGUE, "diffuser", "tracing-paper", 0, lambda: False)
    assert sheet.evaluation is not None
    assert sheet.design.build.diffuser == "tracing-paper"
    strip = light_candidate(design(), CATALOGUE, "strip", "5v-rgb-pixel-60", 0, lambda: False)
    assert strip.design.build.strips[0].cct_k is None
    narrow = design(face_width_mm=55.0)
    refused = light_candidate(narrow, CATALOGUE, "strip", "24v-white-60", 0, lambda: False)
    assert refused.evaluation is None
    assert "segment" in refused.refusal


def test_reports_carry_everything() -> None:
    what = design()
    found = list(findings(what).values())
    body = json.loads(report_json(what, found))
    assert [finding["code"] for finding in body["findings"]] == [finding.code for finding in found]
    assert {"value", "unit", "limit", "state", "figures", "sentence"} <= set(body["findings"][0])
    text = report_text(what, found)
    for finding in found:
        assert str(finding.sentence) in text
