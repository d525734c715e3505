"""Qt's shapes from arrays of pixels, taken over all at once: there may be thousands, and a hand that drags waits for them."""

from typing import Any

import numpy as np
from PyQt6 import sip
from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QPolygonF

from gauze.core.layout.model import FloatArray

_DOUBLE = 8  # bytes


def polygon_of(points: FloatArray) -> QPolygonF:
    """Return the polygon of points (n, 2)."""
    polygon = QPolygonF()
    polygon.fill(QPointF(), len(points))
    _values(polygon.data(), len(points), 2)[:] = points
    return polygon


def squares_of(corners: FloatArray, size: float) -> Any:
    """Return squares from their upper left corners (n, 2) as a sip.array."""
    found, values = _array(QRectF, len(corners))
    values[:, :2], values[:, 2:] = corners, size
    return found


def lines_of(starts: FloatArray, ends: FloatArray) -> Any:
    """Return lines from starts to ends, both (n, 2), as a sip.array."""
    found, values = _array(QLineF, len(starts))
    values[:, :2], values[:, 2:] = starts, ends
    return found


def _array(kind: type[QRectF] | type[QLineF], count: int) -> tuple[Any, FloatArray]:
    array: Any = sip.array  # its stub does not know how one is made
    found = array(kind, count)
    return found, _values(found, count, 4)


def _values(memory: Any, count: int, each: int) -> FloatArray:
    view: Any = sip.voidptr(memory, count * each * _DOUBLE, True)
    return np.frombuffer(view, np.float64).reshape(-1, each)
