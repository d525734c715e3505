"""A row of pictures of the builder's own: read beside the interface, added, opened large and taken away."""

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QObject, QRunnable, QSize, Qt, QThreadPool, QUrl, pyqtSignal
from PyQt6.QtGui import QAction, QDesktopServices, QIcon, QImage, QImageReader, QPixmap
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QToolButton, QWidget

from gauze.session.pictures import picture_name, picture_text
from gauze.ui.message import plain_tip
from gauze.ui.text import tr

_SIDE = 72  # pixels of a thumbnail


class _Told(QObject):
    read = pyqtSignal(str, QImage)


class _Reading(QRunnable):
    """Reads one picture as small as it is shown."""

    def __init__(self, text: str, path: Path, told: _Told) -> None:
        super().__init__()
        self._text, self._path, self._told = text, path, told

    def run(self) -> None:
        """Read it; a file that is no picture gives an image without pixels."""
        reader = QImageReader(str(self._path))
        reader.setAutoTransform(True)
        size = reader.size()
        if size.isValid():
            reader.setScaledSize(size.scaled(QSize(2 * _SIDE, 2 * _SIDE), Qt.AspectRatioMode.KeepAspectRatio))
        image = reader.read()
        self._told.read.emit(self._text, image)


class PictureRow(QWidget):
    """Thumbnails, each with a menu, and a button to add one. ``taken`` tells all pictures after a change."""

    taken = pyqtSignal(object)  # tuple[str, ...]

    def __init__(self) -> None:
        super().__init__()
        self._texts: tuple[str, ...] = ()
        self._images: dict[str, QImage] = {}
        self._buttons: dict[str, QToolButton] = {}
        self._told = _Told()
        self._told.read.connect(self._show)
        self.folder = Path.home()
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(6)
        self.add = QPushButton(tr("Add pictures …"))
        self.add.setAutoDefault(False)
        self.add.clicked.connect(self._add)
        self._row.addWidget(self.add)
        self._row.addStretch(1)

    def show_pictures(self, pictures: Sequence[tuple[str, Path | None]]) -> None:
        """Show pictures by what is kept of them and where they are; None for one that is gone."""
        texts = tuple(text for text, _ in pictures)
        if texts == self._texts and all(
            (path is None) == (not self._buttons[text].isEnabled()) for text, path in pictures
        ):
            return
        self._texts = texts
        for button in self._buttons.values():
            self._row.removeWidget(button)
            button.deleteLater()
        self._buttons = {}
        for number, (text, path) in enumerate(pictures):
            button = self._button(text, path)
            self._buttons[text] = button
            self._row.insertWidget(number, button)
            if path is None:
                continue
            if text in self._images:
                self._show(text, self._images[text])
            elif (pool := QThreadPool.globalInstance()) is not None:
                pool.start(_Reading(text, path, self._told))

    def _button(self, text: str, path: Path | None) -> QToolButton:
        button = QToolButton()
        name = picture_name(text)
        button.setFixedSize(_SIDE, _SIDE)
        button.setIconSize(QSize(_SIDE - 8, _SIDE - 8))
        button.setAccessibleName(name)
        button.setContextMenuPolicy(Qt.ContextMenuPolicy.ActionsContextMenu)
        remove = QAction(tr("Remove"), button)
        remove.triggered.connect(lambda: self.taken.emit(tuple(one for one in self._texts if one != text)))
        button.addAction(remove)
        if path is None:
            button.setText(tr("gone"))
            button.setToolTip(
                plain_tip(tr("{name} is gone: put it beside the design, or add it again").format(name=name))
            )
        else:
            button.setToolTip(plain_tip(tr("{name}: click to open it, right-click to remove it").format(name=name)))
            button.clicked.connect(lambda: QDesktopServices.openUrl(QUrl.fromLocalFile(str(path))))
        return button

    def _show(self, text: str, image: QImage) -> None:
        button = self._buttons.get(text)
        if image.isNull():
            if button is not None:
                button.setText(tr("unreadable"))
            return
        self._images[text] = image
        if button is not None:
            button.setIcon(QIcon(QPixmap.fromImage(image)))

    def _add(self) -> None:
        kinds = tr("Pictures (*.png *.jpg *.jpeg *.bmp *.gif)")
        names, _ = QFileDialog.getOpenFileNames(self, tr("Add pictures"), str(self.folder), kinds)
        if names:
            self.add_paths([Path(name) for name in names])

    def add_paths(self, paths: Sequence[Path]) -> None:
        """Add pictures by their paths; one that is there already is not added again."""
        new = [text for path in paths if (text := picture_text(path)) not in self._texts]
        if new:
            self.taken.emit((*self._texts, *new))
