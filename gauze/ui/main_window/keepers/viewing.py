"""How the face is looked at: keeps drawing, top bar and menu at one."""

from dataclasses import replace

from PyQt6.QtGui import QAction

from gauze.ui.canvas.drawing import Drawing
from gauze.ui.canvas.sheet import VIEWS
from gauze.ui.main_window.top_bar import MOST_STOPS, ROOM_LX, TopBar
from gauze.ui.view_state import ViewState

_STOPS_STEP = 0.5
_OF_DRAWING = ("seam_share", "cut_share", "detail_share", "alone", "layers")  # what the top bar knows nothing of


class Viewing:
    """Changes the view state from wherever it is asked for."""

    def __init__(self, drawing: Drawing, top_bar: TopBar, actions: dict[str, QAction]) -> None:
        self._drawing, self._top_bar = drawing, top_bar
        self._actions = actions
        top_bar.state_changed.connect(self.show)
        drawing.state_changed.connect(self._mark)

    def show(self, state: ViewState) -> None:
        """Look at the face so; what the drawing has by itself stays."""
        present = self._drawing.state
        own = {name: getattr(present, name) for name in _OF_DRAWING}
        self._drawing.set_state(replace(state, **own))
        self._top_bar.show_state(self._drawing.state)
        self._mark(self._drawing.state)

    def _mark(self, state: ViewState) -> None:
        """Check in the menu what is switched on."""
        self._actions["false_colour"].setChecked(state.false_colour)
        self._actions["from_back"].setChecked(state.from_back)
        for view in VIEWS:
            self._actions[f"alone_{view}"].setChecked(state.alone == view)
        for key, action in self._actions.items():
            if key.startswith("layer_"):
                action.setChecked(key.removeprefix("layer_") in state.layers)

    def toggle_false_colour(self) -> None:
        """Switch between true and false colour."""
        self.show(replace(self._drawing.state, false_colour=not self._drawing.state.false_colour))

    def toggle_back(self) -> None:
        """Switch between the front and the back."""
        self.show(replace(self._drawing.state, from_back=not self._drawing.state.from_back))

    def step_exposure(self, steps: int) -> None:
        """Open or close the exposure by half stops."""
        stops = self._drawing.state.exposure_stops + _STOPS_STEP * steps
        self.show(replace(self._drawing.state, exposure_stops=min(max(stops, -MOST_STOPS), MOST_STOPS)))

    def step_room(self, steps: int) -> None:
        """Turn the room's light up or down."""
        present = min(range(len(ROOM_LX)), key=lambda index: abs(ROOM_LX[index] - self._drawing.state.room_lx))
        following = min(max(present + steps, 0), len(ROOM_LX) - 1)
        self.show(replace(self._drawing.state, room_lx=float(ROOM_LX[following])))

    def swap_seam(self) -> None:
        """Push the seam to the other end: all bare, or all lit."""
        share = self._drawing.state.seam_share
        self._drawing.set_state(replace(self._drawing.state, seam_share=0.0 if share > 0.5 else 1.0))
