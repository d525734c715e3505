"""The spread of the catalogue carried into what is said: sums of squares by hand, and verdicts at its edges."""

import math

import msgspec
import pytest

from gauze.core.design import Design, StripChoice
from gauze.core.evaluate import Detail, Evaluation, State, evaluate, find
from gauze.core.evaluate.spread import brightness_spread
from tests.builders import CATALOGUE, design, loose_design, warm_and_cool
from tests.families import family, head, shells, tube

QUICK = Detail(fineness=0.5, most_pixels=2_000, target_points=1)


def quick(what: Design) -> Evaluation:
    return evaluate(what, CATALOGUE, QUICK)


def test_strip_and_sheet_are_independent() -> None:
    evaluation = quick(design())
    strip = CATALOGUE.strip(evaluation.design.strips[0].strip)
    found = brightness_spread(evaluation)
    assert found is not None
    assert strip.flux_spread > 0.0
    assert found.share == pytest.approx(math.hypot(strip.flux_spread, evaluation.diffuser.spread))
    assert len(found.terms) == 2


def test_two_whites_of_one_strip_are_off_together() -> None:
    one, two = quick(design()), quick(design(strips=warm_and_cool()))
    names = {choice.strip for choice in two.design.strips}
    assert len(names) == 1
    spreads = [brightness_spread(one), brightness_spread(two)]
    assert spreads[0] is not None
    assert spreads[1] is not None
    assert spreads[0].share == pytest.approx(spreads[1].share)


def test_kinds_of_strip_are_weighted_by_their_flux() -> None:
    kinds = ("24v-white-120", "5v-rgb-pixel-60")
    strips = (StripChoice(strip=kinds[0], cct_k=4000.0), StripChoice(strip=kinds[1]))
    evaluation = quick(design(strips=strips))
    flux = dict.fromkeys(kinds, 0.0)
    for emitters in evaluation.layout.as_kind(type(evaluation.layout)).rows_in_box.emitters:
        flux[kinds[emitters.channel.strip_index]] += float(emitters.flux_lm.sum())
    terms = [CATALOGUE.strip(key).flux_spread * flux[key] / sum(flux.values()) for key in kinds]
    found = brightness_spread(evaluation)
    assert found is not None
    assert found.share == pytest.approx(math.hypot(*terms, evaluation.diffuser.spread), rel=1e-3)


@pytest.mark.parametrize("build", [tube(), head(), shells()], ids=lambda build: type(build).__name__)
def test_every_lamp_of_the_catalogue_has_a_spread(build: object) -> None:
    found = brightness_spread(quick(family(build)))
    assert found is not None
    assert 0.05 < found.share < 0.6


def test_fluxes_given_by_the_builder_leave_only_the_sheet() -> None:
    from tests.builders import CAVITIES, emitter

    shape, place = CAVITIES["box"]
    found = brightness_spread(quick(loose_design(shape, emitter(*place))))
    assert found is None or len(found.terms) == 1


def test_a_verdict_fails_where_even_the_most_it_may_be_is_too_little() -> None:
    plain = quick(design())
    found = brightness_spread(plain)
    assert found is not None
    reached = plain.evenness.mean_cd_m2
    for wanted, state in (
        (reached * 0.99, State.GOOD),
        (reached * (1.0 + 0.9 * found.share), State.WATCH),
        (reached * (1.0 + 1.1 * found.share), State.FAILS),
    ):
        purpose = msgspec.structs.replace(plain.design.purpose, use="looked_at", wanted_luminance_cd_m2=wanted)
        finding = next(
            one
            for one in find(quick(msgspec.structs.replace(plain.design, purpose=purpose)))
            if one.code == "face brightness"
        )
        assert finding.state is state
        assert finding.spread == pytest.approx(reached * found.share)
        assert "±" in str(finding.sentence)
