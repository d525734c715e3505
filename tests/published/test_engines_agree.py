"""Two models set against each other: what a family is lit by, and the same thing said another way.

The engine for panels and the one for any cavity share no code but the far kernel; a tile that is lit from the back is a panel, a
display without partitions too, and every family is loose emitters in a shape.
"""

import math

import numpy as np
import pytest

from gauze.core.design import Design, LooseEmitters, RowPlan, StripPanel
from gauze.core.design.build import FamilyBuild
from gauze.core.design.cavity import CavityShape
from gauze.core.design.channel_bar import Bar, Frame
from gauze.core.design.loose import LooseEmitter
from gauze.core.design.tile_wall import Tile
from gauze.core.evaluate import AT_REST, Detail, Evaluation, evaluate
from gauze.core.families import lay_out
from gauze.core.layout import CavityLayout, Layout
from gauze.core.optics.colour import channel_xyz
from tests.builders import CATALOGUE, purpose
from tests.families import PIXELS, WHITE, bars, edge_lit, family, head, indirect, strip_display, tiles, tube

EXACT = Detail(fineness=1.0, most_pixels=20_000, target_points=5)


def as_loose(build: FamilyBuild, unit: CavityLayout) -> Evaluation:
    """The emitters of a build one by one, in the shape that holds them."""
    chromaticity = []
    for channel in unit.channels:
        xyz = channel_xyz(channel)
        chromaticity.append((float(xyz[0] / xyz.sum()), float(xyz[1] / xyz.sum())))
    assert unit.channel is not None
    emitters = tuple(
        LooseEmitter(
            x_mm=float(x),
            y_mm=float(y),
            z_mm=float(z),
            nx=float(a),
            ny=float(b),
            nz=float(c),
            flux_lm=float(flux),
            m=float(power),
            cct_k=0.0,
            cie_x=chromaticity[index][0],
            cie_y=chromaticity[index][1],
        )
        for (x, y, z), (a, b, c), flux, power, index in zip(
            unit.places_mm.tolist(),
            unit.axes.tolist(),
            unit.flux_lm.tolist(),
            unit.power.tolist(),
            unit.channel.tolist(),
            strict=True,
        )
    )
    shape: CavityShape = unit.shape
    loose = LooseEmitters(
        cavity=shape,
        emitters=emitters,
        diffuser=build.diffuser,
        back=build.back,
        walls=build.walls,
        emitter_size_mm=unit.emitter_size_mm,
    )
    return evaluate(Design(name="loose", purpose=purpose(), build=loose), CATALOGUE, EXACT)


@pytest.mark.parametrize(
    "build",
    [tube(), tube(lit_deg=120.0, carrier="flanks"), edge_lit(), head(), indirect(place="wall")],
    ids=["tube", "slit tube", "edge-lit", "head", "wall"],
)
def test_a_family_is_lit_as_its_emitters_one_by_one(build: FamilyBuild) -> None:
    whole = evaluate(family(build), CATALOGUE, EXACT)
    layout = lay_out(family(build), CATALOGUE)
    assert isinstance(layout, Layout)
    loose = as_loose(build, layout.cavity)
    assert loose.output.out_lm == pytest.approx(whole.output.out_lm, rel=1e-4)
    assert loose.evenness.mean_cd_m2 == pytest.approx(whole.evenness.mean_cd_m2, rel=1e-3)
    assert loose.target_lx == pytest.approx(whole.target_lx, rel=1e-3)
    assert loose.mean_xyz == pytest.approx(whole.mean_xyz, rel=1e-3)


def _panel_of(side_mm: float, depth_mm: float, lines: int, spacing_mm: float) -> Evaluation:
    height = CATALOGUE.strip(WHITE[0].strip).emitter_height_mm
    panel = StripPanel(
        face_width_mm=side_mm,
        face_height_mm=side_mm,
        depth_mm=depth_mm - height,
        row_direction="along_width",
        rows=RowPlan(count=lines, spacing_mm=spacing_mm) if lines > 1 else RowPlan(count=1, side_margin_mm=side_mm / 2),
        end_margin_mm=2.0,
        strips=WHITE,
        diffuser="opal-acrylic-3",
        back="matt-white-paint",
        walls="matt-white-paint",
    )
    return evaluate(Design(name="panel", purpose=purpose(), build=panel), CATALOGUE, AT_REST)


