"""The window: drawing in the middle, places to the left, findings and what is picked to the right, the tray below."""

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QEvent, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import (
    QApplication,
    QMainWindow,
)

from gauze.core.formats.design_file import EXTENSION
from gauze.core.printable import printable_path
from gauze.core.units import LengthUnit
from gauze.session import edits
from gauze.session.solver import LightResult
from gauze.session.storage import path_of
from gauze.ui.canvas.dimensions import MAIN_SIZES, main_size
from gauze.ui.canvas.drawing import Drawing
from gauze.ui.main_window.actions import action_rows, build_menus, theme_actions
from gauze.ui.main_window.arrangement import arrange, place_column, status_labels
from gauze.ui.main_window.commands import Commands
from gauze.ui.main_window.exports import Exports
from gauze.ui.main_window.files import Files
from gauze.ui.main_window.keepers.chart_keeper import ChartKeeper
from gauze.ui.main_window.keepers.drawing_hand import DrawingHand
from gauze.ui.main_window.keepers.fix_keeper import FixKeeper
from gauze.ui.main_window.keepers.make_keeper import MakeKeeper
from gauze.ui.main_window.keepers.play_keeper import PlayKeeper
from gauze.ui.main_window.keepers.prove_keeper import ProveKeeper
from gauze.ui.main_window.keepers.recovery import Recovery
from gauze.ui.main_window.keepers.shelf_keeper import ShelfKeeper
from gauze.ui.main_window.keepers.start_keeper import StartKeeper
from gauze.ui.main_window.keepers.steps_keeper import StepsKeeper
from gauze.ui.main_window.keepers.tray_keeper import TrayKeeper
from gauze.ui.main_window.keepers.versions_keeper import VersionsKeeper
from gauze.ui.main_window.keepers.viewing import Viewing
from gauze.ui.main_window.language import fill_languages
from gauze.ui.main_window.side import Side
from gauze.ui.main_window.top_bar import TopBar
from gauze.ui.message import plain_button
from gauze.ui.panels.findings import FindingsPanel
from gauze.ui.panels.places import PlaceStack
from gauze.ui.panels.tradeoff import TradeOffPanel
from gauze.ui.panels.tray import Tray
from gauze.ui.panels.versions import VersionsPanel
from gauze.ui.subject import Subject
from gauze.ui.subjects import SUBJECTS
from gauze.ui.text import tr
from gauze.ui.theme import Theme, apply_theme, icon, theme_named
from gauze.ui.workbench import Workbench


