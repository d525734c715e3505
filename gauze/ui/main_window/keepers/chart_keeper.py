"""Keeps the trade-off chart: lights its field when the design asks for another, and moves the design with the point."""

from PyQt6.QtCore import QObject, Qt

from gauze.core.evaluate.tradeoff import TradeOff, design_at
from gauze.ui.canvas.drawing import Drawing
from gauze.ui.panels.tradeoff import Point, TradeOffPanel
from gauze.ui.workbench import Workbench


class ChartKeeper(QObject):
    """Stands between the chart and the workbench."""

    def __init__(self, bench: Workbench, panel: TradeOffPanel, drawing: Drawing) -> None:
        super().__init__()
        self._bench, self._panel, self._drawing = bench, panel, drawing
        self._field: TradeOff | None = None
        bench.solving.field_lit.connect(self._take_field)
        bench.solving.field_progress.connect(panel.show_progress)
        panel.closed.connect(self.close)
        panel.chart.moved.connect(self._move)

    def open(self) -> None:
        """Open the chart on the design in hand."""
        self._panel.show()
        self._panel.chart.setFocus(Qt.FocusReason.OtherFocusReason)
        self.follow()

    def close(self) -> None:
        """Put the chart away; where it is not open nothing happens, least of all to what is being typed."""
        if self._panel.isHidden():
            return
        self._bench.solving.cancel("field")
        self._panel.hide()
        self._drawing.setFocus(Qt.FocusReason.OtherFocusReason)

    def follow(self) -> None:
        """Show where the design stands; light another field when it is no longer a point of this one."""
        if not self._panel.isVisible():
            return
        if self._field is not None and not self._holds(self._field):
            self._field = None
        if self._field is None:
            self._bench.solving.light_field(self._bench.design)
        self._show()

    def _holds(self, field: TradeOff) -> bool:
        design, rows = self._bench.design, self._bench.panel_layout.lines
        inside = field.depths_mm[0] <= design.panel.depth_mm <= field.depths_mm[-1]
        return field.holds_for(design) and inside and bool(field.row_counts[0] <= rows <= field.row_counts[-1])

    def _take_field(self, field: TradeOff) -> None:
        if self._holds(field):
            self._field = field
            self._show()

    def _show(self) -> None:
        self._panel.chart.unit = self._bench.unit
        point = Point(self._bench.design.panel.depth_mm, self._bench.panel_layout.lines)
        self._panel.chart.show_field(self._field, point)

    def show_point(self) -> None:
        """Move the point along while the design is being dragged."""
        if self._panel.isVisible():
            self._show()

    def _move(self, depth_mm: float, rows: int, gesture: object) -> None:
        margin_mm = self._field.side_margin_mm if self._field is not None else self._bench.panel_layout.side_margin_mm
        self._bench.drag(
            "Depth and rows", lambda design, _layout: design_at(design, margin_mm, depth_mm, rows), gesture
        )
