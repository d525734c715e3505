"""The simulated camera of a rehearsal: a button, and the picture that it takes."""

import numpy as np
from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QPixmap
from PyQt6.QtWidgets import QLabel, QPushButton, QVBoxLayout, QWidget

from gauze.core.proving.photo_shown import Pixels
from gauze.ui.text import tr

_HIGH, _LEAST_WIDE = 170, 200


class PracticeCamera(QWidget):
    """``wanted`` asks for a picture."""

    wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.take = QPushButton(tr("Take a picture"))
        self.take.setToolTip(tr("A picture of the face by a simulated camera"))
        self.take.setAutoDefault(False)
        self.take.clicked.connect(self.wanted)
        self.picture = QLabel()
        self.picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.picture.setAccessibleName(tr("Picture of the face"))
        self.picture.hide()
        column.addWidget(self.take)
        column.addWidget(self.picture)

    def forget(self) -> None:
        """Take the picture of another case away."""
        self.picture.clear()
        self.picture.hide()

    def show_picture(self, pixels: Pixels) -> None:
        """Show a picture, (rows, columns, 3), the upper row first."""
        own = np.ascontiguousarray(pixels)
        high, wide = own.shape[:2]
        image = QImage(own.tobytes(), wide, high, 3 * wide, QImage.Format.Format_RGB888)
        room = QSize(max(self.width(), _LEAST_WIDE), _HIGH)
        kept, smooth = Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
        self.picture.setPixmap(QPixmap.fromImage(image).scaled(room, kept, smooth))
        self.picture.show()
