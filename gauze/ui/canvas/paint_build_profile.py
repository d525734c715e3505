"""Paints the luminance along a cut through an unrolled face, with the band of the unseen."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from gauze.core.evaluate.profile import Profile
from gauze.core.layout.model import FloatArray
from gauze.core.units import format_number
from gauze.ui.canvas.build_geometry import Window
from gauze.ui.canvas.paint_cut import paint_line_and_band
from gauze.ui.text import tr
from gauze.ui.theme import Theme

_LEAST_HEIGHT = 40.0
_CAPTION_BEYOND = 20  # pixels
_DARK_CD_M2 = 1e-6  # a cut through nothing


def paint_cut_line(painter: QPainter, face: Window, v_mm: float, theme: Theme) -> None:
    """Paint where the profile is taken."""
    y = face.y(v_mm)
    painter.setPen(QPen(theme.colour("accent", 190), 1.0, Qt.PenStyle.DashDotLine))
    painter.drawLine(QPointF(face.rect.x, y), QPointF(face.rect.x + face.rect.width, y))


def paint_profile(
    painter: QPainter, area: QRectF, face: Window, profile: Profile, theme: Theme, seen_from: str
) -> None:
    """Paint the profile into an area; the face's range lies over its whole width."""
    if area.height() < _LEAST_HEIGHT:
        return
    least, most = profile.shown_range()
    if most <= max(least, _DARK_CD_M2):
        return

    scale = face.scale * area.width() / face.rect.width

    def points(x_mm: FloatArray, values: FloatArray) -> FloatArray:
        x = area.x() + (x_mm - face.left_mm) * scale
        y = area.bottom() - np.clip((values - least) / (most - least), 0.0, 1.0) * area.height()
        return np.stack([x, y], axis=1)

    painter.setPen(QPen(theme.colour("line"), 1.0, Qt.PenStyle.DotLine))
    for y in (area.top(), area.bottom()):
        painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
    for piece in profile.pieces():
        shown = piece.thinned(int((piece.x_mm[-1] - piece.x_mm[0]) * scale) + 2)  # no finer than pixels
        paint_line_and_band(painter, theme, shown, points)
    painter.setPen(theme.colour("ink_dim"))
    words = tr("along the cut, {least} to {most} cd/m²").format(least=format_number(least), most=format_number(most))
    if profile.threshold > 0.0:
        words += tr("; band: unseen {from_where}").format(from_where=seen_from)
    metrics = painter.fontMetrics()
    painter.drawText(
        QPointF(area.left(), area.top() - 8),
        metrics.elidedText(words, Qt.TextElideMode.ElideRight, int(area.width()) + _CAPTION_BEYOND),
    )
