"""Keeps the window in which a display plays: opens it, has the light of its pixels computed, and stops with the design."""

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from gauze.core.design.pixel_display import PixelDisplay
from gauze.core.evaluate.playing import Response
from gauze.core.layout.families.pixel_display import DisplayLayout
from gauze.session.solver import PlayRequest
from gauze.ui.play.window import PlayWindow
from gauze.ui.workbench import Workbench


class PlayKeeper(QObject):
    """Stands between the window and the workbench."""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        super().__init__()
        self._bench, self._parent = bench, parent
        self.window: PlayWindow | None = None
        bench.design_changed.connect(self._changed)
        bench.lit.connect(lambda _result: self._ask())
        bench.solving.response_found.connect(self._found)
        self._asked: PlayRequest | None = None

    def open(self) -> None:
        """Open the window, or bring it to the front."""
        if self.window is None:
            self.window = PlayWindow(self._parent)
            self.window.flashes_wanted.connect(self._bench.solving.count_flashes)
            self._bench.solving.flashes_counted.connect(self.window.show_flashes)
            self.window.film_wanted.connect(self._bench.solving.read_film)
            self._bench.solving.film_read.connect(self.window.show_film)
            self._bench.solving.film_refused.connect(self.window.refuse_film)
        self.window.show()
        self.window.raise_()
        self.window.activateWindow()
        self._changed()
        self._ask()

    def _changed(self) -> None:
        if self.window is not None:
            self._asked = None
            self.window.wait()
            if self._bench.design.build_if(PixelDisplay) is None:
                self.window.hide()

    def _ask(self) -> None:
        """Have the light of the pixels computed once the design has come to rest."""
        window, bench = self.window, self._bench
        if window is None or not window.isVisible() or bench.exact is None or self._asked is not None:
            return
        if bench.design.build_if(PixelDisplay) is not None:
            self._asked = PlayRequest(bench.design)
            bench.solving.find_response(self._asked)

    def _found(self, request: PlayRequest, response: Response) -> None:
        if self.window is not None and request.design == self._bench.design:
            pitch_mm = self._bench.layout.as_kind(DisplayLayout).pitch_mm
            self.window.show_response(response, pitch_mm)
