"""Arrays of emitters over a plane, against closed forms.

Flattest spacings: I. Moreno, M. Avendano-Alejo, R. I. Tzonchev, "Designing light-emitting diode arrays for uniform
near-field irradiance", Applied Optics 45 (2006) 2265. First harmonic of an infinite grid: derived for this project
(the Fourier transform of the kernel of a Lambertian emitter is (k d) K1(k d)), verified here by summation.
"""

import math

import numpy as np
import pytest
from scipy.special import k1

from gauze.core.materials.distribution import axial_intensity_cd, cosine_power
from gauze.core.optics.direct import plane_cells, plane_points
from gauze.core.optics.gaussian_sum import inverse_power, plane_kernel
from gauze.core.optics.sources import SourceGrid
from gauze.core.optics.visibility import local_amplitude


def grid(x: np.ndarray, y: np.ndarray, power: float = 1.0) -> SourceGrid:
    flux = np.full((len(x), len(y)), 1.0 / (len(x) * len(y)))
    return SourceGrid(np.asarray(x, float), np.asarray(y, float), flux, 0.0, power, (1e-6, 1e-6))


def illuminance(radius: np.ndarray, depth: float, power: float) -> np.ndarray:
    """E(r) = I0 d^(m+1) / (r^2 + d^2)^((m+3)/2), as the light model states it."""
    return axial_intensity_cd(1.0, power) * depth ** (power + 1) / (radius**2 + depth**2) ** ((power + 3) / 2)


@pytest.mark.parametrize("power", [0.5, 1.0, 3.0, 20.0])
def test_the_kernel_is_the_cosine_law(power: float) -> None:
    radius = np.linspace(0, 600, 400)
    exact = illuminance(radius, 25.0, power)
    ours = plane_kernel(power, 25.0, 700.0)(radius**2)
    assert np.abs(ours - exact).max() < 1e-4 * exact[0]
    near = exact > 1e-3 * exact[0]  # the far tail counts in the sums only as much as it is
    assert np.abs(ours[near] / exact[near] - 1).max() < 5e-4


@pytest.mark.parametrize("power", [3.0, 4.0, 5.5])
def test_inverse_powers_hold_over_the_whole_range(power: float) -> None:
    distance = np.geomspace(2.0, 800.0, 300)
    assert np.abs(inverse_power(power, 2.0, 800.0)(distance**2) * distance**power - 1).max() < 3e-4


def test_a_lambertian_emitter_has_power_one() -> None:
    assert cosine_power(60.0) == pytest.approx(1.0)
    with pytest.raises(ValueError, match="half angle"):
        cosine_power(90.0)


def test_direct_sums_equal_a_plain_sum_at_any_place() -> None:
    generator = np.random.default_rng(7)
    x, y = np.sort(generator.uniform(0, 500, 23)), np.sort(generator.uniform(0, 300, 5))
    points_x, points_y = generator.uniform(0, 500, 31), generator.uniform(0, 300, 17)
    source = grid(x, y)
    plain = np.zeros((17, 31))
    for i, xe in enumerate(x):
        for j, ye in enumerate(y):
            radius = np.hypot(points_x[None, :] - xe, points_y[:, None] - ye)
            plain += source.flux[i, j] * illuminance(radius, 18.0, 1.0)
    ours = plane_points(source, plane_kernel(1.0, 18.0, 600.0), points_x, points_y)
    assert np.abs(ours / plain - 1).max() < 1e-3


def test_cells_hold_the_mean_of_the_points() -> None:
    source = grid(np.array([40.0, 90.0]), np.array([30.0]))
    kernel = plane_kernel(1.0, 15.0, 200.0)
    nodes_x, nodes_y = np.linspace(0, 120, 7), np.linspace(0, 60, 4)
    fine_x, fine_y = (np.arange(480) + 0.5) / 4, (np.arange(240) + 0.5) / 4
    points = plane_points(source, kernel, fine_x, fine_y).T.reshape(6, 80, 3, 80).mean(axis=(1, 3))
    assert plane_cells(source, kernel, nodes_x, nodes_y) == pytest.approx(points, rel=2e-4)


@pytest.mark.parametrize("ratio", [0.6, 0.8, 1.0, 1.3])
def test_first_harmonic_of_an_infinite_grid(ratio: float) -> None:
    """A(p, d) = 2 k d K1(k d): Michelson modulation of rows of line source tends to A, of a square grid to 2 A."""
    pitch = 20.0
    depth = ratio * pitch
    wave = 2 * math.pi / pitch
    expected = 2 * wave * depth * k1(wave * depth)
    places = np.arange(-60, 61) * pitch
    kernel = plane_kernel(1.0, depth, 3000.0)
    dense = grid(np.arange(-1200.0, 1201.0, 2.0), places)  # rows of line source along x
    across = np.arange(-6 * pitch, 6 * pitch + 0.1, pitch / 6)
    rows = plane_points(dense, kernel, np.array([0.0]), across)[:, 0].astype(float)
    assert local_amplitude(rows[None, :], pitch / 6, pitch) == pytest.approx(expected, rel=0.02, abs=2e-5)
    square = plane_points(grid(places, places), kernel, np.array([0.0, pitch / 2]), np.array([0.0, pitch / 2]))
    top, middle = float(square[0, 0]), float(square[1, 1])
    higher_harmonics = 2 * (expected / 2) ** 2 + 0.01 * expected
    assert (top - middle) / (top + middle) == pytest.approx(2 * expected, rel=0.06, abs=higher_harmonics)


