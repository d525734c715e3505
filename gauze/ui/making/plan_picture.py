"""A small picture of the plan with what a step is about filled."""

from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from gauze.core.drawing import View
from gauze.ui.text import tr
from gauze.ui.theme import Theme

_HIGH, _ALPHA = 170, 90


class PlanPicture(QWidget):
    """Paints a view that marks some shapes; nothing where there is none."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._view: View | None = None
        self.setAccessibleName(tr("Where, on the plan"))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_view(self, view: View | None) -> None:
        """Show a view, or nothing."""
        self._view = view
        self.setVisible(view is not None)
        self.update()

    def set_theme(self, theme: Theme) -> None:
        """Paint in a theme's colours."""
        self._theme = theme
        self.update()

    def sizeHint(self) -> QSize:  # noqa: N802 - Qt's name
        """As wide as there is room, and low."""
        return QSize(320, _HIGH)

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Paint the plan to fit."""
        del event
        if self._view is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        left, low, wide, high = self._view.reach_mm
        scale = min(self.width() / wide, self.height() / high)
        fill = QColor(self._theme.colour("accent"))
        fill.setAlpha(_ALPHA)
        for shape in self._view.shapes():
            marked = shape.role == "marked"
            points = [
                QPointF((x - left) * scale, self.height() - (y - low) * scale) for x, y in shape.points_mm.tolist()
            ]
            painter.setPen(QPen(self._theme.colour("accent" if marked else "line"), 1.6 if marked else 1.0))
            painter.setBrush(fill if marked else Qt.BrushStyle.NoBrush)
            if shape.closed:
                painter.drawPolygon(QPolygonF(points))
            else:
                painter.drawPolyline(QPolygonF(points))
        painter.end()
