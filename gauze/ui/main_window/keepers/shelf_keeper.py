"""Keeps the shelf's window: opens it, has its things judged for the open design, and does what is asked of it."""

from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QFileDialog, QWidget

from gauze.core.errors import GauzeError
from gauze.core.evaluate.shelf import Judged
from gauze.core.formats.shelf_csv import MOST_BYTES, decode_shelf, encode_shelf
from gauze.core.materials.labels import Label, ModuleLabel, ProfileStock, SheetStock, StripLabel, Thing
from gauze.core.printable import printable_path
from gauze.session.edits import with_lamp, with_stock
from gauze.session.new_things import new_thing
from gauze.session.shelf import usable
from gauze.session.solver import ShelfRequest
from gauze.session.storage import read_file, write_file
from gauze.ui.main_window.asking import ask_where
from gauze.ui.main_window.files import Files
from gauze.ui.shelf.window import ShelfWindow
from gauze.ui.shelf.words import kind_words
from gauze.ui.text import told, tr
from gauze.ui.theme import Theme
from gauze.ui.workbench import Workbench


class ShelfKeeper(QObject):
    """Stands between the shelf's window and the workbench."""

    def __init__(self, bench: Workbench, files: Files, parent: QWidget) -> None:
        super().__init__()
        self._bench, self._files, self._parent = bench, files, parent
        self.window: ShelfWindow | None = None
        bench.shelf_changed.connect(self._show)
        bench.design_changed.connect(self._forget)
        bench.lit.connect(lambda _result: self._judge())
        bench.solving.shelf_judged.connect(self._judged)
        self._verdicts: dict[str, Judged] = {}

    def open(self, theme: Theme) -> None:
        """Open the window, or bring it to the front."""
        if self.window is None:
            window = ShelfWindow(self._bench.catalogue, theme, self._bench.unit, self._parent)
            window.add_wanted.connect(self._add)
            window.copy_wanted.connect(self._copy)
            window.remove_wanted.connect(
                lambda thing_id: self._bench.change_shelf(lambda shelf: shelf.without(thing_id))
            )
            window.changed.connect(lambda thing: self._bench.change_shelf(lambda shelf: shelf.with_thing(thing)))
            window.use_wanted.connect(self._use)
            window.import_wanted.connect(self._import)
            window.export_wanted.connect(self._export)
            self.window = window
        self.window.set_look(theme, self._bench.unit)
        self.window.show()
        self.window.raise_()
        self.window.activateWindow()
        self._show()

    def set_look(self, theme: Theme) -> None:
        """Follow the window's theme and unit."""
        if self.window is not None:
            self.window.set_look(theme, self._bench.unit)

    # -- showing ----------------------------------------------------------------------------------------------------

    def _show(self, chosen: str = "") -> None:
        if self.window is not None:
            self.window.show_things(self._bench.shelf.things, chosen)
            self.window.set_stale(stale=True)  # until what its labels say now is judged
            self._judge()

    def _forget(self) -> None:
        """The design has changed: what was said of another is dimmed until it comes to rest."""
        if self.window is not None:
            self.window.set_stale(stale=True)

    def _judge(self) -> None:
        """Have everything judged for the design, once it is at rest."""
        if self.window is not None and self.window.isVisible() and self._bench.exact is not None:
            self._bench.solving.judge_shelf(self._request())

    def _request(self) -> ShelfRequest:
        return ShelfRequest(self._bench.design, usable(self._bench.shelf, self._bench.catalogue).things)

    def _judged(self, request: ShelfRequest, judged: list[Judged]) -> None:
        if self.window is None or request != self._request():
            return
        self._verdicts = {one.thing_id: one for one in judged}
        self.window.show_judged(judged, frozenset(thing.id for thing in request.things if self._can_be_used(thing)))

    def _can_be_used(self, thing: Thing) -> bool:
        if isinstance(thing, StripLabel | ModuleLabel):
            return with_lamp(self._bench.design, thing, self._bench.catalogue) is not None
        if isinstance(thing, ProfileStock | SheetStock):
            return with_stock(self._bench.design, thing, self._bench.catalogue) is not None
        verdict = self._verdicts.get(thing.id)
        return verdict is not None and verdict.wiring is not None

    # -- doing ------------------------------------------------------------------------------------------------------

    def _thing(self, thing_id: str) -> Thing:
        return next(thing for thing in self._bench.shelf.things if thing.id == thing_id)

    def _add(self, kind: type[Label]) -> None:
        name = tr("New: {kind}").format(kind=kind_words(kind).lower())
        thing = new_thing(kind, name, self._bench.shelf.free_id(name), self._bench.catalogue)
        self._bench.change_shelf(lambda shelf: shelf.with_thing(thing))
        self._show(thing.id)

    def _copy(self, thing_id: str) -> None:
        thing = self._thing(thing_id)
        copy = msgspec.structs.replace(
            thing, name=tr("{name}, copy").format(name=thing.name)[:80], id=self._bench.shelf.free_id(thing.name)
        )
        self._bench.change_shelf(lambda shelf: shelf.with_thing(copy))
        self._show(copy.id)

    def _use(self, thing_id: str) -> None:
        thing, bench = self._thing(thing_id), self._bench
        if isinstance(thing, StripLabel | ModuleLabel):
            name = "Strip" if isinstance(thing, StripLabel) else "Module"
            bench.edit(name, lambda design, _: with_lamp(design, thing, bench.catalogue) or design)
            return
        if isinstance(thing, ProfileStock | SheetStock):
            name = "Channel" if isinstance(thing, ProfileStock) else "Sheet"
            bench.edit(name, lambda design, _: with_stock(design, thing, bench.catalogue) or design)
            return
        wiring = self._verdicts[thing_id].wiring
        bench.edit("Wiring", lambda design, _: msgspec.structs.replace(design, wiring=wiring))

    def _import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self.window, tr("Import things for the shelf"), str(self._bench.folder), tr("Tables (*.csv)")
        )
        if not name:
            return
        try:
            things = decode_shelf(read_file(Path(name), MOST_BYTES), self._bench.catalogue)
        except GauzeError as error:
            title = tr("“{name}” was not imported").format(name=printable_path(Path(name).name))
            self._files.explain(title, told(error))
            return
        self._bench.change_shelf(lambda shelf: shelf.with_all(things))

    def _export(self) -> None:
        folder = Path(str(self._bench.folder))
        path = ask_where(self._parent, tr("Export the shelf"), folder / "shelf.csv", tr("Tables (*.csv)"), (".csv",))
        if path is not None:
            things = self._bench.shelf.things
            self._bench.solving.run_export(lambda: write_file(path, encode_shelf(things)))
