"""The engine for any cavity against closed forms.

Integrating sphere: J. W. T. Walsh, "Photometry" (1958), chapter 8: a Lambertian emitter on the wall of a sphere lights all of it
alike, E0 = Phi / A, and the bounces add E0 rho / (1 - rho).

View factors: F. P. Incropera, D. P. DeWitt, "Fundamentals of Heat and Mass Transfer", table 13.2, coaxial parallel discs,
and J. R. Howell's catalogue of configuration factors, C-79 (inside of a cylinder to itself). Both from memory.
"""

import math

import numpy as np
import pytest
from scipy.special import kv

from gauze.core.design.cavity import BoxShape, FrustumShape, SphereShape
from gauze.core.evaluate import CavityFaceLight, Evaluation, evaluate
from gauze.core.layout.cavity import round_frustum
from gauze.core.layout.model import EmitterSet
from gauze.core.optics.box_light import light_box
from gauze.core.optics.cavity.exchange import exchange_areas
from gauze.core.optics.cavity.mesh import Mesh, mesh_of
from gauze.core.optics.kernel.pieces import Pieces
from tests import builders
from tests.builders import CATALOGUE, emitter, loose_design


def lit(shape, *emitters, **changes) -> Evaluation:
    found = evaluate(loose_design(shape, *emitters, **changes), CATALOGUE)
    assert isinstance(found.light, CavityFaceLight)
    return found


@pytest.mark.parametrize("sheet", ["opal-acrylic-3", "dense-opal-acrylic-3", "screen-film"])
def test_an_integrating_sphere_is_lit_alike_everywhere(sheet):
    shape = SphereShape(diameter_mm=100.0)
    found = lit(shape, emitter(0.0, 0.0, 0.06), diffuser=sheet)
    rho = CATALOGUE.diffuser(sheet).reflectance
    direct = 10.0 / (math.pi * 100.0**2) * 1e6  # lx
    inside = found.inside
    pixels = found.illuminance_lx[inside]
    assert (found.illuminance_lx * found.weight).sum() == pytest.approx(direct / (1 - rho), rel=2e-3)
    assert np.median(pixels) == pytest.approx(direct / (1 - rho), rel=2e-3)
    away = found.x_mm[None, :] ** 2 + found.y_mm[:, None] ** 2 < 130.0**2  # the emitter lies at the rim of the chart
    assert found.illuminance_lx[away] == pytest.approx(direct / (1 - rho), rel=4e-3)
    assert found.output.lid_lm == pytest.approx(10.0 / (1 - rho), rel=1e-5)


