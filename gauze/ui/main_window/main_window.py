"""The window: drawing in the middle, places to the left, findings and what is picked to the right, the tray below."""

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import (
    QApplication,
    QButtonGroup,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMenu,
    QMessageBox,
    QScrollArea,
    QSplitter,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gauze import __version__
from gauze.core.errors import QuantityError
from gauze.core.evaluate import AT_REST, Fix
from gauze.core.evaluate.candidates import Candidate
from gauze.core.formats.design_file import EXTENSION
from gauze.core.units import LengthUnit
from gauze.session import edits
from gauze.ui.canvas.canvas import Canvas, Scene
from gauze.ui.canvas.dimensions import Dimension
from gauze.ui.canvas.edits import lid_edit, row_edit, typed_edit
from gauze.ui.main_window.actions import build_menus, shortcut_rows, theme_actions
from gauze.ui.main_window.files import Files
from gauze.ui.main_window.top_bar import TopBar
from gauze.ui.panels.findings import FindingsPanel
from gauze.ui.panels.places import PLACES, PlaceStack
from gauze.ui.panels.tray import Tray
from gauze.ui.text import tr
from gauze.ui.theme import apply_theme, icon, theme_named
from gauze.ui.view_state import ViewState
from gauze.ui.workbench import LightResult, TrayRequest, Workbench

_SIDE_WIDTH = 326
_ROOM_STEPS = (0.0, 50.0, 200.0, 500.0, 1000.0, 2000.0, 5000.0)


class MainWindow(QMainWindow):
    """Puts the parts together and passes on what they say."""

    def __init__(self, bench: Workbench, theme_name: str | None = None) -> None:
        super().__init__()
        self.bench = bench
        self._theme_override = theme_name
        self.files = Files(bench, self)
        self._tray_kind: tuple[str, int] | None = None
        self.canvas = Canvas(self._theme, bench.unit)
        self.top_bar = TopBar(self._theme)
        self.findings = FindingsPanel(self._theme)
        self.places = PlaceStack(bench)
        self.tray = Tray(self._theme)
        self.tray.hide()
        self._place_buttons: dict[str, QToolButton] = {}
        self._hover, self._state_label = QLabel(), QLabel()
        self._put_together()
        self.actions_by_key = build_menus(self, self._slots(), self._theme)
        self._connect()
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self._apply_look()
        self.go_to("soften")
        self._design_changed()
        self.canvas.setFocus(Qt.FocusReason.OtherFocusReason)

    # -- putting together -----------------------------------------------------------------------------------------

    @property
    def _theme(self):  # type: ignore[no-untyped-def]
        return theme_named(self._theme_override or self.bench.settings.theme)

    def _put_together(self) -> None:
        places = QWidget()
        places.setObjectName("places")
        places.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(places)
        column.setContentsMargins(0, 6, 0, 6)
        column.setSpacing(2)
        group = QButtonGroup(self)
        for index, place in enumerate(PLACES, start=1):
            button = QToolButton()
            button.setText(tr(place.name))
            button.setToolTip(tr("{about} (Ctrl+{index})").format(about=tr(place.about), index=index))
            button.setCheckable(True)
            button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
            button.setFixedWidth(74)
            button.clicked.connect(lambda _checked, key=place.key: self.go_to(key))
            group.addButton(button)
            column.addWidget(button)
            self._place_buttons[place.key] = button
        column.addStretch(1)
        picked = QScrollArea()
        picked.setWidgetResizable(True)
        picked.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        picked.setWidget(self.places)
        side = QSplitter(Qt.Orientation.Vertical)
        side.setObjectName("side")
        side.setChildrenCollapsible(False)
        side.addWidget(self.findings)
        side.addWidget(picked)
        side.setSizes([430, 270])
        side.setFixedWidth(_SIDE_WIDTH)
        middle = QVBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addWidget(self.canvas, 1)
        middle.addWidget(self.tray)
        body = QHBoxLayout()
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(0)
        body.addWidget(places)
        body.addLayout(middle, 1)
        body.addWidget(side)
        whole = QWidget()
        outer = QVBoxLayout(whole)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        outer.addWidget(self.top_bar)
        outer.addLayout(body, 1)
        self.setCentralWidget(whole)
        status = self.statusBar()
        assert status is not None
        status.setSizeGripEnabled(False)
        status.addWidget(self._hover, 1)
        status.addPermanentWidget(self._state_label)
        status.setContentsMargins(8, 0, 12, 0)

    def _connect(self) -> None:
        bench, canvas = self.bench, self.canvas
        bench.design_changed.connect(self._design_changed)
        bench.lit.connect(self._lit)
        bench.refused.connect(canvas.refuse)
        bench.failed.connect(lambda text: self.files.explain(tr("Something did not work"), text))
        bench.settings_changed.connect(self._settings_changed)
        bench.fixes_found.connect(self._fixes_found)
        bench.fixes_progress.connect(self.findings.show_progress)
        bench.candidate_lit.connect(self._candidate_lit)
        bench.tray_done.connect(lambda _request: self.tray.rank())
        canvas.typed.connect(self._typed)
        canvas.lid_dragged.connect(self._lid_dragged)
        canvas.row_dragged.connect(self._row_dragged)
        canvas.hovered.connect(self._hover.setText)
        canvas.menu_wanted.connect(self._show_menu)
        self.top_bar.state_changed.connect(self._show_state)
        self.top_bar.renamed.connect(self._rename)
        self.top_bar.unit_toggled.connect(self._toggle_unit)
        self.findings.fix_chosen.connect(self._apply_fix)
        self.findings.search_stopped.connect(self._stop_search)
        self.places.lay.tray_wanted.connect(lambda index: self.open_tray("strip", index))
        self.places.soften.tray_wanted.connect(lambda: self.open_tray("diffuser", 0))
        self.tray.chosen.connect(self._take_candidate)
        self.tray.closed.connect(self._close_tray)

    def _slots(self) -> dict[str, Callable[[], None]]:
        slots: dict[str, Callable[[], None]] = {
            "new": self.files.new,
            "open": self.files.open,
            "open_demo": self.files.open_demo,
            "save": lambda: void(self.files.save()),
            "save_as": lambda: void(self.files.save_as()),
            "export_picture": lambda: self._export(lambda result: self.files.export_picture(result.evaluation, self.canvas.state)),
            "export_map": lambda: self._export(lambda result: self.files.export_map(result.evaluation)),
            "export_findings": lambda: self._export(
                lambda result: self.files.export_findings(result.evaluation, result.findings)
            ),
            "quit": lambda: void(self.close()),
            "undo": lambda: self.bench.document.undo(),
            "redo": lambda: self.bench.document.redo(),
            "turn_rows": self._turn_rows,
            "tray_strip": lambda: self.open_tray("strip", 0),
            "tray_diffuser": lambda: self.open_tray("diffuser", 0),
            "fit": self.canvas.fit,
            "zoom_in": lambda: self.canvas.zoom(1.25),
            "zoom_out": lambda: self.canvas.zoom(0.8),
            "false_colour": lambda: self._change_state(false_colour=not self.canvas.state.false_colour),
            "brighter": lambda: self._change_state(exposure_stops=min(self.canvas.state.exposure_stops + 0.5, 5.0)),
            "darker": lambda: self._change_state(exposure_stops=max(self.canvas.state.exposure_stops - 0.5, -5.0)),
            "room_up": lambda: self._step_room(1),
            "room_down": lambda: self._step_room(-1),
            "seam_swap": self._swap_seam,
            "unit": self._toggle_unit,
            "light_theme": self._toggle_theme,
            "full_screen": lambda: self.showNormal() if self.isFullScreen() else self.showFullScreen(),
            "shortcuts": self._show_shortcuts,
            "about": self._show_about,
        }
        for key in ("depth", "spacing", "row_count", "face_width", "face_height", "viewing_distance"):
            slots[f"edit_{key}"] = lambda key=key: self.canvas.edit(key)  # type: ignore[misc]  # mypy: default in lambda
        for place in PLACES:
            slots[f"place_{place.key}"] = lambda key=place.key: self.go_to(key)  # type: ignore[misc]  # likewise
        return slots

    # -- showing --------------------------------------------------------------------------------------------------

    def go_to(self, place: str) -> None:
        """Go to a place of the working order."""
        self._place_buttons[place].setChecked(True)
        for other in PLACES:
            self.actions_by_key[f"place_{other.key}"].setChecked(other.key == place)
        self.places.show_place(place)
        self.findings.set_place(place)

    def _design_changed(self) -> None:
        bench = self.bench
        evaluation = bench.result.evaluation if bench.result is not None else None
        self.canvas.show_scene(Scene(bench.design, bench.layout, evaluation))
        self.places.refresh()
        self.findings.forget_fixes()
        self.findings.show_progress(None)
        self.top_bar.show_name(bench.design.name, bench.unit.value)
        self._refresh_titles()

    def _refresh_titles(self) -> None:
        document = self.bench.document
        self.setWindowTitle(f"{document.design.name}[*] — Gauze")
        self.setWindowModified(document.modified)
        for key, verb, name in (("undo", tr("&Undo"), document.undo_name), ("redo", tr("&Redo"), document.redo_name)):
            self.actions_by_key[key].setText(f"{verb} {name.lower()}" if name else verb)
            self.actions_by_key[key].setEnabled(name is not None)

    def _lit(self, result: LightResult) -> None:
        self.canvas.show_scene(Scene(self.bench.design, self.bench.layout, result.evaluation))
        self.findings.show_findings(result.findings)
        self.places.feed.show_supplies(result.evaluation.supplies)
        exact = result.evaluation.detail == AT_REST
        self._state_label.setText(tr("exact") if exact else tr("following …"))
        if exact and result.evaluation.design == self.bench.design:
            codes = tuple(finding.code for finding in result.findings if finding.fixable)
            if codes:
                self.bench.search_fixes(codes)
            if self._tray_kind is not None:
                self.bench.light_tray(*self._tray_kind)

    def _apply_look(self) -> None:
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        theme = self._theme
        apply_theme(application, theme)
        self.canvas.set_look(theme, self.bench.unit)
        self.top_bar.set_theme(theme)
        self.findings.set_theme(theme)
        self.tray.set_theme(theme)
        for place in PLACES:
            self._place_buttons[place.key].setIcon(icon(place.icon, theme))
        theme_actions(self.actions_by_key, theme)
        self.actions_by_key["light_theme"].setChecked(theme.name == "light")
        self.actions_by_key["unit"].setChecked(self.bench.unit is LengthUnit.INCH)
        self._fill_recent()

    def _settings_changed(self) -> None:
        self._apply_look()
        self._design_changed()

    def _fill_recent(self) -> None:
        menu = self.actions_by_key["recent"].menu()
        assert menu is not None
        menu.clear()
        for name in self.bench.settings.recent_files:
            action = menu.addAction(name)
            assert action is not None
            action.triggered.connect(lambda _checked, path=name: self._open_recent(Path(path)))
        self.actions_by_key["recent"].setEnabled(bool(self.bench.settings.recent_files))

    def _open_recent(self, path: Path) -> None:
        if self.files.may_leave():
            self.files.open_path(path)

    def _show_state(self, state: ViewState) -> None:
        self.canvas.set_state(replace(state, seam_share=self.canvas.state.seam_share, cut_share=self.canvas.state.cut_share))
        self.top_bar.show_state(self.canvas.state)
        self.actions_by_key["false_colour"].setChecked(state.false_colour)

    def _change_state(self, **changes: float | bool) -> None:
        self._show_state(replace(self.canvas.state, **changes))  # type: ignore[arg-type]  # each field gets its own type

    def _step_room(self, step: int) -> None:
        steps = [*_ROOM_STEPS]
        present = min(range(len(steps)), key=lambda index: abs(steps[index] - self.canvas.state.room_lx))
        self._change_state(room_lx=steps[min(max(present + step, 0), len(steps) - 1)])

    def _swap_seam(self) -> None:
        share = self.canvas.state.seam_share
        self.canvas.set_state(replace(self.canvas.state, seam_share=0.0 if share > 0.5 else 1.0))

    def _show_menu(self, where: QPoint, dimension: Dimension | None) -> None:
        menu = QMenu(self)
        if dimension is not None:
            action = menu.addAction(tr("Type the {name} …").format(name=dimension.name.lower()))
            assert action is not None
            action.triggered.connect(lambda: self.canvas.edit(dimension.key))
            menu.addSeparator()
        for key in ("turn_rows", "tray_strip", "tray_diffuser", "fit", "false_colour", "undo", "redo"):
            menu.addAction(self.actions_by_key[key])
        menu.exec(where)

    def _show_shortcuts(self) -> None:
        rows = "".join(f"<tr><td style='padding-right:24px'>{text}</td><td><b>{keys}</b></td></tr>" for text, keys in shortcut_rows())
        self._tell(tr("Keyboard"), tr("Tab walks through the drawing: Enter types a dimension, arrow keys move what can be moved.") + f"<table>{rows}</table>")

    def _show_about(self) -> None:
        self._tell(
            tr("About Gauze"),
            tr(
                "<b>Gauze {version}</b><br>Design diffused LED lights before the first cut.<br><br>"
                "Free software under the GNU General Public License, version 3 or later. "
                "Catalogue values are typical; measure your own."
            ).format(version=__version__),
        )

    def _tell(self, title: str, text: str) -> None:
        box = QMessageBox(self)
        box.setWindowTitle(title)
        box.setTextFormat(Qt.TextFormat.RichText)
        box.setText(text)
        box.open()

    # -- edits ----------------------------------------------------------------------------------------------------

    def _typed(self, key: str, text: str) -> None:
        try:
            name, change = typed_edit(key, text, self.bench.unit)
        except QuantityError as error:
            self.canvas.refuse("", str(error))
            return
        if self.bench.edit(name, change):
            self.canvas.finish_editing()

    def _lid_dragged(self, inner_depth_mm: float, gesture: object) -> None:
        self.bench.drag(*lid_edit(inner_depth_mm), gesture)

    def _row_dragged(self, index: int, across_mm: float, gesture: object) -> None:
        self.bench.drag(*row_edit(index, across_mm), gesture)

    def _turn_rows(self) -> None:
        other = "along_height" if self.bench.design.build.row_direction == "along_width" else "along_width"
        self.bench.edit("Turn the rows", lambda design, _: edits.with_row_direction(design, other))

    def _rename(self, name: str) -> None:
        if name:
            self.bench.edit("Name", lambda design, _: edits.with_name(design, name))

    def _toggle_unit(self) -> None:
        self.bench.change_settings(length_unit="in" if self.bench.unit is LengthUnit.MM else "mm")

    def _toggle_theme(self) -> None:
        self._theme_override = None if self._theme_override is None else ("light" if self._theme_override == "dark" else "dark")
        self.bench.change_settings(theme="light" if self.bench.settings.theme == "dark" else "dark")

    def _apply_fix(self, fix: Fix) -> None:
        self.bench.edit(fix.title, lambda _design, _layout: fix.design)

    def _fixes_found(self, design: object, code: str, fixes: list[Fix]) -> None:
        if design == self.bench.design:
            self.findings.show_fixes(code, fixes)

    def _stop_search(self) -> None:
        self.bench.cancel_fixes()
        self.findings.show_progress(None)

    # -- tray -----------------------------------------------------------------------------------------------------

    def open_tray(self, kind: str, strip_index: int) -> None:
        """Open the tray of strips or sheets on this very design."""
        catalogue, build = self.bench.catalogue, self.bench.design.build
        self._tray_kind = (kind, strip_index)
        if kind == "diffuser":
            title, ids, chosen = tr("Sheets: this design through each"), list(catalogue.diffusers), build.diffuser
        else:
            title, ids, chosen = tr("Strips: this design with each"), list(catalogue.strips), build.strips[strip_index].strip
        self.tray.open_with(title, ids, chosen)
        self.tray.focus_chosen()
        self.bench.light_tray(kind, strip_index)

    def _close_tray(self) -> None:
        self._tray_kind = None
        self.bench.cancel_tray()
        self.tray.hide()
        self.canvas.setFocus(Qt.FocusReason.OtherFocusReason)

    def _candidate_lit(self, request: TrayRequest, candidate: Candidate) -> None:
        if (request.kind, request.strip_index) == self._tray_kind:
            self.tray.show_candidate(candidate, self.bench.unit)

    def _take_candidate(self, candidate: Candidate) -> None:
        kind = self._tray_kind[0] if self._tray_kind is not None else "diffuser"
        self.bench.edit(tr("Sheet") if kind == "diffuser" else tr("Strip"), lambda _design, _layout: candidate.design)

    # -- files and the end ----------------------------------------------------------------------------------------

    def _export(self, export: Callable[[LightResult], None]) -> None:
        result = self.bench.result
        if result is None or result.evaluation.detail != AT_REST:
            self.files.explain(tr("Not yet"), tr("The light is still being computed. Try again in a moment."))
        else:
            export(result)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:  # noqa: N802 - Qt's name
        """Take a design that is dragged in."""
        if event is not None and _dropped(event) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:  # noqa: N802 - Qt's name
        """Open a design that is dropped."""
        path = _dropped(event) if event is not None else None
        if path is not None and self.files.may_leave():
            self.files.open_path(path)

    def closeEvent(self, event: QCloseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Ask about unsaved work, then end the jobs."""
        assert event is not None
        if self.files.may_leave():
            self.bench.close()
            event.accept()
        else:
            event.ignore()


def void(_value: object) -> None:
    """Drop a result that nobody asks for."""


def _dropped(event: QDropEvent) -> Path | None:
    data = event.mimeData()
    if data is None or len(data.urls()) != 1 or not data.urls()[0].isLocalFile():
        return None
    path = Path(data.urls()[0].toLocalFile())
    return path if path.suffix == EXTENSION else None
