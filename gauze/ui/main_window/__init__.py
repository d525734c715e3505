"""The one window: what stands where, menus, files."""

from gauze.ui.main_window.main_window import MainWindow

__all__ = ["MainWindow"]
