"""The nearest pixel of a flat face, told by rows and columns, against a search among all of them."""

import numpy as np
import pytest
from scipy.spatial import cKDTree

from gauze.core.evaluate import evaluate
from gauze.core.evaluate.light.group import GroupFaceLight
from gauze.core.optics.cavity.lattice import lattice_of
from tests.builders import CATALOGUE
from tests.families import bars, family, frame, tiles


@pytest.mark.parametrize("build", [bars(), tiles(), frame(6, 200.0)], ids=["bars", "tiles", "frame"])
def test_rows_and_columns_find_the_pixel_that_a_search_finds(build: object) -> None:
    light = evaluate(family(build), CATALOGUE).light
    assert isinstance(light, GroupFaceLight)
    for face in light.faces:
        assert face.luminance_map() == pytest.approx(face.xyz()[1], rel=1e-5)
        lattice = lattice_of(face.chart)
        assert lattice is not None
        assert len(lattice.places_mm) == len(face.chart.places_mm)
        low, high = lattice.places_mm.min(axis=0), lattice.places_mm.max(axis=0)
        step = face.chart.step_mm
        points = np.random.default_rng(5).uniform(low - 3 * step, high + 3 * step, (4000, 2))
        reach = 0.75 * step
        there, index = lattice.nearest(points, reach)
        distance, _ = cKDTree(lattice.places_mm).query(points)
        found = np.linalg.norm(points - lattice.places_mm[index], axis=1)
        # beside a slanting edge the pixel nearest to the pixel may be a little farther than the one nearest to the place
        missed = (distance <= reach) & ~there
        assert not (there & (distance > reach)).any()
        assert missed.mean() < 0.02
        assert found[there] == pytest.approx(distance[there], abs=0.5 * step)
        assert (found[there] - distance[there] < 1e-9).mean() > 0.98


def test_a_curved_face_has_no_rows_and_columns() -> None:
    light = evaluate(family(bars(lens_rise_mm=5.0)), CATALOGUE).light
    assert isinstance(light, GroupFaceLight)
    assert lattice_of(light.faces[0].chart) is None
