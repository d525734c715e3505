"""Pixmaps that a painter keeps from one painting to the next."""

from typing import Any

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter, QPixmap

_KEPT = 2  # this variant's and the other's


def ratio_of(painter: QPainter) -> float:
    """Device pixels to a pixel of what is painted on."""
    device = painter.device()
    return device.devicePixelRatioF() if device is not None else 1.0


def blank(area: QRectF, ratio: float) -> QPixmap:
    """A transparent pixmap as large as an area."""
    pixmap = QPixmap(max(int(area.width() * ratio), 1), max(int(area.height() * ratio), 1))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(Qt.GlobalColor.transparent)
    return pixmap


def antialiased(pixmap: QPixmap) -> QPainter:
    """A painter on a pixmap."""
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
    return painter


def make_room(kept: dict[Any, Any]) -> None:
    """Forget the oldest of what is kept, where that is as much as is kept."""
    if len(kept) >= _KEPT:
        kept.pop(next(iter(kept)))
