"""Units that differ in strength along a line that drops: added up of a few patterns, against each lit by itself."""

from dataclasses import replace

import msgspec
import numpy as np
import pytest

from gauze.core.design import Design, StripChoice
from gauze.core.design.channel_bar import Bar
from gauze.core.design.tile_wall import Tile
from gauze.core.design.wiring import Wiring
from gauze.core.errors import carry_on
from gauze.core.evaluate import Detail, evaluate
from gauze.core.evaluate.light.group import GroupFaceLight
from gauze.core.evaluate.light.one_cavity import forget_faces, light_one_cavity
from gauze.core.evaluate.light.units import light_units
from tests.builders import CATALOGUE
from tests.families import bars, family, tiles

DETAIL = Detail(fineness=1.0, most_pixels=20_000, target_points=1)
PIXELS = (StripChoice(strip="5v-rgb-pixel-60"),)


def wired(what: Design, **wiring: object) -> Design:
    return msgspec.structs.replace(what, wiring=Wiring(**wiring))


BUILDS = {
    "bars that fade": wired(
        family(bars(bars=tuple(Bar(length_mm=600.0) for _ in range(9)))),
        wire_mm2=0.25,
        scheme="in_a_row",
        lead_mm=4000.0,
    ),
    "tiles that turn pink": wired(
        family(tiles(*(Tile(sides=4, x_mm=90.0 * (i % 4), y_mm=90.0 * (i // 4)) for i in range(8)))),
        wire_mm2=0.14,
        lead_mm=1500.0,
    ),
    "bars of pixels": wired(
        family(bars(bars=tuple(Bar(length_mm=500.0) for _ in range(8)), strips=PIXELS, width_mm=24.0)), wire_mm2=1.5
    ),
}


@pytest.mark.parametrize("name", BUILDS)
def test_added_up_they_are_what_each_is_by_itself(name: str) -> None:
    design = BUILDS[name]
    evaluation = evaluate(design, CATALOGUE, DETAIL)
    light = evaluation.light
    assert isinstance(light, GroupFaceLight)
    cavities = evaluation.layout.cavities
    assert len(cavities) > 5
    forget_faces()
    each = [light_one_cavity(one, design.build.layers, CATALOGUE, DETAIL, carry_on) for one in cavities]
    for cavity, added, alone in zip(cavities, light.faces, each, strict=True):
        assert added.emitted_lm == pytest.approx(alone.emitted_lm, rel=1e-6, abs=1e-9)
        ours, theirs = (face.luminance @ face.basis_xyz for face in (added, alone))
        assert ours.shape == theirs.shape
        most = max(float(theirs[:, 1].max()), 1e-9)
        assert np.sqrt(np.mean((ours - theirs) ** 2)) < 0.004 * most, cavity.flux_lm
        assert np.abs(ours - theirs).max() < 0.015 * most
        assert added.lid_flux_lm == pytest.approx(alone.lid_flux_lm, rel=0.01, abs=1e-6)
        assert abs(added.balance_error) < 1e-3


def test_what_no_pattern_describes_is_lit_by_itself() -> None:
    evaluation = evaluate(BUILDS["bars of pixels"], CATALOGUE, DETAIL)
    cavities = list(evaluation.layout.cavities)
    rng = np.random.default_rng(3)
    cavities[2] = replace(cavities[2], flux_lm=cavities[2].flux_lm * rng.uniform(0.2, 1.0, cavities[2].emitter_count))
    layers = evaluation.design.build.layers
    added = light_units(cavities, layers, CATALOGUE, DETAIL, carry_on)[2]
    alone = light_one_cavity(cavities[2], layers, CATALOGUE, DETAIL, carry_on)
    assert added.luminance @ added.basis_xyz == pytest.approx(alone.luminance @ alone.basis_xyz)


def test_a_few_are_lit_side_by_side_each_as_strong_as_it_is_even_a_dark_one() -> None:
    evaluation = evaluate(BUILDS["bars that fade"], CATALOGUE, DETAIL)
    first = evaluation.layout.cavities[0]
    fading = first.flux_lm * np.linspace(1.0, 0.4, first.emitter_count)
    units = [first, replace(first, flux_lm=fading), replace(first, flux_lm=np.zeros_like(fading))]
    layers = evaluation.design.build.layers
    faces = light_units(units, layers, CATALOGUE, DETAIL, carry_on)
    for unit, face in zip(units, faces, strict=True):
        alone = light_one_cavity(unit, layers, CATALOGUE, DETAIL, carry_on)
        assert face.luminance @ face.basis_xyz == pytest.approx(alone.luminance @ alone.basis_xyz, rel=1e-4, abs=1e-6)
        assert face.emitted_lm == pytest.approx(unit.flux_lm.sum())
        assert abs(face.balance_error) < 1e-3


@pytest.mark.parametrize("left", [(0,), (1,), (2,), (0, 2)])
def test_colours_that_give_no_light_anywhere_are_dark(left: tuple[int, ...]) -> None:
    """As at the far end of a long line, where only red is left; each unit is still what it is by itself."""
    design = BUILDS["tiles that turn pink"]
    units = []
    for cavity in evaluate(design, CATALOGUE, DETAIL).layout.cavities:
        assert cavity.channel is not None
        units.append(replace(cavity, flux_lm=cavity.flux_lm * np.isin(cavity.channel, left)))
    layers = design.build.layers
    forget_faces()
    for unit, face in zip(units, light_units(units, layers, CATALOGUE, DETAIL, carry_on), strict=True):
        ours = face.luminance @ face.basis_xyz
        alone = light_one_cavity(unit, layers, CATALOGUE, DETAIL, carry_on)
        theirs = alone.luminance @ alone.basis_xyz
        assert np.abs(ours - theirs).max() < 0.015 * max(float(theirs[:, 1].max()), 1e-9)
