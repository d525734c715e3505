"""Places in a grid are found as one, in either order; direct light on them is the same with its mirrors and without."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.design.cavity import BoxShape, TubeShape
from gauze.core.layout.cavity import Cavity, Reflectances
from gauze.core.layout.shapes import surface_of
from gauze.core.optics.box_mesh import chebyshev_at, chebyshev_matrix, chebyshev_points
from gauze.core.optics.cavity import crowd, mirrored
from gauze.core.optics.cavity.crowd import on_tile
from gauze.core.optics.cavity.emitters import Emitters, illuminance
from gauze.core.optics.cavity.grids import Grid, grid_of

INSIDE = Reflectances(0.9, 0.85, 0.4)


@given(along=st.integers(1, 9), across=st.integers(1, 9), s_first=st.booleans())
def test_a_grid_is_found_and_read_in_the_order_of_its_places(along: int, across: int, s_first: bool) -> None:
    s_lines, t_lines = np.linspace(0.1, 0.8, along), np.linspace(0.05, 0.95, across)
    s, t = np.meshgrid(s_lines, t_lines, indexing="xy" if s_first else "ij")
    grid = grid_of(s.ravel(), t.ravel())
    assert grid is not None
    values = grid.s[:, None] + 10.0 * grid.t[None, :]
    assert grid.in_order(values) == pytest.approx((s + 10.0 * t).ravel())


@given(st.integers(1, 6), st.integers(1, 6), st.integers(1, 5), st.integers(1, 5), st.booleans(), st.integers(0, 99))
def test_values_are_carried_to_a_grid_in_the_order_of_its_places(
    s_lines: int, t_lines: int, a: int, b: int, s_first: bool, seed: int
) -> None:
    rng = np.random.default_rng(seed)
    on_s, on_t, values = rng.normal(size=(s_lines, a)), rng.normal(size=(t_lines, b)), rng.normal(size=(a, b, 3))
    grid = Grid(np.arange(s_lines) * 1.0, np.arange(t_lines) * 1.0, s_first)
    wanted = grid.in_order(np.einsum("sa,tb,abk->stk", on_s, on_t, values))
    assert grid.interpolated(on_s, on_t, values) == pytest.approx(wanted, abs=1e-12)


def test_places_that_fill_no_grid_are_none() -> None:
    rng = np.random.default_rng(5)
    s, t = (one.ravel() for one in np.meshgrid(np.linspace(0.0, 1.0, 6), np.linspace(0.0, 1.0, 5)))
    assert grid_of(rng.random(30), rng.random(30)) is None
    assert grid_of(s[:-1], t[:-1]) is None
    moved = s.copy()
    moved[7] += 0.01
    assert grid_of(moved, t) is None


@given(count=st.integers(2, 60), columns=st.integers(1, 6), seed=st.integers(0, 1000), fastest=st.integers(0, 30))
def test_scattered_places_are_read_as_the_interpolant_has_them(
    count: int, columns: int, seed: int, fastest: int
) -> None:
    """Against its matrix: what is smooth to a hundred-thousandth, and the points themselves."""
    rng = np.random.default_rng(seed)
    points, number = chebyshev_points(1.0, count), np.arange(columns)
    values = np.cos(min(fastest, count / 3) * points[:, None] + number)[..., None]
    wanted = np.concatenate([[0.0, 1.0], points, rng.random(200)])
    column = rng.integers(0, columns, len(wanted))
    plain = np.einsum("nk,kn->n", chebyshev_matrix(1.0, count, wanted), values[:, column, 0])
    assert chebyshev_at(values, wanted, column)[:, 0] == pytest.approx(plain, abs=2e-5)


def row(length_mm: float, count: int, *, lopsided: bool = False) -> Emitters:
    places = np.column_stack([(np.arange(count) + 0.5) * length_mm / count, np.zeros(count), np.full(count, 1.0)])
    flux = np.linspace(1.0, 2.0 if lopsided else 1.0, count)[:, None]
    return Emitters(places, np.tile([0.0, 0.0, 1.0], (count, 1)), np.ones(count), flux, size_mm=2.0)


@pytest.mark.parametrize("lopsided", [False, True])
def test_light_on_a_tube_is_the_same_by_its_mirrors(lopsided: bool, monkeypatch: pytest.MonkeyPatch) -> None:
    surface = surface_of(TubeShape(length_mm=400.0, diameter_mm=36.0), INSIDE)
    assert isinstance(surface, Cavity)
    lid, lamps = surface.lids[0], row(400.0, 30, lopsided=lopsided)
    share = (np.arange(61) + 0.5) / 61
    s, t = (one.ravel() for one in np.meshgrid(share, share[:40] * 61 / 40))
    monkeypatch.setattr(mirrored, "_WORTH", 0)
    asked: list[int] = []

    def counted(points: np.ndarray, *rest: object, **more: object) -> object:
        asked.append(len(points))
        return illuminance(points, *rest, **more)  # type: ignore[arg-type]  # passed on as they came

    monkeypatch.setattr(mirrored, "illuminance", counted)
    found, _ = mirrored.illuminance_on(lid, s, t, lamps, None)
    plain, _ = illuminance(lid.points(s, t), lid.normals(s, t), lamps)
    assert found == pytest.approx(plain, rel=2e-5)
    assert asked[0] <= (0.3 if not lopsided else 0.55) * len(s)  # all four quarters, or the two halves across


def test_near_and_far_light_of_a_long_line_is_split_where_it_spares_most(monkeypatch: pytest.MonkeyPatch) -> None:
    surface = surface_of(BoxShape(width_mm=4000.0, height_mm=40.0, depth_mm=12.0), INSIDE)
    assert isinstance(surface, Cavity)
    lid, count = surface.lids[0], 2400
    places = np.column_stack([(np.arange(count) + 0.5) * 4000.0 / count, np.full(count, 20.0), np.full(count, 6.0)])
    lamps = Emitters(
        places, np.tile([0.0, 0.0, 1.0], (count, 1)), np.ones(count), np.linspace(1.0, 2.0, count)[:, None]
    )
    s, t = (one.ravel() for one in np.meshgrid(np.linspace(0.0, 1.0, 1500), np.linspace(0.1, 0.9, 12)))
    split_mm: list[float] = []
    near = crowd._near

    def noted(points: object, normals: object, emitters: object, clearance_mm: float, *rest: object) -> object:
        split_mm.append(clearance_mm)
        return near(points, normals, emitters, clearance_mm, *rest)  # type: ignore[arg-type]  # passed on as they came

    monkeypatch.setattr(crowd, "_near", noted)
    found, _ = on_tile(lid, s, t, lamps, 6.0, None)
    plain, _ = illuminance(lid.points(s, t), lid.normals(s, t), lamps)
    assert split_mm[0] > 6.0
    assert np.sqrt(((found / plain - 1.0) ** 2).mean()) < 1e-3
    assert np.abs(found / plain - 1.0).max() < 5e-3
