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
from gauze.ui.canvas.paint.shapes import to_qrect
from gauze.ui.canvas.sheet import Sheet
from gauze.ui.text import spoken
from gauze.ui.theme import Theme

_ARROW, _DOT = 5.0, 4.0  # pixels
_AROUND, _BELOW = 24.0, 44.0  # pixels about a view, in which its dimension lines, titles and axes lie
_COLOURS: dict[OutlineRole, str] = {
    "data": "note",
    "supply": "watch",
    "hole": "watch",
    "label": "text",
    "plus": "fails",
    "minus": "note",
    "light-full": "good",
    "light-fair": "watch",
    "light-poor": "fails",
    "light-least": "fails",
}
# the less light the thinner, and the least broken: told without colour as well
_WIDTHS: dict[OutlineRole, float] = {
    "plus": 1.6,
    "minus": 1.6,
    "light-full": 6.0,
    "light-fair": 4.5,
    "light-poor": 3.0,
    "light-least": 3.0,
}
_BROKEN: tuple[OutlineRole, ...] = ("light-least", "minus")


def paint_layers(
    painter: QPainter, sheet: Sheet, area: QRectF, layers: Sequence[Layer], shown: Collection[str], theme: Theme
) -> None:
    """Paint the layers that are switched on over the plan, with their legends in the emptiest corner of the canvas."""
    wanted = [layer for layer in layers if layer.key in shown]
    if not wanted or not sheet.shows("plan"):
        return
    painter.save()
    shapes = [shape for layer in wanted for shape in layer.shapes]
    for shape in shapes:
        if shape.role != "label":
            _paint_shape(painter, sheet.plan, shape, theme)
    taken: list[QRectF] = []  # what is read lies on top, and on nothing else that is read
    for shape in shapes:
        if shape.role == "label":
            _paint_label(painter, sheet.plan, shape, theme, (area, taken))
    painter.restore()
    _paint_legend(painter, sheet, area, wanted, theme)


def _paint_shape(painter: QPainter, window: Window, shape: Outline, theme: Theme) -> None:
    colour = theme.colour(_COLOURS.get(shape.role, "ink"))
    painter.setPen(_pen(shape.role, colour, 1.6, broken=not shape.closed))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    points = in_pixels(window, shape.points_mm)
    if len(points) == 1:
        painter.setBrush(colour)
        painter.drawEllipse(QPointF(*points[0].tolist()), _DOT, _DOT)
    elif shape.closed:
        painter.drawPolygon(polygon(window, shape.points_mm))
    else:
        painter.drawPolyline(polygon(window, shape.points_mm))
        if shape.role not in _WIDTHS:
            _paint_arrow(painter, points, colour)


def _pen(role: OutlineRole, colour: QColor, usual: float, *, broken: bool = True) -> QPen:
    pen = QPen(colour, _WIDTHS.get(role, usual))
    pen.setCapStyle(Qt.PenCapStyle.FlatCap)
    if broken and role in _BROKEN:
        pen.setStyle(Qt.PenStyle.DotLine)
    return pen


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


def _paint_label(
    painter: QPainter, window: Window, shape: Outline, theme: Theme, room: tuple[QRectF, list[QRectF]]
) -> None:
    """Paint a label, unless it would cover one that came before it: the more telling ones come first."""
    x, y = in_pixels(window, shape.points_mm)[0].tolist()
    words = spoken(shape.words)
    metrics = painter.fontMetrics()
    wide, tall = metrics.horizontalAdvance(words) + 8.0, metrics.height() + 1.0
    area, taken = room
    x = min(max(x, area.left() + wide / 2), area.right() - wide / 2)
    rect = QRectF(x - wide / 2, y - tall / 2, wide, tall)
    if any(rect.intersects(other) for other in taken):
        return
    taken.append(rect)
    painter.fillRect(rect, theme.colour("paper", 210))
    painter.setPen(theme.colour("text"))
    painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, words)


def _paint_legend(painter: QPainter, sheet: Sheet, area: QRectF, layers: Sequence[Layer], theme: Theme) -> None:
    """What the lines mean."""
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
    box = _emptiest_corner(sheet, area, wide, tall * len(rows) + 6.0)
    x, y = box.left() + 6.0, box.top() + 2.0
    painter.fillRect(box, theme.colour("paper", 225))
    for role, words in rows:
        middle = y + tall / 2
        painter.setPen(_pen(role, theme.colour(_COLOURS.get(role, "ink")), 3.0))
        painter.drawLine(QPointF(x, middle), QPointF(x + 16, middle))
        painter.setPen(theme.colour("ink"))
        painter.drawText(QPointF(x + 22, middle + metrics.ascent() / 2 - 1), words)
        y += tall


def _emptiest_corner(sheet: Sheet, area: QRectF, wide: float, tall: float) -> QRectF:
    """Where a legend of a size covers least of the views and their dimension lines; below on the left where none is better."""
    lefts = area.left() + 4.0, area.right() - wide - 4.0
    tops = area.bottom() - tall - 2.0, area.top() + 4.0
    corners = [QRectF(left, top, wide, tall) for top in tops for left in lefts]
    views = {"plan": sheet.plan.rect, "face": sheet.face.rect, "cut": sheet.cut.rect, "profile": sheet.profile}
    if sheet.seam:
        del views["face"]  # it lies over the plan
    rects = [to_qrect(rect) for view, rect in views.items() if sheet.shows(view)]
    taken = [rect.adjusted(-_AROUND, -_AROUND, _AROUND, _BELOW) for rect in rects if rect.isValid()]

    def covered(corner: QRectF) -> float:
        crossings = (corner.intersected(rect) for rect in taken)
        return sum(one.width() * one.height() for one in crossings)

    return min(corners, key=covered)


def paint_picked(painter: QPainter, window: Window, rings_mm: Sequence[FloatArray], theme: Theme) -> None:
    """Mark parts in the plan or in the side cut: filled lightly, with a firm edge that is seen without its colour as well."""
    painter.save()
    edge, fill = theme.colour("accent"), QColor(theme.colour("accent"))
    fill.setAlpha(70)
    painter.setPen(QPen(edge, 2.0))
    painter.setBrush(fill)
    for ring in rings_mm:
        painter.drawPolygon(polygon(window, ring))
    painter.restore()
