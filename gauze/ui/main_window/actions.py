"""Every action of the window in one table: menu, text, shortcut, icon."""

from collections.abc import Callable, Iterator, Sequence

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMainWindow, QMenu

from gauze.ui.subject import ActionRow, Subject
from gauze.ui.text import tr
from gauze.ui.theme import Theme, icon

_OF_SUBJECTS = "*"  # where the actions of the subjects stand in a menu
_PLACES, _LAYERS = "places", "layers"  # where what the subjects name stands

_TABLE = (
    ActionRow("&File", "new", "&New: what do you want to build? …", "Ctrl+N"),
    ActionRow("&File", "open", "&Open …", "Ctrl+O", "folder-open"),
    ActionRow("&File", "import_emitters", "&Import emitters …", "Ctrl+I"),
    ActionRow("&File", "recent", "Open &recent"),
    ActionRow("&File", "recover", "Recover &unsaved work …"),
    ActionRow("&File", "open_demo", "Open the &demo panel"),
    ActionRow("&File", "open_demo_sign", "Open the demo of &loose emitters"),
    ActionRow("&File", ""),
    ActionRow("&File", "save", "&Save", "Ctrl+S", "save"),
    ActionRow("&File", "save_as", "Save &as …", "Ctrl+Shift+S"),
    ActionRow("&File", ""),
    ActionRow("&File", "export_picture", "Export the lit face as a &picture …"),
    ActionRow("&File", "export_map", "Export the light as &arrays …"),
    ActionRow("&File", "export_ies", "Export the light &distribution (IES) …"),
    ActionRow("&File", "export_findings", "Export the &findings …"),
    ActionRow("&File", "export_drawing", "Export the dra&wing at its true size …"),
    ActionRow("&File", _OF_SUBJECTS),
    ActionRow("&File", ""),
    ActionRow("&File", "quit", "&Quit", "Ctrl+Q"),
    ActionRow("&Edit", "undo", "&Undo", "Ctrl+Z", "undo-2"),
    ActionRow("&Edit", "redo", "&Redo", "Ctrl+Shift+Z", "redo-2"),
    ActionRow("&Edit", ""),
    ActionRow("&Edit", "copy_findings", "&Copy the findings", "Ctrl+Shift+C"),
    ActionRow("&Edit", "copy_picture", "Copy the &lit face", "Ctrl+Alt+C"),
    ActionRow("&Edit", ""),
    ActionRow("&Edit", "edit_depth", "Type the &depth", "D"),
    ActionRow("&Edit", "edit_spacing", "Type the &spacing", "S"),
    ActionRow("&Edit", "edit_row_count", "Type the number of &rows or sides", "R"),
    ActionRow("&Edit", "edit_face_width", "Type the &width or length", "W"),
    ActionRow("&Edit", "edit_face_height", "Type the &height", "H"),
    ActionRow("&Edit", "edit_viewing_distance", "Type the &viewing distance", "V"),
    ActionRow("&Edit", ""),
    ActionRow("&Edit", _OF_SUBJECTS),
    ActionRow("&Go", _PLACES),
    ActionRow("&Go", ""),
    ActionRow("&Go", "keep_version", "&Keep this version", "Ctrl+K"),
    ActionRow("&Go", "versions", "&Versions", "Ctrl+Shift+K"),
    ActionRow("&Go", _OF_SUBJECTS),
    ActionRow("&View", "fit", "&Fit the drawing", "Ctrl+0", "maximize"),
    ActionRow("&View", "zoom_in", "Zoom &in", "Ctrl++"),
    ActionRow("&View", "zoom_out", "Zoom &out", "Ctrl+-"),
    ActionRow("&View", "alone_plan", "&Plan on the whole canvas", "Alt+1", "", True),
    ActionRow("&View", "alone_face", "L&it face on the whole canvas", "Alt+2", "", True),
    ActionRow("&View", "alone_cut", "&Side cut on the whole canvas", "Alt+3", "", True),
    ActionRow("&View", "alone_profile", "Profil&e on the whole canvas", "Alt+4", "", True),
    ActionRow("&View", ""),
    ActionRow("&View", _LAYERS),
    ActionRow("&View", ""),
    ActionRow("&View", "false_colour", "F&alse colour", "F", "palette", True),
    ActionRow("&View", "brighter", "&Brighter exposure", "]"),
    ActionRow("&View", "darker", "&Darker exposure", "["),
    ActionRow("&View", "room_up", "&More room light", "Shift+L"),
    ActionRow("&View", "room_down", "&Less room light", "L"),
    ActionRow("&View", "seam_swap", "&Swap bare and lit at the seam", "X"),
    ActionRow("&View", "from_back", "Seen from the &back", "B", "", True),
    ActionRow("&View", ""),
    ActionRow("&View", "unit", "Lengths in in&ches", "U", "ruler", True),
    ActionRow("&View", "language", "&Language"),
    ActionRow("&View", "light_theme", "Light &theme", "Ctrl+Shift+L", "sun", True),
    ActionRow("&View", "full_screen", "F&ull screen", "F11", "", True),
    ActionRow("&Help", "shortcuts", "&Keyboard", "F1"),
    ActionRow("&Help", "about", "&About Gauze"),
)


