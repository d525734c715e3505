"""Has the bench log set against the prediction, and keeps the windows of photographs and faults."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import msgspec
from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QFileDialog, QWidget

from gauze.core.design import Design
from gauze.core.drawing.part_shapes import part_under, piece_in_plan
from gauze.core.errors import GauzeError
from gauze.core.formats.readings_csv import MOST_BYTES, decode_readings
from gauze.core.layout.model import FloatArray
from gauze.core.printable import printable_path
from gauze.core.proving.fitting import Reading
from gauze.core.proving.log import LogFound
from gauze.core.proving.predicting import corner_of_face
from gauze.session.bench_edits import (
    fitted_sheet,
    fitted_strip,
    shown_bench,
    with_fitted,
    with_reading,
    with_readings,
    without_readings,
)
from gauze.session.solver import BenchRequest
from gauze.session.storage import read_file
from gauze.ui.canvas.drawing import Drawing
from gauze.ui.main_window.exports import Exports
from gauze.ui.main_window.files import Files
from gauze.ui.panels.places import PlaceStack
from gauze.ui.panels.prove import ProvePanel
from gauze.ui.text import told, tr
from gauze.ui.theme import Theme
from gauze.ui.workbench import Workbench

if TYPE_CHECKING:
    from gauze.ui.proving.fault_window import FaultWindow
    from gauze.ui.proving.photo_window import PhotoWindow


class ProveKeeper(QObject):
    """Stands between the place Prove, its windows, and the workbench."""

    def __init__(
        self, bench: Workbench, places: PlaceStack, drawing: Drawing, files: Files, exports: Exports, parent: QWidget
    ) -> None:
        super().__init__()
        self._bench, self._drawing, self._files, self._exports, self._parent = bench, drawing, files, exports, parent
        self.photos: PhotoWindow | None = None
        self.faults: FaultWindow | None = None
        self.found: LogFound | None = None
        self._asked: Design | None = None
        bench.design_changed.connect(self._forget)
        bench.lit.connect(lambda _result: self._ask())
        bench.solving.log_judged.connect(self._take)
        self._panel: ProvePanel | None = places.findChild(ProvePanel)  # none in a window without the subject
        if self._panel is not None:
            panel = self._panel
            panel.shown.connect(self._ask)
            panel.log.reading_taken.connect(self._add)
            panel.log.removed.connect(
                lambda keys: bench.edit("Remove a reading", lambda design, _: without_readings(design, keys))
            )
            panel.log.import_wanted.connect(self.read_in)
            panel.log.export_wanted.connect(self.write_out)
            panel.use_wanted.connect(self._use)
            panel.shelf_wanted.connect(self._keep)
            panel.log.picked.connect(self._mark)
            panel.hidden.connect(lambda: self._drawing.show_picked(()))
            drawing.plan_clicked.connect(self._pick)

    # -- the log ----------------------------------------------------------------------------------------------------

    def _add(self, quantity: str, place: str, value: float, limit: float | None, note: str) -> None:
        assert self._panel is not None
        try:
            design = with_reading(self._bench.design, quantity, place, value, limit, note)  # type: ignore[arg-type]  # one of the entry's
        except GauzeError as error:
            self._panel.log.form.say(told(error))
            return
        if self._bench.edit("Reading", lambda _design, _: design):
            self._panel.log.taken()

    def read_in(self) -> None:
        """Ask for a table of readings, and add them to the log."""
        name, _ = QFileDialog.getOpenFileName(
            self._parent, tr("Import readings"), str(self._bench.folder), tr("Tables of readings (*.csv)")
        )
        if not name:
            return
        try:
            rows = decode_readings(read_file(Path(name), MOST_BYTES))
        except GauzeError as error:
            title = tr("“{name}” was not imported").format(name=printable_path(Path(name).name))
            self._files.explain(title, told(error))
            return
        self._bench.edit("Import readings", lambda design, _: with_readings(design, rows), field="bench.readings")

    def write_out(self) -> None:
        """Ask where, and write the log as a table."""
        self._exports.readings(shown_bench(self._bench.design).readings)

    def _use(self) -> None:
        fit = None if self.found is None else self.found.fit
        if fit is not None:
            catalogue = self._bench.catalogue
            self._bench.edit("Fitted values", lambda design, _: with_fitted(design, catalogue, fit.fitted))

    def _keep(self) -> None:
        """Put strip and sheet as they were measured onto the shelf."""
        fit = None if self.found is None else self.found.fit
        if fit is None:
            return
        design, catalogue = self._bench.design, self._bench.catalogue
        strip, sheet = fitted_strip(design, catalogue, fit.fitted), fitted_sheet(design, catalogue, fit.fitted)
        if strip is not None:
            self._bench.change_shelf(lambda shelf: shelf.with_thing(strip))
        if sheet is not None:
            self._bench.keep_own_sheet(sheet, 0)

    # -- what is judged ---------------------------------------------------------------------------------------------

    def _ask(self) -> None:
        """Have the log judged, where it is looked at and the design is at rest."""
        if self._panel is None or not self._panel.isVisible() or self._bench.exact is None:
            return
        design = self._bench.design
        if self._asked is not design:
            self._asked = design
            bare = msgspec.structs.replace(design, making=None, kept=())
            self._bench.solving.judge_log(BenchRequest(bare, self._of_photo()))

    def _of_photo(self) -> tuple[Reading, ...]:
        """What the photograph that is looked at gives to the fit: only while it is one of this design."""
        shown = None if self.photos is None else self.photos.shown
        return () if shown is None or not shown_bench(self._bench.design).photos else shown.readings

    def _ask_again(self) -> None:
        """A photograph was measured: it counts in the fit as well."""
        self._asked = None
        self._ask()

    def _take(self, request: BenchRequest, found: LogFound) -> None:
        design = self._bench.design
        if self._panel is None or request.design != msgspec.structs.replace(design, making=None, kept=()):
            return
        self.found = found
        self._panel.show_found(found)

    def _forget(self) -> None:
        self._bench.solving.cancel("bench")
        self._asked = None
        if self._panel is not None:
            self._panel.set_stale(stale=True)

    # -- what is picked ---------------------------------------------------------------------------------------------

    def _mark(self, place: str) -> None:
        """Mark the piece of a reading on the plan."""
        if self._panel is None or not self._panel.isVisible():
            return
        shapes = self._shapes()
        part = next((one for one in shapes if place == one or place.startswith((f"{one} ", f"{one}/"))), None)
        self._drawing.show_picked([] if part is None else [shapes[part]])

    def _shapes(self) -> dict[str, FloatArray]:
        return {piece.id: piece_in_plan(piece) for piece in self._bench.layout.pieces}

    def _pick(self, x_mm: float, y_mm: float) -> None:
        """Begin a reading at the piece that was clicked; of light, at the place itself."""
        if self._panel is None or not self._panel.isVisible():
            return
        log, exact = self._panel.log, self._bench.exact
        quantity = log.quantity.currentData()
        if quantity in ("volts", "amps", "celsius"):
            part = part_under(self._shapes(), x_mm, y_mm)
            if part is not None:
                log.start_at(quantity, part)
        elif exact is not None:
            left, low = corner_of_face(exact.evaluation)
            log.start_at(quantity, f"{x_mm - left:.4g},{y_mm - low:.4g}")

    # -- photographs ------------------------------------------------------------------------------------------------

    def open_photos(self, theme: Theme) -> None:
        """Open the window of photographs, or bring it to the front."""
        if self.photos is None:
            from gauze.ui.proving.photo_window import PhotoWindow  # noqa: PLC0415 - only when it is wanted

            self.photos = PhotoWindow(self._bench, theme, self._parent)
            self.photos.measured.connect(self._ask_again)
        self.photos.set_look(theme)
        self.photos.show()
        self.photos.raise_()
        self.photos.activateWindow()

    def open_faults(self) -> None:
        """Open the window of faults, or bring it to the front."""
        if self.faults is None:
            from gauze.ui.proving.fault_window import FaultWindow  # noqa: PLC0415 - only when it is wanted

            self.faults = FaultWindow(self._bench, self._parent)
        self.faults.show()
        self.faults.raise_()
        self.faults.activateWindow()

    def set_look(self, theme: Theme) -> None:
        """Follow the window's theme and unit."""
        if self.photos is not None:
            self.photos.set_look(theme)
