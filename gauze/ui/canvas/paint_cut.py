"""Paints the side cut: back, strips, walls, lid with its grip, and the luminance standing over the lid."""

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPen

from gauze.core.evaluate.profile import Profile
from gauze.core.layout import Layout, Row
from gauze.core.layout.model import FloatArray
from gauze.core.units import format_number
from gauze.ui.canvas.geometry import View
from gauze.ui.canvas.shapes import polygon_of
from gauze.ui.text import tr
from gauze.ui.theme import Theme

WALL = 4.0  # pixels, the thickness at which walls and back are drawn
LEAST_LID = 4.0  # pixels


def paint_box(painter: QPainter, view: View, layout: Layout, theme: Theme, seam_x: float, y_mm: float) -> None:
    """Paint the body in section: dark on the bare side of the seam, filled with light on the other."""
    cut = view.cut
    inside = QRectF(cut.x, cut.y, cut.width, cut.height)
    painter.fillRect(inside, theme.colour("panel"))
    lit = inside.intersected(QRectF(seam_x, cut.y, view.width, cut.height))
    painter.fillRect(lit, QColor(255, 236, 200, 46) if theme.name == "dark" else QColor(255, 250, 236, 230))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.colour("ink_dim"))
    painter.drawRect(QRectF(cut.x - WALL, cut.bottom, cut.width + 2 * WALL, WALL))
    for x in (cut.x - WALL, cut.right):
        painter.drawRect(QRectF(x, cut.y, WALL, cut.height))
    for row in _rows_in_cut(layout, y_mm):
        _paint_row(painter, view, layout, row, theme)


def _rows_in_cut(layout: Layout, y_mm: float) -> list[Row]:
    """Rows that the cut meets; along the rows that is the nearest one."""
    if layout.row_direction == "along_height":
        return [row for row in layout.rows if row.start_mm <= y_mm <= row.end_mm]
    return [min(layout.rows, key=lambda row: abs(row.across_mm - y_mm))]


def _paint_row(painter: QPainter, view: View, layout: Layout, row: Row, theme: Theme) -> None:
    strip = row.strip
    board = max(0.35 * strip.emitter_height_mm * view.scale, 1.5)
    top = max(strip.emitter_height_mm * view.scale, board + 1.5)
    base = view.cut_bottom
    outline = QPen(theme.colour("ink_dim"), 1.0) if theme.name == "light" else QPen(Qt.PenStyle.NoPen)
    painter.setPen(outline)
    painter.setBrush(QColor("#e9e4d8"))
    if layout.row_direction == "along_height":
        middle, half = view.x(row.across_mm), strip.width_mm * view.scale / 2
        painter.drawRect(QRectF(middle - half, base - board, 2 * half, board))
        painter.setBrush(QColor("#fff3d0"))
        led = max(strip.package_mm[1] * view.scale, 2.0)
        painter.drawRect(QRectF(middle - led / 2, base - top, led, top - board))
        return
    painter.drawRect(QRectF(view.x(row.start_mm), base - board, row.length_mm * view.scale, board))
    painter.setBrush(QColor("#fff3d0"))
    led = max(strip.package_mm[0] * view.scale, 1.5)
    first = view.x(row.start_mm + strip.pitch_mm / 2) - led / 2
    step = strip.pitch_mm * view.scale
    painter.drawRects(*(QRectF(first + index * step, base - top, led, top - board) for index in range(row.emitters)))


