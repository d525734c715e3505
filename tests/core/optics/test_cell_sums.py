"""Sums over neighbouring cells, whole or folded at a mirror: against the plain sum, block by block."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import sparse

from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Reflectances
from gauze.core.optics.cavity.baffled import light_baffled
from gauze.core.optics.cavity.cell_balance import CellBalance
from gauze.core.optics.cavity.cell_sums import CellSums, Fold
from gauze.core.optics.cavity.emitters import Emitters
from gauze.core.optics.kernel.sums import NearPlaces

PATCHES = 6
ACROSS, UP = (
    np.array([1, 0, 2, 3, 5, 4]),
    np.array([0, 1, 3, 2, 4, 5]),
)  # images of a cell's patches, left to right, low to high


def plain(blocks: dict[tuple[int, int], np.ndarray], values: np.ndarray) -> np.ndarray:
    columns, rows = values.shape[:2]
    total = np.zeros((columns, rows, PATCHES, values.shape[3]))
    for (dx, dy), block in blocks.items():
        for column in range(columns):
            for row in range(rows):
                if 0 <= column + dx < columns and 0 <= row + dy < rows:
                    total[column, row] += block @ values[column + dx, row + dy]
    return total


def mirrored_blocks(rng: np.random.Generator, reach: int) -> dict[tuple[int, int], np.ndarray]:
    """Blocks that are their own images, some columns of them empty as where nothing is seen."""
    steps = range(-reach, reach + 1)
    some = {(dx, dy): rng.random((PATCHES, PATCHES)) * (rng.random(PATCHES) < 0.7) for dx in steps for dy in steps}
    for order, turned in ((ACROSS, lambda x, y: (-x, y)), (UP, lambda x, y: (x, -y))):
        some = {(x, y): some[x, y] + some[turned(x, y)][order][:, order] for x, y in some}
    return some


@given(
    columns=st.integers(1, 7),
    rows=st.integers(1, 6),
    reach=st.integers(0, 3),
    mirrored=st.tuples(st.booleans(), st.booleans()),
    packed=st.booleans(),
    seed=st.integers(0, 1000),
)
def test_sums_are_those_of_every_block_by_itself(
    columns: int, rows: int, reach: int, mirrored: tuple[bool, bool], packed: bool, seed: int
) -> None:
    rng = np.random.default_rng(seed)
    blocks = mirrored_blocks(rng, reach)
    values = rng.random((columns, rows, PATCHES, 2))
    if mirrored[0]:
        values = values + values[::-1][:, :, ACROSS]
    if mirrored[1]:
        values = values + values[:, ::-1][:, :, UP]
    given_blocks = {
        offset: sparse.csr_array(block) if packed and offset != (0, 0) else block for offset, block in blocks.items()
    }
    fold = Fold(columns, rows, mirrored, (ACROSS, UP))
    found = fold.whole(CellSums(given_blocks)(fold.of(values), fold))
    assert found == pytest.approx(plain(blocks, values), rel=1e-5)
    assert fold.whole(fold.of(values)) == pytest.approx(values)
    assert (fold.times * fold.of(values)[..., 0]).sum() == pytest.approx(values[..., 0].sum())


@pytest.mark.parametrize("shape", [(7, 7), (8, 5)])
def test_light_that_is_its_own_mirror_image_is_solved_once(
    shape: tuple[int, int], monkeypatch: pytest.MonkeyPatch
) -> None:
    columns, rows = shape
    box = BaffledBox(columns, rows, 25.0, 22.0, 20.0, 0.8, 1.5, 17.0, Reflectances(0.85, 0.85, 0.5))
    x, y = np.meshgrid((np.arange(columns) + 0.5) * 25.0, (np.arange(rows) + 0.5) * 22.0)
    places = np.column_stack([x.ravel(), y.ravel(), np.full(x.size, 1.0)])
    count = len(places)
    lamps = Emitters(places, np.tile([0.0, 0.0, 1.0], (count, 1)), np.ones(count), np.ones((count, 1)))
    met: list[tuple[bool, bool]] = []
    found_by = CellBalance._fold_of

    def noted(self: CellBalance, values: np.ndarray) -> Fold:
        met.append(found_by(self, values).mirrored)
        return found_by(self, values)

    monkeypatch.setattr(CellBalance, "_fold_of", noted)
    folded = light_baffled(box, lamps)
    assert all(one == (True, True) for one in met)
    monkeypatch.setattr(CellBalance, "_fold_of", lambda self, _values: self._fold((False, False)))
    whole = light_baffled(box, lamps)
    assert folded.bounced_at_knots == pytest.approx(whole.bounced_at_knots, rel=1e-3)
    assert folded.lid_flux_lm == pytest.approx(whole.lid_flux_lm, rel=1e-5)


@given(cells=st.integers(0, 5), places=st.integers(0, 9), seed=st.integers(0, 100))
def test_near_places_are_those_that_indices_name(cells: int, places: int, seed: int) -> None:
    rng = np.random.default_rng(seed)
    values = rng.random((4, 5, 6)).astype(np.float32)
    start, after = rng.integers(0, 60, cells), rng.integers(0, 60, places)
    expected = values.ravel()[start[:, None] + after[None, :]]
    assert np.array_equal(NearPlaces(start, after).of(values), expected)
    assert np.array_equal(NearPlaces(start, after).of(values[:, ::-1][:, ::-1]), expected)  # however it lies in memory


@pytest.mark.parametrize(("start", "after"), [(100, 20), (5, -6), (120, 0)])
def test_places_outside_of_the_values_are_refused(start: int, after: int) -> None:
    with pytest.raises(IndexError, match="of 120"):
        NearPlaces(np.array([3, start]), np.array([0, after])).of(np.zeros((4, 5, 6), np.float32))
