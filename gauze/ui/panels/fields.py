"""Small inputs: a quantity that is typed in place, a level with its slider, a choice of two."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QEvent, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QApplication,
    QButtonGroup,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QSlider,
    QStyle,
    QStyleOptionComboBox,
    QStylePainter,
    QWidget,
)

from gauze.core.errors import QuantityError
from gauze.core.units import parse_number
from gauze.ui.message import plain_tip
from gauze.ui.text import told, tr

_LABEL_WIDTH = 118  # pixels
_ARROW_FROM_RIGHT, _ARROW_ALPHA = 11.0, 0.7


class QuantityField(QLineEdit):
    """A line edit that shows a quantity with its unit and reads what is typed.

    ``read`` turns the text into a number or raises :class:`QuantityError`; ``taken`` carries the number.
    """

    taken = pyqtSignal(float)
    wrong = pyqtSignal(str)

    def __init__(self, name: str, read: Callable[[str], float]) -> None:
        super().__init__()
        self._read = read
        self._shown = ""
        self.setAccessibleName(name)
        self.setToolTip(name)
        self.returnPressed.connect(self._take)

    def show_text(self, text: str) -> None:
        """Show a value, unless another is being typed."""
        self._shown = text
        if not (self.hasFocus() and self.isModified()):
            self.setText(text)

    def leave(self) -> None:
        """Leave what is half typed: the value comes back."""
        self.setText(self._shown)
        self.setModified(False)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802 - Qt's name
        """Escape brings the value back."""
        assert event is not None
        if event.key() == Qt.Key.Key_Escape and self.isModified():
            self.leave()
            self.wrong.emit("")
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:  # noqa: N802 - Qt's name
        """Take a changed value when the focus moves on."""
        super().focusOutEvent(event)
        if self.isModified():
            self._take()

    def _take(self) -> None:
        if not self.isModified():
            return
        try:
            value = self._read(self.text())
        except QuantityError as error:
            self.wrong.emit(told(error))
            self.leave()
            return
        self.leave()
        self.wrong.emit("")
        self.taken.emit(value)


class LevelField(QWidget):
    """A level from 0 to 100 %: slider and figure."""

    moved = pyqtSignal(float)  # while the hand is on it
    let_go = pyqtSignal()

    def __init__(self, name: str) -> None:
        super().__init__()
        self._slider = QSlider(Qt.Orientation.Horizontal)
        self._slider.setRange(0, 100)
        self._slider.setPageStep(10)
        self._slider.setAccessibleName(name)
        self._figure = QLabel()
        self._figure.setFixedWidth(44)
        self._figure.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self._slider, 1)
        row.addWidget(self._figure)
        self._slider.valueChanged.connect(self._changed)
        self._slider.sliderReleased.connect(self.let_go)
        self.setFocusProxy(self._slider)

    def show_level(self, level: float) -> None:
        """Show a level without telling of it."""
        if self._slider.isSliderDown():
            return
        blocked = self._slider.blockSignals(True)
        self._slider.setValue(round(100 * level))
        self._slider.blockSignals(blocked)
        self._figure.setText(f"{100 * level:.0f} %")

    def release(self) -> None:
        """Take the hand off the slider, as if the button had been let go."""
        if self._slider.isSliderDown():
            here = QPointF(-1.0, -1.0)
            none = Qt.MouseButton.NoButton
            button, keys = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
            up = QMouseEvent(QEvent.Type.MouseButtonRelease, here, self._slider.mapToGlobal(here), button, none, keys)
            QApplication.sendEvent(self._slider, up)

    def _changed(self, value: int) -> None:
        self._figure.setText(f"{value} %")
        self.moved.emit(value / 100.0)


class EitherOr(QWidget):
    """A few exclusive buttons side by side."""

    chosen = pyqtSignal(str)

    def __init__(self, name: str, options: Sequence[tuple[str, str]]) -> None:
        super().__init__()
        self.setAccessibleName(name)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        self._group = QButtonGroup(self)
        self._buttons: dict[str, QPushButton] = {}
        for key, text in options:
            button = QPushButton(text)
            button.setCheckable(True)
            button.setAccessibleName(f"{name}: {text}")
            button.clicked.connect(lambda _checked, chosen=key: self.chosen.emit(chosen))
            self._group.addButton(button)
            self._buttons[key] = button
            row.addWidget(button, 1)

    def show_choice(self, key: str) -> None:
        """Show which one holds."""
        self._buttons[key].setChecked(True)


class ChoiceBox(QComboBox):
    """A choice of a few, with an arrow in the colour of its text: a style sheet alone draws none, or one in a frame."""

    def __init__(self) -> None:
        super().__init__()
        self.currentTextChanged.connect(lambda text: self.setToolTip(plain_tip(text)))  # it may be cut off

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Paint it, with an ellipsis where its text is cut off, and the arrow over it."""
        del event
        painter, option = QStylePainter(self), QStyleOptionComboBox()
        self.initStyleOption(option)
        style = self.style()
        assert style is not None
        field = style.subControlRect(
            QStyle.ComplexControl.CC_ComboBox, option, QStyle.SubControl.SC_ComboBoxEditField, self
        )
        shown = self.fontMetrics().elidedText(option.currentText, Qt.TextElideMode.ElideRight, field.width())
        option.currentText = shown
        painter.drawComplexControl(QStyle.ComplexControl.CC_ComboBox, option)
        painter.drawControl(QStyle.ControlElement.CE_ComboBoxLabel, option)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        colour = self.palette().color(self.foregroundRole())
        colour.setAlphaF(_ARROW_ALPHA if self.isEnabled() else _ARROW_ALPHA / 2.0)
        painter.setPen(QPen(colour, 1.4))
        x, y = self.width() - _ARROW_FROM_RIGHT, self.height() / 2.0
        painter.drawPolyline(QPointF(x - 3.5, y - 1.8), QPointF(x, y + 1.8), QPointF(x + 3.5, y - 1.8))
        painter.end()


