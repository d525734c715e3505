"""The balance of bounced light: many right-hand sides at once, and what single precision does not settle."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gauze.core.optics.cavity import transport as balancing
from gauze.core.optics.cavity.conjugate import conjugate_gradients
from gauze.core.optics.cavity.transport import Transport, transport_of
from tests.builders import surface


def transport(key: str) -> Transport:
    return transport_of(surface(key), (key, "settling"), 0.5)


@given(size=st.integers(1, 30), columns=st.integers(1, 4), seed=st.integers(0, 10_000), dark=st.booleans())
def test_columns_are_solved_as_by_elimination(size: int, columns: int, seed: int, dark: bool) -> None:
    """Against LAPACK's solution; a column without light stays dark, and one that begins at its end stays there."""
    rng = np.random.default_rng(seed)
    half = rng.normal(size=(size, size))
    matrix = half @ half.T + size * np.diag(rng.uniform(0.5, 5.0, size))
    wanted = rng.normal(size=(size, columns)) * 10.0 ** rng.integers(-6, 6, columns)
    if dark:
        wanted[:, 0] = 0.0
    exact = np.linalg.solve(matrix, wanted)
    begin = np.zeros_like(wanted)
    begin[:, -1] = exact[:, -1]
    found, settled = conjugate_gradients(lambda x: matrix @ x, wanted, begin, np.diag(matrix), 1e-10, 500)
    assert settled
    size_of = np.linalg.norm(exact, axis=0)
    assert (np.linalg.norm(found - exact, axis=0) <= 1e-8 * size_of + 1e-300).all()


def test_what_has_not_settled_in_time_says_so() -> None:
    matrix = np.diag(np.linspace(1.0, 1e6, 50))
    _, settled = conjugate_gradients(lambda x: matrix @ x, np.ones((50, 1)), np.zeros((50, 1)), np.ones(50), 1e-12, 5)
    assert not settled


def test_a_balance_that_does_not_settle_is_solved_more_exactly(monkeypatch: pytest.MonkeyPatch) -> None:
    """The same light comes out; where neither settles an error says so."""
    own = transport("prism")
    direct = np.linspace(0.5, 1.5, len(own.coarse.areas_mm2))[:, None]
    expected, asked = own.balance(direct), []

    def gives_up_at_first(apply: Any, wanted: Any, begin: Any, *rest: Any) -> Any:
        asked.append(rest[-1])
        return (begin, False) if len(asked) == 1 else conjugate_gradients(apply, wanted, begin, *rest)

    monkeypatch.setattr(balancing, "conjugate_gradients", gives_up_at_first)
    assert own.balance(direct) == pytest.approx(expected, rel=1e-5)
    assert len(asked) == 2
    monkeypatch.setattr(balancing, "conjugate_gradients", lambda _apply, _wanted, begin, *_rest: (begin, False))
    with pytest.raises(ArithmeticError, match="did not balance"):
        own.balance(direct)
