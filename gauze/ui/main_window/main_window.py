"""The window: drawing in the middle, places to the left, findings and what is picked to the right, the tray below."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QEvent, QPoint, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import (
    QApplication,
    QButtonGroup,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMenu,
    QScrollArea,
    QSplitter,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gauze.core.design import StripPanel
from gauze.core.errors import QuantityError
from gauze.core.evaluate import Fix
from gauze.core.formats.design_file import EXTENSION
from gauze.core.printable import printable_path
from gauze.core.units import LengthUnit
from gauze.session import edits
from gauze.session.solver import LightResult
from gauze.session.storage import path_of
from gauze.ui.canvas.dimensions import Dimension
from gauze.ui.canvas.drawing import Drawing
from gauze.ui.canvas.edits import lid_edit, row_edit, typed_edit
from gauze.ui.main_window.actions import build_menus, theme_actions
from gauze.ui.main_window.build_hand import BuildHand
from gauze.ui.main_window.chart_keeper import ChartKeeper
from gauze.ui.main_window.exports import Exports
from gauze.ui.main_window.files import Files
from gauze.ui.main_window.help import show_about, show_shortcuts
from gauze.ui.main_window.recovery import Recovery
from gauze.ui.main_window.start_keeper import StartKeeper
from gauze.ui.main_window.top_bar import TopBar
from gauze.ui.main_window.tray_keeper import TrayKeeper
from gauze.ui.main_window.versions_keeper import VersionsKeeper
from gauze.ui.main_window.viewing import Viewing
from gauze.ui.message import plain_button
from gauze.ui.panels.findings import FindingsPanel
from gauze.ui.panels.places import PLACES, PlaceStack
from gauze.ui.panels.tradeoff import TradeOffPanel
from gauze.ui.panels.tray import Tray
from gauze.ui.panels.versions import VersionsPanel
from gauze.ui.text import tr
from gauze.ui.theme import Theme, apply_theme, icon, theme_named
from gauze.ui.workbench import Workbench

_SIDE_WIDTH, _PLACES_WIDTH = 326, 74
_CONTEXT_MENU = ("turn_rows", "tray_strip", "tray_diffuser", "fit", "false_colour", "undo", "redo")
_OF_PANELS = ("turn_rows", "chart")
_TYPED_BY_KEY = ("depth", "spacing", "row_count", "face_width", "face_height", "viewing_distance")


class MainWindow(QMainWindow):
    """Puts the parts together and passes on what they say."""

    def __init__(self, bench: Workbench, theme_name: str | None = None) -> None:
        super().__init__()
        self.bench = bench
        self._theme_override = theme_name
        self.files = Files(bench, self)
        self.exports = Exports(bench, self)
        self.recovery = Recovery(bench, self.files, self)
        self.drawing = Drawing(self._theme, bench.unit)
        self.canvas = self.drawing.canvas
        self.top_bar = TopBar(self._theme)
        self.findings = FindingsPanel(self._theme)
        self.places = PlaceStack(bench)
        self.tray = Tray(self._theme)
        self.tray_keeper = TrayKeeper(bench, self.tray, self.drawing)
        self.versions_panel = VersionsPanel(self._theme)
        self.versions_keeper = VersionsKeeper(bench, self.versions_panel, self.drawing)
        self.chart_panel = TradeOffPanel(self._theme)
        self.chart_keeper = ChartKeeper(bench, self.chart_panel, self.drawing)
        self.start = StartKeeper(bench, self.files, self)
        self._place_buttons: dict[str, QToolButton] = {}
        self._hover, self._detail = QLabel(), QLabel()
        self._hover.setTextFormat(Qt.TextFormat.PlainText)
        self._put_together()
        self.actions_by_key = build_menus(self, self._slots(), self._theme)
        self.build_hand = BuildHand(bench, self.drawing.build, self.actions_by_key, self)
        self.viewing = Viewing(self.drawing, self.top_bar, self.actions_by_key)
        self._connect()
        self.ended = False
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self._apply_look()
        self.go_to("soften")
        self._design_changed()
        self.drawing.shown.setFocus(Qt.FocusReason.OtherFocusReason)

    # -- putting together ----------------------------------------------------------------------------------------

    def _put_together(self) -> None:
        middle = QVBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addWidget(self.drawing, 1)
        middle.addWidget(self.tray)
        middle.addWidget(self.chart_panel)
        middle.addWidget(self.versions_panel)
        body = QHBoxLayout()
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(0)
        body.addWidget(self._place_column())
        body.addLayout(middle, 1)
        body.addWidget(self._side())
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
        status.setContentsMargins(8, 0, 12, 0)
        status.addWidget(self._hover, 1)
        status.addPermanentWidget(self._detail)

    def _place_column(self) -> QWidget:
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
            button.setFixedWidth(_PLACES_WIDTH)
            button.clicked.connect(lambda _checked, key=place.key: self.go_to(key))
            group.addButton(button)
            column.addWidget(button)
            self._place_buttons[place.key] = button
        column.addStretch(1)
        return places

    def _side(self) -> QWidget:
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
        return side

    def _connect(self) -> None:
        bench, canvas = self.bench, self.canvas
        bench.design_changed.connect(self._design_changed)
        bench.lit.connect(self._lit)
        bench.refused.connect(self.drawing.refuse)
        bench.failed.connect(lambda text: self.files.explain(tr("Something went wrong"), text))
        bench.settings_changed.connect(self._settings_changed)
        bench.recent_changed.connect(self._fill_recent)
        bench.document_replaced.connect(self._document_replaced)
        self.files.compare_wanted = self._open_versions
        bench.fixes_found.connect(self._fixes_found)
        bench.fixes_progress.connect(self.findings.show_progress)
        canvas.typed.connect(self._typed)
        canvas.lid_dragged.connect(lambda depth_mm, gesture: bench.drag(*lid_edit(depth_mm), gesture))
        canvas.row_dragged.connect(lambda index, place_mm, gesture: bench.drag(*row_edit(index, place_mm), gesture))
        canvas.hovered.connect(self._hover.setText)
        self.drawing.build.hovered.connect(self._hover.setText)
        canvas.menu_wanted.connect(self._show_menu)
        self.top_bar.renamed.connect(self._rename)
        self.top_bar.unit_toggled.connect(self._toggle_unit)
        self.findings.fix_chosen.connect(self._apply_fix)
        self.findings.search_stopped.connect(self._stop_search)
        self.places.cavity.import_wanted.connect(self.files.import_emitters)
        self.places.build.picture_wanted.connect(self.files.choose_picture)
        self.places.build.tray_wanted.connect(lambda index: self._open_tray("strip", index))
        self.places.lay.tray_wanted.connect(lambda index: self._open_tray("strip", index))
        self.places.soften.tray_wanted.connect(lambda index: self._open_tray("diffuser", index))

    def _slots(self) -> dict[str, Callable[[], object]]:
        files, exports = self.files, self.exports
        return {
            "new": self.start.open,
            "from_back": lambda: self.viewing.toggle_back(),
            "open": files.open,
            "import_emitters": files.import_emitters,
            "open_demo": files.open_demo,
            "open_demo_sign": files.open_demo_sign,
            "save": files.save,
            "save_as": files.save_as,
            "recover": self.recovery.look,
            "export_picture": lambda: self._export(lambda r: exports.picture(r.evaluation, self.canvas.state)),
            "export_map": lambda: self._export(lambda r: exports.light_map(r.evaluation)),
            "export_ies": lambda: self._export(lambda r: exports.ies(r.evaluation)),
            "export_findings": lambda: self._export(lambda r: exports.findings(r.evaluation, r.findings)),
            "copy_findings": lambda: self._export(lambda r: exports.copy_findings(r.evaluation, r.findings)),
            "copy_picture": lambda: self._export(lambda r: exports.copy_picture(r.evaluation, self.canvas.state)),
            "quit": self.close,
            "undo": lambda: self.bench.document.undo(),
            "redo": lambda: self.bench.document.redo(),
            "turn_rows": self._turn_rows,
            "own_sheet": self.places.soften.measure_own_sheet,
            "tray_strip": lambda: self._open_tray("strip", 0),
            "tray_diffuser": lambda: self._open_tray("diffuser", 0),
            "chart": self._open_chart,
            "keep_version": self._keep_version,
            "versions": self._open_versions,
            "fit": self.drawing.fit,
            "zoom_in": lambda: self.drawing.zoom(1.25),
            "zoom_out": lambda: self.drawing.zoom(0.8),
            "false_colour": lambda: self.viewing.toggle_false_colour(),
            "brighter": lambda: self.viewing.step_exposure(1),
            "darker": lambda: self.viewing.step_exposure(-1),
            "room_up": lambda: self.viewing.step_room(1),
            "room_down": lambda: self.viewing.step_room(-1),
            "seam_swap": lambda: self.viewing.swap_seam(),
            "unit": self._toggle_unit,
            "light_theme": self._toggle_theme,
            "full_screen": lambda: self.showNormal() if self.isFullScreen() else self.showFullScreen(),
            "shortcuts": lambda: show_shortcuts(self),
            "about": lambda: show_about(self),
            **{f"edit_{key}": partial(self.canvas.edit, key) for key in _TYPED_BY_KEY},
            **{f"place_{place.key}": partial(self.go_to, place.key) for place in PLACES},
        }

    # -- showing -------------------------------------------------------------------------------------------------

    @property
    def _theme(self) -> Theme:
        return theme_named(self._theme_override or self.bench.settings.theme)

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
        self.drawing.show_design(bench, evaluation)
        self._fit_actions()
        self.places.refresh()
        self.chart_keeper.show_point()
        self.versions_keeper.follow()
        self.findings.forget_fixes()
        self.findings.show_progress(None)
        self.top_bar.show_name(bench.design.name, bench.unit.value)
        self._show_detail()
        self._refresh_titles()

    def _document_replaced(self) -> None:
        """Another document is open: nothing that a hand began on the old one may go on in it."""
        self.drawing.release()
        self.places.release()
        self.findings.show_findings(())

    def _fit_actions(self) -> None:
        """Offer what the open family has; close what it has not."""
        build = self.bench.design.build
        panel = isinstance(build, StripPanel)
        for key in (*_OF_PANELS, *(f"edit_{key}" for key in _TYPED_BY_KEY)):
            self.actions_by_key[key].setEnabled(panel)
        self.actions_by_key["from_back"].setEnabled(not panel)
        self.actions_by_key["tray_strip"].setEnabled(bool(self.bench.design.strips))
        for key in ("tray_diffuser", "own_sheet"):
            self.actions_by_key[key].setEnabled(bool(build.layers))
        if not panel:
            self.chart_keeper.close()

    def _refresh_titles(self) -> None:
        document = self.bench.document
        self.setWindowTitle(f"{document.design.name}[*] — Gauze")
        self.setWindowModified(document.modified)
        for key, verb, name in (("undo", tr("&Undo"), document.undo_name), ("redo", tr("&Redo"), document.redo_name)):
            self.actions_by_key[key].setText(f"{verb} {name[0].lower()}{name[1:]}" if name else verb)
            self.actions_by_key[key].setEnabled(name is not None)

    def _lit(self, result: LightResult) -> None:
        self.drawing.show_design(self.bench, result.evaluation)
        self.findings.show_findings(result.findings)
        self.places.feed.show_supplies(result.evaluation.supplies)
        self.places.aim.target_map.show_map(result.evaluation.target)
        if self._show_detail():
            codes = tuple(finding.code for finding in result.findings if finding.fixable)
            if codes:
                self.bench.search_fixes(codes)
            self.tray_keeper.follow()
            self.chart_keeper.follow()
            self.versions_keeper.follow()

    def _show_detail(self) -> bool:
        """Tell whether what is shown is the exact light of the design as it is, and return that."""
        exact = self.bench.exact is not None
        self.findings.set_stale(stale=not exact)
        self.places.set_stale(stale=not exact)
        self._detail.setText(tr("exact") if exact else tr("updating …"))
        return exact

    def _apply_look(self) -> None:
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        theme = self._theme
        apply_theme(application, theme)
        self.drawing.set_look(theme, self.bench.unit)
        self.top_bar.set_theme(theme)
        self.findings.set_theme(theme)
        self.tray.set_theme(theme)
        self.chart_panel.set_theme(theme)
        self.versions_panel.set_theme(theme)
        self.places.aim.target_map.theme = theme
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
        paths = self.bench.settings.recent_paths
        for path in paths:
            action = menu.addAction(plain_button(printable_path(path)))
            assert action is not None
            action.triggered.connect(lambda _checked, path=path: self._open_unless_unsaved(path))
        self.actions_by_key["recent"].setEnabled(bool(paths))

    def _show_menu(self, where: QPoint, dimension: Dimension | None) -> None:
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        if dimension is not None:
            action = menu.addAction(tr("Type the {name} …").format(name=dimension.name.lower()))
            assert action is not None
            action.triggered.connect(lambda: self.canvas.edit(dimension.key))
            menu.addSeparator()
        for key in _CONTEXT_MENU:
            menu.addAction(self.actions_by_key[key])
        menu.popup(where)

    def _open_chart(self) -> None:
        self.tray_keeper.close()
        self.versions_keeper.close()
        self.chart_keeper.open()

    def _open_versions(self) -> None:
        self.chart_keeper.close()
        self.tray_keeper.close()
        self.versions_keeper.open()

    def _keep_version(self) -> None:
        self.chart_keeper.close()
        self.tray_keeper.close()
        self.versions_keeper.keep()

    def _open_tray(self, kind: str, index: int) -> None:
        self.chart_keeper.close()
        self.versions_keeper.close()
        self.tray_keeper.open(kind, index)

    # -- edits ---------------------------------------------------------------------------------------------------

    def _typed(self, key: str, text: str) -> None:
        try:
            name, change = typed_edit(key, text, self.bench.unit)
        except QuantityError as error:
            self.canvas.refuse("", str(error))
            return
        if self.bench.edit(name, change):
            self.canvas.finish_editing()

    def _turn_rows(self) -> None:
        self.bench.edit("Turn the rows", lambda design, _: edits.with_rows_turned(design))

    def _rename(self, name: str) -> None:
        if name:
            self.bench.edit("Name", lambda design, _: edits.with_name(design, name))

    def _toggle_unit(self) -> None:
        self.bench.change_settings(length_unit="in" if self.bench.unit is LengthUnit.MM else "mm")

    def _toggle_theme(self) -> None:
        other = "light" if self._theme.name == "dark" else "dark"
        self._theme_override = None
        self.bench.change_settings(theme=other)

    def _apply_fix(self, fix: Fix) -> None:
        self.bench.edit(fix.title, lambda _design, _layout: fix.design)

    def _fixes_found(self, design: object, code: str, fixes: list[Fix]) -> None:
        if design == self.bench.design:
            self.findings.show_fixes(code, fixes)

    def _stop_search(self) -> None:
        self.bench.cancel_fixes()
        self.findings.show_progress(None)

    # -- files and the end ---------------------------------------------------------------------------------------

    def _export(self, export: Callable[[LightResult], None]) -> None:
        result = self.bench.exact
        if result is None:
            self.files.explain(tr("Not yet"), tr("The light is still being computed. Try again in a moment."))
        else:
            export(result)

    def _open_unless_unsaved(self, path: Path) -> None:
        if self.files.may_leave():
            self.files.open_path(path)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:  # noqa: N802 - Qt's name
        """Take a design that is dragged in."""
        if event is not None and _dropped(event) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:  # noqa: N802 - Qt's name
        """Open a design that is dropped."""
        path = _dropped(event) if event is not None else None
        if path is not None:
            self._open_unless_unsaved(path)

    def closeEvent(self, event: QCloseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Ask about unsaved work, then end the jobs."""
        assert event is not None
        if self.ended or self.files.may_leave():
            self.end()
            event.accept()
        else:
            event.ignore()

    def end(self, *, forget: bool = True) -> None:
        """End the jobs; unsaved work that is not to be forgotten is found by the next start."""
        if not self.ended:
            self.ended = True
            self.start.end()
            self.recovery.end()
            self.bench.close(forget=forget)

    def changeEvent(self, event: QEvent | None) -> None:  # noqa: N802 - Qt's name
        """Look whether the file was changed elsewhere when the window comes to the front."""
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.ActivationChange and self.isActiveWindow():
            QTimer.singleShot(0, self._look_for_changes)

    def _look_for_changes(self) -> None:
        if not self.ended and self.isActiveWindow():
            self.files.look_for_changes()


def _dropped(event: QDropEvent) -> Path | None:
    data = event.mimeData()
    if data is None or len(data.urls()) != 1 or not data.urls()[0].isLocalFile():
        return None
    path = path_of(data.urls()[0].toEncoded().data().decode("ascii"))  # a name that is not UTF-8 stays as it is
    return path if path.suffix == EXTENSION else None
