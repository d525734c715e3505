"""Figures that are not yet those of the design as it stands are shown dimmed."""

from collections.abc import Iterator

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractScrollArea, QComboBox, QGraphicsOpacityEffect, QWidget

STALE_OPACITY = 0.42


def dim(widget: QWidget, *, dimmed: bool) -> None:
    """Dim a widget with all that is in it, or show it plainly again; nothing is laid out again.

    Of tables and lists what is in their view is dimmed: behind a whole one Qt would leave black.
    """
    whole = widget.graphicsEffect()
    if whole is not None:
        whole.setEnabled(False)  # it may have got views in it since
    for one in _dimmable(widget):
        effect = one.graphicsEffect()
        if effect is None:
            if not dimmed:
                continue
            effect = QGraphicsOpacityEffect(one)
            effect.setOpacity(STALE_OPACITY)
            one.setGraphicsEffect(effect)
        effect.setEnabled(dimmed)


def is_dimmed(widget: QWidget) -> bool:
    """Whether a widget is shown dimmed."""
    effects = [one.graphicsEffect() for one in _dimmable(widget)]
    return any(effect is not None and effect.isEnabled() for effect in effects)


def _dimmable(widget: QWidget) -> Iterator[QWidget]:
    """The widget itself, or the views in it with the widgets beside them."""
    if isinstance(widget, QAbstractScrollArea):
        view = widget.viewport()
        yield widget if view is None else view
    elif isinstance(widget, QComboBox) or widget.findChild(QAbstractScrollArea) is None:
        yield widget
    else:
        for child in widget.findChildren(QWidget, options=Qt.FindChildOption.FindDirectChildrenOnly):
            yield from _dimmable(child)
