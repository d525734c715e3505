"""Two themes as tables of colours; fonts and icons that ship inside."""

import functools
from dataclasses import dataclass
from importlib import resources
from string import Template

from PyQt6.QtCore import QByteArray, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QIcon, QPainter, QPalette, QPixmap
from PyQt6.QtSvg import QSvgRenderer
from PyQt6.QtWidgets import QApplication

_FONTS = (  # the last is that of the pages which are written, too
    ("gauze.ui.theme", "IBMPlexSans-Regular.woff2"),
    ("gauze.ui.theme", "IBMPlexSans-Medium.woff2"),
    ("gauze.ui.theme", "IBMPlexSans-SemiBold.woff2"),
    ("gauze.core.formats", "DejaVuSans.ttf"),
)
FAMILIES = ["IBM Plex Sans", "DejaVu Sans"]
POINT_SIZE = 10.0


@dataclass(frozen=True)
class Theme:
    """Every colour by its role. ``paper`` is the drawing's ground, ``ink`` its lines."""

    name: str
    window: str
    panel: str
    raised: str
    line: str
    text: str
    dim: str
    accent: str
    on_accent: str
    paper: str
    ink: str
    ink_dim: str
    band: str
    good: str
    note: str
    watch: str
    fails: str

    def colour(self, role: str, alpha: int = 255) -> QColor:
        """Return a role's colour, with an alpha from 0 to 255."""
        colour = QColor(getattr(self, role))
        colour.setAlpha(alpha)
        return colour


DARK = Theme(
    name="dark",
    window="#17191c",
    panel="#1d2024",
    raised="#282c32",
    line="#3a4048",
    text="#e4e6e8",
    dim="#a0a7b0",
    accent="#e6a75a",
    on_accent="#1b1408",
    paper="#131517",
    ink="#c3c9d0",
    ink_dim="#79828c",
    band="#4f6f8f",
    good="#86c29f",
    note="#93a9c4",
    watch="#e6c15a",
    fails="#ee8478",
)
LIGHT = Theme(
    name="light",
    window="#eceae6",
    panel="#f7f6f3",
    raised="#ffffff",
    line="#c9c6bf",
    text="#23262a",
    dim="#5c636b",
    accent="#9a5b0c",
    on_accent="#ffffff",
    paper="#dfdcd6",
    ink="#33383e",
    ink_dim="#757a80",
    band="#7f9dbb",
    good="#1f7145",
    note="#3f5f86",
    watch="#7d5c00",
    fails="#b3261e",
)


def theme_named(name: str) -> Theme:
    """Return the theme of that name, ``"dark"`` or ``"light"``."""
    return {"dark": DARK, "light": LIGHT}[name]


_STYLE = Template(
    """
QTreeView::indicator { width: 11px; height: 11px; border: 1px solid $text; border-radius: 2px; background: transparent; }
QTreeView::indicator:checked { background: $text; }
QToolTip { color: $text; background: $raised; border: 1px solid $line; padding: 4px; }
QMainWindow, QDialog { background: $window; }
#panel, #topBar, #tray, #places { background: $panel; }
#topBar { border-bottom: 1px solid $line; }
#places { border-right: 1px solid $line; }
#side { border-left: 1px solid $line; background: $panel; }
#tray { border-top: 1px solid $line; }
QLabel#heading { color: $dim; font-weight: 600; }
QLabel#dim { color: $dim; }
QLabel#verdict { color: $text; font-weight: 600; }
QLabel#error { color: $fails; }
QLineEdit { background: $raised; border: 1px solid $line; border-radius: 3px; padding: 3px 6px; color: $text; }
QLineEdit:focus { border: 1px solid $accent; }
QLineEdit#name { background: transparent; border: 1px solid transparent; font-weight: 600; }
QLineEdit#name:hover { border: 1px solid $line; }
QLineEdit#name:focus { border: 1px solid $accent; background: $raised; }
QToolButton, QPushButton { background: transparent; border: 1px solid $line; border-radius: 3px; padding: 4px 8px; color: $text; }
QToolButton:hover, QPushButton:hover { background: $raised; }
QToolButton:focus, QPushButton:focus { border: 1px solid $accent; }
QToolButton:checked, QPushButton:checked { background: $raised; border: 1px solid $accent; color: $accent; }
QToolButton:disabled, QPushButton:disabled { color: $dim; }
QPushButton#fix { text-align: left; padding: 5px 8px; }
#places QToolButton { border: none; border-left: 3px solid transparent; border-radius: 0; padding: 10px 4px; }
#places QToolButton:checked { border-left: 3px solid $accent; background: $raised; }
#places QToolButton:focus { background: $raised; }
QToolButton#why { border: none; padding: 1px 4px; color: $dim; }
QToolButton#why:hover, QToolButton#why:focus { color: $accent; background: transparent; }
QToolButton#card { border: 1px solid $line; border-radius: 4px; padding: 0; background: $window; }
QToolButton#card:hover { border: 1px solid $dim; }
QToolButton#card:checked, QToolButton#card:focus { border: 1px solid $accent; }
QScrollArea { border: none; background: transparent; }
QScrollArea > QWidget > QWidget { background: transparent; }
QComboBox { background: $raised; border: 1px solid $line; border-radius: 3px; padding: 3px 6px; color: $text; }
QComboBox:focus { border: 1px solid $accent; }
QComboBox::drop-down { border: none; background: transparent; width: 18px; }
QComboBox QAbstractItemView { background: $raised; color: $text; selection-background-color: $line; selection-color: $text; }
QTableView { selection-background-color: $line; selection-color: $text; }
QSlider::groove:horizontal { height: 3px; background: $line; border-radius: 1px; }
QSlider::handle:horizontal { width: 12px; height: 12px; margin: -5px 0; border-radius: 6px; background: $dim; }
QSlider::handle:horizontal:hover, QSlider::handle:horizontal:focus { background: $accent; }
QFrame#rule { background: $line; max-height: 1px; min-height: 1px; border: none; }
QFrame#finding { border: none; border-bottom: 1px solid $line; }
QMenuBar { background: $panel; color: $text; }
QMenuBar::item:selected { background: $raised; }
QMenu { background: $raised; color: $text; border: 1px solid $line; }
QMenu::item:selected { background: $line; }
QMenu::item:disabled { color: $dim; }
QMenu::separator { height: 1px; background: $line; margin: 4px 8px; }
QStatusBar { background: $panel; color: $dim; border-top: 1px solid $line; }
QStatusBar::item { border: none; }
QProgressBar { border: none; background: $line; max-height: 3px; border-radius: 1px; }
QProgressBar::chunk { background: $accent; }
QScrollBar:vertical { width: 9px; background: transparent; }
QScrollBar:horizontal { height: 9px; background: transparent; }
QScrollBar::handle { background: $line; border-radius: 4px; min-height: 24px; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
"""
)