def paint_lid(
    painter: QPainter, view: View, theme: Theme, seam_x: float, thickness_mm: float, line: QImage | None, active: bool
) -> None:
    """Paint the diffuser, glowing on the lit side as the plan does along the cut, with its grip."""
    cut = view.cut
    height = max(thickness_mm * view.scale, LEAST_LID)
    lid = QRectF(cut.x - WALL, cut.y - height, cut.width + 2 * WALL, height)
    painter.fillRect(lid, theme.colour("ink_dim"))
    if line is not None:
        painter.save()
        painter.setClipRect(lid.intersected(QRectF(seam_x, lid.y(), view.width, height)))
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, True)
        painter.drawImage(QRectF(cut.x, lid.y(), cut.width, height), line)
        painter.restore()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.colour("accent" if active else "ink"), 1.0))
    painter.drawRect(lid)
    middle = cut.x + cut.width / 2
    grip = QRectF(middle - 17, lid.center().y() - 6, 34, 12)
    painter.setBrush(theme.colour("accent" if active else "raised"))
    painter.setPen(QPen(theme.colour("accent"), 1.0))
    painter.drawRoundedRect(grip, 6, 6)
    painter.setPen(QPen(theme.colour("on_accent" if active else "accent"), 1.2))
    y = grip.center().y()
    for sign in (-1.0, 1.0):
        tip = y + sign * 3.6
        painter.drawLine(QPointF(middle - 4, tip - sign * 2.6), QPointF(middle, tip))
        painter.drawLine(QPointF(middle, tip), QPointF(middle + 4, tip - sign * 2.6))


def paint_profile(
    painter: QPainter, view: View, theme: Theme, profile: Profile, lid_top: float, seen_from: str
) -> None:
    """Paint the luminance along the cut over the lid, with the band of the unseen around its trend."""
    top, bottom = view.cut_top + 26.0, lid_top - 10.0
    if bottom - top < 20.0:
        return
    least, most = profile.shown_range()
    if most <= 0.0:
        return

    def points(x_mm: FloatArray, values: FloatArray) -> FloatArray:
        x = view.left + x_mm * view.scale
        y = bottom - np.clip((values - least) / (most - least), 0.0, 1.0) * (bottom - top)
        return np.stack([x, y], axis=1)

    _paint_scale(painter, view, theme, (least, most), (top, bottom))
    paint_line_and_band(painter, theme, profile, points)
    words = tr("luminance along the cut")
    if profile.threshold > 0.0:
        words += tr("; band: ripple unseen {from_where}, ±{share} %").format(
            from_where=seen_from, share=format_number(100.0 * profile.threshold, 2)
        )
    painter.setPen(theme.colour("ink_dim"))
    painter.drawText(QPointF(150.0, view.cut_top + 18.0), words)


def paint_line_and_band(
    painter: QPainter, theme: Theme, profile: Profile, points: Callable[[FloatArray, FloatArray], FloatArray]
) -> None:
    """Paint a profile's luminance over the band of the unseen; ``points`` brings places and luminances to pixels (n, 2)."""
    painter.save()
    if profile.threshold > 0.0:
        low, high = profile.band
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("band", 150))
        painter.drawPolygon(polygon_of(np.concatenate([points(profile.x_mm, high), points(profile.x_mm, low)[::-1]])))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.colour("text"), 1.3))
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
    painter.drawPolyline(polygon_of(points(profile.x_mm, profile.luminance)))
    painter.restore()


def _paint_scale(
    painter: QPainter, view: View, theme: Theme, span: tuple[float, float], edges: tuple[float, float]
) -> None:
    (least, most), (top, bottom) = span, edges
    step = _round_step((most - least) / 2.6)
    painter.setPen(QPen(theme.colour("line"), 1.0))
    metrics = painter.fontMetrics()
    value = float(np.ceil(least / step)) * step
    while value <= most:
        y = bottom - (value - least) / (most - least) * (bottom - top)
        painter.setPen(QPen(theme.colour("line"), 1.0, Qt.PenStyle.DotLine))
        painter.drawLine(QPointF(view.cut.x, y), QPointF(view.cut.right, y))
        painter.setPen(theme.colour("ink_dim"))
        text = format_number(value) + tr(" cd/m²")
        painter.drawText(QPointF(view.cut.right + 8, y + metrics.ascent() / 2 - 1), text)
        value += step


def _round_step(wanted: float) -> float:
    power = 10.0 ** np.floor(np.log10(wanted))
    return float(next((factor * power for factor in (1.0, 2.0, 5.0) if factor * power >= wanted), 10.0 * power))
