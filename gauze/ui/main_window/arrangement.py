"""What stands where in the window: places to the left, the drawing and what opens below it, findings and choices to the right."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QLabel, QMainWindow, QToolButton, QVBoxLayout, QWidget

from gauze.ui.subject import Subject
from gauze.ui.text import tr

_PLACES_WIDTH = 74


def arrange(window: QMainWindow, top_bar: QWidget, places: QWidget, middle: Sequence[QWidget], side: QWidget) -> None:
    """Put the window together; the first of the middle takes the room that there is."""
    column = QVBoxLayout()
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(0)
    for index, widget in enumerate(middle):
        column.addWidget(widget, 0 if index else 1)
    body = QHBoxLayout()
    body.setContentsMargins(0, 0, 0, 0)
    body.setSpacing(0)
    body.addWidget(places)
    body.addLayout(column, 1)
    body.addWidget(side)
    whole = QWidget()
    outer = QVBoxLayout(whole)
    outer.setContentsMargins(0, 0, 0, 0)
    outer.setSpacing(0)
    outer.addWidget(top_bar)
    outer.addLayout(body, 1)
    window.setCentralWidget(whole)


def status_labels(window: QMainWindow) -> tuple[QLabel, QLabel]:
    """Make the status line: what is under the pointer, and how exact the light is."""
    hover, detail = QLabel(), QLabel()
    hover.setTextFormat(Qt.TextFormat.PlainText)
    status = window.statusBar()
    assert status is not None
    status.setSizeGripEnabled(False)
    status.setContentsMargins(8, 0, 12, 0)
    status.addWidget(hover, 1)
    status.addPermanentWidget(detail)
    return hover, detail


def place_column(
    window: QMainWindow, subjects: Sequence[Subject], go_to: Callable[[str], None]
) -> tuple[QWidget, dict[str, QToolButton]]:
    """Make the rail of places, and its buttons by their keys."""
    places = QWidget()
    places.setObjectName("places")
    places.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
    column = QVBoxLayout(places)
    column.setContentsMargins(0, 6, 0, 6)
    column.setSpacing(2)
    group = QButtonGroup(window)
    buttons = {}
    for index, place in enumerate(subjects, start=1):
        button = QToolButton()
        button.setText(tr(place.name).replace("&", ""))
        button.setToolTip(tr("{about} (Ctrl+{index})").format(about=tr(place.about), index=index))
        button.setCheckable(True)
        button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
        button.setFixedWidth(_PLACES_WIDTH)
        button.clicked.connect(lambda _checked, key=place.key: go_to(key))
        group.addButton(button)
        column.addWidget(button)
        buttons[place.key] = button
    column.addStretch(1)
    return places, buttons
