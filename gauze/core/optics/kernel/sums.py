"""Values of the cells around each cell of a grid, brought together for one product."""

import ctypes

import numpy as np
from numpy.typing import NDArray

from gauze.core.layout.model import IndexArray
from gauze.core.optics.kernel.library import Arrays, kernel


def gather_near(values: NDArray[np.float32], start: IndexArray, after: IndexArray) -> NDArray[np.float32]:
    """Return ``values.ravel()[start[:, None] + after[None, :]]``, shape (len(start), len(after)).

    Raises
    ------
    IndexError
        When a place lies outside of the values.
    """
    if len(start) and len(after):
        first, last = int(start.min()) + int(after.min()), int(start.max()) + int(after.max())
        if first < 0 or last >= values.size:
            raise IndexError(f"places {first} to {last} of {values.size}")
    near, keep = np.empty((len(start), len(after)), np.float32), Arrays()
    kernel().gather_near(
        ctypes.c_int64(len(start)),
        ctypes.c_void_p(keep.integers(start)),
        ctypes.c_int64(len(after)),
        *(ctypes.c_void_p(one) for one in (keep.integers(after), keep.singles(values), near.ctypes.data)),
    )
    return near
