"""Lit faces unrolled: every pixel on its face, every area counted once, whatever the shape."""

import numpy as np
import pytest

from gauze.core.design.cavity import BoxShape
from gauze.core.layout.cavity import Cavity, Reflectances
from gauze.core.layout.families.loose import cavity_of
from gauze.core.layout.shapes import surface_of
from gauze.core.optics.cavity import chart
from gauze.core.optics.cavity.alike import alike
from gauze.core.optics.cavity.chart import chart_of
from tests.builders import CATALOGUE, CAVITIES, emitter, loose

SHARE = (np.arange(32) + 0.5) / 32
S, T = (grid.ravel() for grid in np.meshgrid(SHARE, SHARE))


def cavity(name: str) -> Cavity:
    shape, place = CAVITIES[name]
    found = cavity_of(loose(shape, emitter(*place)), CATALOGUE)
    assert isinstance(found, Cavity)
    return found


@pytest.mark.parametrize("name", CAVITIES)
def test_pixels_lie_on_their_faces_and_stand_for_all_of_them(name):
    found = cavity(name)
    chart = chart_of(found, 1.5)
    lids = sum(float(tile.density(S, T).mean()) for tile in found.lids)
    assert chart.areas_mm2.sum() == pytest.approx(lids, rel=2e-3)
    assert len(chart.s) == len(chart.t) == len(chart.lid) == chart.inside.sum()
    for index, tile in enumerate(found.lids):
        mine = chart.lid == index
        assert mine.any()
        assert np.abs(tile.clearance_mm(chart.places_mm[mine])).max() < 1e-6
        u, v = tile.to_chart(chart.s[mine], chart.t[mine])
        row, column = (where[mine] for where in np.nonzero(chart.inside))
        assert u == pytest.approx(chart.u_mm[column], abs=1e-3)
        assert v == pytest.approx(chart.v_mm[row], abs=1e-3)


@pytest.mark.parametrize("name", ["box", "channel", "tube", "cup", "sphere"])
def test_a_finer_chart_covers_the_same_range(name):
    coarse, fine = (chart_of(cavity(name), step) for step in (4.0, 1.0))
    for a, b in ((coarse.u_mm, fine.u_mm), (coarse.v_mm, fine.v_mm)):
        ends = [(axis[0] - (axis[1] - axis[0]) / 2, axis[-1] + (axis[1] - axis[0]) / 2) for axis in (a, b)]
        assert ends[0] == pytest.approx(ends[1], abs=1e-6)
    assert fine.step_mm <= 1.0 < coarse.step_mm <= 4.0


def test_values_are_put_on_the_grid_and_nothing_beside():
    chart = chart_of(cavity("prism"), 3.0)
    values = np.arange(2.0 * chart.inside.sum()).reshape(2, -1) + 1.0
    grid = chart.spread_out(values, outside=-1.0)
    assert grid.shape == (2, *chart.inside.shape)
    assert (grid[:, ~chart.inside] == -1.0).all()
    assert (grid[:, chart.inside] == values).all()


def test_a_wall_of_a_tube_is_unrolled_without_stretch():
    """Neighbouring pixels are as far apart in space as on the chart, except for the chord."""
    found = cavity("tube")
    chart = chart_of(found, 1.0)
    grid = chart.spread_out(chart.places_mm.T)
    step = float(chart.v_mm[1] - chart.v_mm[0])
    across = np.linalg.norm(np.diff(grid, axis=1), axis=0)
    assert across == pytest.approx(step, rel=2e-3)
    along = np.linalg.norm(np.diff(grid, axis=2), axis=0)
    assert along == pytest.approx(chart.step_mm, rel=1e-9)


@pytest.mark.parametrize("seed", range(5))
def test_alike_rows_are_those_that_are_equal(seed):
    random = np.random.default_rng(seed)
    rows = random.integers(-3, 4, (4000, 5)) / 8.0
    rows[rows == 0] *= random.choice([-1.0, 1.0], (rows == 0).sum())  # -0 is 0
    found = alike(rows)
    wanted, counts = np.unique(rows, axis=0, return_counts=True)
    assert len(found.first) == len(wanted)
    assert sorted(found.counts) == sorted(counts)
    assert (rows[found.first][found.which] == rows).all()


@pytest.mark.parametrize("name", CAVITIES)
def test_a_chart_is_the_same_whether_its_grid_was_known_or_not(name: str) -> None:
    """The grid is kept for all whose pieces lie alike on it, also larger or deeper ones."""
    found = cavity(name)
    step_mm = max(found.lids[0].lengths_mm) / 31.0
    chart._GRIDS.clear()
    first = chart_of(found, step_mm)
    again = chart_of(found, step_mm)
    for one, other in zip((first.s, first.t, first.areas_mm2), (again.s, again.t, again.areas_mm2), strict=True):
        assert np.array_equal(one, other)
    assert first.inside is again.inside


def test_a_grid_that_is_known_serves_a_deeper_box_and_a_larger_one_but_no_longer_one() -> None:
    chart._GRIDS.clear()
    boxes = [(90.0, 60.0, 20.0), (90.0, 60.0, 30.0), (180.0, 120.0, 30.0), (95.0, 60.0, 20.0)]
    found = []
    for width_mm, height_mm, depth_mm in boxes:
        box = surface_of(
            BoxShape(width_mm=width_mm, height_mm=height_mm, depth_mm=depth_mm), Reflectances(0.9, 0.85, 0.4)
        )
        assert isinstance(box, Cavity)
        found.append(chart_of(box, height_mm / 20.0))
    assert found[0].inside is found[1].inside is found[2].inside
    assert found[3].inside is not found[0].inside
    for (width_mm, height_mm, depth_mm), one in zip(boxes, found, strict=True):
        assert one.areas_mm2.sum() == pytest.approx(width_mm * height_mm)
        assert one.places_mm[:, 2] == pytest.approx(depth_mm)
        assert np.ptp(one.u_mm) == pytest.approx(width_mm - one.step_mm)
