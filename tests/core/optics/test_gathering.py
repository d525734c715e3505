"""The separable sums against plain ones: light on walls, and bounced light gathered on planes."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.special import erf

from gauze.core.design import RowPlan, StripChoice
from gauze.core.optics.box_mesh import centres, chebyshev_points, graded_nodes
from gauze.core.optics.box_transport import forget_transports, transport_of
from gauze.core.optics.direct import wall_cells
from gauze.core.optics.form_factors import perpendicular_exchange
from gauze.core.optics.gather import PlaneGather, PlaneToWallsGather, WallGather
from gauze.core.optics.gaussian_sum import gaussian_cells, inverse_power, joined
from gauze.core.optics.sources import SourceGrid, gather_sources
from tests.builders import layout, warm_and_cool


def point_to_parallel_rectangle(a: float, b: float, distance: float) -> float:
    """View factor from a point to a rectangle a by b with one corner above it (Lambert's formula, as in every handbook)."""
    x, y = a / distance, b / distance
    first = x / math.sqrt(1 + x * x) * math.atan(y / math.sqrt(1 + x * x))
    second = y / math.sqrt(1 + y * y) * math.atan(x / math.sqrt(1 + y * y))
    return (first + second) / (2 * math.pi)


def point_to_perpendicular_rectangle(a: float, height: float, distance: float) -> float:
    """View factor from a point at a distance from an upright rectangle, one lower corner straight before it."""
    x, y = a / distance, height / distance
    root = math.sqrt(1 + y * y)
    return (math.atan(x) - math.atan(x / root) / root) / (2 * math.pi)


def test_an_even_plane_lights_a_point_by_its_view_factor() -> None:
    x, y = graded_nodes(300.0, 12), graded_nodes(200.0, 10)
    points = (chebyshev_points(300.0, 8), chebyshev_points(200.0, 6))
    ours = PlaneGather((x, y), points, 40.0)(np.ones((12, 10)))
    for i, px in enumerate(points[0]):
        for j, py in enumerate(points[1]):
            corners = [(a, b) for a in (px, 300 - px) for b in (py, 200 - py)]
            exact = sum(point_to_parallel_rectangle(a, b, 40.0) for a, b in corners)
            assert ours[i, j] == pytest.approx(exact, rel=2e-4)


def test_even_walls_light_a_point_by_their_view_factor() -> None:
    along, rise = graded_nodes(200.0, 10), graded_nodes(50.0, 6)
    away, points = chebyshev_points(300.0, 8), chebyshev_points(200.0, 6)
    lit = WallGather(along, rise, away, points, 300.0)(np.ones((10, 6)), np.zeros((10, 6)))
    for i, distance in enumerate(away):
        for j, place in enumerate(points):
            exact = sum(point_to_perpendicular_rectangle(a, 50.0, distance) for a in (place, 200 - place))
            assert lit[i, j] == pytest.approx(exact, rel=2e-3, abs=2e-5)
    other = WallGather(along, rise, away, points, 300.0)(np.zeros((10, 6)), np.ones((10, 6)))
    assert other == pytest.approx(lit[::-1], rel=1e-4)


def test_planes_and_walls_exchange_light_both_ways_alike() -> None:
    """Reciprocity: what an even plane sends a wall is what the wall, as even, sends the plane."""
    x, y, z = graded_nodes(120.0, 40), graded_nodes(90.0, 30), graded_nodes(50.0, 40)
    first, second = PlaneToWallsGather(x, y, centres(y), centres(z))(np.ones((40, 30)))
    assert first == pytest.approx(second, rel=1e-4)
    from_plane = (first * np.outer(np.diff(y), np.diff(z))).sum()
    lit = WallGather(y, z, centres(x), centres(y), 120.0)(np.ones((30, 40)), np.zeros((30, 40)))
    from_wall = (lit * np.outer(np.diff(x), np.diff(y))).sum()
    exact = float(perpendicular_exchange(x[[0, -1]], y[[0, -1]], z[[0, -1]], y[[0, -1]]).squeeze())
    assert from_plane == pytest.approx(exact, rel=5e-3)
    assert from_wall == pytest.approx(exact, rel=5e-3)


@pytest.mark.parametrize("power", [1.0, 3.0])
@pytest.mark.parametrize("axis", ["x", "y"])
def test_light_on_a_wall_is_the_plain_sum(power: float, axis: str) -> None:
    """E = sum of I0 cos^m(theta) cos(phi) / R^2, taken at many places of each cell and averaged."""
    places_x, places_y = np.array([15.0, 60.0, 130.0]), np.array([20.0, 70.0])
    flux = np.array([[0.1, 0.3], [0.2, 0.1], [0.2, 0.1]])
    source = SourceGrid(places_x, places_y, flux, 2.0, power, (0.01, 0.01))
    extent, length = (150.0, 100.0) if axis == "x" else (100.0, 150.0)
    along, rise = np.linspace(0, length, 6), np.array([0.0, 2.0, 12.0, 42.0])
    walls = wall_cells(source, axis, extent, along, rise)
    fine_along = np.linspace(0, length, 5 * 60 + 1)
    middle_along = (fine_along[1:] + fine_along[:-1]) / 2
    for wall, ours in zip((0.0, extent), walls, strict=True):
        for k in range(3):
            fine_rise = np.linspace(rise[k], rise[k + 1], 61)
            height = (fine_rise[1:] + fine_rise[:-1])[None, :] / 2 - 2.0
            total = np.zeros((len(middle_along), 60))
            for i, j in np.ndindex(3, 2):
                away, beside = (places_x[i], places_y[j]) if axis == "x" else (places_y[j], places_x[i])
                distance = abs(wall - away)
                radius2 = distance**2 + (middle_along[:, None] - beside) ** 2 + height**2
                cosine = np.maximum(height, 0) / np.sqrt(radius2)
                axial = (power + 1) / (2 * math.pi) * flux[i, j]
                total += axial * cosine**power * distance / radius2**1.5
            plain = total.reshape(5, 60, 60).mean(axis=(1, 2))
            assert ours[:, k] == pytest.approx(plain, rel=4e-3, abs=1e-9)


@given(st.integers(2, 20), st.integers(1, 21), st.floats(1.0, 2000.0))
def test_the_mirrored_half_is_the_other_half(cells: int, count: int, extent: float) -> None:
    rate = np.geomspace(1e-6, 1.0, 5)
    nodes, points = graded_nodes(extent, 2 * cells), chebyshev_points(extent, count)
    root = np.sqrt(rate)[:, None, None]
    primitive = erf(root * (nodes[:, None] - points[None, :]))
    whole = (primitive[:, 1:] - primitive[:, :-1]) * math.sqrt(math.pi) / 2.0 / root
    assert gaussian_cells(rate, nodes, points) == pytest.approx(whole, rel=1e-3, abs=1e-4 * extent)
    aside = gaussian_cells(rate, nodes, points + 0.01 * extent)
    assert aside == pytest.approx(gaussian_cells(rate, nodes - 0.01 * extent, points), rel=1e-3, abs=1e-4 * extent)


def test_sums_are_joined_and_scaled() -> None:
    one, two = inverse_power(4.0, 1.0, 50.0), inverse_power(3.0, 1.0, 50.0).scaled(2.0)
    squared = np.array([1.0, 9.0, 400.0])
    assert joined([one, two])(squared) == pytest.approx(squared**-2 + 2 * squared**-1.5, rel=1e-3)


def test_channels_of_one_package_are_lit_once_and_two_strips_twice() -> None:
    pixels = layout(strips=(StripChoice(strip="5v-rgb-pixel-60"),), rows=RowPlan(count=3, spacing_mm=90))
    grids, shares = gather_sources(pixels.emitters)
    assert len(grids) == 1
    assert [share.grid_index for share in shares] == [0, 0, 0]
    assert grids[0].flux.sum() == pytest.approx(1.0)
    both, two_shares = gather_sources(layout(strips=warm_and_cool()).emitters)
    assert len(both) == 2
    assert sum(share.flux_lm for share in two_shares) == pytest.approx(
        sum(emitters.flux_lm.sum() for emitters in layout(strips=warm_and_cool()).emitters)
    )
    dark = layout(strips=(StripChoice(strip="5v-rgb-pixel-60", levels=(0.0, 0.0, 0.0)),))
    assert gather_sources(dark.emitters)[1][0].flux_lm == 0.0


def test_transports_are_kept_while_the_box_stays() -> None:
    forget_transports()
    box = layout().box
    assert transport_of(box, 0.4) is transport_of(layout(rows=RowPlan(count=5, spacing_mm=60)).box, 0.4)
    assert transport_of(box, 1.0) is not transport_of(layout(depth_mm=31.0).box, 1.0)
    kept = transport_of(box, 1.0)
    assert kept.fine.x_nodes[-1] == pytest.approx(600)
    assert len(centres(kept.fine.x_nodes)) >= len(centres(kept.exchange.mesh.x_nodes))
