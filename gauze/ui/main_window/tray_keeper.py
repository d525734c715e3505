"""Keeps the tray: opens it on the design in hand, fills it as candidates are lit, takes what is chosen."""

from PyQt6.QtCore import QObject, Qt

from gauze.core.evaluate.candidates import Candidate
from gauze.ui.canvas.canvas import Canvas
from gauze.ui.panels.tray import Tray
from gauze.ui.text import tr
from gauze.ui.workbench import TrayRequest, Workbench


class TrayKeeper(QObject):
    """Stands between the tray and the workbench."""

    def __init__(self, bench: Workbench, tray: Tray, canvas: Canvas) -> None:
        super().__init__()
        self._bench, self._tray, self._canvas = bench, tray, canvas
        self._open: tuple[str, int] | None = None
        bench.candidate_lit.connect(self._show)
        bench.tray_done.connect(lambda _request: tray.rank())
        tray.chosen.connect(self._take)
        tray.closed.connect(self.close)
        tray.hide()

    def open(self, kind: str, strip_index: int) -> None:
        """Open the tray of ``"strip"`` or ``"diffuser"`` on this very design."""
        self._open = (kind, strip_index)
        self._lay_out(kind, strip_index)
        self._tray.focus_chosen()
        self._bench.light_tray(kind, strip_index)

    def follow(self) -> None:
        """Light the candidates anew: the design has come to rest."""
        if self._open is not None:
            self._lay_out(*self._open)
            self._bench.light_tray(*self._open)

    def close(self) -> None:
        """Put the tray away."""
        self._open = None
        self._bench.cancel_tray()
        self._tray.hide()
        self._canvas.setFocus(Qt.FocusReason.OtherFocusReason)

    def _lay_out(self, kind: str, strip_index: int) -> None:
        catalogue, build = self._bench.catalogue, self._bench.design.build
        if kind == "diffuser":
            self._tray.open_with(tr("Sheets: this design through each"), list(catalogue.diffusers), build.diffuser)
        elif strip_index < len(build.strips):
            chosen = build.strips[strip_index].strip
            self._tray.open_with(tr("Strips: this design with each"), list(catalogue.strips), chosen)
        else:  # the second strip was taken back while its tray was open
            self.close()

    def _show(self, request: TrayRequest, candidate: Candidate) -> None:
        if (request.kind, request.strip_index) == self._open:
            self._tray.show_candidate(candidate, self._bench.unit)

    def _take(self, candidate: Candidate) -> None:
        name = "Sheet" if self._open is not None and self._open[0] == "diffuser" else "Strip"
        self._bench.edit(name, lambda _design, _layout: candidate.design)
