"""The bar above the drawing: the design's name, and how the face is looked at."""

from dataclasses import replace

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QSlider, QToolButton, QWidget

from gauze.ui.text import tr
from gauze.ui.theme import Theme, icon
from gauze.ui.view_state import ViewState

ROOM_LX = (0, 5, 10, 20, 50, 100, 200, 300, 500, 750, 1000, 2000, 5000)  # candle light to a bright window
_STOPS_STEP = 4  # slider steps for one stop
MOST_STOPS = 5


class TopBar(QWidget):
    """Name, room light, exposure, true or false colour, unit."""

    state_changed = pyqtSignal(object)  # ViewState
    renamed = pyqtSignal(str)
    unit_toggled = pyqtSignal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("topBar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._state = ViewState()
        self.name = QLineEdit()
        self.name.setObjectName("name")
        self.name.setAccessibleName(tr("Name of the design"))
        self.name.setToolTip(tr("Name of the design"))
        self.name.editingFinished.connect(self._rename)
        self._room = self._slider(tr("Room light"), 0, len(ROOM_LX) - 1)
        self._exposure = self._slider(tr("Exposure"), -MOST_STOPS * _STOPS_STEP, MOST_STOPS * _STOPS_STEP)
        self._room_text, self._exposure_text = QLabel(), QLabel()
        _hold_widest(self._room_text, *(_room_words(lux) for lux in ROOM_LX))
        _hold_widest(self._exposure_text, _exposure_words(-MOST_STOPS + 0.25))
        self._false = QToolButton()
        self._false.setCheckable(True)
        self._false.setText(tr("False colour"))
        self._false.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        self._false.setToolTip(tr("Luminance on a colour scale (F)"))
        self._unit = QToolButton()
        self._unit.setToolTip(tr("Show lengths in mm or inches; either can be typed at any time"))
        self._unit.clicked.connect(self.unit_toggled)
        self._symbols = (QLabel(), QLabel())
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 5, 12, 5)
        row.setSpacing(6)
        row.addWidget(self.name, 1)
        row.addSpacing(8)
        row.addWidget(self._symbols[0])
        row.addWidget(self._room)
        row.addWidget(self._room_text)
        row.addWidget(self._symbols[1])
        row.addWidget(self._exposure)
        row.addWidget(self._exposure_text)
        row.addWidget(self._false)
        row.addWidget(self._unit)
        self._room.valueChanged.connect(lambda index: self._change(room_lx=float(ROOM_LX[index])))
        self._exposure.valueChanged.connect(lambda steps: self._change(exposure_stops=steps / _STOPS_STEP))
        self._false.toggled.connect(lambda on: self._change(false_colour=on))
        self.set_theme(theme)
        self.show_state(self._state)

    def _slider(self, name: str, least: int, most: int) -> QSlider:
        slider = QSlider(Qt.Orientation.Horizontal)
        slider.setRange(least, most)
        slider.setFixedWidth(92)
        slider.setAccessibleName(name)
        slider.setToolTip(name)
        return slider

    def set_theme(self, theme: Theme) -> None:
        """Take another theme."""
        self._false.setIcon(icon("palette", theme))
        for label, name in zip(self._symbols, ("sun", "aperture"), strict=True):
            label.setPixmap(icon(name, theme, "dim").pixmap(16, 16))
        self._symbols[0].setToolTip(tr("Room light on the face"))
        self._symbols[1].setToolTip(tr("Exposure, in stops from where the brightest place is just white"))

    def show_state(self, state: ViewState) -> None:
        """Show how the face is looked at."""
        self._state = state
        for widget in (self._room, self._exposure, self._false):
            widget.blockSignals(True)
        self._room.setValue(min(range(len(ROOM_LX)), key=lambda index: abs(ROOM_LX[index] - state.room_lx)))
        self._exposure.setValue(round(state.exposure_stops * _STOPS_STEP))
        self._false.setChecked(state.false_colour)
        for widget in (self._room, self._exposure, self._false):
            widget.blockSignals(False)
        self._room_text.setText(_room_words(state.room_lx))
        self._exposure_text.setText(_exposure_words(state.exposure_stops))
        self._exposure.setEnabled(not state.false_colour)
        self._room.setEnabled(not state.false_colour)

    def show_name(self, name: str, unit: str) -> None:
        """Show the design's name and the unit."""
        if not self.name.isModified():
            self.name.setText(name)
        self._unit.setText(unit)

    def _rename(self) -> None:
        if self.name.isModified():
            self.name.setModified(False)
            self.renamed.emit(self.name.text().strip())

    def _change(self, **changes: float | bool) -> None:
        self.state_changed.emit(replace(self._state, **changes))  # type: ignore[arg-type]  # each field gets its own type


def _room_words(room_lx: float) -> str:
    return tr("room {lux} lx").format(lux=f"{room_lx:g}") if room_lx else tr("dark room")


def _exposure_words(stops: float) -> str:
    return tr("{stops} stops").format(stops=f"{stops:+.3g}")


def _hold_widest(label: QLabel, *words: str) -> None:
    """Give a label the width of the widest that it will say, in any language: what is beside it stays where it is."""
    label.setFixedWidth(max(label.fontMetrics().horizontalAdvance(one) for one in words) + 4)
