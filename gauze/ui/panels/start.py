"""The start place: what do you want to build? Every family with a small picture of one, lit by the engine; recent designs."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QSize, Qt, pyqtBoundSignal, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gauze.core.printable import printable_path
from gauze.demo import BEGINNINGS, DEMOS, Demo
from gauze.ui.message import plain_button, plain_tip
from gauze.ui.text import tr

_CARD, PICTURE = QSize(222, 172), QSize(206, 92)
_COLUMNS = 4
_NIGHT = QColor("#141517")


class StartCard(QToolButton):
    """One kind of build: its picture, its name, what it is for."""

    def __init__(self, demo: Demo) -> None:
        super().__init__()
        self.demo = demo
        self.setObjectName("card")
        self.setFixedSize(_CARD)
        self.setAccessibleName(f"{tr(demo.family)}: {tr(demo.purpose)}")
        self.setToolTip(tr("Start a new design of this kind"))
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 6)
        column.setSpacing(3)
        self._picture = QLabel(tr("being lit …"))
        self._picture.setObjectName("dim")
        self._picture.setFixedSize(PICTURE)
        self._picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        name = QLabel(tr(demo.family))
        name.setObjectName("heading")
        about = QLabel(tr(demo.purpose))
        about.setObjectName("dim")
        about.setWordWrap(True)
        about.setAlignment(Qt.AlignmentFlag.AlignTop)
        for label in (self._picture, name, about):
            label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
            column.addWidget(label)
        column.setStretch(2, 1)

    def show_picture(self, image: QImage) -> None:
        """Show the lit face, as large as it fits."""
        ratio = self.devicePixelRatioF()
        size = QSize(int(PICTURE.width() * ratio), int(PICTURE.height() * ratio))
        scaled = image.scaled(size, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
        pixmap = QPixmap(size)
        pixmap.fill(_NIGHT)  # light is judged in the dark, whatever the theme
        painter = QPainter(pixmap)
        painter.drawImage((size.width() - scaled.width()) // 2, (size.height() - scaled.height()) // 2, scaled)
        painter.end()
        pixmap.setDevicePixelRatio(ratio)
        self._picture.setPixmap(pixmap)

    @property
    def is_lit(self) -> bool:
        """Whether its picture is there."""
        return not self._picture.pixmap().isNull()


class StartPlace(QDialog):
    """Asks what to build, or which design to open. It stays out of the way of the window behind it."""

    new_wanted = pyqtSignal(object)  # Demo
    demo_wanted = pyqtSignal(object)  # Demo
    file_wanted = pyqtSignal(object)  # Path
    open_wanted = pyqtSignal()

    def __init__(self, recent: tuple[Path, ...], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("What do you want to build?"))
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(1190, 700)
        outer = QHBoxLayout(self)
        outer.setContentsMargins(18, 14, 14, 14)
        outer.setSpacing(14)
        self.cards = [StartCard(demo) for demo in BEGINNINGS]
        outer.addWidget(self._kinds(), 1)
        outer.addWidget(self._designs(recent))

    def _kinds(self) -> QWidget:
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 6, 0)
        heading = QLabel(tr("What do you want to build?"))
        heading.setObjectName("heading")
        column.addWidget(heading)
        grid = QGridLayout()
        grid.setSpacing(8)
        for index, card in enumerate(self.cards):
            card.clicked.connect(lambda _checked, demo=card.demo: self._choose(self.new_wanted, demo))
            grid.addWidget(card, index // _COLUMNS, index % _COLUMNS)
        grid.setColumnStretch(_COLUMNS, 1)
        column.addLayout(grid)
        column.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(inside)
        return scroll

    def _designs(self, recent: tuple[Path, ...]) -> QWidget:
        side = QWidget()
        side.setFixedWidth(206)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self._heading(column, tr("Recent designs"))
        for path in recent[:6]:
            tip = printable_path(path)
            self._link(column, printable_path(path.stem), tip, partial(self._choose, self.file_wanted, path))
        if not recent:
            self._dim(column, tr("None yet: what you save is listed here."))
        opening = QPushButton(tr("Open a file …"))
        opening.clicked.connect(self._open)
        column.addWidget(opening)
        column.addSpacing(10)
        self._heading(column, tr("The print room by the harbour"))
        self._dim(column, tr("A scene of designs to look into:"))
        for demo in DEMOS:
            title = demo.key.replace("_", " ").capitalize()
            self._link(column, title, tr(demo.purpose), partial(self._choose, self.demo_wanted, demo))
        column.addStretch(1)
        return side

    def _heading(self, column: QVBoxLayout, words: str) -> None:
        label = QLabel(words)
        label.setObjectName("heading")
        label.setWordWrap(True)
        column.addWidget(label)

    def _dim(self, column: QVBoxLayout, words: str) -> None:
        label = QLabel(words)
        label.setObjectName("dim")
        label.setWordWrap(True)
        column.addWidget(label)

    def _link(self, column: QVBoxLayout, words: str, tip: str, slot: Callable[[], None]) -> None:
        button = QToolButton()
        button.setText(plain_button(button.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, 190)))
        button.setToolTip(plain_tip(tip))
        button.setAutoRaise(True)
        button.setAccessibleName(words)
        button.clicked.connect(lambda _checked: slot())
        column.addWidget(button)

    def _choose(self, signal: pyqtBoundSignal, what: object) -> None:
        self.accept()
        signal.emit(what)

    def _open(self) -> None:
        self.accept()
        self.open_wanted.emit()

    def show_picture(self, demo: Demo, image: QImage) -> None:
        """Show the picture of one kind."""
        for card in self.cards:
            if card.demo == demo:
                card.show_picture(image)
