"""The drawing in the middle of the window: a strip panel's canvas, or the view of a cavity, by what is open."""

from PyQt6.QtWidgets import QStackedWidget

from gauze.core.evaluate import Evaluation, LooseEvaluation
from gauze.core.layout import LooseLayout, panel_layout
from gauze.core.units import LengthUnit
from gauze.ui.canvas.canvas import Canvas
from gauze.ui.canvas.cavity_view import CavityScene, CavityView
from gauze.ui.canvas.scene import Scene
from gauze.ui.theme import Theme
from gauze.ui.view_state import ViewState
from gauze.ui.workbench import Workbench


class Drawing(QStackedWidget):
    """Shows the open design; both views look at the face in the same way."""

    def __init__(self, theme: Theme, unit: LengthUnit) -> None:
        super().__init__()
        self.canvas = Canvas(theme, unit)
        self.cavity = CavityView(theme, unit)
        self.addWidget(self.canvas)
        self.addWidget(self.cavity)

    @property
    def state(self) -> ViewState:
        """How the face is looked at."""
        return self.canvas.state

    def set_state(self, state: ViewState) -> None:
        """Look at the face in another way."""
        self.canvas.set_state(state)
        self.cavity.set_state(state)

    def set_look(self, theme: Theme, unit: LengthUnit) -> None:
        """Take another theme or unit."""
        self.canvas.set_look(theme, unit)
        self.cavity.set_look(theme, unit)

    def show_design(self, bench: Workbench, evaluation: Evaluation | None) -> None:
        """Show the open design with its light, as far as that is of the same family."""
        layout = bench.layout
        if isinstance(layout, LooseLayout):
            light = evaluation if isinstance(evaluation, LooseEvaluation) else None
            self.cavity.show_scene(CavityScene(bench.design, layout, light))
            self.setCurrentWidget(self.cavity)
        else:
            light_of_panel = None if isinstance(evaluation, LooseEvaluation) else evaluation
            self.canvas.show_scene(Scene(bench.design, panel_layout(layout), light_of_panel))
            self.setCurrentWidget(self.canvas)

    def refuse(self, field: str, message: str) -> None:
        """Say why a value will not do, at what is open."""
        if self.currentWidget() is self.cavity:
            self.cavity.refuse(message)
        else:
            self.canvas.refuse(field, message)
