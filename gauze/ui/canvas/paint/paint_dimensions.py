"""Paints dimension lines, and the scale of the false colours."""

from collections.abc import Sequence

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from gauze.core.optics.appearance import colour_scale
from gauze.core.units import format_number
from gauze.ui.canvas.dimensions import Dimension
from gauze.ui.canvas.paint.shapes import to_qimage, to_qrect
from gauze.ui.text import tr
from gauze.ui.theme import Theme

_TICK = 4.0


def paint_dimensions(
    painter: QPainter,
    theme: Theme,
    found: Sequence[Dimension],
    hovered: str | None,
    focused: str | None,
    wrong: str | None,
) -> None:
    """Paint all dimensions; the one under the pointer, the focused and the refused one stand out."""
    for dimension in found:
        lively = dimension.key in (hovered, focused)
        role = "fails" if dimension.key == wrong else ("accent" if lively else "ink")
        if dimension.line is not None:
            _paint_line(painter, theme, dimension, role)
        rect = to_qrect(dimension.text_rect)
        painter.fillRect(rect.adjusted(2, 2, -2, -2), theme.colour("paper"))
        painter.setPen(theme.colour(role))
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, dimension.text)
        if dimension.key == focused:
            painter.setPen(QPen(theme.colour("accent"), 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(rect, 3, 3)
        elif dimension.key == hovered:
            painter.setPen(QPen(theme.colour("accent"), 1.0))
            painter.drawLine(rect.bottomLeft() + QPointF(6, -3), rect.bottomRight() + QPointF(-6, -3))


def _paint_line(painter: QPainter, theme: Theme, dimension: Dimension, role: str) -> None:
    assert dimension.line is not None
    x0, y0, x1, y1 = dimension.line
    painter.setPen(QPen(theme.colour("ink_dim"), 1.0))
    painter.drawLines(*(QLineF(*ends) for ends in dimension.extensions))
    painter.setPen(QPen(theme.colour(role), 1.0))
    painter.drawLine(QLineF(x0, y0, x1, y1))
    for x, y in ((x0, y0), (x1, y1)):
        painter.drawLine(QLineF(x - _TICK, y + _TICK, x + _TICK, y - _TICK))


def paint_scale(painter: QPainter, bar: QRectF, theme: Theme, least_cd_m2: float, most_cd_m2: float) -> None:
    """Paint the false-colour scale along a bar, its ends and middle below."""
    painter.drawImage(bar, to_qimage(colour_scale()[None, :, :].copy()))
    painter.setPen(QPen(theme.colour("line"), 1.0))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(bar)
    painter.setPen(theme.colour("ink"))
    metrics = painter.fontMetrics()
    values = (least_cd_m2, (least_cd_m2 + most_cd_m2) / 2, most_cd_m2)
    texts = [format_number(values[0]), format_number(values[1]), format_number(values[2]) + tr(" cd/m²")]
    widths = [metrics.horizontalAdvance(text) for text in texts]
    y = bar.bottom() + metrics.ascent() + 2
    painter.drawText(QPointF(bar.left(), y), texts[0])
    painter.drawText(QPointF(bar.center().x() - widths[1] / 2, y), texts[1])
    painter.drawText(QPointF(bar.right() - widths[2], y), texts[2])
