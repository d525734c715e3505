"""Qt's shapes and images from arrays, taken over all at once: there may be thousands, and a hand that drags waits for them."""

from typing import Any

import numpy as np
from PyQt6 import sip
from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QImage, QPolygonF

from gauze.core.layout.model import FloatArray
from gauze.core.optics.appearance import Picture
from gauze.ui.canvas.geometry import Rect

_DOUBLE = 8  # bytes


def to_qrect(rect: Rect) -> QRectF:
    """Convert a rectangle."""
    return QRectF(rect.x, rect.y, rect.width, rect.height)


def to_qimage(picture: Picture) -> QImage:
    """Convert a picture of shape (rows, columns, 3), or 4 with what is transparent; the image owns its bytes."""
    rows, columns, depth = picture.shape
    pixels = np.full((rows, columns, 4), 255, np.uint8)
    pixels[..., :3] = picture[..., 2::-1]
    if depth == 4:
        pixels[..., 3] = picture[..., 3]
    form = QImage.Format.Format_ARGB32 if depth == 4 else QImage.Format.Format_RGB32
    return QImage(pixels.tobytes(), columns, rows, 4 * columns, form).copy()


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
