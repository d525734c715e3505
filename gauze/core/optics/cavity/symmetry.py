"""Mirror symmetry of a cavity's mesh: what light does on one side of a mirror plane it does on the other, and is computed once.

Most cavities are symmetric about one plane at least: a tube about the middle of its length and about its upright plane, a box
about three. With m planes only one place in 2^m, or a few more, has to be computed; the others are its images.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.optics.product import product

# by which coordinates are summed: no two places of a surface have sums that are alike but by accident
_WEIGHTS = np.array([0.7548776662, 0.5698402910, 0.8191725134, 0.3247179572, 0.6710436067, 0.5497004779])
WORTH_MIRRORS = 1_500_000  # pairs below which looking for mirrors takes longer than they save
SAME = 1e-7  # of the size: places and normals that differ by no more are images of each other


@dataclass(frozen=True)
class Symmetry:
    """Images under the mirrors and all their products, the identity first; ``first`` are the places that stand for all others.

    ``images`` has an array for each: of every place the number of its image.
    """

    first: IndexArray
    images: tuple[IndexArray, ...]

    @property
    def stands_for(self) -> IndexArray:
        """Of every place the number among ``first`` of the one that stands for it."""
        return np.asarray(np.searchsorted(self.first, np.min(self.images, axis=0)))

    @property
    def image_of(self) -> IndexArray:
        """Of every place as which of the images it is that of the one that stands for it; as none where it does so itself."""
        number = np.empty(len(self.images[0]), int)
        for index, image in reversed(list(enumerate(self.images))):
            number[image[self.first]] = index
        return number

    @property
    def turned(self) -> IndexArray:
        """Of every place the one whose image it is, for each of the images: (images, places)."""
        return np.asarray(np.argsort(self.images, axis=1))


class _Ordered:
    """Places and normals about a middle, in the order of a sum of their coordinates with fixed weights."""

    def __init__(self, places: FloatArray, normals: FloatArray, middle: FloatArray) -> None:
        coordinates = [*(places - middle).T, *normals.T]
        size = max(*(float(np.ptp(one)) if len(one) else 0.0 for one in coordinates[:3]), 1e-12)
        self._here = np.stack([*(one / size for one in coordinates[:3]), *coordinates[3:]])
        self._order = np.argsort(_WEIGHTS @ self._here)
        self._in_order = self._here[:, self._order]

    def images(self, axis: int) -> IndexArray | None:
        """The number of each one's image across an axis; None where one has none.

        Images are put in the same order, and compared one by one.
        """
        turning = np.ones(6)
        turning[[axis, axis + 3]] = -1.0
        sought = np.argsort((_WEIGHTS * turning) @ self._here)
        for one, other, turn in zip(self._in_order, self._here, turning, strict=True):
            if np.abs(one - turn * other[sought]).max(initial=0.0) > SAME:
                return None
        found = np.empty(len(sought), int)
        found[sought] = self._order
        return found


def mirror_images(places: FloatArray, normals: FloatArray, middle: FloatArray, axis: int) -> IndexArray | None:
    """Return for every place the number of its image in the plane through ``middle`` across an axis; None where one has none."""
    return _Ordered(places, normals, middle).images(axis)


def common_axes(*sets: tuple[FloatArray, FloatArray], middle: FloatArray) -> list[tuple[IndexArray, ...]]:
    """Mirrors in which every set of places and normals is its own image; of each the images of all sets."""
    found = []
    ordered = [_Ordered(places, normals, middle) for places, normals in sets]
    for axis in range(3):
        images = []
        for one in ordered:
            image = one.images(axis)
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


@dataclass(frozen=True)
class Folded:
    """A matrix of which only the rows are kept that stand for all others, (rows, columns); ``count`` is that of all rows."""

    part: NDArray[np.float32]
    rows: Symmetry
    columns: Symmetry
    count: int

    def __matmul__(self, values: NDArray[np.float32]) -> NDArray[np.float32]:
        """Multiply the whole matrix by columns, shape (columns of the matrix, k)."""
        if len(self.rows.images) == 1:
            return product(self.part, values)
        found = np.empty((self.count, values.shape[1]), np.float32)
        side_by_side = product(self.part, np.concatenate([values[column] for column in self.columns.images], axis=1))
        for number, row in enumerate(self.rows.images):
            found[row[self.rows.first]] = side_by_side[:, number * values.shape[1] : (number + 1) * values.shape[1]]
        return found

    def scaled(self, factor: NDArray[np.float32]) -> "Folded":
        """The matrix times a factor for each row and for each column, which are the same ones: images have the same factor."""
        return replace(self, part=self.part * factor[self.rows.first][:, None] * factor[None, :])

    def whole(self) -> NDArray[np.float32]:
        """All of it."""
        if len(self.rows.images) == 1:
            return self.part
        whole = np.empty((self.count, self.part.shape[1]), np.float32)
        for row, column in zip(self.rows.images, self.columns.images, strict=True):
            back = np.empty_like(column)
            back[column] = np.arange(len(column))
            whole[row[self.rows.first]] = self.part[:, back]
        return whole


def unfolded(matrix: Folded) -> Folded:
    """The same matrix with all of its rows: what is made from it does not have to be symmetric."""
    if len(matrix.rows.images) == 1:
        return matrix
    rows, columns = (Symmetry(np.arange(count), (np.arange(count),)) for count in (matrix.count, matrix.part.shape[1]))
    return Folded(matrix.whole(), rows, columns, matrix.count)
