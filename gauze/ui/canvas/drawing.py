"""The drawing in the middle of the window: a strip panel's canvas, or the view of another build, by what is open."""

from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QStackedWidget

from gauze.core.evaluate import Evaluation
from gauze.core.layout import BuiltLayout, Layout
from gauze.core.units import LengthUnit
from gauze.ui.canvas.build_painter import BuildScene
from gauze.ui.canvas.build_view import BuildView
from gauze.ui.canvas.canvas import Canvas
from gauze.ui.canvas.scene import Scene
from gauze.ui.theme import Theme
from gauze.ui.view_state import ViewState
from gauze.ui.workbench import Workbench


class Drawing(QStackedWidget):
    """Shows the open design; both views look at the face in the same way."""

    def __init__(self, theme: Theme, unit: LengthUnit) -> None:
        super().__init__()
        self.canvas = Canvas(theme, unit)
        self.build = BuildView(theme, unit)
        self.build.state_changed.connect(self.set_state)
        self._other: Evaluation | None = None
        self._shown_last: tuple[Workbench, Evaluation | None] | None = None
        self.addWidget(self.canvas)
        self.addWidget(self.build)

    @property
    def shown(self) -> Canvas | BuildView:
        """The view of what is open."""
        return self.build if self.currentWidget() is self.build else self.canvas

    @property
    def state(self) -> ViewState:
        """How the face is looked at."""
        return self.canvas.state

    def set_state(self, state: ViewState) -> None:
        """Look at the face in another way."""
        self.canvas.set_state(state)
        self.build.set_state(state)

    def set_look(self, theme: Theme, unit: LengthUnit) -> None:
        """Take another theme or unit."""
        self.canvas.set_look(theme, unit)
        self.build.set_look(theme, unit)

    def show_design(self, bench: Workbench, evaluation: Evaluation | None) -> None:
        """Show the open design with its light, as far as that is of the same build."""
        self._shown_last = (bench, evaluation)
        layout = bench.layout
        if isinstance(layout, BuiltLayout):
            same = evaluation is not None and type(evaluation.design.build) is type(bench.design.build)
            self.build.show_scene(BuildScene(bench.design, layout, evaluation if same else None, self._other))
            self.setCurrentWidget(self.build)
        else:
            light = evaluation if evaluation is not None and isinstance(evaluation.layout, Layout) else None
            self.canvas.show_scene(Scene(bench.design, layout, light, self._other))
            self.setCurrentWidget(self.canvas)

    def compare_with(self, other: Evaluation | None) -> None:
        """Show another design's light on the left of the seam; None for the bare side."""
        if other is not self._other:
            self._other = other
            if self._shown_last is not None:
                self.show_design(*self._shown_last)

    def refuse(self, field: str, message: str) -> None:
        """Say why a value is invalid, at what is open."""
        self.shown.refuse(field, message)

    def release(self) -> None:
        """Let go of whatever the hand holds or types: another design is open."""
        self.canvas.release()
        self.build.release()

    def edit(self, key: str) -> None:
        """Open the editor on a dimension of what is open."""
        self.shown.edit(key)

    def fit(self) -> None:
        """Show the whole design."""
        self.shown.fit()

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom what is open."""
        self.shown.zoom(factor, at)
