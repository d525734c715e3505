"""Finds fixed points in fewer steps by using what the last few steps changed."""

import numpy as np

from gauze.core.layout.model import FloatArray

_REMEMBERED = 4
_SPARE = 1e-12  # of the normal equations' trace, added to it: steps that are alike would make them singular


class Acceleration:
    """Anderson's acceleration of x -> x + r(x).

    The residuals of the last few steps are combined to the least one; the next x is where the same combination of these steps
    would lead. D. G. Anderson, Journal of the ACM 12 (1965) 547; in this form H. F. Walker, P. Ni, SIAM Journal on Numerical
    Analysis 49 (2011) 1715.
    """

    def __init__(self) -> None:
        self._last: tuple[FloatArray, FloatArray] | None = None
        self._steps: list[FloatArray] = []
        self._changes: list[FloatArray] = []

    def next(self, x: FloatArray, residual: FloatArray) -> FloatArray:
        """Return where to go from ``x``."""
        if self._last is not None:
            self._steps = [*self._steps, (x - self._last[0]).ravel()][-_REMEMBERED:]
            self._changes = [*self._changes, (residual - self._last[1]).ravel()][-_REMEMBERED:]
        self._last = x, residual
        ahead = x + residual
        if not self._steps:
            return ahead
        steps, changes = np.stack(self._steps), np.stack(self._changes)
        normal = changes @ changes.T
        normal += np.eye(len(normal)) * (_SPARE * np.trace(normal) + np.finfo(float).tiny)
        shares = np.linalg.solve(normal, changes @ residual.ravel())
        return np.asarray(ahead - (shares @ (steps + changes)).reshape(x.shape))
