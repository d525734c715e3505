"""A small map of the light on the target, with its figures."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from gauze.core.optics.appearance import false_colour
from gauze.core.optics.target import TargetMap
from gauze.core.units import format_number
from gauze.ui.canvas.paint.shapes import to_qimage
from gauze.ui.text import tr
from gauze.ui.theme import Theme

_HEIGHT = 112
_LABELS = ((0, 0), (0, -1), (-1, 0), (-1, -1))  # the corners, by row and column


class TargetMapView(QWidget):
    """Illuminance over the target in false colour, lux at corners and middle."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._map: TargetMap | None = None
        self.setFixedHeight(_HEIGHT)
        self.setAccessibleName(tr("Light on the target"))

    def show_map(self, light: TargetMap | None) -> None:
        """Show a map, or none."""
        self._map = light
        self.update()
        if light is None:
            self.setAccessibleDescription("")
            return
        least, most = float(light.illuminance_lx.min()), float(light.illuminance_lx.max())
        self.setAccessibleDescription(f"{format_number(least)} to {format_number(most)} lx")

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Paint map and figures."""
        del event
        if self._map is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, True)
        lux, area = self._map.illuminance_lx, self._area(self._map)
        image = to_qimage(false_colour(lux, 0.0, max(float(lux.max()), 1e-9)))
        painter.drawImage(area, image)
        painter.setPen(QPen(self.theme.colour("line"), 1.0))
        painter.drawRect(area)
        rows, columns = lux.shape
        for row, column in (*_LABELS, (rows // 2, columns // 2)):
            self._paint_figure(painter, area, row % rows, column % columns)
        painter.setPen(self.theme.colour("dim"))
        painter.drawText(QPointF(area.right() + 8, area.top() + 12), "lx")
        painter.end()

    def _area(self, light: TargetMap) -> QRectF:
        wide = float(light.right_mm[-1] - light.right_mm[0]) or 1.0
        high = float(light.up_mm[-1] - light.up_mm[0]) or 1.0
        scale = min((self.width() - 30) / wide, (self.height() - 4) / high)
        return QRectF(0.5, 1.5, max(wide * scale, 40.0), max(high * scale, 24.0))

    def _paint_figure(self, painter: QPainter, area: QRectF, row: int, column: int) -> None:
        assert self._map is not None
        rows, columns = self._map.illuminance_lx.shape
        text = format_number(float(self._map.illuminance_lx[row, column]))
        metrics = painter.fontMetrics()
        size = QRectF(0, 0, metrics.horizontalAdvance(text) + 6, metrics.height())
        across, down = column / max(columns - 1, 1), 1.0 - row / max(rows - 1, 1)
        size.moveTo(
            area.left() + 2 + across * (area.width() - size.width() - 4),
            area.top() + 2 + down * (area.height() - size.height() - 4),
        )
        painter.fillRect(size, self.theme.colour("paper", 200))
        painter.setPen(self.theme.colour("text"))
        painter.drawText(size, Qt.AlignmentFlag.AlignCenter, text)
