"""Paints layers that lie over the plan, from their display lists, and their legends."""

from collections.abc import Collection, Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from gauze.core.drawing import Layer
from gauze.core.layout.model import FloatArray
from gauze.core.layout.sketch import Outline, OutlineRole
from gauze.ui.canvas.geometry import Window
from gauze.ui.canvas.paint.paint_views import in_pixels, polygon
from gauze.ui.canvas.sheet import Sheet
from gauze.ui.text import spoken
from gauze.ui.theme import Theme

_ARROW, _DOT = 5.0, 4.0  # pixels
_COLOURS: dict[OutlineRole, str] = {"data": "note", "supply": "watch", "hole": "watch", "label": "text"}


def paint_layers(
    painter: QPainter, sheet: Sheet, bottom: float, layers: Sequence[Layer], shown: Collection[str], theme: Theme
) -> None:
    """Paint the layers that are switched on over the plan, with their legends at the foot of the canvas."""
    wanted = [layer for layer in layers if layer.key in shown]
    if not wanted or not sheet.shows("plan"):
        return
    painter.save()
    shapes = [shape for layer in wanted for shape in layer.shapes]
    for shape in sorted(shapes, key=lambda shape: shape.role == "label"):  # what is read lies on top
        _paint_shape(painter, sheet.plan, shape, theme)
    painter.restore()
    _paint_legend(painter, bottom, wanted, theme)


def _paint_shape(painter: QPainter, window: Window, shape: Outline, theme: Theme) -> None:
    colour = theme.colour(_COLOURS.get(shape.role, "ink"))
    if shape.role == "label":
        _paint_label(painter, window, shape, theme)
        return
    painter.setPen(QPen(colour, 1.6))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    points = in_pixels(window, shape.points_mm)
    if len(points) == 1:
        painter.setBrush(colour)
        painter.drawEllipse(QPointF(*points[0].tolist()), _DOT, _DOT)
    elif shape.closed:
        painter.drawPolygon(polygon(window, shape.points_mm))
    else:
        painter.drawPolyline(polygon(window, shape.points_mm))
        _paint_arrow(painter, points, colour)


def _paint_arrow(painter: QPainter, points: FloatArray, colour: QColor) -> None:
    """An arrow's head in the middle of the last stretch, where that is long enough."""
    start, end = points[-2], points[-1]
    way = end - start
    long = float(np.hypot(*way))
    if long < 4.0 * _ARROW:
        return
    along = way / long
    across = np.array([-along[1], along[0]])
    tip = (start + end) / 2.0 + along * _ARROW
    corners = (tip, tip - along * 2 * _ARROW + across * _ARROW, tip - along * 2 * _ARROW - across * _ARROW)
    painter.setBrush(colour)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawPolygon(QPolygonF([QPointF(float(x), float(y)) for x, y in corners]))


def _paint_label(painter: QPainter, window: Window, shape: Outline, theme: Theme) -> None:
    x, y = in_pixels(window, shape.points_mm)[0].tolist()
    words = spoken(shape.words)
    metrics = painter.fontMetrics()
    wide, tall = metrics.horizontalAdvance(words) + 8.0, metrics.height() + 1.0
    rect = QRectF(x - wide / 2, y - tall / 2, wide, tall)
    painter.fillRect(rect, theme.colour("paper", 210))
    painter.setPen(theme.colour("text"))
    painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, words)


def _paint_legend(painter: QPainter, bottom: float, layers: Sequence[Layer], theme: Theme) -> None:
    """What the lines mean, in the lower left corner."""
    metrics = painter.fontMetrics()
    rows = [
        (role, spoken(words))
        for layer in layers
        for role, words in layer.legend.entries
        if any(shape.role == role for shape in layer.shapes)
    ]
    if not rows:
        return
    tall, wide = metrics.height() + 2, max(metrics.horizontalAdvance(words) for _, words in rows) + 40
    x, y = 10.0, bottom - tall * len(rows) - 4
    painter.fillRect(QRectF(x - 6, y - 2, wide, tall * len(rows) + 6), theme.colour("paper", 225))
    for role, words in rows:
        middle = y + tall / 2
        painter.setPen(QPen(theme.colour(_COLOURS.get(role, "ink")), 3.0))
        painter.drawLine(QPointF(x, middle), QPointF(x + 16, middle))
        painter.setPen(theme.colour("ink"))
        painter.drawText(QPointF(x + 22, middle + metrics.ascent() / 2 - 1), words)
        y += tall
