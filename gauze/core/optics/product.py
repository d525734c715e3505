"""Products of single-precision matrices, as fast as BLAS makes them, without the alarm that it raises over nothing."""

import numpy as np

from gauze.core.layout.model import FloatArray


def product(left: FloatArray, right: FloatArray) -> FloatArray:
    """Return ``left @ right``.

    For a matrix of five columns times a vector, OpenBLAS (0.3.31, AVX-512) also multiplies what happens to lie on the
    stack, and drops it: when that is a signalling NaN, NumPy warns of an invalid value in a result that is right. What
    counts is the result, so it is the result that is examined.

    Raises
    ------
    FloatingPointError
        When a number of the result is not finite.
    """
    with np.errstate(invalid="ignore"):
        found: FloatArray = np.matmul(left, right)
    if not np.isfinite(found).all():
        raise FloatingPointError("Light that is not a finite number was computed.")
    return found
