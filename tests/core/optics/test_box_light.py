import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gauze.core.design import Design, RowPlan
from gauze.core.errors import Cancelled
from gauze.core.evaluate.light.box import lit_face
from gauze.core.families import lay_out
from gauze.core.layout import panel_layout
from gauze.core.layout.model import LightBox
from gauze.core.optics.box_light import light_box, map_axes
from gauze.core.optics.box_mesh import (
    BoxMesh,
    centres,
    chebyshev_matrix,
    chebyshev_points,
    chebyshev_weights,
    graded_nodes,
    linear_matrix,
    mean_over_cells,
)
from gauze.core.optics.radiosity import BoxExchange, BoxFaces
from tests.builders import CATALOGUE, designs, layout, warm_and_cool


@settings(max_examples=15)
@given(designs())
def test_no_light_is_lost_or_made(candidate: Design) -> None:
    """Absorbed and transmitted flux is the emitted flux to 0.1 %, and the map carries what the lid receives."""
    laid = panel_layout(lay_out(candidate, CATALOGUE))
    light = light_box(laid.box, laid.emitters, 1.0)
    for grid in light.grids:
        assert abs(grid.balance_error) < 1e-3
        assert 0 < grid.direct_share <= 1.0005
        assert grid.lid_share >= grid.direct_share - 1e-6
    x_mm, y_mm = map_axes(laid.box, min(laid.box.width_mm, laid.box.height_mm) / 300)
    area_m2 = laid.box.width_mm * laid.box.height_mm * 1e-6
    on_map = float(light.illuminance_lx(x_mm, y_mm).mean(dtype=float)) * area_m2
    assert on_map == pytest.approx(light.lid_flux_lm, rel=0.01, abs=1e-6)
    xyz = lit_face(laid, CATALOGUE.sheet(candidate.build.layers), 1.0, lambda: False).xyz(*map_axes(laid.box, 12.0))
    assert np.isfinite(xyz).all()
    assert xyz.min() >= 0.0  # light is never less than none


def test_coarse_steps_never_look_different() -> None:
    for changes in ({}, {"depth_mm": 80.0}, {"walls": 0.05}, {"strips": warm_and_cool()}):
        laid = layout(**changes)
        x_mm, y_mm = map_axes(laid.box, 10.0)
        exact, coarse = (light_box(laid.box, laid.emitters, f).illuminance_lx(x_mm, y_mm) for f in (1.0, 0.4))
        assert np.sqrt(((coarse / exact - 1) ** 2).mean()) < 0.005


def test_the_exact_light_has_converged() -> None:
    laid = layout()
    x_mm, y_mm = map_axes(laid.box, 10.0)
    at_rest, finer = (light_box(laid.box, laid.emitters, f).illuminance_lx(x_mm, y_mm) for f in (1.0, 2.0))
    assert np.sqrt(((at_rest / finer - 1) ** 2).mean()) < 0.002
    assert np.abs(at_rest / finer - 1).max() < 0.015


def test_a_symmetric_layout_gives_symmetric_light() -> None:
    laid = layout()
    light = light_box(laid.box, laid.emitters, 1.0).illuminance_lx(*map_axes(laid.box, 8.0))
    assert light == pytest.approx(light[::-1], rel=2e-4)
    assert light == pytest.approx(light[:, ::-1], rel=2e-4)


def test_turning_the_design_turns_the_light() -> None:
    along = layout(rows=RowPlan(count=7, spacing_mm=50))
    turned = layout(
        face_width_mm=400.0, face_height_mm=600.0, row_direction="along_height", rows=RowPlan(count=7, spacing_mm=50)
    )
    one = light_box(along.box, along.emitters, 1.0).illuminance_lx(*map_axes(along.box, 10.0))
    other = light_box(turned.box, turned.emitters, 1.0).illuminance_lx(*map_axes(turned.box, 10.0))
    assert other == pytest.approx(one.T, rel=5e-4)


