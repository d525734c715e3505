"""Places on a surface that stand in a grid, as pixels mostly do: what is read at them is read by rows and columns."""

from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import FloatArray

_SAME = 1e-9  # by which numbers between 0 and 1 may differ on one line


@dataclass(frozen=True)
class Grid:
    """The s of the grid's lines, its t, and whether s changes first from place to place."""

    s: FloatArray
    t: FloatArray
    s_first: bool

    @property
    def axes(self) -> tuple[int, int]:
        """Which of s and t, 0 and 1, changes last from place to place, and which first."""
        return (1, 0) if self.s_first else (0, 1)

    def interpolated(self, on_s: FloatArray, on_t: FloatArray, values: FloatArray) -> FloatArray:
        """Values (a, b, k) carried to the lines by matrices (lines of s, a) and (lines of t, b): (n, k), in the places' order."""
        count, colours = values.shape[1], values.shape[2]
        if self.s_first:
            half = np.tensordot(on_s, values.swapaxes(0, 1), axes=(1, 1))  # (s, b, k)
            return np.asarray((on_t @ half.swapaxes(0, 1).reshape(count, -1)).reshape(-1, colours))
        half = np.tensordot(values, on_t, axes=(1, 1)).swapaxes(1, 2)  # (a, t, k)
        return np.asarray((on_s @ half.reshape(len(half), -1)).reshape(-1, colours))

    def in_order(self, values: FloatArray) -> FloatArray:
        """Bring values on the grid, shape (s, t, ...), in the order of the places: (n, ...)."""
        ordered = values.swapaxes(0, 1) if self.s_first else values
        return ordered.reshape(len(self.s) * len(self.t), *values.shape[2:])


def grid_of(s: FloatArray, t: FloatArray) -> Grid | None:
    """Return the grid of places that fill one, row by row or column by column; None where they do not."""
    for first, second, s_first in ((s, t, True), (t, s, False)):
        turned = np.abs(second - second[:1]) > _SAME
        wide = int(turned.argmax()) if turned.any() else len(s)
        if wide == 0 or len(s) % wide:
            continue
        along, across = first.reshape(-1, wide), second.reshape(-1, wide)
        if np.abs(along - along[:1]).max() <= _SAME and np.abs(across - across[:, :1]).max() <= _SAME:
            one, other = along[0], across[:, 0]
            return Grid(one, other, s_first) if s_first else Grid(other, one, s_first)
    return None
