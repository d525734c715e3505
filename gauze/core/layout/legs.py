"""The legs of a mitred cavity: convex parts in a row, each of which sees the next through the opening of a mitre."""

from dataclasses import dataclass

import numpy as np

from gauze.core.layout.model import FloatArray, IndexArray

MOST_WALLS = 16  # that bound the opening of a mitre, as the kernel has room for


@dataclass(frozen=True)
class Legs:
    """Which leg every piece of the surface belongs to, and the mitres between the legs.

    Attributes
    ----------
    of_tiles:
        Number of the leg of each piece.
    own:
        Number of the leg whose lids are looked at.
    mitres:
        Planes, shape (m, 4): unit normal n and offset d; n . x - d is negative in the leg before it.
    walls:
        What bounds the opening in each of them, shape (m, w, 4): n and d, d - n . x being positive inside; of the leg before it.
    """

    of_tiles: IndexArray
    own: int
    mitres: FloatArray
    walls: FloatArray

    @property
    def count(self) -> int:
        """Number of legs."""
        return len(self.mitres) + 1


def bounding(walls: FloatArray, outside: FloatArray) -> FloatArray:
    """Return those walls (n, 4) that a line to one of some places (m, 3) can leave by.

    Raises
    ------
    ValueError
        When there are more than the kernel has room for.
    """
    reached = (walls[:, 3, None] - walls[:, :3] @ outside.T).min(axis=1)
    found = walls[reached < -1e-9]
    if len(found) > MOST_WALLS:
        raise ValueError(f"{len(found)} walls bound the opening of a mitre: the kernel holds {MOST_WALLS}")
    return np.asarray(found)


def same_number(walls: list[FloatArray]) -> FloatArray:
    """Bring the walls of several mitres into one array; what fills it up is passed everywhere."""
    most = max((len(one) for one in walls), default=0)
    filled = np.zeros((len(walls), most, 4))
    filled[:, :, 3] = 1e9
    for row, one in zip(filled, walls, strict=True):
        row[: len(one)] = one
    return filled
