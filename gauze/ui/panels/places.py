"""The panel of the place in hand, of all subjects'."""

from collections.abc import Sequence
from typing import TypeVar

from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtWidgets import QLineEdit, QStackedWidget

from gauze.session.solver import LightResult
from gauze.ui.panels.fields import LevelField, QuantityField
from gauze.ui.panels.place_panel import PlacePanel
from gauze.ui.subject import Subject
from gauze.ui.theme import Theme
from gauze.ui.workbench import Workbench

Panel = TypeVar("Panel", bound=PlacePanel)


class PlaceStack(QStackedWidget):
    """Holds a panel for each place; where families have one of their own, each of those too."""

    command_wanted = pyqtSignal(str, int)  # key of an action, and the index of what it is for

    def __init__(self, bench: Workbench, subjects: Sequence[Subject]) -> None:
        super().__init__()
        self._bench = bench
        self._place = subjects[0].key
        self._usual: dict[str, PlacePanel] = {}
        self._of_family: dict[tuple[str, type], PlacePanel] = {}
        for subject in subjects:
            self._usual[subject.key] = subject.panel(bench)
            self._of_family |= {(subject.key, build): make(bench) for build, make in subject.panel_of_family.items()}
        self._all = (*self._usual.values(), *self._of_family.values())
        for panel in self._all:
            panel.command_wanted.connect(self.command_wanted)
            self.addWidget(panel)

    def panel(self, kind: type[Panel]) -> Panel:
        """Return the panel of a class; raises :class:`LookupError` where no subject has it."""
        for panel in self._all:
            if isinstance(panel, kind):
                return panel
        raise LookupError(kind.__name__)

    def sizeHint(self) -> QSize:  # noqa: N802 - Qt's name
        """As large as the panel that is shown, not as the largest."""
        current = self.currentWidget()
        return super().sizeHint() if current is None else current.sizeHint()

    def minimumSizeHint(self) -> QSize:  # noqa: N802 - Qt's name
        """As :meth:`sizeHint`."""
        current = self.currentWidget()
        return super().minimumSizeHint() if current is None else current.minimumSizeHint()

    def heightForWidth(self, width: int) -> int:  # noqa: N802 - Qt's name
        """As :meth:`sizeHint`."""
        current = self.currentWidget()
        return super().heightForWidth(width) if current is None else current.heightForWidth(width)

    def show_place(self, key: str) -> None:
        """Show the panel of a place."""
        self._place = key
        self.setCurrentWidget(self._shown(key))
        self.updateGeometry()

    def _shown(self, key: str) -> PlacePanel:
        """The panel of a place for what is open."""
        return self._of_family.get((key, type(self._bench.design.build)), self._usual[key])

    def show_light(self, result: LightResult) -> None:
        """Show what was computed."""
        for panel in self._all:
            panel.show_light(result)

    def set_stale(self, *, stale: bool) -> None:
        """Dim what was computed as long as it is not of the design as it stands."""
        for panel in self._all:
            panel.set_stale(stale=stale)

    def set_theme(self, theme: Theme) -> None:
        """Draw what is drawn in a theme's colours."""
        for panel in self._all:
            panel.set_theme(theme)

    def release(self) -> None:
        """Let go of every slider, leave what is half typed, and take the figures of the old design away."""
        for field in self.findChildren(QuantityField):
            field.leave()
        for line in self.findChildren(QLineEdit):
            line.setModified(False)
        for level in self.findChildren(LevelField):
            level.release()
        for panel in self._all:
            panel.forget()

    def refresh(self) -> None:
        """Show the design as it stands, at every place that it has."""
        for key in self._usual:
            self._shown(key).refresh()
        self.show_place(self._place)
