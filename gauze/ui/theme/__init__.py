"""Colours, fonts, icons and styles."""

from gauze.ui.theme.theme import Theme, apply_theme, icon, load_fonts, theme_named

__all__ = ["Theme", "apply_theme", "icon", "load_fonts", "theme_named"]
