"""Paints the plan: the bare strips on the back, and the lit face."""

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPen, QPolygonF

from gauze.core.layout import Layout, Row
from gauze.core.layout.model import EmitterSet
from gauze.core.optics.appearance import Picture, Viewing, true_colour
from gauze.core.optics.colour import channel_xyz
from gauze.ui.canvas.geometry import Rect, View
from gauze.ui.theme import Theme

_BOARD = QColor("#d8d2c4")
_COPPER = QColor("#b8793a")
_MOST_EMITTERS_DRAWN = 20_000


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


def package_colour(channels: Sequence[EmitterSet]) -> QColor:
    """Colour of a package as its channels make it at their levels, dimmed to the screen's range; grey when it is dark."""
    weights = [float(emitters.flux_lm.sum()) for emitters in channels]
    if sum(weights) <= 0:
        return QColor(110, 110, 110)
    mixed = sum(w * channel_xyz(emitters.channel) for w, emitters in zip(weights, channels, strict=True)) / sum(weights)
    pixel = true_colour(np.asarray(mixed, dtype=np.float32)[:, None, None], Viewing(1.25, 0.0, 0.0))[0, 0]
    red, green, blue = (int(value) for value in pixel)
    return QColor(red, green, blue)


def paint_bare(painter: QPainter, view: View, layout: Layout) -> None:
    """Paint back, strips with their cut marks, and LEDs."""
    grey = round(40 + 150 * layout.box.back_reflectance)
    painter.fillRect(to_qrect(view.plan), QColor(grey, grey, round(grey * 0.97)))
    for row in layout.rows:
        _paint_strip(painter, view, layout, row)
    _paint_emitters(painter, view, layout)


def _row_rect(view: View, layout: Layout, row: Row, start_mm: float, end_mm: float, width_mm: float) -> QRectF:
    length, half = (end_mm - start_mm) * view.scale, width_mm * view.scale / 2
    if layout.row_direction == "along_width":
        return QRectF(view.x(start_mm), view.y(row.across_mm) - half, length, 2 * half)
    return QRectF(view.x(row.across_mm) - half, view.y(end_mm), 2 * half, length)


def _paint_strip(painter: QPainter, view: View, layout: Layout, row: Row) -> None:
    body = _row_rect(view, layout, row, row.start_mm, row.end_mm, row.strip.width_mm)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(_BOARD)
    painter.drawRect(body)
    if row.strip.segment_mm * view.scale < 4.0:
        return
    painter.setPen(QPen(_COPPER, 1.0))
    for index in range(1, row.segments):
        mark = _row_rect(view, layout, row, *(2 * (row.start_mm + index * row.strip.segment_mm,)), row.strip.width_mm)
        painter.drawLine(mark.topLeft(), mark.bottomRight())


def _paint_emitters(painter: QPainter, view: View, layout: Layout) -> None:
    if layout.emitter_count > _MOST_EMITTERS_DRAWN:
        return
    for channels in _packages(layout):
        emitters = channels[0]
        width, height = (max(size * view.scale, 1.5) for size in emitters.package_mm)
        colour = package_colour(channels)
        painter.setPen(QPen(colour.darker(170), 1.0) if min(width, height) > 5.0 else QPen(Qt.PenStyle.NoPen))
        painter.setBrush(colour)
        left = view.left + emitters.x_mm * view.scale - width / 2
        top = view.plan_bottom - emitters.y_mm * view.scale - height / 2
        painter.drawRects(*(QRectF(x, y, width, height) for x, y in zip(left.tolist(), top.tolist(), strict=True)))


def _packages(layout: Layout) -> list[list[EmitterSet]]:
    """Emitter sets by package: the channels that share one, or each for itself where they take turns."""
    interleaved = {row.strip_index for row in layout.rows if row.strip.interleaved}
    groups: dict[tuple[int, int], list[EmitterSet]] = {}
    for emitters in layout.emitters:
        strip_index = emitters.channel.strip_index
        own = emitters.channel.channel_index if strip_index in interleaved else 0
        groups.setdefault((strip_index, own), []).append(emitters)
    return list(groups.values())


def paint_face_border(painter: QPainter, view: View, theme: Theme) -> None:
    """Paint the walls' outline around the face."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.colour("ink"), 1.0))
    painter.drawRect(to_qrect(view.plan).adjusted(-0.5, -0.5, 0.5, 0.5))


def paint_seam(
    painter: QPainter, view: View, theme: Theme, seam_x: float, words: tuple[str, str], focused: bool
) -> None:
    """Paint the seam through plan and side cut, with its handle and what stands on either side."""
    plan, cut = view.plan, view.cut
    painter.setPen(QPen(theme.colour("accent"), 1.0))
    painter.drawLine(QPointF(seam_x, plan.y - 2), QPointF(seam_x, plan.bottom))
    painter.drawLine(QPointF(seam_x, cut.y - 2), QPointF(seam_x, cut.bottom))
    painter.setBrush(theme.colour("accent"))
    handle = QRectF(seam_x - 6, plan.y - 17, 12, 14)
    painter.drawRoundedRect(handle, 3, 3)
    painter.setPen(QPen(theme.colour("on_accent"), 1.0))
    for offset in (-2.0, 2.0):
        painter.drawLine(QPointF(seam_x + offset, plan.y - 13), QPointF(seam_x + offset, plan.y - 7))
    if focused:
        painter.setPen(QPen(theme.colour("accent"), 1.5))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(handle.adjusted(-3, -3, 3, 3), 4, 4)
    painter.setPen(theme.colour("ink_dim"))
    left, right = words
    metrics = painter.fontMetrics()
    painter.drawText(QPointF(seam_x - 12 - metrics.horizontalAdvance(left), plan.y - 6), left)
    painter.drawText(QPointF(seam_x + 12, plan.y - 6), right)


def paint_cut_line(painter: QPainter, view: View, theme: Theme, y_mm: float, focused: bool) -> None:
    """Paint where the side cut is taken, with its handle."""
    plan, y = view.plan, view.y(y_mm)
    painter.setPen(QPen(theme.colour("accent", 190), 1.0, Qt.PenStyle.DashDotLine))
    painter.drawLine(QPointF(plan.x, y), QPointF(plan.right, y))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("accent"))
    painter.drawPolygon(QPolygonF([QPointF(plan.x + 10, y), QPointF(plan.x, y - 6), QPointF(plan.x, y + 6)]))
    if focused:
        painter.setPen(QPen(theme.colour("accent"), 1.5))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(QRectF(plan.x - 2, y - 9, 16, 18), 3, 3)
