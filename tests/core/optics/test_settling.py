"""The balance of bounced light where single precision does not settle: it is solved again in double precision."""

from typing import Any

import numpy as np
import pytest
import scipy.sparse.linalg

from gauze.core.optics.cavity.transport import Transport, transport_of
from tests.builders import surface


def transport(key: str) -> Transport:
    return transport_of(surface(key), (key, "settling"), 0.5)


def test_a_balance_that_does_not_settle_is_solved_more_exactly(monkeypatch: pytest.MonkeyPatch) -> None:
    """The same light comes out; where neither settles it is told."""
    own = transport("prism")
    direct = np.linspace(0.5, 1.5, len(own.coarse.areas_mm2))[:, None]
    expected = own.balance(direct)
    usual, calls = scipy.sparse.linalg.cg, []

    def gives_up_at_first(operator: Any, wanted: Any, **more: Any) -> Any:
        calls.append(more["maxiter"])
        return (more["x0"], 400) if len(calls) == 1 else usual(operator, wanted, **more)

    monkeypatch.setattr(scipy.sparse.linalg, "cg", gives_up_at_first)
    assert own.balance(direct) == pytest.approx(expected, rel=1e-5)
    assert len(calls) == 2
    monkeypatch.setattr(scipy.sparse.linalg, "cg", lambda *_, **more: (more["x0"], 400))
    with pytest.raises(ArithmeticError, match="did not balance"):
        own.balance(direct)