def discs(mesh: Mesh) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Which patches are of the back, the lid, the side."""
    roles = np.array([one.tile.role for one in mesh.tiles])[mesh.tile_index]
    return roles == "back", roles == "lid", roles == "wall"


@pytest.mark.parametrize(("radius_1", "radius_2", "distance"), [(20, 20, 20), (20, 40, 30), (30, 15, 60)])
def test_coaxial_discs_see_each_other_as_the_handbook_says(radius_1, radius_2, distance):
    mesh = mesh_of(Pieces(round_frustum(radius_1, radius_2, distance)), 1600, distance)
    areas = exchange_areas(mesh).whole()
    back, lid, _ = discs(mesh)
    found = float(areas[np.ix_(back, lid)].sum()) / (math.pi * radius_1**2)
    r1, r2 = radius_1 / distance, radius_2 / distance
    s = 1 + (1 + r2**2) / r1**2
    assert found == pytest.approx((s - math.sqrt(s**2 - 4 * (r2 / r1) ** 2)) / 2, rel=4e-3)


@pytest.mark.parametrize("height", [20.0, 60.0])
def test_the_inside_of_a_cylinder_sees_itself_as_the_catalogue_says(height):
    radius = 20.0
    mesh = mesh_of(Pieces(round_frustum(radius, radius, height)), 1600, height)
    areas = exchange_areas(mesh).whole()
    _, _, side = discs(mesh)
    found = float(areas[np.ix_(side, side)].sum()) / (2 * math.pi * radius * height)
    h = height / (2 * radius)
    assert found == pytest.approx(1 + h - math.sqrt(1 + h**2), rel=6e-3)


def test_reciprocity_and_closure_hold_to_rounding():
    mesh = mesh_of(Pieces(round_frustum(15.0, 40.0, 25.0)), 900, 25.0)
    areas = exchange_areas(mesh).whole().astype(float)
    assert np.abs(areas - areas.T).max() <= 1e-5 * areas.max()
    assert areas.sum(axis=1) == pytest.approx(mesh.areas_mm2, rel=1e-4)


def test_a_cone_of_light_on_a_dark_lid_follows_the_cosine_law():
    """E on the axis of one emitter in a black funnel: I0 / d^2, I0 = (m + 1) / (2 pi) per lumen."""
    for power in (1.0, 4.0):
        found = lit(
            FrustumShape(back_mm=20.0, lid_mm=90.0, depth_mm=61.0),
            emitter(0.0, 0.0, 1.0, m=power),
            back=0.0,
            walls=0.0,
            emitter_size_mm=0.01,
        )
        bounced = found.light.face.bounced.sum() / found.light.face.direct.sum()
        peak = found.light.face.direct.max() * 1e6
        assert peak == pytest.approx(10.0 * (power + 1) / (2 * math.pi) / 0.06**2, rel=3e-3)
        assert bounced < 1e-5


def test_the_engine_for_any_cavity_agrees_with_the_one_for_boxes():
    """Two solvers that share nothing but the kernel of far patches: graded blocks with closed forms, and tiles with charts."""
    layout = builders.layout(face_width_mm=300.0, face_height_mm=200.0, rows=builders.RowPlan(count=5, spacing_mm=40.0))
    (sources,) = layout.emitters
    assert isinstance(sources, EmitterSet)
    box = light_box(layout.box, layout.emitters, 1.0)
    emitters = [
        emitter(float(x), float(y), layout.emitter_plane_mm, flux_lm=float(flux))
        for x, y, flux in zip(sources.x_mm, sources.y_mm, sources.flux_lm, strict=True)
    ]
    shape = BoxShape(width_mm=300.0, height_mm=200.0, depth_mm=layout.box.inner_depth_mm)
    inside = layout.box
    found = lit(shape, *emitters, back=inside.back_reflectance, walls=inside.wall_reflectance)
    wanted = box.illuminance_lx(found.x_mm, found.y_mm)
    difference = found.illuminance_lx / wanted - 1.0
    assert math.sqrt(float((difference**2).mean())) < 3e-3
    assert np.abs(difference).max() < 0.02
    assert found.output.lid_lm == pytest.approx(box.lid_flux_lm, rel=1e-3)


@pytest.mark.parametrize("depth_over_pitch", [0.5, 0.75, 1.0])
def test_the_ripple_of_loose_emitters_is_the_harmonic_of_their_grid(depth_over_pitch):
    """An endless square grid over a black back: first harmonic 2 k d K1(k d) of the direct light along x, and as much along y.

    The Fourier transform of the Lambertian point's 1/(d^2 + r^2)^2; G. N. Watson, "Theory of Bessel Functions", 6.16 (from
    memory). Two crossed waves of amplitude a have the root mean square a, so sqrt(2) times it is sqrt(2) a.
    """
    pitch, columns, rows = 20.0, 14, 12
    depth = depth_over_pitch * pitch
    found = lit(
        BoxShape(width_mm=columns * pitch, height_mm=rows * pitch, depth_mm=depth + 1.0),
        *(emitter((i + 0.5) * pitch, (j + 0.5) * pitch, 1.0) for i in range(columns) for j in range(rows)),
        diffuser="dense-opal-acrylic-3",
        back=0.0,
        walls=0.0,
    )
    sheet = found.diffuser
    bounced = found.light.face.bounced.sum() / (found.light.face.bounced.sum() + found.light.face.direct.sum())
    assert bounced < 1e-3
    k_d = 2 * math.pi * depth_over_pitch
    spread = math.exp(-0.5 * (2 * math.pi * sheet.sideways_spread_mm / pitch) ** 2)  # in the sheet, a Gaussian
    wanted = math.sqrt(2) * 2 * k_d * float(kv(1, k_d)) * spread
    (ripple,) = [one for one in found.dots.modulations if one.pitch_mm == pytest.approx(pitch, rel=0.05)]
    assert ripple.amplitude == pytest.approx(wanted, rel=0.15, abs=2e-3)


def test_no_dots_are_seen_where_only_the_rim_is_dark():
    """Deep behind a close grid no ripple is left, although the face falls off to its rim."""
    found = lit(
        BoxShape(width_mm=120.0, height_mm=80.0, depth_mm=60.0),
        *(emitter(10.0 + 20 * i, 10.0 + 20 * j, 1.0) for i in range(6) for j in range(4)),
    )
    assert found.evenness.min_over_mean < 0.8
    assert found.dots.visibility(2000.0) < 1.0
