"""What the menus do: a slot for every action."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from gauze.core.units import LengthUnit
from gauze.session.solver import LightResult
from gauze.ui.canvas.dimensions import MAIN_SIZES
from gauze.ui.main_window.help import show_about, show_shortcuts
from gauze.ui.text import tr

if TYPE_CHECKING:
    from gauze.ui.main_window.main_window import MainWindow


class Commands:
    """Acts for the window when an action is chosen."""

    def __init__(self, window: MainWindow) -> None:
        self._window = window
        self._slots = self._all_slots()
        rows = (row for subject in window.subjects for row in subject.actions)
        self._of_subjects = {row.key: row.run for row in rows if row.run is not None}

    def run(self, key: str, index: int = 0) -> None:
        """Do what an action says, for the one of several that an index says; raises :class:`KeyError` for an unknown one."""
        if key in self._of_subjects:
            self._of_subjects[key](self._window, index)
        else:
            self._slots[key]()

    def _all_slots(self) -> dict[str, Callable[[], object]]:
        """Return what each action does, by its key."""
        window = self._window
        drawing = window.drawing
        return {
            "new": window.start.open,
            "keep_version": self.keep_version,
            "versions": self.open_versions,
            "undo": lambda: window.bench.document.undo(),
            "redo": lambda: window.bench.document.redo(),
            "fit": drawing.fit,
            "zoom_in": lambda: drawing.placement.zoom(1.25),
            "zoom_out": lambda: drawing.placement.zoom(0.8),
            "unit": self.toggle_unit,
            "light_theme": self._toggle_theme,
            "full_screen": lambda: window.showNormal() if window.isFullScreen() else window.showFullScreen(),
            "shortcuts": lambda: show_shortcuts(window, window.action_rows),
            "about": lambda: show_about(window),
            **{f"edit_{size}": partial(drawing.edit_main, size) for size in MAIN_SIZES},
            **{f"place_{place.key}": partial(window.go_to, place.key) for place in window.subjects},
            **{f"alone_{view}": partial(drawing.put_alone, view) for view in ("plan", "face", "cut", "profile")},
            **{
                f"layer_{key}": partial(self._toggle_layer, key)
                for subject in window.subjects
                for key in subject.layer_keys
            },
            **self._looking(),
            **self._files(),
        }

    def _looking(self) -> dict[str, Callable[[], object]]:
        window = self._window  # what follows is made after the actions
        return {
            "false_colour": lambda: window.viewing.toggle_false_colour(),
            "brighter": lambda: window.viewing.step_exposure(1),
            "darker": lambda: window.viewing.step_exposure(-1),
            "room_up": lambda: window.viewing.step_room(1),
            "room_down": lambda: window.viewing.step_room(-1),
            "seam_swap": lambda: window.viewing.swap_seam(),
            "from_back": lambda: window.viewing.toggle_back(),
        }

    def _files(self) -> dict[str, Callable[[], object]]:
        window = self._window
        files, exports, drawing = window.files, window.exports, window.drawing
        return {
            "open": files.open,
            "import_emitters": files.import_emitters,
            "choose_picture": files.choose_picture,
            "open_demo": files.open_demo,
            "open_demo_sign": files.open_demo_sign,
            "save": files.save,
            "save_as": files.save_as,
            "recover": window.recovery.look,
            "export_picture": lambda: self.export(lambda r: exports.picture(r.evaluation, drawing.state)),
            "export_map": lambda: self.export(lambda r: exports.light_map(r.evaluation)),
            "export_ies": lambda: self.export(lambda r: exports.ies(r.evaluation)),
            "export_findings": lambda: self.export(lambda r: exports.findings(r.evaluation, r.findings)),
            "export_drawing": exports.drawing,
            "copy_findings": lambda: self.export(lambda r: exports.copy_findings(r.evaluation, r.findings)),
            "copy_picture": lambda: self.export(lambda r: exports.copy_picture(r.evaluation, drawing.state)),
            "quit": window.close,
        }

    def open_chart(self) -> None:
        """Open the trade-off chart."""
        self._close_others(self._window.chart_keeper)
        self._window.chart_keeper.open()

    def open_versions(self) -> None:
        """Open the versions."""
        self._close_others(self._window.versions_keeper)
        self._window.versions_keeper.open()

    def keep_version(self) -> None:
        """Keep the design as it stands."""
        self._close_others(self._window.versions_keeper)
        self._window.versions_keeper.keep()

    def open_tray(self, kind: str, index: int) -> None:
        """Open the tray of sheets or strips."""
        self._close_others(self._window.tray_keeper)
        self._window.tray_keeper.open(kind, index)

    def _close_others(self, wanted: object) -> None:
        """Close whatever else is open below the drawing."""
        window = self._window
        if wanted is not window.chart_keeper:
            window.chart_keeper.close()
        if wanted is not window.tray_keeper:
            window.tray_keeper.close()
        if wanted is not window.versions_keeper:
            window.versions_keeper.close()

    def toggle_unit(self) -> None:
        """Show lengths in the other unit."""
        bench = self._window.bench
        bench.change_settings(length_unit="in" if bench.unit is LengthUnit.MM else "mm")

    def _toggle_theme(self) -> None:
        window = self._window
        other = "light" if window.theme.name == "dark" else "dark"
        window.forget_theme_override()
        window.bench.change_settings(theme=other)

    def _toggle_layer(self, key: str) -> None:
        self._window.drawing_hand.toggle_layer(key)

    def export(self, export: Callable[[LightResult], None]) -> None:
        """Export what is computed, once it is that of the design as it stands."""
        result = self._window.bench.exact
        if result is None:
            words = tr("The light is still being computed. Try again in a moment.")
            self._window.files.explain(tr("Not yet"), words)
        else:
            export(result)
