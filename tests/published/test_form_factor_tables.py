"""View factors against the closed forms of a heat-transfer handbook.

F. P. Incropera, D. P. DeWitt, "Fundamentals of Heat and Mass Transfer", chapter 13, table 13.2: aligned parallel
rectangles, and perpendicular rectangles with a common edge. Written here as printed there, and independently of the
node-difference form in the code.
"""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.optics.box_mesh import BoxMesh, graded_nodes
from gauze.core.optics.form_factors import parallel_exchange, perpendicular_exchange
from gauze.core.optics.radiosity import form_factor_blocks


def parallel_table_13_2(x: float, y: float) -> float:
    """F_ij of rectangles X = x/L by Y = y/L at distance L."""
    x2, y2 = 1 + x * x, 1 + y * y
    terms = (
        0.5 * math.log(x2 * y2 / (1 + x * x + y * y))
        + x * math.sqrt(y2) * math.atan(x / math.sqrt(y2))
        + y * math.sqrt(x2) * math.atan(y / math.sqrt(x2))
        - x * math.atan(x)
        - y * math.atan(y)
    )
    return 2 / (math.pi * x * y) * terms


def perpendicular_table_13_2(h: float, w: float) -> float:
    """F_ij from the floor (Y = w X) to the wall (Z = h X), X the common edge."""
    h2, w2 = h * h, w * w
    root = math.sqrt(h2 + w2)
    first = (1 + w2) * (1 + h2) / (1 + w2 + h2)
    second = (w2 * (1 + w2 + h2) / ((1 + w2) * (w2 + h2))) ** w2
    third = (h2 * (1 + h2 + w2) / ((1 + h2) * (h2 + w2))) ** h2
    terms = w * math.atan(1 / w) + h * math.atan(1 / h) - root * math.atan(1 / root)
    return (terms + 0.25 * math.log(first * second * third)) / (math.pi * w)


def nodes(*values: float) -> np.ndarray:
    return np.array(values, dtype=float)


@pytest.mark.parametrize(("x", "y", "printed"), [(1, 1, 0.1998), (2, 2, 0.4153), (10, 10, 0.8270)])
def test_parallel_rectangles_agree_with_the_table(x: float, y: float, printed: float) -> None:
    assert parallel_table_13_2(x, y) == pytest.approx(printed, abs=6e-4)
    area = parallel_exchange(nodes(0, x), nodes(0, y), nodes(0, x), nodes(0, y), 1.0)
    assert float(area.squeeze()) / (x * y) == pytest.approx(parallel_table_13_2(x, y), rel=1e-10)


@pytest.mark.parametrize(("h", "w"), [(1, 1), (0.5, 1), (2, 1), (1, 4), (0.05, 0.5)])
def test_perpendicular_rectangles_agree_with_the_table(h: float, w: float) -> None:
    area = perpendicular_exchange(nodes(0, w), nodes(0, 1), nodes(0, h), nodes(0, 1))
    assert float(area.squeeze()) / w == pytest.approx(perpendicular_table_13_2(h, w), rel=1e-9)


def test_unit_cube_walls_see_each_other_with_a_fifth() -> None:
    """The cube's two printed values, 0.19982 and 0.20004, and their sum of 1 over five faces."""
    assert parallel_table_13_2(1, 1) + 4 * perpendicular_table_13_2(1, 1) == pytest.approx(1.0, abs=1e-12)
    area = perpendicular_exchange(nodes(0, 1), nodes(0, 1), nodes(0, 1), nodes(0, 1))
    assert float(area.squeeze()) == pytest.approx(0.20004, abs=5e-6)


def test_cells_of_a_grid_add_up_to_the_whole() -> None:
    first, second = graded_nodes(3.0, 4), graded_nodes(2.0, 6)
    cells = parallel_exchange(first, second, first, second, 0.7)
    whole = parallel_exchange(first[[0, -1]], second[[0, -1]], first[[0, -1]], second[[0, -1]], 0.7)
    assert cells.shape == (4, 6, 4, 6)
    assert cells.sum() == pytest.approx(float(whole.squeeze()), rel=1e-10)


@given(
    st.floats(20, 2000), st.floats(20, 2000), st.floats(3, 800), st.sampled_from([6, 8, 10]), st.sampled_from([4, 6])
)
def test_every_cell_of_a_closed_box_sees_one_whole(
    width: float, height: float, depth: float, cells: int, rise: int
) -> None:
    mesh = BoxMesh(graded_nodes(width, cells), graded_nodes(height, cells), graded_nodes(depth, rise))
    factors, areas = form_factor_blocks(mesh)
    assert np.abs(factors.sum(axis=1) - 1.0).max() < 1e-6  # the rows of F sum to 1
    exchange = factors * areas[:, None]
    assert np.abs(exchange - exchange.T).max() <= 1e-9 * exchange.max()  # reciprocity A_i F_ij = A_j F_ji


@pytest.mark.parametrize(("first", "second", "distance"), [(50.0, 50.0, 50.0), (30.0, 60.0, 40.0)])
def test_coaxial_discs_made_of_cells_agree_with_the_table(first: float, second: float, distance: float) -> None:
    """Table 13.2, coaxial parallel discs: F_ij = (S - sqrt(S^2 - 4 (r_j / r_i)^2)) / 2, S = 1 + (1 + R_j^2) / R_i^2."""
    ri, rj = first / distance, second / distance
    s = 1 + (1 + rj**2) / ri**2
    printed = 0.5 * (s - math.sqrt(s**2 - 4 * (second / first) ** 2))
    edges = np.linspace(-60, 60, 41)
    middle = (edges[1:] + edges[:-1]) / 2
    radius = np.hypot(middle[:, None], middle[None, :])
    cells = parallel_exchange(edges, edges, edges, edges, distance)
    from_disc, to_disc = radius <= first, radius <= second
    exchanged = cells[from_disc][:, to_disc].sum()
    # the stepped rim of the cells is the only difference: areas are taken as counted
    assert exchanged / (from_disc.sum() * 9.0) == pytest.approx(printed, rel=0.02)
