"""What the panels of all places share."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QHideEvent, QShowEvent
from PyQt6.QtWidgets import QLabel, QVBoxLayout, QWidget

from gauze.core.units import parse_length
from gauze.session import edits
from gauze.session.solver import LightResult
from gauze.ui.panels.fields import Form, QuantityField
from gauze.ui.theme import Theme
from gauze.ui.workbench import Workbench


class PlacePanel(QWidget):
    """What one place has to choose.

    It is refreshed only while a design is open that it is for. ``command_wanted`` asks for an action of the window, by its key,
    for the one of several that an index says; ``shown`` and ``hidden`` tell that it has come into view, or gone.
    """

    command_wanted = pyqtSignal(str, int)
    shown = pyqtSignal()
    hidden = pyqtSignal()

    def __init__(self, bench: Workbench, title: str) -> None:
        super().__init__()
        self.bench = bench
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(12, 8, 12, 10)
        self.column.setSpacing(6)
        heading = QLabel(title)
        heading.setObjectName("heading")
        self.column.addWidget(heading)
        self.form = Form()
        self.column.addWidget(self.form)

    def showEvent(self, event: QShowEvent | None) -> None:  # noqa: N802 - Qt's name
        """Tell that it has come into view."""
        super().showEvent(event)
        self.shown.emit()

    def hideEvent(self, event: QHideEvent | None) -> None:  # noqa: N802 - Qt's name
        """Tell that it has gone out of view."""
        super().hideEvent(event)
        self.hidden.emit()

    def refresh(self) -> None:
        """Show the design as it stands."""

    def show_light(self, result: LightResult) -> None:
        """Show what was computed."""

    def set_stale(self, *, stale: bool) -> None:
        """Dim what was computed as long as it is not of the design as it stands."""

    def set_theme(self, theme: Theme) -> None:
        """Draw what is drawn in a theme's colours."""

    def forget(self) -> None:
        """Take the figures of another design away."""

    def length_field(self, name: str, label: str, edit_name: str, **target: str) -> QuantityField:
        """Add a length that edits one field of the purpose."""
        field = QuantityField(name, lambda text: parse_length(text, self.bench.unit))
        field.wrong.connect(self.form.say)
        key = target["purpose"]
        field.taken.connect(
            lambda value: self.bench.edit(edit_name, lambda design, _: edits.with_purpose(design, **{key: value}))
        )
        self.form.add(label, field)
        return field
