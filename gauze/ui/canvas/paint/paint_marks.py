"""Paints what the hand takes hold of, the line of the cut, the frame of a magnified part, and the glow of the sheet."""

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QImage, QPainter, QPen, QPolygonF

from gauze.core.layout.sketch import Handle, MovableItem, Outline
from gauze.ui.canvas.geometry import Rect, Window
from gauze.ui.canvas.paint.paint_views import polygon
from gauze.ui.canvas.paint.shapes import to_qrect
from gauze.ui.theme import Theme

_LEAST_SHEET, _MOST_SHEET = 4.0, 12.0  # pixels of a sheet's thickness


def paint_hold(painter: QPainter, window: Window, what: Handle | MovableItem, theme: Theme) -> None:
    """Mark what is under the pointer, focused or held."""
    painter.setPen(QPen(theme.colour("accent"), 2.0))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if isinstance(what, MovableItem):
        painter.drawPolygon(polygon(window, what.outline_mm))
        return
    start, end = (QPointF(window.x(p[0]), window.y(p[1])) for p in (what.start_mm, what.end_mm))
    painter.drawLine(start, end)
    middle = (start + end) / 2.0
    grip = QRectF(middle.x() - 7, middle.y() - 4, 14, 8)
    if what.direction[0]:
        grip = QRectF(middle.x() - 4, middle.y() - 7, 8, 14)
    painter.setBrush(theme.colour("accent"))
    painter.drawRoundedRect(grip, 3, 3)


def paint_grips(painter: QPainter, window: Window, handles: list[Handle], theme: Theme) -> None:
    """Mark quietly what can be dragged."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("accent", 150))
    for handle in handles:
        x = (window.x(handle.start_mm[0]) + window.x(handle.end_mm[0])) / 2
        y = (window.y(handle.start_mm[1]) + window.y(handle.end_mm[1])) / 2
        wide, high = (3.0, 10.0) if handle.direction[0] else (10.0, 3.0)
        painter.drawRoundedRect(QRectF(x - wide, y - high, 2 * wide, 2 * high), 2, 2)


def paint_cut_grip(painter: QPainter, face: Window, cut_share: float, theme: Theme, *, focused: bool) -> None:
    """Mark where the line of the cut is taken hold of."""
    x, y = face.rect.x, face.rect.bottom - cut_share * face.rect.height
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("accent"))
    painter.drawPolygon(QPolygonF([QPointF(x + 10, y), QPointF(x, y - 6), QPointF(x, y + 6)]))
    if focused:
        painter.setPen(QPen(theme.colour("accent"), 1.5))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(QRectF(x - 3, y - 9, 17, 18), 3, 3)


def paint_detail_frame(painter: QPainter, frame: Rect, detail: Window, theme: Theme, *, focused: bool) -> None:
    """Frame the part of the plan that is magnified, and lead down to where it is shown."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.colour("accent"), 2.0 if focused else 1.0))
    painter.drawRoundedRect(to_qrect(frame), 2, 2)
    painter.setPen(QPen(theme.colour("line"), 1.0))
    rect = to_qrect(detail.rect)
    painter.drawRect(rect.adjusted(-1, -6, 1, 6))
    painter.setPen(QPen(theme.colour("line"), 1.0, Qt.PenStyle.DotLine))
    for low, high in ((frame.x, rect.left()), (frame.right, rect.right())):
        painter.drawLine(QPointF(low, frame.bottom), QPointF(high, rect.top() - 6))


def paint_glow(
    painter: QPainter, window: Window, outlines: Sequence[Outline], strip: QImage, thickness_mm: float
) -> None:
    """Let the lit parts of a side cut glow: straight ones as the face does along the cut, curved ones in its mean colour."""
    tall = min(max(thickness_mm * window.scale, _LEAST_SHEET), _MOST_SHEET)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, True)
    for outline in outlines:
        if outline.role != "lit":
            continue
        x, y = window.x(outline.points_mm[:, 0]), window.y(outline.points_mm[:, 1])
        if len(x) == 2 and abs(float(y[0] - y[1])) < 0.5:
            left, wide = float(x.min()), float(np.ptp(x))
            rect = QRectF(left, float(y[0]) - tall, wide, tall)
            painter.drawImage(rect, strip)
            continue
        painter.setBrush(Qt.BrushStyle.NoBrush)
        mean = strip.scaled(1, 1, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation)
        painter.setPen(QPen(mean.pixelColor(0, 0), tall))
        painter.drawPolyline(QPolygonF([QPointF(float(a), float(b)) for a, b in zip(x, y, strict=True)]))
    painter.restore()