@functools.cache
def load_fonts() -> None:
    """Make the fonts that ship inside known to Qt."""
    for package, name in _FONTS:
        data = resources.files(package).joinpath("fonts", name).read_bytes()
        QFontDatabase.addApplicationFontFromData(QByteArray(data))


def app_font(points: float = POINT_SIZE, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """Return the interface's font."""
    font = QFont()
    font.setFamilies(FAMILIES)
    font.setPointSizeF(points)
    font.setWeight(weight)
    return font


def apply_theme(application: QApplication, theme: Theme) -> None:
    """Give the application the theme's palette, font and style sheet."""
    load_fonts()
    application.setStyle("Fusion")
    application.setFont(app_font())
    palette = QPalette()
    roles = {
        QPalette.ColorRole.Window: theme.window,
        QPalette.ColorRole.Base: theme.raised,
        QPalette.ColorRole.AlternateBase: theme.panel,
        QPalette.ColorRole.Button: theme.panel,
        QPalette.ColorRole.WindowText: theme.text,
        QPalette.ColorRole.Text: theme.text,
        QPalette.ColorRole.ButtonText: theme.text,
        QPalette.ColorRole.ToolTipBase: theme.raised,
        QPalette.ColorRole.ToolTipText: theme.text,
        QPalette.ColorRole.PlaceholderText: theme.dim,
        QPalette.ColorRole.Highlight: theme.accent,
        QPalette.ColorRole.HighlightedText: theme.on_accent,
    }
    for role, colour in roles.items():
        palette.setColor(role, QColor(colour))
    palette.setColor(QPalette.ColorGroup.Disabled, QPalette.ColorRole.Text, QColor(theme.dim))
    application.setPalette(palette)
    application.setStyleSheet(_STYLE.substitute(vars(theme)))


@functools.lru_cache(maxsize=256)
def icon_pixmap(name: str, colour: str, size: int = 18, scale: float = 1.0) -> QPixmap:
    """Return an icon of the shipped set, drawn in a colour."""
    text = resources.files("gauze.ui.theme").joinpath("icons", f"{name}.svg").read_text("utf-8")
    renderer = QSvgRenderer(QByteArray(text.replace("currentColor", colour).encode()))
    pixmap = QPixmap(QSize(size, size) * scale)
    pixmap.setDevicePixelRatio(scale)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    renderer.render(painter, QRectF(0, 0, size, size))
    painter.end()
    return pixmap


def icon(name: str, theme: Theme, role: str = "text") -> QIcon:
    """Return an icon in a theme's colour, sharp at twice the size as well."""
    result = QIcon()
    for scale in (1.0, 2.0):
        result.addPixmap(icon_pixmap(name, getattr(theme, role), 18, scale))
    return result
