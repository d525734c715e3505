"""A solid of triangles, and what is printed of a build."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np

from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.words import Text

if TYPE_CHECKING:
    from manifold3d import Manifold

PLAY_MM = 0.2  # between printed parts, or one and a part it goes into; common practice, no source
ROUND = 96  # sides of what is round


@dataclass(frozen=True)
class Solid:
    """A closed surface of triangles: corners (n, 3) in mm, their numbers counter-clockwise from outside, (m, 3)."""

    points_mm: FloatArray
    triangles: IndexArray

    @property
    def volume_mm3(self) -> float:
        """Volume, by the divergence theorem."""
        a, b, c = (self.points_mm[self.triangles[:, corner]] for corner in range(3))
        return float(np.einsum("ij,ij->", a, np.cross(b, c)) / 6.0)

    @property
    def size_mm(self) -> tuple[float, float, float]:
        """Extent along x, y and z."""
        x, y, z = np.ptp(self.points_mm, axis=0).tolist()
        return x, y, z


@dataclass(frozen=True)
class Printed:
    """One part to print: in as many pieces as the bed asks for, and so many times.

    ``notes`` are what has to be known to print it, and to use it.
    """

    key: str
    name: Text
    pieces: tuple[Solid, ...]
    count: int = 1
    notes: tuple[Text, ...] = field(default=())

    @property
    def volume_mm3(self) -> float:
        """Volume of all of it, once."""
        return sum(piece.volume_mm3 for piece in self.pieces)


def solid_of(shape: Manifold) -> Solid:
    """Return the triangles of a shape, standing on z = 0."""
    mesh = shape.to_mesh64()
    points = np.array(mesh.vert_properties[:, :3], float)
    points[:, 2] -= points[:, 2].min() if len(points) else 0.0
    return Solid(points, np.array(mesh.tri_verts, int))
