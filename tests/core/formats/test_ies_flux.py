"""Conservation of light, whatever the build: what a file of photometry holds, and the map, is what the balance says.

The candela are integrated here over the zones of the sphere by the midpoint rule on a spline, another way than the writer's.
"""

import msgspec
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import RegularGridInterpolator

from gauze.core.design import Design
from gauze.core.design.cavity import CavityShape
from gauze.core.errors import DesignError
from gauze.core.evaluate import Detail, Evaluation, evaluate, find
from gauze.core.formats.ies import FINE_C_DEG, encode_ies, zonal_flux_lm
from gauze.core.formats.ies_reading import Photometry, decode_ies
from tests.builders import CATALOGUE, CAVITIES, design, emitter, loose_design
from tests.families import FAMILIES, builds, family, indirect

GAMMA_DEG, ROUND_GAMMA_DEG = np.arange(0.0, 90.1, 2.5), np.arange(0.0, 180.1, 2.5)
REST = Detail(fineness=1.0, most_pixels=20_000, target_points=1)
QUICK = Detail(fineness=0.5, most_pixels=8_000, target_points=1)


def flux_of(photometry: Photometry) -> float:
    gamma, c = photometry.gamma_deg, photometry.c_deg
    candela = photometry.candela
    if len(c) == 1:
        c, candela = np.array([0.0, 360.0]), np.repeat(candela, 2, axis=0)
    read = RegularGridInterpolator((c, gamma), candela)
    edges = np.linspace(gamma[0], gamma[-1], 721)
    middles, turn = (edges[1:] + edges[:-1]) / 2.0, (np.arange(144) + 0.5) * 2.5
    values = read(np.stack(np.meshgrid(turn, middles, indexing="ij"), axis=-1)).mean(axis=0)
    zones = 2.0 * np.pi * -np.diff(np.cos(np.radians(edges)))
    return float(values @ zones)


def assert_kept(evaluation: Evaluation) -> None:
    out = evaluation.output.out_lm
    assert flux_of(decode_ies(encode_ies(evaluation))) == pytest.approx(out, rel=0.01, abs=1e-6)
    assert abs(evaluation.light.map_error) < 0.02


def with_sheet(what: Design, sheet: str) -> Design:
    build = what.build
    return (
        what
        if build.diffuser is None
        else msgspec.structs.replace(what, build=msgspec.structs.replace(build, diffuser=sheet))
    )


@pytest.mark.parametrize("sheet", ["satin-acrylic-3"])
@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_every_family_keeps_its_flux(name: str, sheet: str) -> None:
    assert_kept(evaluate(with_sheet(family(FAMILIES[name]), sheet), CATALOGUE, QUICK))


@pytest.mark.parametrize("sheet", ["opal-acrylic-3", "satin-acrylic-3", "clear-acrylic-3"])
@pytest.mark.parametrize("name", [*sorted(CAVITIES), "panel"])
def test_every_cavity_keeps_its_flux(name: str, sheet: str) -> None:
    if name == "panel":
        assert_kept(evaluate(with_sheet(design(), sheet), CATALOGUE, REST))
        return
    shape, place = CAVITIES[name]
    for power in (1.0, 300.0) if sheet != "opal-acrylic-3" else (1.0,):
        lamp = loose_design(shape, emitter(*place, nz=-1.0 if name.startswith("open") else 1.0, m=power))
        evaluation = evaluate(with_sheet(lamp, sheet), CATALOGUE, REST)
        assert evaluation.output.out_lm > 0
        assert_kept(evaluation)


@settings(max_examples=12)
@given(builds(), st.sampled_from(["opal-acrylic-3", "satin-acrylic-3", "printer-paper"]))
def test_random_builds_keep_their_flux(build: object, sheet: str) -> None:
    try:
        evaluation = evaluate(with_sheet(family(build), sheet), CATALOGUE, QUICK)
    except DesignError:
        return
    out = evaluation.output.out_lm
    assert flux_of(decode_ies(encode_ies(evaluation))) == pytest.approx(out, rel=0.01, abs=1e-6)


def test_a_wall_wash_sends_out_no_more_than_its_leds_give() -> None:
    """Each wall is hidden from some directions by the other: what falls back on it is counted once."""
    evaluation = evaluate(family(indirect()), CATALOGUE, REST)
    candela = evaluation.intensity_cd(ROUND_GAMMA_DEG, FINE_C_DEG)
    output = evaluation.output
    assert zonal_flux_lm(ROUND_GAMMA_DEG, FINE_C_DEG, candela) == pytest.approx(output.out_lm, rel=0.02)
    assert output.out_lm < output.emitted_lm


@pytest.mark.parametrize(
    ("shape", "sheet", "power"),
    [
        ({"shape": "frustum", "back_mm": 100, "lid_mm": 400, "depth_mm": 5}, "satin-acrylic-3", 1.0),
        ({"shape": "frustum", "back_mm": 20, "lid_mm": 200, "depth_mm": 3}, "window-frosting-film", 1.0),
        ({"shape": "box", "width_mm": 200, "height_mm": 150, "depth_mm": 20}, "satin-acrylic-3", 1000.0),
    ],
)
def test_flat_funnels_and_pencil_beams_keep_their_flux(shape: dict[str, object], sheet: str, power: float) -> None:
    """Before any scaling in the file the directions hold what leaves, to two per cent."""
    cavity: CavityShape = msgspec.convert(shape, CavityShape, strict=False)
    place = (100.0, 75.0, 0.5) if shape["shape"] == "box" else (4.0, 0.0, 0.5)
    evaluation = evaluate(with_sheet(loose_design(cavity, emitter(*place, m=power)), sheet), CATALOGUE, REST)
    candela = evaluation.intensity_cd(GAMMA_DEG, FINE_C_DEG)
    assert zonal_flux_lm(GAMMA_DEG, FINE_C_DEG, candela) == pytest.approx(evaluation.output.out_lm, rel=0.02)
    assert_kept(evaluation)


@pytest.mark.parametrize("gap_mm", [0.02, 0.05, 0.1, 0.2, 0.5, 1.0])
@pytest.mark.parametrize("name", ["box", "tube", "channel", "sphere"])
def test_an_emitter_at_the_face_puts_its_flux_on_the_map(name: str, gap_mm: float) -> None:
    shape, (x, y, _) = CAVITIES[name]
    top = {"box": 25.0, "tube": 30.0, "channel": 10.0, "sphere": 40.0 + (40.0**2 - 15.0**2) ** 0.5}[name]
    lamp = loose_design(shape, emitter(x, 0.0 if name != "box" else y, top - gap_mm))
    evaluation = evaluate(lamp, CATALOGUE, REST)
    assert_kept(evaluation)
    if gap_mm <= 0.1:
        said = next(finding for finding in find(evaluation) if finding.code == "drawn")
        assert "too close to the face" in str(said.sentence)


def test_a_map_that_misses_its_flux_tells_no_figures_of_the_face() -> None:
    from dataclasses import replace

    shape, place = CAVITIES["box"]
    evaluation = evaluate(loose_design(shape, emitter(*place)), CATALOGUE, REST)
    assert "drawn" not in {finding.code for finding in find(evaluation)}
    for factor, state, told in ((1.5, "fails", False), (1.04, "watch", True)):
        face = replace(evaluation.light.face, direct=factor * evaluation.light.face.direct)
        wrong = replace(evaluation, light=replace(evaluation.light, face=face))
        findings = {finding.code: finding for finding in find(wrong)}
        assert findings["drawn"].state.value == state
        assert ("evenness" in findings) is told
        assert "output" in findings
