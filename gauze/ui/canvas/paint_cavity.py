"""Paints plan and side cut of a cavity: its outline, partitions, lit faces, emitters with their axes."""

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from gauze.core.evaluate.loose import xyz_per_lumen
from gauze.core.layout import LooseLayout
from gauze.core.layout.baffles import BaffledBox
from gauze.core.layout.model import FloatArray, IndexArray
from gauze.core.layout.tiles import Tile
from gauze.core.optics.appearance import Viewing, true_colour
from gauze.ui.canvas.cavity_geometry import Window
from gauze.ui.theme import Theme

_MOST_DRAWN = 8_000  # emitters; of more every so many
_AXIS_PIXELS = 9.0
_LID_STEPS, _STRAIGHT_STEPS = 56, 4


def paint_plan(painter: QPainter, window: Window, layout: LooseLayout, theme: Theme) -> None:
    """Paint the body from the front, with its emitters in their colours."""
    grey = round(40 + 150 * layout.cavity.reflectances.back)
    painter.setBrush(QColor(grey, grey, round(grey * 0.97)))
    painter.setPen(QPen(theme.colour("ink"), 1.0))
    painter.drawPolygon(_polygon(window, layout.cavity.plan))
    if isinstance(layout.cavity, BaffledBox):
        _paint_partitions(painter, window, layout.cavity, theme)
    _paint_emitters(painter, window, layout, (0, 1), theme)


def paint_cut(painter: QPainter, window: Window, layout: LooseLayout, theme: Theme) -> None:
    """Paint the body from the side, its lit faces bright; all emitters are projected into it."""
    cavity = layout.cavity
    axis = 0 if cavity.section_axis == "x" else 1
    painter.setBrush(theme.colour("panel"))
    painter.setPen(QPen(theme.colour("ink"), 1.4))
    painter.drawPolygon(_polygon(window, cavity.section))
    if isinstance(cavity, BaffledBox):
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("ink_dim"))
        thick = max(cavity.partition_mm * window.scale, 1.0)
        for index in range(cavity.columns + 1):
            x, top = window.x(index * cavity.pitch_x_mm), window.y(cavity.high_mm)
            painter.drawRect(QRectF(x - thick / 2, top, thick, window.y(cavity.low_mm) - top))
    painter.setPen(QPen(theme.colour("accent"), 3.0))
    for line in cavity.lit_lines:
        painter.drawPolyline(_polygon(window, line))
    _paint_emitters(painter, window, layout, (axis, 2), theme)


def _steps(tile: Tile) -> FloatArray:
    """Places along an edge of a piece: straight ones need few."""
    return np.linspace(0.0, 1.0, _STRAIGHT_STEPS if tile.is_flat else _LID_STEPS)


def face_path(window: Window, layout: LooseLayout) -> QPainterPath:
    """Outline of the unrolled lit faces on the drawing; empty where they fill it."""
    path = QPainterPath()
    if isinstance(layout.cavity, BaffledBox):
        return path
    for tile in layout.cavity.lids:
        share = _steps(tile)
        zero = np.zeros_like(share)
        s = np.concatenate([share, zero + 1.0, share[::-1], zero])
        t = np.concatenate([zero, share, zero + 1.0, share[::-1]])
        piece = QPainterPath()
        piece.addPolygon(_polygon(window, np.stack(tile.to_chart(s, t), axis=1)))
        piece.closeSubpath()
        path = path.united(piece)
    return path


def _paint_partitions(painter: QPainter, window: Window, box: BaffledBox, theme: Theme) -> None:
    painter.setPen(QPen(theme.colour("ink_dim"), max(box.partition_mm * window.scale, 1.0)))
    for index in range(1, box.columns):
        x = window.x(index * box.pitch_x_mm)
        painter.drawLine(QPointF(x, window.y(0.0)), QPointF(x, window.y(box.height_mm)))
    for index in range(1, box.rows):
        y = window.y(index * box.pitch_y_mm)
        painter.drawLine(QPointF(window.x(0.0), y), QPointF(window.x(box.width_mm), y))


def _paint_emitters(
    painter: QPainter, window: Window, layout: LooseLayout, axes: tuple[int, int], theme: Theme
) -> None:
    every = -(-layout.emitter_count // _MOST_DRAWN)
    places, directions = layout.places_mm[::every], layout.axes[::every]
    x = window.rect.x + (places[:, axes[0]] - window.left_mm) * window.scale
    y = window.rect.bottom - (places[:, axes[1]] - window.low_mm) * window.scale
    across, up = directions[:, axes[0]] * _AXIS_PIXELS, -directions[:, axes[1]] * _AXIS_PIXELS
    size = min(max(layout.emitter_size_mm * window.scale, 3.5), 9.0)
    painter.setPen(QPen(theme.colour("accent", 160), 1.2))
    if len(places) <= _MOST_DRAWN // 10:
        leaning = np.flatnonzero(np.hypot(across, up) > 1.0)
        for i in leaning:
            painter.drawLine(QLineF(float(x[i]), float(y[i]), float(x[i] + across[i]), float(y[i] + up[i])))
    for colour, mine in _by_colour(layout, every):
        painter.setBrush(colour)
        painter.setPen(QPen(colour.darker(170), 1.0) if size > 4.0 else QPen(Qt.PenStyle.NoPen))
        half = size / 2
        if len(mine):
            painter.drawRects(*(QRectF(float(x[i]) - half, float(y[i]) - half, size, size) for i in mine))


def _by_colour(layout: LooseLayout, every: int) -> list[tuple[QColor, IndexArray]]:
    """Screen colours, and which of the drawn emitters have them."""
    xyz = np.round(xyz_per_lumen(layout, every), 4)
    lit = layout.flux_lm[::every] > 0
    distinct, which = np.unique(xyz, axis=0, return_inverse=True)
    pixels = true_colour(np.asarray(distinct.T[:, None, :], dtype=np.float32), Viewing(1.25, 0.0, 0.0))[0]
    found = [
        (QColor(*(int(value) for value in pixels[index])), np.flatnonzero((which.ravel() == index) & lit))
        for index in range(len(distinct))
    ]
    return [*found, (QColor(110, 110, 110), np.flatnonzero(~lit))]


def _polygon(window: Window, outline: FloatArray) -> QPolygonF:
    x, y = window.x(outline[:, 0]), window.y(outline[:, 1])
    return QPolygonF([QPointF(a, b) for a, b in zip(x.tolist(), y.tolist(), strict=True)])