class MainWindow(QMainWindow):
    """Puts the parts together and passes on what they say."""

    def __init__(self, bench: Workbench, theme_name: str | None = None, subjects: Sequence[Subject] = SUBJECTS) -> None:
        super().__init__()
        self.bench = bench
        self.subjects = subjects
        self.action_rows = tuple(action_rows(subjects))
        self._theme_override = theme_name
        self.files = Files(bench, self)
        self.exports = Exports(bench, self)
        self.recovery = Recovery(bench, self.files, self)
        self.drawing = Drawing(self.theme, bench.unit)
        self.top_bar = TopBar(self.theme)
        self.findings = FindingsPanel(self.theme, bench.reader)
        self.fix_keeper = FixKeeper(bench, self.findings)
        self.places = PlaceStack(bench, subjects)
        self.tray = Tray(self.theme)
        self.tray_keeper = TrayKeeper(bench, self.tray, self.drawing)
        self.versions_panel = VersionsPanel(self.theme)
        self.versions_keeper = VersionsKeeper(bench, self.versions_panel, self.drawing)
        self.chart_panel = TradeOffPanel(self.theme)
        self.chart_keeper = ChartKeeper(bench, self.chart_panel, self.drawing)
        self.shelf_keeper = ShelfKeeper(bench, self.files, self)
        self.play_keeper = PlayKeeper(bench, self)
        self.make_keeper = MakeKeeper(bench, self.places, self.exports, self)
        self.steps_keeper = StepsKeeper(bench, self.places, self.drawing, self.make_keeper, self)
        self.prove_keeper = ProveKeeper(bench, self.places, self.drawing, self.files, self.exports, self)
        self.start = StartKeeper(bench, self.files, self)
        rail, self._place_buttons = place_column(self, subjects, self.go_to)
        self.side = Side(self.findings, self.places, bench.settings.divider)
        middle = (self.drawing, self.tray, self.chart_panel, self.versions_panel)
        arrange(self, self.top_bar, rail, middle, self.side)
        self._hover, self._detail = status_labels(self)
        self.commands = Commands(self)
        self.actions_by_key = build_menus(self, self.action_rows, self.commands.run, self.theme)
        fill_languages(self.actions_by_key["language"], bench, lambda title, text: self.files.explain(title, text))
        self.drawing_hand = DrawingHand(bench, self.drawing, self.actions_by_key, self)
        self.viewing = Viewing(self.drawing, self.top_bar, self.actions_by_key)
        self._connect()
        self.ended = False
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self._apply_look()
        self.go_to("soften")
        self._design_changed()
        self.drawing.setFocus(Qt.FocusReason.OtherFocusReason)

    # -- putting together ----------------------------------------------------------------------------------------

    def _connect(self) -> None:
        bench, commands = self.bench, self.commands
        bench.design_changed.connect(self._design_changed)
        bench.lit.connect(self._lit)
        bench.seen.connect(lambda result: self.drawing.show_design(bench, result.evaluation))
        bench.refused.connect(self.drawing.refuse)
        bench.failed.connect(lambda text: self.files.explain(tr("Something went wrong"), text))
        bench.settings_changed.connect(self._settings_changed)
        bench.recent_changed.connect(self._fill_recent)
        bench.document_replaced.connect(self._document_replaced)
        self.files.compare_wanted = commands.open_versions
        self.side.divided.connect(lambda share: bench.remember_divider(share))
        self.drawing.hovered.connect(self._hover.setText)
        self.top_bar.renamed.connect(self._rename)
        self.top_bar.unit_toggled.connect(commands.toggle_unit)
        self.places.command_wanted.connect(commands.run)

    # -- showing -------------------------------------------------------------------------------------------------

    @property
    def theme(self) -> Theme:
        """The theme that is shown."""
        return theme_named(self._theme_override or self.bench.settings.theme)

    def forget_theme_override(self) -> None:
        """Let the settings choose the theme from here on."""
        self._theme_override = None

    def go_to(self, place: str) -> None:
        """Go to a place of the working order."""
        self._place_buttons[place].setChecked(True)
        for other in self.subjects:
            self.actions_by_key[f"place_{other.key}"].setChecked(other.key == place)
        self.places.show_place(place)
        self.side.start_anew()
        self.findings.set_place(place)

    def _design_changed(self) -> None:
        self._show_design()
        self.fix_keeper.forget()

    def _show_design(self) -> None:
        bench = self.bench
        self.drawing.show_design(bench, bench.newest.evaluation if bench.newest is not None else None)
        self._fit_actions()
        self.places.refresh()
        self.chart_keeper.show_point()
        self.versions_keeper.follow()
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
        design = self.bench.design
        for row in (row for subject in self.subjects for row in subject.actions):
            self.actions_by_key[row.key].setEnabled(row.offered is None or row.offered(design))
        for size in MAIN_SIZES:
            self.actions_by_key[f"edit_{size}"].setEnabled(main_size(self.drawing.dimensions_now(), size) is not None)
        if not self.actions_by_key["chart"].isEnabled():
            self.chart_keeper.close()

    def _refresh_titles(self) -> None:
        document = self.bench.document
        self.setWindowTitle(f"{document.design.name}[*] — Gauze")
        self.setWindowModified(document.modified)
        for key, verb, name in (("undo", tr("&Undo"), document.undo_name), ("redo", tr("&Redo"), document.redo_name)):
            self.actions_by_key[key].setText(tr("{verb}: {edit}").format(verb=verb, edit=tr(name)) if name else verb)
            self.actions_by_key[key].setEnabled(name is not None)

    def _lit(self, result: LightResult) -> None:
        self.drawing.show_design(self.bench, result.evaluation)
        self.findings.show_findings(result.findings)
        self.places.show_light(result)
        if self._show_detail():
            self.fix_keeper.follow(result.findings)
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
        theme = self.theme
        apply_theme(application, theme)
        self.drawing.set_look(theme, self.bench.unit)
        self.top_bar.set_theme(theme)
        self.findings.set_look(theme, self.bench.reader)
        self.tray.set_theme(theme)
        self.chart_panel.set_theme(theme)
        self.versions_panel.set_theme(theme)
        self.places.set_theme(theme)
        self.shelf_keeper.set_look(theme)
        self.make_keeper.set_look(theme)
        self.steps_keeper.set_look(theme)
        self.prove_keeper.set_look(theme)
        for place in self.subjects:
            self._place_buttons[place.key].setIcon(icon(place.icon, theme))
        theme_actions(self.actions_by_key, self.action_rows, theme)
        self.actions_by_key["light_theme"].setChecked(theme.name == "light")
        self.actions_by_key["unit"].setChecked(self.bench.unit is LengthUnit.INCH)
        self._fill_recent()

    def _settings_changed(self) -> None:
        """What was computed holds as it is: it is only written, or painted, in another way."""
        unit = self.drawing.unit
        self._apply_look()
        self._show_design()
        if self.bench.unit is not unit and self.bench.exact is not None:  # the cards of the tray hold lengths
            self.tray_keeper.follow()

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

    # -- edits ---------------------------------------------------------------------------------------------------

    def _rename(self, name: str) -> None:
        if name:
            self.bench.edit("Name", lambda design, _: edits.with_name(design, name))

    # -- files and the end ---------------------------------------------------------------------------------------

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
