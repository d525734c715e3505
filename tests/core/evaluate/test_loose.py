"""Loose emitters judged: findings, fixes, colours, the target."""

import math

import msgspec
import numpy as np
import pytest

from gauze.core.design.cavity import BaffledShape, BoxShape, SphereShape
from gauze.core.evaluate import WHILE_DRAGGING, Evaluation, State, evaluate, find, search_fixes
from gauze.core.evaluate.findings.colour import colour_spread
from gauze.core.evaluate.profile import profile_at
from gauze.core.optics.cavity.outlook import target_map
from gauze.core.optics.target import TargetPlane
from tests.builders import CATALOGUE, CAVITIES, design, emitter, loose_design, with_purpose

BOX = BoxShape(width_mm=120.0, height_mm=80.0, depth_mm=30.0)


def grid(columns: int, rows: int, **changes):
    def one(i: int, j: int):
        own = {key: value(i, j) if callable(value) else value for key, value in changes.items()}
        return emitter((i + 0.5) * 120.0 / columns, (j + 0.5) * 80.0 / rows, 1.5, **own)

    return tuple(one(i, j) for j in range(rows) for i in range(columns))


def lit(*emitters, shape=BOX, **changes) -> Evaluation:
    return evaluate(loose_design(shape, *emitters, **changes), CATALOGUE, WHILE_DRAGGING)


def by_code(evaluation: Evaluation) -> dict:
    return {finding.code: finding for finding in find(evaluation)}


@pytest.mark.parametrize("name", CAVITIES)
def test_every_cavity_is_judged_and_every_figure_says_how_it_was_got(name):
    shape, place = CAVITIES[name]
    findings = find(lit(emitter(*place), shape=shape))
    assert {"dots", "evenness", "output"} <= {finding.code for finding in findings}
    for finding in findings:
        assert str(finding.sentence)
        assert all(str(figure.how) for figure in finding.figures)


def test_closer_emitters_hide_their_dots():
    sparse, dense = by_code(lit(*grid(3, 2)))["dots"], by_code(lit(*grid(12, 8)))["dots"]
    assert sparse.state is not State.GOOD
    assert dense.value < sparse.value


def test_crosstalk_is_told_between_partitions():
    cells = BaffledShape(
        columns=3, rows=3, pitch_x_mm=20.0, pitch_y_mm=20.0, depth_mm=15.0, partition_mm=1.0, partition_height_mm=9.0
    )
    finding = by_code(lit(emitter(30.0, 30.0), shape=cells))["crosstalk"]
    assert "next to a lit one" in str(finding.sentence)
    assert 0 < finding.value < 1
    assert "crosstalk" not in by_code(lit(emitter(30.0, 30.0)))


def test_more_than_three_colours_add_up_as_xyz():
    """Seven colours at once, carried as X, Y and Z, look as each of them alone would, added."""
    colours = (2000.0, 2700.0, 3500.0, 4500.0, 5500.0, 6500.0, 9000.0)
    emitters = tuple(emitter(10.0 + 15 * i, 40.0, cct_k=cct_k) for i, cct_k in enumerate(colours))
    together = lit(*emitters)
    alone = [lit(one) for one in emitters]
    assert len(together.channels) == 7
    for other in alone:
        if other.xyz.shape != together.xyz.shape:
            return  # another grid of pixels: the mean below is what is compared
    total = sum(other.xyz.astype(float) for other in alone)
    assert together.xyz == pytest.approx(total, rel=0.02, abs=0.01 * float(total.max()))
    assert together.mean_xyz == pytest.approx(sum(other.mean_xyz for other in alone), rel=3e-3)


def test_a_sphere_lights_a_target_by_the_inverse_square():
    """Evenly lit, it is a Lambertian ball: E = L pi R^2 / D^2 to its middle, far off."""
    found = lit(emitter(0, 0, 0.1), shape=SphereShape(diameter_mm=60.0), diffuser="dense-opal-acrylic-3")
    lux = target_map(found.light.face, TargetPlane(3000.0), points=1).illuminance_lx.item()
    luminance = found.evenness.mean_cd_m2
    assert lux == pytest.approx(luminance * math.pi * 0.03**2 / 3.03**2, rel=0.03)


def test_intensity_and_target_agree_far_away():
    found = lit(*grid(4, 3))
    on_axis = float(found.intensity_cd(np.zeros(1), np.zeros(1))[0, 0])
    lux = target_map(found.light.face, TargetPlane(5000.0), points=1).illuminance_lx.item()
    assert lux == pytest.approx(on_axis / 25.0, rel=3e-3)


# -- fixes -----------------------------------------------------------------------------------------------------------------