def test_a_square_tile_lit_from_the_back_is_a_strip_panel() -> None:
    """Two engines: sums of Gaussians and a symmetric box on the one side, patches of a prism on the other."""
    tile = tiles(
        Tile(sides=4, x_mm=0.0, y_mm=0.0),
        side_mm=123.2,
        wall_mm=1.6,
        depth_mm=30.0,
        lighting="back",
        row_spacing_mm=30.0,
        strips=WHITE,
    )
    one = evaluate(family(tile), CATALOGUE, EXACT)
    other = _panel_of(120.0, 30.0, 4, 30.0)
    assert one.output.emitted_lm == pytest.approx(other.output.emitted_lm)
    assert one.output.out_lm == pytest.approx(other.output.out_lm, rel=2e-3)
    assert one.evenness.mean_cd_m2 == pytest.approx(other.evenness.mean_cd_m2, rel=5e-3)
    assert one.evenness.min_over_mean == pytest.approx(other.evenness.min_over_mean, abs=0.02)
    # the nine points of a tile lie in its outer size, a wall nearer to the rim
    assert one.target_lx == pytest.approx(other.target_lx, rel=0.01)


def test_a_display_without_partitions_is_a_panel_of_pixel_strip() -> None:
    display = strip_display(columns=12, rows=6, row_pitch_mm=25.0, depth_mm=28.0)
    one = evaluate(family(display), CATALOGUE, AT_REST)
    strip = CATALOGUE.strip(PIXELS[0].strip)
    wide = 12 * strip.segment_mm
    panel = StripPanel(
        face_width_mm=wide,
        face_height_mm=150.0,
        depth_mm=28.0,
        row_direction="along_width",
        rows=RowPlan(count=6, spacing_mm=25.0),
        end_margin_mm=0.0,
        strips=PIXELS,
        diffuser="opal-acrylic-3",
        back="matt-white-paint",
        walls="matt-white-paint",
    )
    other = evaluate(Design(name="panel", purpose=purpose(), build=panel), CATALOGUE, AT_REST)
    assert one.xyz == pytest.approx(other.xyz, rel=1e-5)
    assert one.dots.vanish_distance_mm == pytest.approx(other.dots.vanish_distance_mm, rel=1e-3)
    assert one.target_lx == pytest.approx(other.target_lx, rel=1e-4)
    assert one.supplies[0].label_w == pytest.approx(other.supplies[0].label_w)


def test_a_strip_before_a_wall_gives_what_a_sum_over_its_leds_gives() -> None:
    """Lambertian LEDs straight before a wall at d: E = sum of (phi/pi) d^2 / (r^2 + d^2)^2, in a black room."""
    build = indirect(place="wall", walls=0.0, distance_mm=80.0, strip_mm=300.0, base_mm=100.0)
    evaluation = evaluate(family(build), CATALOGUE, EXACT)
    layout = lay_out(family(build), CATALOGUE)
    assert isinstance(layout, Layout)
    unit = layout.cavity
    lux = evaluation.illuminance_lx
    for x_mm, y_mm in ((250.0, 250.0), (200.0, 250.0), (250.0, 90.0), (350.0, 400.0)):
        column, row = int(np.abs(evaluation.x_mm - x_mm).argmin()), int(np.abs(evaluation.y_mm - y_mm).argmin())
        at = np.array([evaluation.x_mm[column], evaluation.y_mm[row], 0.0])
        away2 = ((unit.places_mm - at) ** 2).sum(axis=1)
        wanted = float((unit.flux_lm / math.pi * 80.0**2 / away2**2).sum()) * 1e6
        assert float(lux[row, column]) == pytest.approx(wanted, rel=0.01)


def test_a_long_channel_is_the_same_in_its_middle_however_long_it_is() -> None:
    """Far from its ends a channel knows nothing of them; a frame's side, far from its corners, neither."""
    short, long = (evaluate(family(bars(bars=(Bar(length_mm=length),))), CATALOGUE, EXACT) for length in (300.0, 600.0))
    middles = []
    for evaluation in (short, long):
        row = evaluation.luminance_cd_m2.shape[0] // 2
        count = evaluation.luminance_cd_m2.shape[1]
        middles.append(float(evaluation.luminance_cd_m2[row, int(0.4 * count) : int(0.6 * count)].mean()))
    assert middles[0] == pytest.approx(middles[1], rel=0.02)


def test_the_side_of_a_frame_is_lit_as_a_bar_but_for_its_corners() -> None:
    square = bars(bars=(), frame=Frame(sides=4, size_mm=317.4))
    side = evaluate(family(square), CATALOGUE, EXACT)
    bar = evaluate(family(bars(bars=(Bar(length_mm=300.0),))), CATALOGUE, EXACT)
    level = []
    for evaluation, y_mm in ((side, -150.0), (bar, 0.0)):
        row = int(np.abs(evaluation.y_mm - y_mm).argmin())
        middle = float(evaluation.x_mm.mean())
        near = np.abs(evaluation.x_mm - middle) < 50.0
        level.append(float(evaluation.luminance_cd_m2[row, near].mean()))
    assert level[0] == pytest.approx(level[1], rel=0.04)
    assert side.output.out_lm / side.output.emitted_lm == pytest.approx(
        bar.output.out_lm / bar.output.emitted_lm, rel=0.05
    )
