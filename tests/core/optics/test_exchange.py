"""What is done to the rows that are kept of an exchange is what would be done to the whole matrix: against SciPy's products."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import sparse

from gauze.core.optics.cavity.exchange import balanced, exchange_areas, neighbours_of
from gauze.core.optics.cavity.mesh import Mesh, mesh_of
from gauze.core.optics.cavity.symmetry import Folded, Symmetry, common_axes, symmetries
from gauze.core.optics.kernel.exchange import FoldedRows, sharpened, symmetrised
from gauze.core.optics.kernel.pieces import Pieces
from tests.builders import CAVITIES, surface


def second_difference(cells: int) -> sparse.csr_array:
    step = sparse.diags_array([-np.ones(cells - 1), np.ones(cells - 1)], offsets=[0, 1], shape=(cells - 1, cells))
    return sparse.csr_array(-(step.T @ step))


def sharpening(mesh: Mesh) -> sparse.csr_array:
    """A matrix that takes a 24th of the second differences away within every piece."""
    blocks = []
    for along, across in (one.shape for one in mesh.tiles):
        both = sparse.kron(second_difference(along), sparse.eye_array(across))
        both += sparse.kron(sparse.eye_array(along), second_difference(across))
        blocks.append(sparse.eye_array(along * across) - both / 24.0)
    return sparse.csr_array(sparse.block_diag(blocks))


def mirrored(mesh: Mesh, axes: int) -> Symmetry:
    """The symmetry of a mesh under so many of its mirrors."""
    middle = (mesh.centres.min(axis=0) + mesh.centres.max(axis=0)) / 2.0
    (found,) = symmetries(common_axes((mesh.centres, mesh.normals), middle=middle)[:axes], (mesh.count,))
    return found


@given(
    name=st.sampled_from(sorted(CAVITIES)), budget=st.integers(60, 260), axes=st.integers(0, 3), seed=st.integers(0, 99)
)
def test_rows_are_turned_over_and_sharpened_as_the_whole_matrix_is(
    name: str, budget: int, axes: int, seed: int
) -> None:
    mesh = mesh_of(Pieces(surface(name).tiles), budget, math.inf)
    symmetry = mirrored(mesh, axes)
    some = np.random.default_rng(seed).random((mesh.count, mesh.count))
    whole = np.mean([some[image][:, image] for image in symmetry.images], axis=0)  # its own image in all of them
    rows = FoldedRows(symmetry.first, symmetry.stands_for, symmetry.image_of, symmetry.turned)
    part = whole[symmetry.first].astype(np.float32)
    assert Folded(part, symmetry, symmetry, mesh.count).whole() == pytest.approx(whole, rel=1e-6)
    both = (whole + whole.T) / 2
    assert symmetrised(part, rows) == pytest.approx(both[symmetry.first], rel=1e-6)
    sharp = sharpening(mesh)
    expected = (sharp @ (sharp @ both).T)[symmetry.first]
    neighbours = neighbours_of(tuple(one.shape for one in mesh.tiles))
    assert sharpened(symmetrised(part, rows), rows, neighbours) == pytest.approx(expected, abs=1e-5)


@pytest.mark.parametrize("name", CAVITIES)
def test_an_exchange_sums_to_the_areas_and_is_none_where_a_row_has_nothing(name: str) -> None:
    mesh = mesh_of(Pieces(surface(name).tiles), 200, math.inf)
    found = exchange_areas(mesh)
    assert found.whole().sum(axis=1) == pytest.approx(mesh.areas_mm2, rel=2e-6)
    twice = balanced(found, 2.0 * mesh.areas_mm2)
    assert twice is not None
    assert twice.whole() == pytest.approx(2.0 * found.whole(), rel=1e-5)
    dark = Folded(
        np.where(np.arange(mesh.count) == 0, 0.0, found.whole()).astype(np.float32),
        *[mirrored(mesh, 0)] * 2,
        mesh.count,
    )
    dark.part[0] = 0.0
    assert balanced(dark, mesh.areas_mm2) is None