def test_more_depth_hides_the_dots():
    sparse = with_purpose(loose_design(BOX, *grid(4, 3)), standard="reference")
    fixes = search_fixes("dots", sparse, CATALOGUE)
    deeper = next(fix for fix in fixes if str(fix.title).startswith("Depth"))
    assert deeper.design.loose.cavity.depth_mm > 30
    after = evaluate(deeper.design, CATALOGUE)
    assert after.dots.visibility(2000.0) < 1.1
    assert len(deeper.design.loose.emitters) == 12


def test_a_better_order_of_two_colours_is_found():
    """Warm to the left, cool to the right mixes worst; alternating LEDs mix."""
    halves = grid(6, 4, cct_k=lambda i, _j: 2700.0 if i < 3 else 6500.0)
    apart = loose_design(BOX, *halves)
    order = search_fixes("colour evenness", apart, CATALOGUE)[0]
    assert "alternately" in str(order.title)
    before, after = (evaluate(one, CATALOGUE, WHILE_DRAGGING) for one in (apart, order.design))
    assert colour_spread(after) < 0.5 * colour_spread(before)
    there, here = (sorted((e.cct_k, e.flux_lm) for e in one.loose.emitters) for one in (order.design, apart))
    assert there == here


def test_flux_for_a_wanted_white_reaches_it():
    mixed = loose_design(BOX, *grid(6, 4, cct_k=lambda i, j: 2700.0 if (i + j) % 2 else 6500.0))
    wanted = msgspec.structs.replace(mixed, purpose=msgspec.structs.replace(mixed.purpose, wanted_cct_k=3500.0))
    (fix,) = search_fixes("colour", wanted, CATALOGUE)
    finding = by_code(evaluate(fix.design, CATALOGUE, WHILE_DRAGGING))["colour"]
    assert finding.value == pytest.approx(3500.0, abs=25)


def test_white_inside_is_offered_where_it_evens():
    fixes = search_fixes("evenness", loose_design(BOX, *grid(3, 2), walls=0.1, back=0.1), CATALOGUE)
    (white,) = (fix for fix in fixes if "inside" in str(fix.title))
    assert white.design.loose.walls == white.design.loose.back == "matt-white-paint"


# -- of panels -------------------------------------------------------------------------------------------------------------


def test_the_widest_pitch_that_a_sheet_hides():
    """One row fewer would show: the search ends at the edge."""
    deep = design({"standard": "reference"}, depth_mm=110.0)
    finding = by_code(evaluate(deep, CATALOGUE))["dots"]
    assert finding.state is State.GOOD
    assert finding.fixable
    (fix,) = search_fixes("dots", deep, CATALOGUE)
    assert "the widest spacing that this sheet hides" in str(fix.title)
    found = fix.design.panel.rows
    assert found.count < 11
    assert evaluate(fix.design, CATALOGUE).dots.visibility(2000.0) < 1
    fewer = msgspec.structs.replace(found, count=found.count - 1)
    bolder = msgspec.structs.replace(fix.design, build=msgspec.structs.replace(fix.design.panel, rows=fewer))
    assert evaluate(bolder, CATALOGUE).dots.visibility(2000.0) > 0.9


def test_cells_that_differ_are_a_picture_and_no_fault():
    """Between partitions a dark cell beside a lit one is meant; what is judged is each cell by itself."""
    cells = BaffledShape(
        columns=3, rows=2, pitch_x_mm=20.0, pitch_y_mm=20.0, depth_mm=15.0, partition_mm=1.0, partition_height_mm=13.0
    )
    picture = (emitter(10.0, 10.0, cct_k=2000.0), emitter(50.0, 30.0, cct_k=9000.0))
    findings = by_code(lit(*picture, shape=cells))
    assert findings["evenness"].state is State.NOTE
    assert findings["dots"].state is State.NOTE
    assert "the cells can be told apart, as pixels should be" in str(findings["dots"].sentence)
    assert "colour evenness" not in findings
    assert not any(findings[code].fixable for code in ("evenness", "dots"))


def test_the_profile_is_the_row_of_the_map_as_far_as_the_face_goes():
    shape, place = CAVITIES["prism"]
    found = lit(emitter(*place), emitter(place[0] + 12, place[1], 2.0), shape=shape)
    row = len(found.y_mm) // 3
    profile = profile_at(found, float(found.y_mm[row]))
    assert profile is not None
    inside = found.inside[row]
    assert 0 < inside.sum() < len(inside)
    assert profile.luminance == pytest.approx(found.luminance_cd_m2[row, inside])
    assert profile.x_mm == pytest.approx(found.x_mm[inside])
    low, high = profile.band
    assert (low <= profile.trend).all()
    assert (profile.trend <= high).all()
    alone = profile_at(lit(emitter(*place), shape=shape), 35.0)
    assert alone is not None
    assert alone.threshold == 0.0  # one emitter has no pitch
