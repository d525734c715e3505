"""The workbench: the open document, its light, the settings; tells the widgets what changed."""

import math
import time
from collections.abc import Callable
from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from gauze.core.design import Design
from gauze.core.design.design import catalogue_of
from gauze.core.errors import DesignError, GauzeError
from gauze.core.evaluate import AT_REST, WHILE_DRAGGING
from gauze.core.evaluate.pictures import takes_picture
from gauze.core.layout import Layout, RowLayout, panel_layout
from gauze.core.materials import Catalogue, OwnDiffuser, load_catalogue
from gauze.core.units import LengthUnit
from gauze.core.words import Reader
from gauze.session.autosave import Recovered
from gauze.session.document import Document
from gauze.session.edits import with_own_sheet, with_shelf
from gauze.session.settings import Settings, save_settings
from gauze.session.shelf import Shelf, change_shelf, load_shelf, usable
from gauze.session.solver import LightRequest, LightResult, SolverProcess
from gauze.ui.keeping import Keeping
from gauze.ui.solving import Beneath, Solving
from gauze.ui.text import reader, told

REST_DELAY_MS = 40  # after the last movement of the hand
SOON_S = 0.6  # an exact light that comes within this is waited for, without a coarse one before it


class Workbench(QObject):
    """Owns the document. ``solving`` is asked for everything that takes time, ``keeping`` guards unsaved work."""

    design_changed = pyqtSignal()
    document_replaced = pyqtSignal()
    lit = pyqtSignal(object)  # LightResult with its findings
    seen = pyqtSignal(object)  # LightResult that is a picture only, while a hand drags
    failed = pyqtSignal(str)
    refused = pyqtSignal(str, str)  # field, message
    settings_changed = pyqtSignal()
    recent_changed = pyqtSignal()
    shelf_changed = pyqtSignal()

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
        self.catalogue = load_catalogue()
        self.document = document
        self.settings = settings
        self.result: LightResult | None = None
        self.newest: LightResult | None = None  # the same, or a picture that came after it while a hand drags
        self.shelf = Shelf()
        self.solving = Solving(solver, self.catalogue)
        self.keeping = Keeping(recovery)
        self._shelf_file, self._settings_file = shelf_file, settings_file
        self._dragging = False
        self._gesture: object | None = None
        self._hand = 0  # number of the drag that goes on
        self.solving.lit.connect(self._take_light)
        self.solving.failed.connect(self.failed)
        self.keeping.failed.connect(self.failed)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_DELAY_MS)
        self._rest.timeout.connect(self._light_at_rest)
        self._glanced_at: Design | None = None  # lit coarsely, to be lit exactly next
        self._exact_began_s = 0.0  # when the exact light was asked for last
        self._exact_took_s = math.inf  # how long the last one of this document took
        self._was_exact = False  # whether it was there before the edit
        self.document.on_change = self._document_changed

    # -- what is open ---------------------------------------------------------------------------------------------

    @property
    def design(self) -> Design:
        """The design as it stands."""
        return self.document.design

    @property
    def layout(self) -> Layout:
        """The design laid out."""
        return self.document.layout

    @property
    def panel_layout(self) -> RowLayout:
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
    def reader(self) -> Reader:
        """Writes out what the core says, in this unit and language."""
        return reader(self.unit)

    @property
    def folder(self) -> Path:
        """Where a file dialog begins: beside the open document, or at home."""
        path = self.document.path
        return path.absolute().parent if path is not None else Path.home()

    def replace_document(self, document: Document, recovered: Recovered | None = None) -> None:
        """Open another document; the kept state of the old one is dropped. ``recovered`` work is kept on where it lies."""
        self.keeping.replace(recovered)
        self.document.on_change = lambda: None
        self.document = document
        self.document.on_change = self._document_changed
        self.result = self.newest = None
        self._exact_took_s, self._was_exact = math.inf, False
        self.document_replaced.emit()
        self._document_changed()

    def start(self) -> None:
        """Light the document for the first time, and take the shelf down."""
        try:
            self.shelf = load_shelf(self._shelf_file)
        except GauzeError as error:
            self.failed.emit(told(error))
        self._light_anew()

    def close(self, *, forget: bool = True) -> None:
        """End all work. The kept state goes with a document that is saved or discarded, unless it is not to be forgotten."""
        self._rest.stop()
        self.solving.close()
        self.keeping.close(forget=forget)

    # -- edits ----------------------------------------------------------------------------------------------------

    def edit(
        self,
        name: str,
        change: Callable[[Design, Layout], Design],
        *,
        gesture: object | None = None,
        field: str = "",
    ) -> bool:
        """Apply a change; a design that is invalid is refused at its dimension and the last good one stays."""
        try:
            self.document.apply(change(self.design, self.layout), name, gesture)
        except DesignError as error:
            self.refused.emit(error.field, told(error, self.unit))
            return False
        except GauzeError as error:
            self.refused.emit(field, told(error))
            return False
        return True

    def drag(self, name: str, change: Callable[[Design, Layout], Design], gesture: object) -> None:
        """Apply one step of a drag: the picture follows coarsely until the hand rests."""
        self._dragging = True
        if gesture is not self._gesture:
            self._gesture, self._hand = gesture, self._hand + 1
        self.edit(name, change, gesture=gesture)
        self._dragging = False

    def change_settings(self, **changes: object) -> None:
        """Change settings and write them; if the disk refuses, that is reported and the change lasts until Gauze is closed."""
        self.settings = msgspec.structs.replace(self.settings, **changes)
        self._write_settings()
        self.settings_changed.emit()

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
            self.failed.emit(told(error))

    def _document_changed(self) -> None:
        for kind in ("fixes", "tray"):
            self.solving.cancel(kind)
        if self._dragging:  # the light is computed while the window shows what has changed
            self._was_exact = False
            self._light_in_hand()
            self._rest.start()
        else:
            self._light_anew()
        self.design_changed.emit()
        self.keeping.follow(self.document)

    def _light_in_hand(self) -> None:
        beneath = None
        if self.newest is not None and takes_picture(self.newest.evaluation, self.design, self.layout):
            beneath = Beneath(self.newest.evaluation, self.layout)
        self.solving.light(self.document, LightRequest(self.design, WHILE_DRAGGING, self._hand), beneath)

    def _light_anew(self) -> None:
        """Light what is open: coarsely first if the exact light takes a while, or if this edit came before the last was lit."""
        soon = self._was_exact and self._exact_took_s < SOON_S
        self._was_exact = False
        if soon or self.layout.is_lit_soon:
            self._light_at_rest()
        else:
            self._rest.stop()
            self._glanced_at = self.design
            self.solving.light(self.document, LightRequest(self.design, WHILE_DRAGGING))

    def _light_at_rest(self) -> None:
        self._rest.stop()
        self._glanced_at = None
        self._exact_began_s = time.monotonic()
        self.solving.light(self.document, LightRequest(self.design, AT_REST))

    def _take_light(self, document: Document, result: LightResult) -> None:
        if document is not self.document:  # another was opened while this one was being lit
            return
        self.newest = result
        if result.picture_only:
            self.seen.emit(result)
        else:
            self.result = result
            if self.exact is not None:
                self._exact_took_s, self._was_exact = time.monotonic() - self._exact_began_s, True
            self.lit.emit(result)
            if self._glanced_at is not None and result.evaluation.design == self._glanced_at == self.design:
                self._glanced_at = None
                if self.exact is None:
                    self._light_at_rest()

    # -- own things -----------------------------------------------------------------------------------------------

    def known(self) -> Catalogue:
        """Return the catalogue with every own sheet, strip and module, of the design and of the shelf."""
        return catalogue_of(self.with_shelf(self.design), self.catalogue)

    def with_shelf(self, design: Design) -> Design:
        """Let a design know what lies on the shelf."""
        return with_shelf(design, self.shelf.sheets, usable(self.shelf, self.catalogue).lamps)

    def keep_own_sheet(self, sheet: OwnDiffuser, layer: int) -> None:
        """Put an own sheet on the shelf and lay it in place of one layer."""
        kept = sheet

        def added(shelf: Shelf) -> Shelf:
            nonlocal kept
            shelf, kept = shelf.with_sheet(sheet)
            return shelf

        self.change_shelf(added)
        self.edit("Measured sheet", lambda design, _: with_own_sheet(design, layer, kept))

    def change_shelf(self, change: Callable[[Shelf], Shelf]) -> None:
        """Change the shelf on the disk; where that refuses, say so and change it for this window alone."""
        try:
            self.shelf = change_shelf(self._shelf_file, change)
        except GauzeError as error:
            self.shelf = change(self.shelf)
            self.failed.emit(told(error))
        self.shelf_changed.emit()