def test_parity_parts_give_the_full_solution() -> None:
    """The four quarter systems against the plain radiosity equation on all cells, B = rho (E + F B), solved by iteration."""
    box = LightBox(200.0, 120.0, 40.0, 0.8, 0.6, 0.4)
    mesh = BoxMesh(graded_nodes(200.0, 6), graded_nodes(120.0, 4), graded_nodes(40.0, 4))
    generator = np.random.default_rng(5)
    shapes = {"back": (6, 4), "lid": (6, 4), "x0": (4, 4), "x1": (4, 4), "y0": (6, 4), "y1": (6, 4)}
    direct = BoxFaces(**{name: generator.random(shape) for name, shape in shapes.items()})
    ours = BoxExchange(mesh, box).illuminate(direct)
    dx, dy, dz = (np.diff(nodes) for nodes in (mesh.x_nodes, mesh.y_nodes, mesh.z_nodes))
    areas = {
        "back": np.outer(dx, dy),
        "lid": np.outer(dx, dy),
        "x0": np.outer(dy, dz),
        "x1": np.outer(dy, dz),
        "y0": np.outer(dx, dz),
        "y1": np.outer(dx, dz),
    }
    rho = {"back": 0.8, "lid": 0.4, "x0": 0.6, "x1": 0.6, "y0": 0.6, "y1": 0.6}
    lost = sum(((1 - rho[name]) * getattr(ours, name) * areas[name]).sum() for name in shapes)
    given_light = sum((getattr(direct, name) * areas[name]).sum() for name in shapes)
    assert lost == pytest.approx(given_light, rel=1e-9)
    mirrored = BoxFaces(direct.back[::-1], direct.lid[::-1], direct.x1, direct.x0, direct.y0[::-1], direct.y1[::-1])
    theirs = BoxExchange(mesh, box).illuminate(mirrored)
    assert theirs.lid[::-1] == pytest.approx(ours.lid, rel=1e-9)
    assert theirs.x0 == pytest.approx(ours.x1, rel=1e-9)


def test_a_white_room_multiplies_light_as_a_sphere_does() -> None:
    """In a closed cavity of one reflectance evenly lit, total = direct / (1 - rho): the integrating-sphere multiplier."""
    box = LightBox(100.0, 100.0, 100.0, 0.9, 0.9, 0.9)
    mesh = BoxMesh(graded_nodes(100.0, 6), graded_nodes(100.0, 6), graded_nodes(100.0, 6))
    even = np.ones((6, 6))
    lit = BoxExchange(mesh, box).illuminate(BoxFaces(even, even, even, even, even, even))
    assert lit.lid == pytest.approx(np.full((6, 6), 10.0), rel=1e-9)


def test_light_that_is_no_longer_wanted_stops() -> None:
    laid = layout()
    with pytest.raises(Cancelled):
        light_box(laid.box, laid.emitters, 1.0, lambda: True)


@given(st.integers(8, 40), st.floats(10, 900))
def test_chebyshev_points_carry_smooth_light(count: int, extent: float) -> None:
    def smooth(x: np.ndarray) -> np.ndarray:
        return np.exp(-x / extent) * np.cos(3 * x / extent)

    wanted = np.linspace(0, extent, 57)
    carried = chebyshev_matrix(extent, count, wanted) @ smooth(chebyshev_points(extent, count))
    assert carried == pytest.approx(smooth(wanted), abs=1e-5)
    points = chebyshev_points(extent, count)
    assert chebyshev_weights(count) @ smooth(points) == pytest.approx(
        smooth(np.linspace(0, extent, 20_001)).mean(), abs=1e-4
    )
    assert chebyshev_matrix(extent, count, points) == pytest.approx(np.eye(count), abs=1e-6)


def test_grids_carry_means_and_lines() -> None:
    coarse, fine = (
        graded_nodes(10.0, 4),
        np.sort(np.concatenate([graded_nodes(10.0, 4), centres(graded_nodes(10.0, 4))])),
    )
    values = np.add.outer(centres(fine), 2 * centres(fine))
    means = mean_over_cells(values, (fine, fine), (coarse, coarse))
    assert means == pytest.approx(np.add.outer(centres(coarse), 2 * centres(coarse)))
    line = linear_matrix(centres(coarse), centres(fine)) @ (3 * centres(coarse) + 1)
    assert line == pytest.approx(3 * centres(fine) + 1)
