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