def action_rows(subjects: Sequence[Subject]) -> Iterator[ActionRow]:
    """Every action in its order: the window's, with what the subjects bring where they stand."""
    for row in _TABLE:
        if row.key == _OF_SUBJECTS:
            yield from (one for subject in subjects for one in subject.actions if one.menu == row.menu)
        elif row.key == _PLACES:
            for number, subject in enumerate(subjects, start=1):
                yield ActionRow(row.menu, f"place_{subject.key}", subject.name, f"Ctrl+{number}", subject.icon, True)
        elif row.key == _LAYERS:
            for layer in (layer for subject in subjects for layer in subject.layers):
                yield ActionRow(row.menu, f"layer_{layer.key}", layer.text, layer.shortcut, "", True)
        else:
            yield row


_MENUS = ("recent", "language")  # what opens a menu of its own, filled by who knows what is in it


def build_menus(
    window: QMainWindow, rows: Sequence[ActionRow], run: Callable[[str], None], theme: Theme
) -> dict[str, QAction]:
    """Make menus and actions; ``run`` does what a key says."""
    bar = window.menuBar()
    assert bar is not None
    menus: dict[str, QMenu] = {}
    actions: dict[str, QAction] = {}
    for row in rows:
        if row.menu not in menus:
            menu = bar.addMenu(tr(row.menu))
            assert menu is not None
            menus[row.menu] = menu
        if not row.key:
            menus[row.menu].addSeparator()
            continue
        if row.key in _MENUS:
            own = menus[row.menu].addMenu(tr(row.text))
            assert own is not None
            action = own.menuAction()
            assert action is not None
        else:
            action = QAction(tr(row.text), window)
            action.setCheckable(row.checkable)
            if row.shortcut:
                action.setShortcut(QKeySequence(row.shortcut))
            action.triggered.connect(lambda _checked=False, key=row.key: run(key))
            menus[row.menu].addAction(action)
        actions[row.key] = action
    theme_actions(actions, rows, theme)
    return actions


def theme_actions(actions: dict[str, QAction], rows: Sequence[ActionRow], theme: Theme) -> None:
    """Give the actions their icons in a theme's colour."""
    for row in rows:
        if row.icon:
            actions[row.key].setIcon(icon(row.icon, theme))


def shortcut_rows(rows: Sequence[ActionRow]) -> list[tuple[str, str]]:
    """Return (text, shortcut) of every action that has one, for the page of help."""
    return [(tr(row.text).replace("&", "").rstrip(" …"), row.shortcut) for row in rows if row.shortcut]
