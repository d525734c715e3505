"""In which order the data run through what stands in columns and rows: the pixels of a board, or boards."""

import numpy as np

from gauze.core.design.build import PixelOrder
from gauze.core.layout.model import IndexArray


def order_on_board(columns: int, rows: int, order: PixelOrder) -> IndexArray:
    """Of every place in the order of the data, the number that it has row by row from below."""
    number = np.arange(columns * rows).reshape(rows, columns)
    if order.start.startswith("upper"):
        number = number[::-1]
    if order.start.endswith("right"):
        number = number[:, ::-1]
    lines = number if order.by == "rows" else number.T
    if order.zigzag:
        lines = np.array([line[:: -1 if index % 2 else 1] for index, line in enumerate(lines)])
    return np.asarray(lines.ravel())