class Form(QWidget):
    """Rows of a label and an input, with a place for a message below."""

    def __init__(self) -> None:
        super().__init__()
        self._labels: dict[QWidget, QLabel] = {}
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(10)
        self._grid.setVerticalSpacing(6)
        self._grid.setColumnStretch(1, 1)
        self._error = QLabel()
        self._error.setObjectName("error")
        self._error.setWordWrap(True)
        self._error.setTextFormat(Qt.TextFormat.PlainText)
        self._error.hide()

    def add(self, label: str, widget: QWidget) -> None:
        """Add a row."""
        row = self._grid.rowCount()
        text = QLabel(label)
        text.setObjectName("dim")
        text.setBuddy(widget)
        if (
            text.sizeHint().width() > _LABEL_WIDTH
        ):  # a long one takes two lines, or the inputs of all rows lose their room
            text.setWordWrap(True)
            text.setFixedWidth(_LABEL_WIDTH)
        self._labels[widget] = text
        self._grid.addWidget(text, row, 0)
        self._grid.addWidget(widget, row, 1)

    def show_row(self, widget: QWidget, *, shown: bool) -> None:
        """Show or hide an input with its label."""
        widget.setVisible(shown)
        self._labels[widget].setVisible(shown)

    def add_pair(self, label: str, first: QWidget, second: QWidget) -> None:
        """Add a row with two inputs."""
        pair = QWidget()
        row = QHBoxLayout(pair)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        for widget in (first, second):
            widget.setMinimumWidth(48)
            widget.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            row.addWidget(widget, 1)
        self.add(label, pair)

    def add_wide(self, widget: QWidget) -> None:
        """Add a widget over the whole width."""
        self._grid.addWidget(widget, self._grid.rowCount(), 0, 1, 2)

    def clear_below(self, rows: int) -> None:
        """Take all rows away but the first; widgets that someone still holds can be added again.

        What is half typed in them is left: taking a field away takes its focus, and must not take its text into the design
        in the middle of showing it.
        """
        for index in reversed(range(self._grid.count())):
            row, *_ = self._grid.getItemPosition(index)
            if int(row or 0) <= rows:
                continue
            item = self._grid.takeAt(index)
            widget = item.widget() if item is not None else None
            if widget is not None:
                for line in (widget, *widget.findChildren(QLineEdit)):
                    if isinstance(line, QLineEdit):
                        line.setModified(False)
                widget.setParent(None)

    def finish(self) -> None:
        """Put the place for messages at the end."""
        self.add_wide(self._error)

    def say(self, message: str) -> None:
        """Show a message, or take it away."""
        self._error.setText(message)
        self._error.setVisible(bool(message))


class ChannelFields:
    """The inputs of a strip or a module in a form: its white, where it is sold in whites, and a level for each channel.

    ``take_white`` gets a colour temperature, ``move_level`` the channel, its level and the gesture of the hand.
    """

    def __init__(
        self,
        form: Form,
        white: bool,
        names: Sequence[str],
        take_white: Callable[[float], object],
        move_level: Callable[[int, float, object], object],
    ) -> None:
        self._form, self._move = form, move_level
        self._gesture: object = object()
        self._cct: QuantityField | None = None
        if white:
            self._cct = QuantityField(tr("Colour temperature"), lambda text: parse_number(text, "K"))
            self._cct.wrong.connect(form.say)
            self._cct.taken.connect(take_white)
            form.add(tr("White"), self._cct)
        self._levels = [self._level(index, name) for index, name in enumerate(names)]
        form.finish()

    def _level(self, index: int, name: str) -> LevelField:
        field = LevelField(tr("Level of {name}").format(name=name))
        field.moved.connect(lambda level: self._move(index, level, self._gesture))
        field.let_go.connect(self._let_go)
        self._form.add(tr("Level") if name == "white" else tr("Level, {name}").format(name=name), field)
        return field

    def _let_go(self) -> None:
        self._gesture = object()

    def show(self, cct_k: float | None, levels: Sequence[float]) -> None:
        """Show white and levels."""
        if self._cct is not None and cct_k is not None:
            self._cct.show_text(f"{cct_k:g} K")
        for field, level in zip(self._levels, levels, strict=True):
            field.show_level(level)
