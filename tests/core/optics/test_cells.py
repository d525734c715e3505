"""Square cells: half of what they exchange is the image of the other half, as near as it is for cells that are all but square."""

import numpy as np
import pytest

from gauze.core.errors import carry_on
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Reflectances
from gauze.core.optics.cavity.cells import CellExchange, Offset, exchange_of

INSIDE = Reflectances(0.9, 0.85, 0.4)


@pytest.mark.parametrize("gaps", [(0.0, 20.0), (2.0, 16.0), (0.0, 14.0)], ids=["closed", "both", "above"])
def test_square_cells_exchange_what_nearly_square_ones_do(gaps: tuple[float, float]) -> None:
    low_mm, high_mm = gaps
    square, nearly = (
        exchange_of(BaffledBox(4, 4, 25.0, pitch_y_mm, 20.0, 0.8, low_mm, high_mm, INSIDE), 0.4, carry_on)
        for pitch_y_mm in (25.0, 25.0 + 1e-6)
    )
    assert set(square.areas) == set(nearly.areas)
    for one, other in zip(_blocks(square), _blocks(nearly), strict=True):
        whole = max(float(np.linalg.norm(matrix)) for matrix in other.values())
        for offset, matrix in other.items():  # single pairs at the edge of a shadow are seen by few places on each
            assert np.linalg.norm(one[offset] - matrix) < 0.04 * np.linalg.norm(matrix) + 1e-4 * whole
            assert one[offset].sum() == pytest.approx(matrix.sum(), rel=2e-3, abs=1e-4 * whole)


def _blocks(exchange: CellExchange) -> list[dict[Offset, np.ndarray]]:
    """Its blocks, none of them packed."""
    return [
        {offset: one if isinstance(one, np.ndarray) else one.toarray() for offset, one in blocks.items()}
        for blocks in (exchange.areas, exchange.gather)
    ]
