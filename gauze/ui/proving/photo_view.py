"""A photograph with the corners of the face, to be dragged; and the face squared up beside the prediction."""

import math

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from gauze.core.layout.model import FloatArray
from gauze.core.optics.appearance import false_colour
from gauze.core.proving.photo_shown import PhotoShown
from gauze.ui.text import tr
from gauze.ui.theme import Theme

_GRIP, _REACH = 7.0, 18.0  # pixels of a corner's grip, and from where it is taken
_NUDGE_PX, _FAR_PX = 1.0, 10.0  # of the picture, by an arrow key, and with Shift
_FACES_GAP = 2.0


class CornersView(QWidget):
    """The picture; its corners are dragged, or moved by the arrow keys once one is chosen with Tab. ``moved`` tells all four."""

    moved = pyqtSignal(object)  # FloatArray (4, 2) in pixels of the picture

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._image: QImage | None = None
        self._scale = 1.0
        self.corners: FloatArray | None = None
        self._held: int | None = None
        self._chosen = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(320, 220)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(tr("Photograph with the corners of the face"))

    def set_theme(self, theme: Theme) -> None:
        """Draw in another theme."""
        self._theme = theme
        self.update()

    def show_photo(self, shown: PhotoShown | None) -> None:
        """Show a picture, and its corners where they are known; else a frame to be dragged onto them."""
        if shown is None:
            self._image, self.corners = None, None
        else:
            picture = np.ascontiguousarray(shown.picture)
            high, wide = picture.shape[:2]
            self._image = QImage(picture.tobytes(), wide, high, 3 * wide, QImage.Format.Format_RGB888).copy()
            self._scale = shown.scale
            measured = shown.measured
            if measured.corners_px is not None:
                self.corners = measured.corners_px
            elif self.corners is None:
                wide_px, high_px = measured.width_px, measured.height_px
                share = np.array([[0.2, 0.2], [0.8, 0.2], [0.8, 0.8], [0.2, 0.8]])
                self.corners = share * np.array([wide_px, high_px])
        self.update()

    def sizeHint(self) -> QSize:  # noqa: N802 - Qt's name
        """Room for a picture."""
        return QSize(640, 420)

    def _room(self) -> QRectF:
        assert self._image is not None
        scale = min(self.width() / self._image.width(), self.height() / self._image.height())
        wide, high = self._image.width() * scale, self._image.height() * scale
        return QRectF((self.width() - wide) / 2.0, (self.height() - high) / 2.0, wide, high)

    def _per_px(self) -> float:
        """Pixels of the widget for one of the photograph."""
        assert self._image is not None
        return self._room().width() / self._image.width() * self._scale

    def _at(self, corner: FloatArray) -> QPointF:
        room, scale = self._room(), self._per_px()
        return QPointF(room.left() + (corner[0] + 0.5) * scale, room.top() + (corner[1] + 0.5) * scale)

    def paintEvent(self, _event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Draw the picture and the face's outline with its corners."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._image is None:
            painter.setPen(self._theme.colour("ink_dim"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, tr("Add a photograph of the lit face."))
            painter.end()
            return
        painter.drawImage(self._room(), self._image)
        if self.corners is not None:
            points = [self._at(corner) for corner in self.corners]
            for colour, width in ((QColor("black"), 4.0), (self._theme.colour("accent"), 2.0)):
                painter.setPen(QPen(colour, width))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawPolygon(QPolygonF(points))
            for number, point in enumerate(points):
                chosen = number == self._chosen and self.hasFocus()
                painter.setPen(QPen(QColor("black"), 2.0))
                painter.setBrush(self._theme.colour("accent") if chosen else QColor("white"))
                painter.drawEllipse(point, _GRIP, _GRIP)
                painter.setPen(QColor("black"))
                painter.drawText(
                    QRectF(point.x() - _GRIP, point.y() - _GRIP, 2 * _GRIP, 2 * _GRIP),
                    Qt.AlignmentFlag.AlignCenter,
                    str(number + 1),
                )
        painter.end()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Take hold of the nearest corner."""
        assert event is not None
        if self._image is None or self.corners is None or event.button() != Qt.MouseButton.LeftButton:
            return
        away = [
            math.dist((p.x(), p.y()), (event.position().x(), event.position().y())) for p in map(self._at, self.corners)
        ]
        nearest = int(np.argmin(away))
        if away[nearest] <= _REACH:
            self._held = self._chosen = nearest
            self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Drag the corner that is held."""
        assert event is not None
        if self._held is None or self.corners is None:
            return
        room, scale = self._room(), self._per_px()
        x, y = ((event.position().x() - room.left()) / scale - 0.5, (event.position().y() - room.top()) / scale - 0.5)
        self._move(self._held, x, y)

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Let go, and tell where the corners are."""
        if self._held is not None and self.corners is not None:
            self._held = None
            self.moved.emit(self.corners)

    def _move(self, corner: int, x: float, y: float) -> None:
        assert self.corners is not None
        changed = self.corners.copy()
        changed[corner] = x, y
        self.corners = changed
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802 - Qt's name
        """1 to 4 choose a corner, arrows move it by a pixel of the photograph, with Shift by ten."""
        assert event is not None
        steps = {
            Qt.Key.Key_Left: (-1, 0),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Up: (0, -1),
            Qt.Key.Key_Down: (0, 1),
        }
        step = steps.get(Qt.Key(event.key()))
        if self.corners is not None and event.text() in ("1", "2", "3", "4"):
            self._chosen = int(event.text()) - 1
            self.update()
        elif self.corners is not None and step is not None:
            far = _FAR_PX if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _NUDGE_PX
            x, y = self.corners[self._chosen]
            self._move(self._chosen, x + far * step[0], y + far * step[1])
            self.moved.emit(self.corners)
        else:
            super().keyPressEvent(event)


class SeamView(QWidget):
    """Predicted on the left of the seam, photographed on the right, each over its own mean, on one scale of false colours."""

    def __init__(self) -> None:
        super().__init__()
        self._images: tuple[QImage, QImage] | None = None
        self._scale = 0.0, 1.0
        self._share = 0.5
        self.setMinimumHeight(150)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(tr("Predicted and photographed, across the seam"))
        self.setToolTip(tr("Predicted on the left, photographed on the right, each over its own mean; drag the seam"))

    def show_photo(self, shown: PhotoShown | None) -> None:
        """Show both faces; nothing where nothing was measured."""
        self._images = None
        if shown is not None and shown.predicted is not None and shown.photographed is not None:
            both = np.concatenate([shown.predicted.ravel(), shown.photographed.ravel()])
            low, top = np.percentile(both, (1.0, 99.9)).tolist()
            self._images = _coloured(shown.predicted, low, top), _coloured(shown.photographed, low, top)
            self._scale = low, top
        self.update()

    def sizeHint(self) -> QSize:  # noqa: N802 - Qt's name
        """Room for a face."""
        return QSize(360, 240)

    def _room(self) -> QRectF:
        assert self._images is not None
        image = self._images[0]
        scale = min(self.width() / image.width(), (self.height() - 18.0) / image.height())
        wide, high = image.width() * scale, image.height() * scale
        return QRectF((self.width() - wide) / 2.0, 18.0, wide, high)

    def paintEvent(self, _event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Draw both halves and say which is which."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        if self._images is None:
            painter.setPen(self.palette().color(self.foregroundRole()))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, tr("not measured"))
            painter.end()
            return
        room = self._room()
        seam = room.left() + self._share * room.width()
        for index, clip in enumerate(
            (
                QRectF(room.left(), room.top(), seam - room.left() - _FACES_GAP / 2, room.height()),
                QRectF(seam + _FACES_GAP / 2, room.top(), room.right() - seam, room.height()),
            )
        ):
            painter.setClipRect(clip)
            painter.drawImage(room, self._images[index])
        painter.setClipping(False)
        painter.setPen(self.palette().color(self.foregroundRole()))
        painter.drawText(QRectF(room.left(), 0, room.width(), 16), Qt.AlignmentFlag.AlignLeft, tr("predicted"))
        painter.drawText(QRectF(room.left(), 0, room.width(), 16), Qt.AlignmentFlag.AlignRight, tr("photographed"))
        scale = tr("dark to light: {low} to {high} of the mean").format(
            low=f"{self._scale[0]:.2f}", high=f"{self._scale[1]:.2f}"
        )
        painter.drawText(QRectF(room.left(), 0, room.width(), 16), Qt.AlignmentFlag.AlignHCenter, scale)
        painter.end()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Bring the seam to the pointer."""
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Drag the seam."""
        assert event is not None
        if self._images is not None:
            room = self._room()
            self._share = float(np.clip((event.position().x() - room.left()) / max(room.width(), 1.0), 0.02, 0.98))
            self.update()


def _coloured(face: FloatArray, low: float, top: float) -> QImage:
    pixels = np.ascontiguousarray(false_colour(face[::-1], low, max(top, low + 1e-9)))
    high, wide = pixels.shape[:2]
    return QImage(pixels.tobytes(), wide, high, 3 * wide, QImage.Format.Format_RGB888).copy()
