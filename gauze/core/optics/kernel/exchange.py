"""The exchange between the patches of a mesh, of which only the rows are kept that stand for all others."""

import ctypes
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from gauze.core.layout.model import IndexArray
from gauze.core.optics.kernel.library import Arrays, kernel
from gauze.core.optics.kernel.parallel import in_parts

Rows = NDArray[np.float32]


@dataclass(frozen=True)
class FoldedRows:
    """Which patches have rows, which row stands for every patch, under which image, and how all patches lie in each image.

    Shapes (rows,), (n,), (n,) and (images, n); image 0 is the mesh itself.
    """

    first: IndexArray
    row_of: IndexArray
    image_of: IndexArray
    turned: IndexArray


def symmetrised(rows: Rows, folded: FoldedRows) -> Rows:
    """Return the rows of (M + M^T) / 2."""
    return _turned_over(rows, folded, 0.5)


def sharpened(rows: Rows, folded: FoldedRows, neighbours: IndexArray) -> Rows:
    """Take a 24th of the second differences away from the columns and from the rows of a symmetric M.

    ``neighbours`` (n, 4) are the patches before and after each along s and along t: it stands for itself at an edge.
    """
    columns = _sharpened_columns(rows, folded, neighbours)
    return _sharpened_columns(_turned_over(columns, folded, 0.0), folded, neighbours)


def _turned_over(rows: Rows, folded: FoldedRows, own: float) -> Rows:
    tables = folded.first, folded.row_of, folded.image_of, folded.turned
    return _made("turned_over", rows, tables, ctypes.c_float(own))


def _sharpened_columns(rows: Rows, folded: FoldedRows, neighbours: IndexArray) -> Rows:
    return _made("sharpened_columns", rows, (folded.first, folded.row_of, folded.image_of, folded.turned, neighbours))


def _made(name: str, rows: Rows, tables: tuple[IndexArray, ...], *numbers: ctypes.c_float) -> Rows:
    """Rows made of others by a function of the kernel, in parts."""
    keep, (count, patches) = Arrays(), rows.shape
    given = [ctypes.c_void_p(keep.singles(rows)), *(ctypes.c_void_p(keep.integers(table)) for table in tables)]
    found = np.empty((count, patches), np.float32)
    function: Any = getattr(kernel(), name)

    def some(part: slice) -> None:
        bounds = (ctypes.c_int64(number) for number in (part.start, part.stop, patches))
        function(*bounds, *numbers, *given, ctypes.c_void_p(found.ctypes.data))

    in_parts(some, count, patches)
    return found
