"""Keeps the search for fixes: asks for it when the light has come to rest, shows what is found, applies what is chosen."""

from collections.abc import Sequence

from PyQt6.QtCore import QObject

from gauze.core.design import Design
from gauze.core.evaluate import Finding, Fix
from gauze.session.solver import FixRequest
from gauze.ui.panels.findings import FindingsPanel
from gauze.ui.workbench import Workbench


class FixKeeper(QObject):
    """Stands between the findings and the workbench."""

    def __init__(self, bench: Workbench, panel: FindingsPanel) -> None:
        super().__init__()
        self._bench, self._panel = bench, panel
        bench.solving.fixes_found.connect(self._found)
        bench.solving.fixes_progress.connect(panel.show_progress)
        panel.fix_chosen.connect(self._apply)
        panel.search_stopped.connect(self._stop)

    def follow(self, findings: Sequence[Finding]) -> None:
        """Search for every finding that fixes are known for."""
        codes = tuple(finding.code for finding in findings if finding.fixable)
        if codes:
            self._bench.solving.search_fixes(FixRequest(self._bench.design, codes))

    def forget(self) -> None:
        """Take away what was found: the design has changed."""
        self._panel.forget_fixes()
        self._panel.show_progress(None)

    def _found(self, design: Design, code: str, fixes: list[Fix]) -> None:
        if design == self._bench.design:
            self._panel.show_fixes(code, fixes)

    def _apply(self, fix: Fix) -> None:
        self._bench.edit(self._bench.reader.read(fix.title), lambda _design, _layout: fix.design)

    def _stop(self) -> None:
        self._bench.solving.cancel("fixes")
        self._panel.show_progress(None)
