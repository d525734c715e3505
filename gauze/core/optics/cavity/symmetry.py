"""Mirror symmetry of a cavity's mesh: what light does on one side of a mirror plane it does on the other, and is computed once.

Most cavities are symmetric about one plane at least: a tube about the middle of its length and about its upright plane, a box
about three. With m planes only one place in 2^m, or a few more, has to be computed; the others are its images.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from gauze.core.layout.model import FloatArray, IndexArray

SAME = 1e-7  # of the size: places and normals that differ by no more are images of each other


@dataclass(frozen=True)
class Symmetry:
    """Images under the mirrors and all their products, the identity first; ``first`` are the places that stand for all others.

    ``images`` has an array for each: of every place the number of its image.
    """

    first: IndexArray
    images: tuple[IndexArray, ...]


def mirror_images(places: FloatArray, normals: FloatArray, middle: FloatArray, axis: int) -> IndexArray | None:
    """Return for every place the number of its image in the plane through ``middle`` across an axis; None where one has none."""
    from scipy.spatial import cKDTree

    size = float(np.ptp(places, axis=0).max())
    turned_places, turned_normals = places.copy(), normals.copy()
    turned_places[:, axis] = 2.0 * middle[axis] - places[:, axis]
    turned_normals[:, axis] = -normals[:, axis]
    there, sought = (
        np.concatenate([one / max(size, 1e-12), other], axis=1)
        for one, other in ((places, normals), (turned_places, turned_normals))
    )
    distance, found = cKDTree(there).query(sought, distance_upper_bound=SAME)
    if not np.isfinite(distance).all() or len(np.unique(found)) != len(places):
        return None
    return np.asarray(found)


def common_axes(*sets: tuple[FloatArray, FloatArray], middle: FloatArray) -> list[tuple[IndexArray, ...]]:
    """Mirrors in which every set of places and normals is its own image; of each the images of all sets."""
    found = []
    for axis in range(3):
        images = []
        for places, normals in sets:
            image = mirror_images(places, normals, middle, axis)
            if image is None:
                break
            images.append(image)
        else:
            found.append(tuple(images))
    return found


def symmetries(mirrors: Sequence[tuple[IndexArray, ...]], counts: Sequence[int]) -> list[Symmetry]:
    """For each set of places its symmetry under mirrors as of :func:`common_axes`, the images of all sets in the same order."""
    result = []
    for which, count in enumerate(counts):
        images = []
        for size in range(len(mirrors) + 1):
            for chosen in combinations(mirrors, size):
                image = np.arange(count)
                for mirror in chosen:
                    image = mirror[which][image]
                images.append(image)
        first = np.flatnonzero(np.min(images, axis=0) == np.arange(count))
        result.append(Symmetry(first, tuple(images)))
    return result
