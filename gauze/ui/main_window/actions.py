"""Every action of the window in one table: menu, text, shortcut, icon."""

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMainWindow, QMenu

from gauze.ui.text import tr
from gauze.ui.theme import Theme, icon


@dataclass(frozen=True)
class ActionRow:
    """One action: the key that names its slot, where it stands and how it is called. An empty key is a rule."""

    menu: str
    key: str
    text: str = ""
    shortcut: str = ""
    icon: str = ""
    checkable: bool = False
    tip: str = ""


ACTIONS = (
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
    ActionRow("&Edit", "turn_rows", "&Turn the rows", "T"),
    ActionRow("&Edit", "own_sheet", "&Measure a sheet …", "Ctrl+M"),
    ActionRow("&Go", "place_aim", "&Aim", "Ctrl+1", "target", True),
    ActionRow("&Go", "place_lay", "&Lay", "Ctrl+2", "rows-3", True),
    ActionRow("&Go", "place_soften", "&Soften", "Ctrl+3", "layers", True),
    ActionRow("&Go", "place_feed", "&Feed", "Ctrl+4", "plug-zap", True),
    ActionRow("&Go", ""),
    ActionRow("&Go", "keep_version", "&Keep this version", "Ctrl+K"),
    ActionRow("&Go", "versions", "&Versions", "Ctrl+Shift+K"),
    ActionRow("&Go", "tray_strip", "Tray of s&trips", "Ctrl+T"),
    ActionRow("&Go", "tray_diffuser", "Tray of s&heets", "Ctrl+D"),
    ActionRow("&Go", "chart", "Trade-off of depth and &rows", "Ctrl+G"),
    ActionRow("&View", "fit", "&Fit the drawing", "Ctrl+0", "maximize"),
    ActionRow("&View", "zoom_in", "Zoom &in", "Ctrl++"),
    ActionRow("&View", "zoom_out", "Zoom &out", "Ctrl+-"),
    ActionRow("&View", "alone_plan", "&Plan on the whole canvas", "Alt+1", "", True),
    ActionRow("&View", "alone_face", "L&it face on the whole canvas", "Alt+2", "", True),
    ActionRow("&View", "alone_cut", "&Side cut on the whole canvas", "Alt+3", "", True),
    ActionRow("&View", "alone_profile", "Profil&e on the whole canvas", "Alt+4", "", True),
    ActionRow("&View", ""),
    ActionRow("&View", "layer_parts", "&Names of the pieces", "N", "", True),
    ActionRow("&View", "layer_data", "&Order of the data", "O", "", True),
    ActionRow("&View", "layer_supply", "How the pieces are fe&d", "P", "", True),
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

_MENUS = ("recent", "language")  # what opens a menu of its own, filled by who knows what is in it


def build_menus(window: QMainWindow, slots: dict[str, Callable[[], object]], theme: Theme) -> dict[str, QAction]:
    """Make menus and actions; every action has a slot, or the table is wrong."""
    bar = window.menuBar()
    assert bar is not None
    menus: dict[str, QMenu] = {}
    actions: dict[str, QAction] = {}
    for row in ACTIONS:
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
            action.triggered.connect(lambda _checked=False, slot=slots[row.key]: slot())
            menus[row.menu].addAction(action)
        actions[row.key] = action
    theme_actions(actions, theme)
    return actions


def theme_actions(actions: dict[str, QAction], theme: Theme) -> None:
    """Give the actions their icons in a theme's colour."""
    for row in ACTIONS:
        if row.icon:
            actions[row.key].setIcon(icon(row.icon, theme))


def shortcut_rows() -> list[tuple[str, str]]:
    """Return (text, shortcut) of every action that has one, for the page of help."""
    return [(tr(row.text).replace("&", "").rstrip(" …"), row.shortcut) for row in ACTIONS if row.shortcut]
