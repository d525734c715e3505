"""Figures that are not yet those of the design as it stands are shown dimmed."""

from PyQt6.QtWidgets import QGraphicsOpacityEffect, QWidget

STALE_OPACITY = 0.42


def dim(widget: QWidget, *, dimmed: bool) -> None:
    """Dim a widget with all that is in it, or show it plainly again; nothing is laid out again."""
    effect = widget.graphicsEffect()
    if effect is None:
        if not dimmed:
            return
        effect = QGraphicsOpacityEffect(widget)
        effect.setOpacity(STALE_OPACITY)
        widget.setGraphicsEffect(effect)
    effect.setEnabled(dimmed)


def is_dimmed(widget: QWidget) -> bool:
    """Whether a widget is shown dimmed."""
    effect = widget.graphicsEffect()
    return effect is not None and effect.isEnabled()
