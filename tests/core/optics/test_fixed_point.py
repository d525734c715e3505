"""Anderson's acceleration finds the same fixed point, in fewer steps."""

from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gauze.core.errors import carry_on
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.cavity import Reflectances
from gauze.core.optics.cavity.cell_balance import CellBalance
from gauze.core.optics.cavity.cells import exchange_of
from gauze.core.optics.cavity.fixed_point import Acceleration

Step = Callable[[np.ndarray, np.ndarray], np.ndarray]


def steps_of(residual: Callable[[np.ndarray], np.ndarray], begin: np.ndarray, step: Step) -> tuple[int, np.ndarray]:
    """How many steps it takes to where the residual is nothing, and where that is."""
    x = begin
    for count in range(400):
        left = residual(x)
        if np.abs(left).max() < 1e-9:
            return count, x
        x = step(x, left)
    raise AssertionError("no end")


@given(seed=st.integers(0, 10_000), size=st.integers(2, 40), slowest=st.floats(0.2, 0.9))
@settings(max_examples=40, deadline=None)
def test_a_linear_iteration_ends_where_its_equations_say(seed: int, size: int, slowest: float) -> None:
    rng = np.random.default_rng(seed)
    turned, _ = np.linalg.qr(rng.normal(size=(size, size)))
    matrix = turned @ np.diag(rng.uniform(0.0, slowest, size)) @ turned.T
    wanted = rng.normal(size=size)

    def residual(x: np.ndarray) -> np.ndarray:
        return wanted + matrix @ x - x

    plain, _ = steps_of(residual, np.zeros(size), lambda x, left: x + left)
    fast, found = steps_of(residual, np.zeros(size), Acceleration().next)
    assert found == pytest.approx(np.linalg.solve(np.eye(size) - matrix, wanted), abs=1e-6)
    assert fast <= plain + 1


def test_what_is_there_from_the_start_stays() -> None:
    faster = Acceleration()
    x = np.array([1.0, 2.0])
    for _ in range(3):
        x = faster.next(x, np.zeros(2))
    assert x.tolist() == [1.0, 2.0]


@pytest.mark.parametrize("open_rim", [False, True])
def test_the_exchange_of_every_patch_sums_to_its_area(open_rim: bool) -> None:
    """Closure, near the rim as far from it: each patch sees itself surrounded by others, or by the partition."""
    box = BaffledBox(9, 5, 25.0, 15.0, 20.0, 3.0, 2.0, 17.0, Reflectances(0.8, 0.8, 0.4), open_rim=open_rim)
    balance = CellBalance(box, exchange_of(box, 1.0, carry_on))
    fold = balance._fold((False, False))
    sums = balance.scale * balance.exchange.sums((balance.scale * balance.there)[..., None], fold)[..., 0]
    seen = (balance.there > 0) & (sums > 0)
    assert seen.sum() > 0.99 * balance.there.sum()
    assert np.abs(sums[seen] / balance.areas[seen] - 1.0).max() < 1e-3
