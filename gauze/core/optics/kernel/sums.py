"""Values of the cells around each cell of a grid, brought together for one product."""

import ctypes

import numpy as np
from numpy.typing import NDArray

from gauze.core.layout.model import IndexArray
from gauze.core.optics.kernel.library import Arrays, kernel


class NearPlaces:
    """Which values are brought together for some cells: the first of each cell, and how far ``after`` it each one lies."""

    def __init__(self, start: IndexArray, after: IndexArray) -> None:
        self.shape = len(start), len(after)
        self._keep = Arrays()
        self._given = (
            ctypes.c_int64(len(start)),
            ctypes.c_void_p(self._keep.integers(start)),
            ctypes.c_int64(len(after)),
            ctypes.c_void_p(self._keep.integers(after)),
        )
        empty = not (len(start) and len(after))
        self._first = 0 if empty else int(start.min()) + int(after.min())
        self._last = -1 if empty else int(start.max()) + int(after.max())

    def of(self, values: NDArray[np.float32]) -> NDArray[np.float32]:
        """Return ``values.ravel()[start[:, None] + after[None, :]]``, shape (len(start), len(after)).

        Raises
        ------
        IndexError
            When a place lies outside of the values.
        """
        if self._first < 0 or self._last >= values.size:
            raise IndexError(f"places {self._first} to {self._last} of {values.size}")
        near, keep = np.empty(self.shape, np.float32), Arrays()
        kernel().gather_near(*self._given, ctypes.c_void_p(keep.singles(values)), ctypes.c_void_p(near.ctypes.data))
        return near
