"""Has steps and parts of the open design stated once its cutting is planned; keeps the list of parts and the steps' window."""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from gauze.core.drawing.part_shapes import highlighted
from gauze.core.evaluate.building.model import Step
from gauze.core.evaluate.building.workshop import Workshop
from gauze.core.evaluate.made import MadeBuild
from gauze.session.making_edits import shown_making, with_own_step, with_record, without_own_step
from gauze.session.pictures import find_picture
from gauze.session.shelf import usable
from gauze.session.solver import FilesRequest, MakeRequest, WorkshopRequest
from gauze.ui.canvas.drawing import Drawing
from gauze.ui.main_window.asking import file_name
from gauze.ui.main_window.keepers.make_keeper import MakeKeeper
from gauze.ui.making.steps_window import StepsWindow
from gauze.ui.panels.make import MakePanel
from gauze.ui.panels.places import PlaceStack
from gauze.ui.text import tr
from gauze.ui.theme import Theme
from gauze.ui.workbench import Workbench

if TYPE_CHECKING:
    from gauze.ui.main_window.printing import Printing


class StepsKeeper(QObject):
    """Stands between steps and parts, the drawing, and the workbench."""

    def __init__(
        self, bench: Workbench, places: PlaceStack, drawing: Drawing, make: MakeKeeper, parent: QWidget
    ) -> None:
        super().__init__()
        self._bench, self._drawing, self._make, self._parent = bench, drawing, make, parent
        make.also_for.append(lambda: self.window is not None and self.window.isVisible())
        self.window: StepsWindow | None = None
        self.workshop: Workshop | None = None
        self.printing: Printing | None = None
        self._made: tuple[MakeRequest, MadeBuild] | None = None
        self._asked: WorkshopRequest | None = None
        bench.design_changed.connect(self._forget)
        bench.document_replaced.connect(self._replace)
        bench.lit.connect(lambda _result: self._ask())
        bench.solving.made.connect(self._take_made)
        bench.solving.workshop_found.connect(self._take)
        self._panel = places.findChild(MakePanel)  # none in a window without the subject
        if self._panel is not None:
            self._panel.parts.picked.connect(self._mark)
            self._panel.hidden.connect(lambda: self._drawing.show_picked(()))
            drawing.plan_clicked.connect(self._pick)
            drawing.cut_clicked.connect(self._pick_in_cut)

    def open(self, theme: Theme) -> None:
        """Open the window of the steps, or bring it to the front."""
        if self.window is None:
            window = StepsWindow(theme, self._bench.unit, self._parent)
            window.record_taken.connect(self._record)
            window.own_step_wanted.connect(
                lambda after, text: self._bench.edit(
                    "Own step", lambda design, _: with_own_step(design, after, text), field="making.own_steps"
                )
            )
            window.own_step_unwanted.connect(
                lambda key: self._bench.edit("Remove a step", lambda design, _: without_own_step(design, key))
            )
            window.step_shown.connect(self._show_step)
            window.book_wanted.connect(self.export_book)
            window.find_picture = lambda text: find_picture(text, self._bench.document.path)
            self.window = window
        self.window.pictures.folder = self._bench.folder
        self.window.set_look(theme, self._bench.unit)
        self.window.show()
        self.window.raise_()
        self.window.activateWindow()
        if self.workshop is not None:
            self._show()
        self._make.plan()
        self._ask()

    @property
    def is_looked_at(self) -> bool:
        """Whether anything that this keeps is in view."""
        return any(one.isVisible() for one in (self._panel, self.window) if one is not None)

    def set_look(self, theme: Theme) -> None:
        """Follow the window's theme and unit."""
        if self.window is not None:
            self.window.set_look(theme, self._bench.unit)

    def export_book(self) -> None:
        """Write the build book of the design as it stands."""
        kinds = tr("Pages (*.pdf)")
        self._make.exports.one_file(
            self._request("book"), tr("Export the build book"), kinds, {".pdf": "build-book.pdf"}
        )

    def export_templates(self) -> None:
        """Write the templates."""
        kinds = tr("Pages to print (*.pdf);;DXF (*.dxf);;SVG (*.svg)")
        names = {ending: f"templates{ending}" for ending in (".pdf", ".dxf", ".svg")}
        self._make.exports.one_file(
            self._request("templates"), tr("Export the templates at their true size"), kinds, names
        )

    def export_printed(self) -> None:
        """Write the printed parts."""
        kinds = tr("3MF with all parts (*.3mf)")
        self._make.exports.one_file(
            self._request("printed"), tr("Export the printed parts"), kinds, {".3mf": "printed.3mf"}
        )

    def print_book(self) -> None:
        """Print the build book of the design as it stands."""
        self._printing().print_file(self._request("book"), "build-book.pdf")

    def print_templates(self) -> None:
        """Print the templates at their true size."""
        self._printing().print_file(self._request("templates"), "templates.pdf")

    def _printing(self) -> Printing:
        """What prints; made when it is first wanted, as it loads what reads PDF."""
        if self.printing is None:
            module = importlib.import_module("gauze.ui.main_window.printing")
            self.printing = module.Printing(self._bench, self._parent)
        return self.printing

    def _request(self, kind: str) -> FilesRequest:
        bench = self._bench
        return FilesRequest(
            bench.design,
            usable(bench.shelf, bench.catalogue).things,
            file_name(bench.design.name),
            (kind,),
            bench.settings.language,
            bench.unit,
        )

    # -- what is stated ---------------------------------------------------------------------------------------------

    def _take_made(self, request: MakeRequest, made: MadeBuild) -> None:
        self._made = (request, made)
        self._ask()

    def _ask(self) -> None:
        """Have it stated, where it is looked at, the design is at rest, and its cutting is planned."""
        if not self.is_looked_at or self._bench.exact is None or self._made is None:
            return
        request, made = self._made
        if request.design != self._bench.design:
            return
        wanted = WorkshopRequest(request.design, made)
        if self._asked is None or wanted.design is not self._asked.design or wanted.made is not self._asked.made:
            self._asked = wanted
            self._bench.solving.find_workshop(wanted)

    def _take(self, request: WorkshopRequest, workshop: Workshop) -> None:
        if request.design != self._bench.design:
            return
        self.workshop = workshop
        if self._panel is not None:
            self._panel.show_workshop(workshop)
        self._show()

    def _show(self) -> None:
        if self.window is not None and self.workshop is not None:
            self.window.show_steps(self.workshop.steps, shown_making(self._bench.design))

    def _forget(self) -> None:
        """The design has changed: what is stated of another is dimmed, and no longer picked."""
        self._bench.solving.cancel("workshop")
        self._asked = None
        if self.window is not None:
            self.window.set_stale(stale=True)
        if self._panel is not None:
            self._panel.parts.set_stale()

    def _replace(self) -> None:
        """Another design is open: nothing of the one before is shown, or kept with it."""
        self.workshop = None
        if self.window is not None:
            self.window.forget()

    # -- what is picked ---------------------------------------------------------------------------------------------

    def _mark(self, ids: tuple[str, ...]) -> None:
        if self.workshop is None:
            self._drawing.show_picked(())
            return
        shapes, sections = self.workshop.shapes, self.workshop.sections
        self._drawing.show_picked(
            [shapes[one] for one in ids if one in shapes], [sections[one] for one in ids if one in sections]
        )

    def _pick(self, x_mm: float, y_mm: float) -> None:
        assert self._panel is not None
        if self._panel.isVisible() and self.workshop is not None:
            self._panel.parts.pick(self.workshop.part_at(x_mm, y_mm))

    def _pick_in_cut(self, across_mm: float, z_mm: float) -> None:
        assert self._panel is not None
        if self._panel.isVisible() and self.workshop is not None:
            self._panel.parts.pick(self.workshop.part_in_cut(across_mm, z_mm))

    def _show_step(self, step: Step | None) -> None:
        assert self.window is not None
        view = None
        if step is not None and self.workshop is not None and any(one in self.workshop.shapes for one in step.parts):
            view = highlighted(self._bench.layout, self.workshop.shapes, step.parts)
        self.window.picture.show_view(view)

    def _record(self, key: str, field: str, value: Any) -> None:
        self._bench.edit("Step", lambda design, _: with_record(design, key, **{field: value}), field="making.records")