def test_depth_equal_to_pitch_leaves_the_stated_ripple() -> None:
    """The light model's figures: 1.24 % for rows at d = p, 21 % at d = p / 2."""
    wave_depth = 2 * math.pi
    assert 2 * wave_depth * k1(wave_depth) == pytest.approx(0.0124, abs=1e-4)
    assert 2 * (wave_depth / 2) * k1(wave_depth / 2) == pytest.approx(0.21, abs=0.01)


def second_derivative(source: SourceGrid, depth: float) -> float:
    """Relative second derivative of the illuminance at the middle, times the depth squared."""
    step = 0.01 * depth
    places = np.array([-step, 0.0, step])
    total = np.zeros(3)
    for (i, j), share in np.ndenumerate(source.flux):
        total += share * illuminance(np.hypot(places - source.x_mm[i], source.y_mm[j]), depth, source.power)
    ours = plane_points(source, plane_kernel(source.power, depth, 20 * depth), places, np.array([0.0]))[0]
    assert ours == pytest.approx(total, rel=5e-4)  # the array as we sum it is the array of the paper
    return float((total[0] - 2 * total[1] + total[2]) / step**2 / total[1] * depth**2)


@pytest.mark.parametrize("power", [1.0, 2.5, 10.0])
def test_flattest_pair_of_emitters(power: float) -> None:
    """Eq. 3 there: d0 = sqrt(4 / (M + 3)) z, M = m + 1 with the receiver's cosine."""
    depth, m = 30.0, power + 1
    flattest = math.sqrt(4 / (m + 3)) * depth
    pair = grid(np.array([-flattest / 2, flattest / 2]), np.array([0.0]), power)
    assert second_derivative(pair, depth) == pytest.approx(0.0, abs=0.02)
    wider = grid(np.array([-flattest * 0.7, flattest * 0.7]), np.array([0.0]), power)
    assert second_derivative(wider, depth) > 0.2  # a valley
    nearer = grid(np.array([-flattest * 0.35, flattest * 0.35]), np.array([0.0]), power)
    assert second_derivative(nearer, depth) < -0.2  # a hill


@pytest.mark.parametrize("power", [1.0, 2.5, 10.0])
def test_flattest_square_of_four(power: float) -> None:
    """Square of four: d0 = sqrt(4 / (M + 2)) z."""
    depth, m = 30.0, power + 1
    half = math.sqrt(4 / (m + 2)) * depth / 2
    square = grid(np.array([-half, half]), np.array([-half, half]), power)
    assert second_derivative(square, depth) == pytest.approx(0.0, abs=0.02)


@pytest.mark.parametrize("power", [1.0, 4.0])
def test_flattest_ring(power: float) -> None:
    """Ring of many emitters: r0 = sqrt(2 / (M + 2)) z."""
    depth, m = 30.0, power + 1
    radius = math.sqrt(2 / (m + 2)) * depth
    angles = np.arange(12) * math.pi / 6
    step = 0.02 * depth
    places = np.array([-step, 0.0, step])
    total = np.zeros(3)
    for angle in angles:  # each its own grid: a ring has no rows
        one = grid(np.array([radius * math.cos(angle)]), np.array([radius * math.sin(angle)]), power)
        total += plane_points(one, plane_kernel(power, depth, 10 * depth), places, np.array([0.0]))[0].astype(float)
    curvature = (total[0] - 2 * total[1] + total[2]) / step**2 / total[1] * depth**2
    assert curvature == pytest.approx(0.0, abs=0.03)


def test_a_lambertian_disc_on_its_axis() -> None:
    """E = pi L sin^2 alpha for a uniform Lambertian disc of luminance L seen from its axis."""
    radius, depth, step = 60.0, 45.0, 1.0
    places = np.arange(-radius, radius + step / 2, step)
    inside = np.hypot(places[:, None], places[None, :]) <= radius
    flux = inside / inside.sum()
    disc = SourceGrid(places, places, flux, 0.0, 1.0, (step, step))
    luminance = 1.0 / (math.pi * inside.sum() * step**2)  # of one lumen over the disc
    ours = float(plane_points(disc, plane_kernel(1.0, depth, 300.0), np.array([0.0]), np.array([0.0]))[0, 0])
    sine2 = radius**2 / (radius**2 + depth**2)
    assert ours == pytest.approx(math.pi * luminance * sine2, rel=3e-3)


def test_inverse_square_beyond_the_photometric_distance() -> None:
    """At ten times the size of the source the inverse-square law holds to about a quarter of a percent, at five to 1 %."""
    side = 50.0
    places = np.linspace(-side / 2, side / 2, 41)
    source = grid(places, places)
    for times, tolerance in ((5, 0.01), (10, 0.0027)):
        depth = times * side * math.sqrt(2)
        kernel = plane_kernel(1.0, depth, 2 * depth)
        ours = float(plane_points(source, kernel, np.array([0.0]), np.array([0.0]))[0, 0])
        assert ours == pytest.approx(axial_intensity_cd(1.0, 1.0) / depth**2, rel=tolerance)
