"""The trade-off chart: depth against rows, with the lines from which the standards pass, and the design as a point to drag."""

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QProgressBar, QToolButton, QVBoxLayout, QWidget

from gauze.core.evaluate.standards import neighbours_of, standard_of
from gauze.core.evaluate.tradeoff import TradeOff
from gauze.core.layout.model import FloatArray
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.core.units.length import format_distance
from gauze.ui.panels.fields import EitherOr
from gauze.ui.text import spoken, tr
from gauze.ui.theme import Theme, icon

_LEFT, _RIGHT, _TOP, _BOTTOM = 64.0, 70.0, 10.0, 34.0
_HEIGHT = 250
_FLUX_LINES = 4
_LEAST_POINTS = 2  # of a line that is drawn


@dataclass(frozen=True)
class Point:
    """The design's place in the field."""

    depth_mm: float
    rows: int


class Chart(QWidget):
    """Paints the field and follows the point."""

    moved = pyqtSignal(float, int, object)  # depth in mm, rows, gesture

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.unit = LengthUnit.MM
        self.by_pitch = False
        self._field: TradeOff | None = None
        self._point: Point | None = None
        self._gesture: object | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumHeight(_HEIGHT)
        self.setAccessibleName(tr("Trade-off of depth and rows"))
        self.setToolTip(tr("Drag the point, or use the arrow keys: left and right for depth, up and down for rows"))

    def show_field(self, field: TradeOff | None, point: Point) -> None:
        """Show a field, or none while it is being computed, and where the design stands."""
        self._field, self._point = field, point
        self.setAccessibleDescription(
            tr("{depth} deep, {rows} rows").format(depth=format_length(point.depth_mm, self.unit), rows=point.rows)
        )
        self.update()

    def place_of(self, point: Point) -> QPointF:
        """Pixel of a point of the field."""
        return QPointF(self._x(np.array([point.depth_mm]))[0], self._y(np.array([float(point.rows)]))[0])

    def _area(self) -> QRectF:
        return QRectF(_LEFT, _TOP, max(self.width() - _LEFT - _RIGHT, 50), max(self.height() - _TOP - _BOTTOM, 50))

    def _x(self, depths_mm: FloatArray) -> FloatArray:
        assert self._field is not None
        low, high = np.log(self._field.depths_mm[[0, -1]])
        return np.asarray(self._area().left() + (np.log(depths_mm) - low) / (high - low) * self._area().width())

    def _y(self, counts: FloatArray) -> FloatArray:
        assert self._field is not None
        low, high = self._field.row_counts[[0, -1]]
        return np.asarray(self._area().bottom() - (counts - low) / (high - low) * self._area().height())

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Paint axes, region, lines and point."""
        del event
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.theme.colour("paper"))
        field = self._field
        if field is None or self._point is None:
            painter.setPen(self.theme.colour("ink_dim"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, tr("Lighting all designs of the field …"))
            return
        self._paint_region(painter, field)
        self._paint_flux(painter, field)
        self._paint_axes(painter, field)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        self._paint_point(painter, self.place_of(self._point))
        painter.end()

    def _paint_region(self, painter: QPainter, field: TradeOff) -> None:
        """The field in which the design's standard passes, and the lines from which the others do."""
        standard = standard_of(field.design)
        for other in neighbours_of(field.design):
            line = self._passing(field, other.aim)
            if len(line) < _LEAST_POINTS:
                continue
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
            painter.setPen(QPen(self.theme.colour("ink_dim"), 1.0, Qt.PenStyle.DashLine))
            painter.drawPolyline(QPolygonF(line))
            self._name_line(painter, line, spoken(other.name))
        line = self._passing(field, standard.aim)
        if len(line) >= _LEAST_POINTS:
            area = self._area()
            closed = [*line, QPointF(area.right(), line[-1].y()), QPointF(area.right(), line[0].y())]
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(self.theme.colour("good", 46))
            painter.drawPolygon(QPolygonF(closed))
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
            painter.setPen(QPen(self.theme.colour("good"), 2.0))
            painter.drawPolyline(QPolygonF(line))
            self._name_line(painter, line, spoken(standard.name))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)

    def _passing(self, field: TradeOff, visibility: float) -> list[QPointF]:
        depths = field.least_depths_mm(visibility)
        known = np.isfinite(depths)
        return self._line(depths[known], field.row_counts[known])

    def _name_line(self, painter: QPainter, line: list[QPointF], name: str) -> None:
        """Put a name beside the lower end of a line, within the chart: there the lines are farthest apart."""
        metrics, area = painter.fontMetrics(), self._area()
        end = max(line, key=lambda point: point.y())
        x = min(end.x() + 5.0, area.right() - metrics.horizontalAdvance(name) - 2.0)
        painter.setPen(self.theme.colour("ink"))
        painter.drawText(QPointF(x, min(end.y(), area.bottom()) - 4.0), name)

    def _line(self, depths_mm: FloatArray, counts: FloatArray) -> list[QPointF]:
        return [QPointF(x, y) for x, y in zip(self._x(depths_mm).tolist(), self._y(counts).tolist(), strict=True)]

    def _paint_flux(self, painter: QPainter, field: TradeOff) -> None:
        known = field.flux_lm[np.isfinite(field.flux_lm)]
        if known.size < 4:
            return
        for flux_lm in np.linspace(known.min(), known.max(), _FLUX_LINES + 2)[1:-1]:
            rounded = float(f"{flux_lm:.2g}")
            counts = field.row_counts_for_flux(rounded)
            inside = np.isfinite(counts)
            if inside.sum() < 2:
                continue
            line = self._line(field.depths_mm[inside], counts[inside])
            painter.setPen(QPen(self.theme.colour("ink_dim", 150), 1.0))
            painter.drawPolyline(QPolygonF(line))
            painter.setPen(self.theme.colour("ink_dim"))
            painter.drawText(line[0] + QPointF(6, -3), tr("{flux} lm").format(flux=format_number(rounded)))

    def _paint_axes(self, painter: QPainter, field: TradeOff) -> None:
        area, metrics = self._area(), painter.fontMetrics()
        painter.setPen(QPen(self.theme.colour("line"), 1.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(area)
        painter.setPen(self.theme.colour("ink"))
        for depth_mm, x in zip(field.depths_mm[::3], self._x(field.depths_mm[::3]), strict=True):
            text = format_length(round(float(depth_mm)), self.unit)
            painter.drawText(QPointF(x - metrics.horizontalAdvance(text) / 2, area.bottom() + 15), text)
        for index in range(0, len(field.row_counts), 3):
            y = float(self._y(field.row_counts[[index]])[0]) + metrics.ascent() / 2 - 2
            text = self._row_words(field, index)
            painter.drawText(QPointF(area.left() - metrics.horizontalAdvance(text) - 6, y), text)
            if np.isfinite(field.watts[index]):
                watts = tr("{watts} W").format(watts=format_number(float(field.watts[index])))
                painter.drawText(QPointF(area.right() + 6, y), watts)
        painter.setPen(self.theme.colour("ink_dim"))
        purpose, standard = field.design.purpose, standard_of(field.design)
        from_where = (
            tr("on camera")
            if purpose.viewer == "camera"
            else tr("from {distance}").format(distance=format_distance(purpose.viewing_distance_mm, self.unit))
        )
        legend = tr(
            "depth; in the tinted field “{standard}” passes {from_where}, right of a dashed line the other does"
        )
        legend = legend.format(standard=spoken(standard.name), from_where=from_where)
        painter.drawText(QPointF(area.left(), area.bottom() + 30), legend)

    def _row_words(self, field: TradeOff, index: int) -> str:
        if self.by_pitch:
            return format_length(round(float(field.spacings_mm[index]), 1), self.unit)
        return tr("{count} rows").format(count=int(field.row_counts[index]))

    def _paint_point(self, painter: QPainter, place: QPointF) -> None:
        painter.setPen(QPen(self.theme.colour("accent"), 1.0, Qt.PenStyle.DotLine))
        area = self._area()
        painter.drawLine(QPointF(place.x(), area.top()), QPointF(place.x(), area.bottom()))
        painter.drawLine(QPointF(area.left(), place.y()), QPointF(area.right(), place.y()))
        painter.setPen(QPen(self.theme.colour("on_accent"), 1.5))
        painter.setBrush(self.theme.colour("accent"))
        painter.drawEllipse(place, 7.0, 7.0)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(self.theme.colour("accent"), 1.5))
            painter.drawEllipse(place, 11.0, 11.0)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Put the point under the pointer."""
        assert event is not None
        if event.button() == Qt.MouseButton.LeftButton and self._field is not None:
            self._gesture = object()
            self._go_to(event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Drag the point."""
        assert event is not None
        if self._gesture is not None:
            self._go_to(event.position())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Let go of the point."""
        del event
        self._gesture = None

    def _go_to(self, place: QPointF) -> None:
        if self._field is None:
            return
        area, field = self._area(), self._field
        across = min(max((place.x() - area.left()) / area.width(), 0.0), 1.0)
        up = min(max((area.bottom() - place.y()) / area.height(), 0.0), 1.0)
        low, high = np.log(field.depths_mm[[0, -1]])
        depth_mm = round(float(np.exp(low + across * (high - low))) * 2) / 2
        rows = round(float(field.row_counts[0] + up * (field.row_counts[-1] - field.row_counts[0])))
        self.moved.emit(depth_mm, rows, self._gesture)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802 - Qt's name
        """Move the point by the arrow keys."""
        assert event is not None
        steps = {
            Qt.Key.Key_Left: (-1.0, 0),
            Qt.Key.Key_Right: (1.0, 0),
            Qt.Key.Key_Up: (0.0, 1),
            Qt.Key.Key_Down: (0.0, -1),
        }
        if event.key() in steps and self._point is not None:
            deeper, more = steps[Qt.Key(event.key())]
            self.moved.emit(self._point.depth_mm + deeper, max(self._point.rows + more, 1), "keys on the chart")
        else:
            super().keyPressEvent(event)


class TradeOffPanel(QWidget):
    """The chart with its title, progress and a close button."""

    closed = pyqtSignal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("tray")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        title = QLabel(tr("Trade-off of depth and rows"))
        title.setObjectName("heading")
        self._close = QToolButton()
        self._close.setAccessibleName(tr("Close the chart"))
        self._close.setToolTip(tr("Close the chart"))
        self._close.clicked.connect(self.closed)
        self._progress = QProgressBar()
        self._progress.setRange(0, 100)
        self._progress.setTextVisible(False)
        self._progress.setAccessibleName(tr("Lighting the field"))
        self.chart = Chart(theme)
        self.axis = EitherOr(tr("Upright axis"), (("rows", tr("Rows")), ("pitch", tr("Pitch"))))
        self.axis.show_choice("rows")
        self.axis.chosen.connect(self._choose_axis)
        head = QHBoxLayout()
        head.setContentsMargins(12, 4, 8, 2)
        head.addWidget(title, 1)
        head.addWidget(self.axis)
        head.addWidget(self._close)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(head)
        column.addWidget(self._progress)
        column.addWidget(self.chart, 1)
        self.set_theme(theme)
        self.hide()

    def _choose_axis(self, key: str) -> None:
        self.chart.by_pitch = key == "pitch"
        self.chart.update()

    def set_theme(self, theme: Theme) -> None:
        """Take another theme."""
        self.chart.theme = theme
        self._close.setIcon(icon("x", theme, "dim"))
        self.chart.update()

    def show_progress(self, share: float) -> None:
        """Show how much of the field is lit."""
        self._progress.setValue(round(100 * share))
        self._progress.setVisible(share < 1.0)
