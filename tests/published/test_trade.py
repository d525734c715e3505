"""Verdicts against the trade's: builds from good ones to plain mistakes, and rules of thumb. Common practice, no source."""

import pytest

from bench.trade import CASES, Case, findings_of
from gauze.core.design import RowPlan, StripChoice
from gauze.core.evaluate import AT_REST, Evaluation, State, evaluate, verdict_of
from gauze.core.evaluate.standards import STANDARDS, STEPS, step_of
from gauze.core.optics.visibility import contrast_sensitivity
from tests.builders import CATALOGUE, design

_BY_NAME = {case.name: case for case in CASES}


@pytest.mark.parametrize("case", CASES, ids=lambda case: case.name)
def test_a_build_is_judged_as_its_builder_judges_it(case: Case) -> None:
    findings = findings_of(case, CATALOGUE)
    assert verdict_of(findings).state is case.builder
    blamed = {finding.code for finding in findings if finding.state is case.builder}
    assert set(case.codes) <= blamed or case.builder is State.GOOD


def test_the_table_has_good_and_bad_builds_of_every_family() -> None:
    assert len(CASES) >= 20
    families = {type(case.build).__name__ for case in CASES}
    assert len(families) == 9  # all but loose emitters, which stand for any
    for state in (State.GOOD, State.FAILS):
        assert sum(case.builder is state for case in CASES) >= 8


def _lit(case: Case) -> Evaluation:
    return evaluate(case.design, CATALOGUE, AT_REST)


def _visibility(name: str) -> float:
    evaluation = _lit(_BY_NAME[name])
    return evaluation.dots.visibility(evaluation.design.purpose.viewing_distance_mm)


@pytest.mark.parametrize("spacing_mm", [20.0, 33.0, 45.0])
def test_opal_as_far_away_as_the_emitters_are_apart_is_clean_and_half_as_far_is_not(spacing_mm: float) -> None:
    def visibility(depth_mm: float) -> float:
        rows = RowPlan(count=7, spacing_mm=spacing_mm)
        strips = (StripChoice(strip="12v-white-60", cct_k=4000.0),)
        build = {"face_height_mm": 7 * spacing_mm, "rows": rows, "strips": strips, "depth_mm": depth_mm}
        return evaluate(design(**build), CATALOGUE, AT_REST).dots.visibility(2000.0)

    assert visibility(spacing_mm) <= STANDARDS["clean"].passes_to
    assert visibility(spacing_mm / 2.0) > STANDARDS["clean"].fails_from


def test_strip_on_both_flanks_of_a_slit_tube_shows_its_dots_a_step_less_than_on_its_back() -> None:
    flanks = _BY_NAME["Slit tube, strips on both flanks, white sleeve"]
    steps = []
    for carrier in ("flanks", "back"):
        one = Case(flanks.name, type(flanks.build)(**_fields(flanks.build) | {"carrier": carrier}), State.GOOD, "")
        steps.append(STEPS.index(step_of(_lit(one).dots.visibility(2000.0))))
    assert steps[0] < steps[1]


def _fields(build: object) -> dict[str, object]:
    return {name: getattr(build, name) for name in type(build).__struct_fields__}


def test_a_channel_needs_a_denser_strip_the_shallower_it_is() -> None:
    shown = {
        (depth, density): _visibility(f"Shelf: 15 x {depth} mm channel, opal, {density}/m")
        for depth, density in ((10, 60), (10, 120), (5, 120), (5, 240))
    }
    soft = STANDARDS["soft"]
    assert max(shown[10, 120], shown[5, 240]) <= soft.passes_to
    assert min(shown[10, 60], shown[5, 120]) > soft.fails_from


def test_what_passes_as_clean_is_a_ripple_of_one_to_three_per_cent() -> None:
    """Weber's fraction: at a glance a step of 1 to 2 % is just seen on a bright face (any handbook of vision, from memory)."""
    frequencies = [2.0, 4.0, 8.0]  # cycles per degree, where an eye is keenest
    for luminance in (100.0, 1000.0, 5000.0):
        keenest = max(float(contrast_sensitivity(u, luminance, 60.0)) for u in frequencies)
        assert 0.01 <= STANDARDS["clean"].passes_to / keenest <= 0.04


def test_standards_grow_milder_in_the_order_in_which_they_are_offered() -> None:
    limits = [(one.passes_to, one.fails_from) for one in STANDARDS.values()]
    assert limits == sorted(limits)
    for one in STANDARDS.values():
        assert one.passes_to <= one.fails_from
        assert one.uneven_below <= one.even_from
        assert one.rim_to <= one.rim_fails_from
