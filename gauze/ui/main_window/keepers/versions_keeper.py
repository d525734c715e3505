"""Keeps the versions: lights the kept one in the background, sets it against the design, restores it or forgets it."""

from PyQt6.QtCore import QObject, Qt

from gauze.core.design.differences import differences
from gauze.core.evaluate.comparison import changed_findings
from gauze.session.solver import LightResult
from gauze.session.versions import design_of, forget, keep_version, take_up
from gauze.ui.canvas.drawing import Drawing
from gauze.ui.panels.versions import VersionsPanel
from gauze.ui.workbench import Workbench


class VersionsKeeper(QObject):
    """Stands between the panel of versions, the workbench and the drawing."""

    def __init__(self, bench: Workbench, panel: VersionsPanel, drawing: Drawing) -> None:
        super().__init__()
        self._bench, self._panel, self._drawing = bench, panel, drawing
        self._index = 0
        self._other: LightResult | None = None
        bench.solving.other_lit.connect(self._lit)
        panel.closed.connect(self.close)
        panel.keep_wanted.connect(self.keep)
        panel.chosen.connect(self._choose)
        panel.take_up_wanted.connect(self._take_up)
        panel.forget_wanted.connect(self._forget)

    def keep(self) -> None:
        """Keep the design as it stands, and show it."""
        if self._bench.edit("Keep this version", lambda design, _: keep_version(design)):
            self._index = len(self._bench.design.kept) - 1
            self.open()

    def open(self) -> None:
        """Show the versions."""
        self._panel.show()
        self.follow()

    def close(self) -> None:
        """Put the versions away; the seam shows the bare side again."""
        self._panel.hide()
        self._other = None
        self._bench.solving.cancel("other")
        self._drawing.compare_with(None)
        self._drawing.setFocus(Qt.FocusReason.OtherFocusReason)

    def follow(self) -> None:
        """Show the design as it stands now against the kept version."""
        if not self._panel.isVisible():
            return
        design = self._bench.design
        self._index = min(self._index, len(design.kept) - 1)
        self._panel.show_versions([one.name for one in design.kept], self._index)
        if self._index < 0:
            self._index, self._other = 0, None
            self._drawing.compare_with(None)
            return
        kept = design_of(design, self._index)
        self._panel.show_differences(differences(kept, design), self._bench.unit)
        if self._other is None or self._other.evaluation.design != kept:
            self._other = None
            self._panel.show_changes(None)
            self._drawing.compare_with(None)
            self._bench.solving.light_other(kept)
        else:
            self._show()

    def _lit(self, result: LightResult) -> None:
        design = self._bench.design
        if self._panel.isVisible() and design.kept and result.evaluation.design == design_of(design, self._index):
            self._other = result
            self._show()

    def _show(self) -> None:
        now = self._bench.result
        if self._other is None or now is None:
            return
        self._panel.show_changes(changed_findings(self._other.findings, now.findings), self._bench.reader)
        self._drawing.compare_with(self._other.evaluation)

    def _choose(self, index: int) -> None:
        self._index = index
        self.follow()

    def _take_up(self, index: int) -> None:
        self._bench.edit("Restore a version", lambda design, _: take_up(design, index))

    def _forget(self, index: int) -> None:
        self._bench.edit("Delete a version", lambda design, _: forget(design, index))
