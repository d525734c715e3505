"""The canvas's cached layers: bare plan and lit face, painted anew only when they change."""

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QImage, QPainter, QPixmap

from gauze.core.evaluate import Evaluation
from gauze.core.formats.picture import face_picture
from gauze.core.layout import Layout
from gauze.ui.canvas.geometry import View
from gauze.ui.canvas.paint_plan import paint_bare, to_qimage, to_qrect
from gauze.ui.view_state import ViewState


class Layers:
    """Pixmaps of the canvas's size, kept while what they show stays as it is."""

    def __init__(self) -> None:
        self._bare: QPixmap | None = None
        self._bare_key: object = None
        self._lit: QPixmap | None = None
        self._lit_key: object = None
        self._picture: QImage | None = None
        self._picture_key: object = None
        self._other: tuple[object, QImage] | None = None

    def bare(self, view: View, layout: Layout, ratio: float) -> QPixmap:
        """Return the bare strips on the back."""
        key = (_place(view), layout.rows, layout.box.back_reflectance, ratio, _levels(layout))
        if self._bare is None or key != self._bare_key:
            self._bare, self._bare_key = _blank(view, ratio), key
            painter = QPainter(self._bare)
            paint_bare(painter, view, layout)
            painter.end()
        return self._bare

    def picture(self, evaluation: Evaluation, state: ViewState) -> QImage:
        """Return the lit face as an image of one pixel for each cell of the map."""
        key = (id(evaluation), state.exposure_stops, state.room_lx, state.false_colour)
        if self._picture is None or key != self._picture_key:
            picture = face_picture(
                evaluation,
                room_lx=state.room_lx,
                exposure_stops=state.exposure_stops,
                false=state.false_colour,
            )
            self._picture, self._picture_key = to_qimage(picture), key
        return self._picture

    def paint_other(self, painter: QPainter, view: View, evaluation: Evaluation, state: ViewState) -> None:
        """Paint another design's lit face at its own size, from the same corner."""
        look = (id(evaluation), state.exposure_stops, state.room_lx, state.false_colour)
        if self._other is None or self._other[0] != look:
            picture = face_picture(
                evaluation,
                room_lx=state.room_lx,
                exposure_stops=state.exposure_stops,
                false=state.false_colour,
            )
            self._other = (look, to_qimage(picture))
        image = self._other[1]
        wide, high, _ = evaluation.opening_mm
        rect = QRectF(view.x(0.0), view.y(high), wide * view.scale, high * view.scale)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, True)
        painter.drawImage(rect, image, QRectF(image.rect()))

    def lit(self, view: View, evaluation: Evaluation, state: ViewState, ratio: float) -> QPixmap:
        """Return the lit face, scaled to the plan."""
        picture = self.picture(evaluation, state)
        key = (_place(view), self._picture_key, ratio)
        if self._lit is None or key != self._lit_key:
            self._lit, self._lit_key = _blank(view, ratio), key
            painter = QPainter(self._lit)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, True)
            painter.drawImage(to_qrect(view.plan), picture, QRectF(picture.rect()))
            painter.end()
        return self._lit

    def line(self, evaluation: Evaluation, state: ViewState, y_share: float) -> QImage:
        """Return one row of the picture, at a share of the height from below."""
        picture = self.picture(evaluation, state)
        row = min(int((1.0 - y_share) * picture.height()), picture.height() - 1)
        return picture.copy(0, row, picture.width(), 1)


def _place(view: View) -> tuple[float, ...]:
    plan = view.plan
    return (view.width, view.height, plan.x, plan.y, plan.width, plan.height)


def _levels(layout: Layout) -> tuple[object, ...]:
    return tuple(emitters.channel for emitters in layout.emitters)


def _blank(view: View, ratio: float) -> QPixmap:
    pixmap = QPixmap(max(int(view.width * ratio), 1), max(int(view.height * ratio), 1))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(Qt.GlobalColor.transparent)
    return pixmap
