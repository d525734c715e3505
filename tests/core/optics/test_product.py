"""Products in single precision: the numbers of the plain sum, and nothing that is no number."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.optics.product import product


@given(st.integers(1, 40), st.integers(1, 12), st.integers(1, 4), st.integers(0, 2**31))
def test_it_is_the_sum_of_the_products(rows: int, columns: int, colours: int, seed: int) -> None:
    draw = np.random.default_rng(seed)
    left, right = (draw.random(shape).astype(np.float32) for shape in ((rows, columns), (columns, colours)))
    plain = np.array([[sum(float(a) * float(b) for a, b in zip(x, y, strict=True)) for y in right.T] for x in left])
    np.testing.assert_allclose(product(left, right), plain, rtol=1e-5)


@pytest.mark.parametrize("bad", [np.nan, np.inf])
def test_what_is_no_number_is_not_passed_on(bad: float) -> None:
    left = np.ones((3, 5), np.float32)
    left[1, 2] = bad
    with pytest.raises(FloatingPointError, match="not a finite number"):
        product(left, np.ones((5, 1), np.float32))
