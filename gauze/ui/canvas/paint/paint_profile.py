"""Paints the luminance along a cut through the face, with its scale and the band inside which the eye sees no ripple."""

import math
from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from gauze.core.evaluate.profile import Profile
from gauze.core.layout.model import FloatArray
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.core.units.length import MM_PER_INCH
from gauze.ui.canvas.geometry import Window
from gauze.ui.canvas.paint.shapes import polygon_of
from gauze.ui.text import tr
from gauze.ui.theme import Theme

_LEAST_HEIGHT = 32.0
_TICKS_UP, _TICKS_ALONG = 3.6, 7.0  # about so many steps to a scale
_DARK_CD_M2 = 1e-6  # a cut through nothing

Points = Callable[[FloatArray, FloatArray], FloatArray]


def paint_cut_line(painter: QPainter, face: Window, v_mm: float, theme: Theme) -> None:
    """Paint where the profile is taken."""
    y = face.y(v_mm)
    painter.setPen(QPen(theme.colour("accent", 190), 1.0, Qt.PenStyle.DashDotLine))
    painter.drawLine(QPointF(face.rect.x, y), QPointF(face.rect.x + face.rect.width, y))


def paint_profile(
    painter: QPainter, area: QRectF, face: Window, profile: Profile, theme: Theme, standard: str, unit: LengthUnit
) -> None:
    """Paint the profile into an area; the face's range lies over its whole width, scales at its right and below."""
    least, most = profile.shown_range()
    if area.height() < _LEAST_HEIGHT or most <= max(least, _DARK_CD_M2):
        return
    scale = face.scale * area.width() / face.rect.width

    def points(x_mm: FloatArray, values: FloatArray) -> FloatArray:
        x = area.x() + (x_mm - face.left_mm) * scale
        if face.mirrored:
            x = 2.0 * area.x() + area.width() - x
        y = area.bottom() - np.clip((values - least) / (most - least), 0.0, 1.0) * area.height()
        return np.stack([x, y], axis=1)

    _paint_scale_up(painter, area, theme, (least, most))
    _paint_scale_along(painter, area, theme, face, scale, unit)
    for piece in profile.pieces():
        shown = piece.thinned(int((piece.x_mm[-1] - piece.x_mm[0]) * scale) + 2)  # no finer than pixels
        _paint_line_and_band(painter, theme, shown, points)
    words = tr("luminance along the cut")
    if profile.threshold > 0.0:
        words += tr("; band: ripple that passes “{standard}”, ±{share} %").format(
            standard=standard, share=format_number(100.0 * profile.threshold, 2)
        )
    painter.setPen(theme.colour("ink_dim"))
    metrics = painter.fontMetrics()
    beside = tr("seen from {distance}").format(distance="00.00 m")  # which stands at the other end
    room = area.width() - metrics.horizontalAdvance(beside) - 24.0
    for shorter in (tr("luminance along the cut"), tr("luminance"), ""):
        if metrics.horizontalAdvance(words) > room:
            words = shorter
    painter.drawText(QPointF(area.left(), area.top() - 8), words)


def _paint_line_and_band(painter: QPainter, theme: Theme, profile: Profile, points: Points) -> None:
    """Paint a profile's luminance over the band in which a ripple passes."""
    painter.save()
    if profile.threshold > 0.0:
        low, high = profile.band
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("band", 150))
        painter.drawPolygon(polygon_of(np.concatenate([points(profile.x_mm, high), points(profile.x_mm, low)[::-1]])))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.colour("text"), 1.4))
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
    painter.drawPolyline(polygon_of(points(profile.x_mm, profile.luminance)))
    painter.restore()


def _paint_scale_up(painter: QPainter, area: QRectF, theme: Theme, span: tuple[float, float]) -> None:
    least, most = span
    step = round_step((most - least) / min(_TICKS_UP, max(area.height() / 24.0, 1.0)))
    metrics = painter.fontMetrics()
    value = math.ceil(least / step) * step
    marks = []
    while value <= most:
        marks.append(value)
        value += step
    for value in marks:
        y = area.bottom() - (value - least) / (most - least) * area.height()
        painter.setPen(QPen(theme.colour("line"), 1.0, Qt.PenStyle.DotLine))
        painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
        painter.setPen(theme.colour("ink_dim"))
        text = format_number(value) + (tr(" cd/m²") if value == marks[-1] else "")
        painter.drawText(QPointF(area.right() + 6, y + metrics.ascent() / 2 - 1), text)


def _paint_scale_along(
    painter: QPainter, area: QRectF, theme: Theme, face: Window, scale: float, unit: LengthUnit
) -> None:
    """Lengths below the profile, along the face."""
    painter.setPen(QPen(theme.colour("ink_dim"), 1.0))
    painter.drawLine(area.bottomLeft(), area.bottomRight())
    long_mm = area.width() / scale
    per = MM_PER_INCH if unit is LengthUnit.INCH else 1.0
    step = round_step(long_mm / per / min(_TICKS_ALONG, max(area.width() / 56.0, 1.0))) * per
    metrics = painter.fontMetrics()
    first = math.ceil(face.left_mm / step - 1e-9)
    count = int((face.left_mm + long_mm) / step + 1e-9) - first + 1
    for number in range(first, first + count):
        x = area.x() + (number * step - face.left_mm) * scale
        if face.mirrored:
            x = 2.0 * area.x() + area.width() - x
        painter.drawLine(QPointF(x, area.bottom()), QPointF(x, area.bottom() + 4))
        last = number == first + count - 1
        text = format_length(number * step, unit, with_unit=last)
        width = metrics.horizontalAdvance(text)
        painter.drawText(QPointF(x - width / 2, area.bottom() + 5 + metrics.ascent()), text)


def round_step(wanted: float) -> float:
    """Return the next of 1, 2 and 5 times a power of ten."""
    power = 10.0 ** math.floor(math.log10(max(wanted, 1e-12)))
    return next((factor * power for factor in (1.0, 2.0, 5.0) if factor * power >= wanted - 1e-12), 10.0 * power)
