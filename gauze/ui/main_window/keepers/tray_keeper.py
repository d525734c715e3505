"""Keeps the tray: opens it on the design in hand, fills it as candidates are lit, takes what is chosen."""

from PyQt6.QtCore import QObject, Qt

from gauze.core.evaluate.candidates import Candidate
from gauze.session.edits import with_used_own_only
from gauze.session.solver import TrayRequest
from gauze.ui.canvas.drawing import Drawing
from gauze.ui.panels.tray import Tray
from gauze.ui.text import tr
from gauze.ui.workbench import Workbench


class TrayKeeper(QObject):
    """Stands between the tray and the workbench."""

    def __init__(self, bench: Workbench, tray: Tray, drawing: Drawing) -> None:
        super().__init__()
        self._bench, self._tray, self._drawing = bench, tray, drawing
        self._open: tuple[str, int] | None = None
        bench.solving.candidate_lit.connect(self._show)
        bench.solving.tray_done.connect(lambda _request: tray.rank())
        tray.chosen.connect(self._take)
        tray.closed.connect(self.close)
        tray.hide()

    def open(self, kind: str, index: int) -> None:
        """Open the tray of ``"strip"`` or ``"diffuser"`` on this very design."""
        self._open = (kind, index)
        self._lay_out(kind, index)
        self._tray.focus_chosen()
        self._light(kind, index)

    def follow(self) -> None:
        """Light the candidates again: the design has come to rest."""
        if self._open is not None:
            self._lay_out(*self._open)
        if self._open is not None:  # laying out closes a tray that has nothing to stand for
            self._light(*self._open)

    def close(self) -> None:
        """Put the tray away."""
        self._open = None
        self._bench.solving.cancel("tray")
        self._tray.hide()
        self._drawing.setFocus(Qt.FocusReason.OtherFocusReason)

    def _light(self, kind: str, index: int) -> None:
        bench = self._bench
        bench.solving.light_tray(TrayRequest(bench.with_shelf(bench.design), kind, index))

    def _lay_out(self, kind: str, index: int) -> None:
        build = self._bench.design.build
        if kind == "diffuser" and index < len(build.layers):
            which = "" if len(build.layers) == 1 else tr(", as layer {number}").format(number=index + 1)
            title = tr("Sheets: this design through each{which}").format(which=which)
            self._tray.open_with(title, list(self._bench.known().diffusers), build.layers[index])
        elif kind == "strip" and index < len(self._bench.design.strips):
            chosen = self._bench.design.strips[index].strip
            self._tray.open_with(tr("Strips: this design with each"), list(self._bench.known().strips), chosen)
        else:  # the layer or strip was taken away while its tray was open
            self.close()

    def _show(self, request: TrayRequest, candidate: Candidate) -> None:
        if (request.kind, request.index) == self._open:
            self._tray.show_candidate(candidate, self._bench.unit)

    def _take(self, candidate: Candidate) -> None:
        name = "Sheet" if self._open is not None and self._open[0] == "diffuser" else "Strip"
        self._bench.edit(name, lambda _design, _layout: with_used_own_only(candidate.design))
