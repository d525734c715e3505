"""The workbench: joins the open document to the background jobs, and tells the widgets what changed."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import cast

import msgspec
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from gauze.core.design import Design, LooseEmitters
from gauze.core.design.design import catalogue_of
from gauze.core.errors import DesignError, GauzeError
from gauze.core.evaluate import AT_REST, WHILE_DRAGGING
from gauze.core.evaluate.tradeoff import TradeOff
from gauze.core.layout import BuiltLayout, Layout, panel_layout
from gauze.core.materials import Catalogue, OwnDiffuser, load_catalogue
from gauze.core.units import LengthUnit, format_length
from gauze.session.autosave import Autosave, Recovered
from gauze.session.document import Document
from gauze.session.edits import with_own_sheet, with_shelf
from gauze.session.emitters import new_design, read_emitters, with_emitters
from gauze.session.jobs import NewestJob, Outcome
from gauze.session.settings import Settings, save_settings
from gauze.session.shelf import add_to_shelf, load_shelf, put_on_shelf
from gauze.session.solver import (
    DemosRequest,
    FixesFound,
    FixRequest,
    LightRequest,
    LightResult,
    LitDemo,
    Progress,
    SolverProcess,
    TrayRequest,
)

REST_DELAY_MS = 60  # after the last movement of the hand
AUTOSAVE_DELAY_MS = 1500  # after the first edit that is not kept yet, whatever follows


@dataclass(frozen=True)
class TableRequest:
    """A table of emitters to be read, and the design that was open then."""

    path: Path
    design: Design


def _nothing(_told: object) -> None:
    """What is done with what a work tells that tells nothing."""


class Workbench(QObject):
    """Owns the document and the jobs. Signals carry results to the interface thread."""

    design_changed = pyqtSignal()
    document_replaced = pyqtSignal()
    lit = pyqtSignal(object)  # LightResult
    failed = pyqtSignal(str)
    refused = pyqtSignal(str, str)  # field, message
    fixes_found = pyqtSignal(object, str, object)  # Design, code, list[Fix]
    fixes_progress = pyqtSignal(float)
    candidate_lit = pyqtSignal(object, object)  # TrayRequest, Candidate
    tray_done = pyqtSignal(object)  # TrayRequest
    field_lit = pyqtSignal(object)  # TradeOff
    field_progress = pyqtSignal(float)
    settings_changed = pyqtSignal()
    recent_changed = pyqtSignal()
    other_lit = pyqtSignal(object)  # LightResult
    demo_lit = pyqtSignal(str, object)  # its key, Evaluation
    table_read = pyqtSignal(object, object)  # TableRequest, Document
    table_refused = pyqtSignal(str, str)  # name of the file, message
    _table_reported = pyqtSignal(object)
    _demos_reported = pyqtSignal(object)
    _other_reported = pyqtSignal(object)
    _light_reported = pyqtSignal(object)
    _fixes_reported = pyqtSignal(object)
    _tray_reported = pyqtSignal(object)
    _export_reported = pyqtSignal(object)
    _field_reported = pyqtSignal(object)
    _keep_reported = pyqtSignal(object)

    def __init__(
        self,
        document: Document,
        solver: SolverProcess,
        settings: Settings,
        settings_file: Path,
        recovery: Path,
        shelf_file: Path,
    ) -> None:
        super().__init__()
        self._solver = solver
        self.catalogue = load_catalogue()
        self.document = document
        self.settings = settings
        self.result: LightResult | None = None
        self.shelf: tuple[OwnDiffuser, ...] = ()
        self._shelf_file = shelf_file
        self._settings_file = settings_file
        self._autosave = Autosave(recovery)
        self._recovery = recovery
        self._dragging = False
        self._autosave_failed = False
        self._light: NewestJob[tuple[Document, LightRequest], LightResult] = NewestJob(
            self._do_light, self._light_reported.emit, "light", lambda running: running[1].detail == AT_REST
        )
        self._fixes: NewestJob[FixRequest, None] = NewestJob(self._do_fixes, self._fixes_reported.emit, "fixes")
        self._tray: NewestJob[TrayRequest, None] = NewestJob(self._do_tray, self._tray_reported.emit, "tray")
        self._export: NewestJob[Callable[[], None], None] = NewestJob(
            lambda write, _cancelled: write(), self._export_reported.emit, "export", lambda _running: False
        )
        self._export_reported.connect(self._on_background)
        self._field: NewestJob[Design, TradeOff] = NewestJob(self._do_field, self._field_reported.emit, "field")
        self._field_reported.connect(self._on_field)
        self._table: NewestJob[TableRequest, Document] = NewestJob(
            self._do_table, self._table_reported.emit, "table", lambda _running: False
        )
        self._table_reported.connect(self._on_table)
        self._demos: NewestJob[DemosRequest, None] = NewestJob(self._do_demos, self._demos_reported.emit, "demos")
        self._demos_reported.connect(self._on_background)
        self._other: NewestJob[LightRequest, LightResult] = NewestJob(
            self._do_other, self._other_reported.emit, "other"
        )
        self._other_reported.connect(self._on_other)
        self._light_reported.connect(self._on_light)
        self._fixes_reported.connect(self._on_background)
        self._tray_reported.connect(self._on_tray)
        self._keeping: NewestJob[Autosave, None] = NewestJob(
            lambda autosave, _cancelled: autosave.write(), self._keep_reported.emit, "autosave", lambda _running: False
        )
        self._keep_reported.connect(self._on_kept)
        self._rest = self._timer(REST_DELAY_MS, self._light_at_rest)
        self._keep = self._timer(AUTOSAVE_DELAY_MS, self._autosave_now)
        self.document.on_change = self._document_changed

    def _timer(self, milliseconds: int, slot: Callable[[], None]) -> QTimer:
        timer = QTimer(self)
        timer.setSingleShot(True)
        timer.setInterval(milliseconds)
        timer.timeout.connect(slot)
        return timer

    # -- what is open ---------------------------------------------------------------------------------------------

    @property
    def design(self) -> Design:
        """The design as it stands."""
        return self.document.design

    @property
    def layout(self) -> BuiltLayout:
        """The design laid out."""
        return self.document.layout

    @property
    def panel_layout(self) -> Layout:
        """The strip panel laid out; raises :class:`TypeError` for another family."""
        return panel_layout(self.document.layout)

    @property
    def exact(self) -> LightResult | None:
        """The exact light and findings of the design as it stands; None as long as what is known is of another or coarse."""
        result = self.result
        if result is None or result.evaluation.detail != AT_REST or result.evaluation.design != self.design:
            return None
        return result

    @property
    def unit(self) -> LengthUnit:
        """The unit in which lengths are shown."""
        return self.settings.unit

    @property
    def folder(self) -> Path:
        """Where a file dialog begins: beside the open document, or at home."""
        path = self.document.path
        return path.absolute().parent if path is not None else Path.home()

    @property
    def recovery_folder(self) -> Path:
        """Where unsaved work is kept."""
        return self._recovery

    def replace_document(self, document: Document, recovered: Recovered | None = None) -> None:
        """Open another document; the kept state of the old one is dropped. ``recovered`` work is kept on where it lies."""
        self._keep.stop()
        self._autosave.drop()
        self._autosave = Autosave(self._recovery, recovered)
        self.document.on_change = lambda: None
        self.document = document
        self.document.on_change = self._document_changed
        self.result = None
        self.document_replaced.emit()
        self._document_changed()

    def start(self) -> None:
        """Light the document for the first time, and take the shelf down."""
        try:
            self.shelf = load_shelf(self._shelf_file)
        except GauzeError as error:
            self.failed.emit(str(error))
        self._light_at_rest()

    def close(self, *, forget: bool = True) -> None:
        """End the jobs. The kept state goes with a document that is saved or discarded, unless it is not to be forgotten."""
        self._rest.stop()
        self._keep.stop()
        for job in (
            self._keeping,
            self._light,
            self._fixes,
            self._tray,
            self._export,
            self._field,
            self._table,
            self._demos,
            self._other,
        ):
            job.close()
        if forget:
            self._autosave.drop()
        else:
            self._autosave.leave()

    def keep_now(self) -> None:
        """Write unsaved work at once and wait for it, as the process is about to end; a disk that refuses is told."""
        self._keep.stop()
        if self.document.modified:
            self._autosave.want(self.document)
            try:
                self._autosave.write()
            except GauzeError as error:
                self.failed.emit(str(error))

    # -- edits ----------------------------------------------------------------------------------------------------

    def edit(
        self,
        name: str,
        change: Callable[[Design, BuiltLayout], Design],
        *,
        gesture: object | None = None,
        field: str = "",
    ) -> bool:
        """Apply a change; a design that is invalid is refused at its dimension and the last good one stays."""
        try:
            self.document.apply(change(self.design, self.layout), name, gesture)
        except DesignError as error:
            self.refused.emit(error.field, error.text(lambda value_mm: format_length(value_mm, self.unit)))
            return False
        except GauzeError as error:
            self.refused.emit(field, str(error))
            return False
        return True

    def drag(self, name: str, change: Callable[[Design, BuiltLayout], Design], gesture: object) -> None:
        """Apply one step of a drag: the picture follows coarsely until the hand rests."""
        self._dragging = True
        self.edit(name, change, gesture=gesture)
        self._dragging = False

    def change_settings(self, **changes: object) -> None:
        """Change settings and write them; a disk that refuses is told and the change holds for this sitting."""
        unit = self.unit
        self.settings = msgspec.structs.replace(self.settings, **changes)
        self._write_settings()
        self.settings_changed.emit()
        if self.unit is not unit:  # the findings write lengths
            self._light_at_rest()

    def remember_file(self, path: Path) -> None:
        """Put a file at the head of the recent ones."""
        self.settings = self.settings.with_recent(path)
        self._write_settings()
        self.recent_changed.emit()

    def remember_divider(self, share: float) -> None:
        """Keep where the divider between findings and choices was put."""
        self.settings = msgspec.structs.replace(self.settings, divider=round(share, 3))
        self._write_settings()

    def _write_settings(self) -> None:
        try:
            save_settings(self.settings, self._settings_file)
        except GauzeError as error:
            self.failed.emit(str(error))

    def _document_changed(self) -> None:
        self._fixes.cancel()
        self._tray.cancel()
        self.design_changed.emit()
        if self._dragging:
            self._light.submit((self.document, LightRequest(self.design, WHILE_DRAGGING, self.unit)))
            self._rest.start()
        else:
            self._light_at_rest()
        if self.document.modified:
            if not self._keep.isActive():
                self._keep.start()
        else:
            self._keep.stop()
            self._autosave.drop()

    def _autosave_now(self) -> None:
        self._autosave.want(self.document)
        self._keeping.submit(self._autosave)

    def _on_kept(self, outcome: Outcome[Autosave, None]) -> None:
        if outcome.error is None:
            self._autosave_failed = False
        elif not isinstance(outcome.error, GauzeError):
            raise outcome.error  # a defect of ours: let the hook of the application show and log it
        else:
            if not self._autosave_failed:  # told once, not with every edit
                self.failed.emit(f"Unsaved work cannot be kept against a crash; save often. {outcome.error}")
            self._autosave_failed = True

    # -- light ----------------------------------------------------------------------------------------------------

    def _light_at_rest(self) -> None:
        self._rest.stop()
        self._light.submit((self.document, LightRequest(self.design, AT_REST, self.unit)))

    def _do_light(self, request: tuple[Document, LightRequest], cancelled: Callable[[], bool]) -> LightResult:
        return cast("LightResult", self._solver.call("light", request[1], _nothing, cancelled))

    def _on_light(self, outcome: Outcome[tuple[Document, LightRequest], LightResult]) -> None:
        if outcome.request[0] is not self.document:
            return  # another document was opened while this one was being lit
        if outcome.error is not None:
            self._report(outcome.error)
        elif outcome.result is not None:
            self.result = outcome.result
            self.lit.emit(outcome.result)

    def _report(self, error: Exception) -> None:
        if not isinstance(error, GauzeError):
            raise error  # a defect of ours: let the hook of the application show and log it
        self.failed.emit(str(error))

    # -- fixes and trays ------------------------------------------------------------------------------------------

    def search_fixes(self, codes: tuple[str, ...]) -> None:
        """Search fixes for the named findings of the design as it stands."""
        self._fixes.submit(FixRequest(self.design, codes, self.unit))

    def cancel_fixes(self) -> None:
        """Stop the search."""
        self._fixes.cancel()

    def _do_fixes(self, request: FixRequest, cancelled: Callable[[], bool]) -> None:
        def tell(told: object) -> None:
            if isinstance(told, Progress):
                self.fixes_progress.emit(told.share)
            elif isinstance(told, FixesFound):
                self.fixes_found.emit(request.design, told.code, told.fixes)

        self._solver.call("fixes", request, tell, cancelled)

    def light_field(self) -> None:
        """Light the whole field of designs around this one, of other depths and row counts."""
        self._field.submit(self.design)

    def cancel_field(self) -> None:
        """Stop lighting the field."""
        self._field.cancel()

    def _do_field(self, design: Design, cancelled: Callable[[], bool]) -> TradeOff:
        def tell(told: object) -> None:
            if isinstance(told, Progress):
                self.field_progress.emit(told.share)

        return cast("TradeOff", self._solver.call("field", design, tell, cancelled))

    def _on_field(self, outcome: Outcome[Design, TradeOff]) -> None:
        if outcome.error is not None:
            self._report(outcome.error)
        elif outcome.result is not None:
            self.field_lit.emit(outcome.result)

    def read_table(self, path: Path) -> None:
        """Read a table of emitters into the open design of loose emitters, or else into a new one; it may be long."""
        self._table.submit(TableRequest(path, self.design))

    def _do_table(self, request: TableRequest, _cancelled: Callable[[], bool]) -> Document:
        emitters, distributions = read_emitters(request.path)
        if isinstance(request.design.build, LooseEmitters):
            design = with_emitters(request.design, emitters, distributions)
        else:
            design = new_design(request.path.stem, emitters, distributions)
        return Document(design, self.catalogue)

    def _on_table(self, outcome: Outcome[TableRequest, Document]) -> None:
        if isinstance(outcome.error, GauzeError):
            self.table_refused.emit(outcome.request.path.name, str(outcome.error))
        elif outcome.error is not None:
            raise outcome.error  # a defect of ours
        elif outcome.result is not None:
            self.table_read.emit(outcome.request, outcome.result)

    def light_other(self, design: Design) -> None:
        """Light another design exactly, to be set against the open one."""
        self._other.submit(LightRequest(design, AT_REST, self.unit))

    def cancel_other(self) -> None:
        """Stop lighting it."""
        self._other.cancel()

    def _do_other(self, request: LightRequest, cancelled: Callable[[], bool]) -> LightResult:
        return cast("LightResult", self._solver.call("other", request, _nothing, cancelled))

    def _on_other(self, outcome: Outcome[LightRequest, LightResult]) -> None:
        if outcome.error is not None:
            self._report(outcome.error)
        elif outcome.result is not None:
            self.other_lit.emit(outcome.result)

    def light_demos(self, designs: tuple[tuple[str, Design], ...]) -> None:
        """Light designs coarsely, one after the other, each told by its key."""
        self._demos.submit(DemosRequest(designs))

    def cancel_demos(self) -> None:
        """Stop lighting them."""
        self._demos.cancel()

    def _do_demos(self, request: DemosRequest, cancelled: Callable[[], bool]) -> None:
        def tell(told: object) -> None:
            if isinstance(told, LitDemo):
                self.demo_lit.emit(told.key, told.evaluation)

        self._solver.call("demos", request, tell, cancelled)

    def run_export(self, write: Callable[[], None]) -> None:
        """Write a file off the interface thread; an error is told through ``failed``."""
        self._export.submit(write)

    def _on_background(self, outcome: Outcome[object, None]) -> None:
        if outcome.error is not None:
            self._report(outcome.error)

    def light_tray(self, kind: str, index: int) -> None:
        """Show this design through every candidate of a kind, ``"diffuser"`` or ``"strip"``."""
        self._tray.submit(TrayRequest(with_shelf(self.design, self.shelf), kind, index))

    def sheets(self) -> Catalogue:
        """Return the catalogue with every own sheet, of the design and of the shelf."""
        return catalogue_of(with_shelf(self.design, self.shelf), self.catalogue)

    def keep_own_sheet(self, sheet: OwnDiffuser, layer: int) -> None:
        """Put an own sheet on the shelf and lay it in place of one layer."""
        try:
            self.shelf, kept = add_to_shelf(sheet, self._shelf_file)
        except GauzeError as error:
            self.shelf, kept = put_on_shelf(self.shelf, sheet)
            self.failed.emit(str(error))
        self.edit("Measured sheet", lambda design, _: with_own_sheet(design, layer, kept))

    def cancel_tray(self) -> None:
        """Stop lighting candidates."""
        self._tray.cancel()

    def _do_tray(self, request: TrayRequest, cancelled: Callable[[], bool]) -> None:
        self._solver.call("tray", request, lambda candidate: self.candidate_lit.emit(request, candidate), cancelled)

    def _on_tray(self, outcome: Outcome[TrayRequest, None]) -> None:
        if outcome.error is not None:
            self._report(outcome.error)
        else:
            self.tray_done.emit(outcome.request)
