"""Conjugate gradients for several right-hand sides at once: one product with the matrix serves all of them."""

from collections.abc import Callable

import numpy as np

from gauze.core.layout.model import FloatArray


def conjugate_gradients(
    apply: Callable[[FloatArray], FloatArray],
    wanted: FloatArray,
    begin: FloatArray,
    diagonal: FloatArray,
    tolerance: float,
    most_steps: int,
) -> tuple[FloatArray, bool]:
    """Solve A x = b for every column of ``wanted`` (n, k), A being symmetric and positive definite.

    M. R. Hestenes, E. Stiefel, Journal of Research of the National Bureau of Standards 49 (1952) 409; preconditioned by a
    ``diagonal`` (n,) as in Y. Saad, Iterative Methods for Sparse Linear Systems (2003), algorithm 9.1. Columns have steps of
    their own, and rest once their residual is under ``tolerance`` of their right-hand side.

    Returns
    -------
    The columns, and whether all of them got there within so many steps.
    """
    found = begin.copy()
    residual = wanted - apply(found)
    near = tolerance**2 * _products(wanted, wanted)
    own = diagonal[:, None]
    way = scaled = residual / own  # which may be tiny: its reciprocal is no number then
    left = _products(residual, scaled)
    for _ in range(most_steps):
        going = _products(residual, residual) > near
        if not going.any():
            return found, True
        met = apply(way)
        step = np.where(going, left, 0.0) / np.where(going, _products(way, met), 1.0)
        found += step * way
        residual -= step * met
        scaled = residual / own
        before, left = left, _products(residual, scaled)
        way = scaled + way * (left / np.where(before > 0.0, before, 1.0))
    return found, bool((_products(residual, residual) <= near).all())


def _products(one: FloatArray, other: FloatArray) -> FloatArray:
    """Of each column of one with that of the other."""
    if one.shape[1] == 1:
        return np.array([np.vdot(one, other)])
    return np.asarray(np.einsum("nk,nk->k", one, other))
