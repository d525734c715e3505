"""Paints lit faces: their pictures, cut out along their outlines."""

import math

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPixmap, QTransform

from gauze.core.evaluate import CavityFaceLight, Evaluation, GroupFaceLight
from gauze.core.formats.picture import carried_on, face_picture
from gauze.core.layout import Layout
from gauze.ui.canvas.geometry import Rect, Window
from gauze.ui.canvas.kept import antialiased, blank, make_room, ratio_of
from gauze.ui.canvas.paint.paint_views import face_path, faces_path, to_pixels
from gauze.ui.canvas.paint.shapes import to_qimage, to_qrect
from gauze.ui.view_state import ViewState

_MOVED_SHARE = 0.01  # of the plan, by which a cavity may lie beside where the whole would be stretched to


class LitFaces:
    """The faces of this design and of one that it is compared with; all is made again only when it changes."""

    def __init__(self) -> None:
        self._images: dict[object, tuple[Evaluation, QImage]] = {}
        self._outlines: dict[int, tuple[Evaluation, QPainterPath]] = {}
        self._drawn: dict[object, tuple[Evaluation, QPixmap]] = {}

    def paint(
        self,
        painter: QPainter,
        area: QRectF,
        window: Window,
        evaluation: Evaluation,
        state: ViewState,
        part: QRectF | None,
        follow: QTransform | None = None,
    ) -> None:
        """Paint a lit face, or the part of it that lies in a rectangle; ``follow`` brings it to where it is dragged, in mm."""
        ratio = ratio_of(painter)
        key = (id(evaluation), _look(state), window, area.width(), area.height(), ratio)
        if key not in self._drawn:
            pixmap = blank(area, ratio)
            own = antialiased(pixmap)
            self._paint_face(own, window, evaluation, state)
            own.end()
            make_room(self._drawn)
            self._drawn[key] = (evaluation, pixmap)
        painter.save()
        if part is not None:
            painter.setClipRect(part)
        if follow is not None:
            pixels = to_pixels(window)
            back, _ = pixels.inverted()
            painter.setTransform(back * follow * pixels, True)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, True)
        painter.drawPixmap(0, 0, self._drawn[key][1])
        painter.restore()

    def paint_plainly(self, painter: QPainter, window: Window, evaluation: Evaluation, state: ViewState) -> None:
        """Paint a lit face without keeping it, as for a part that is magnified; the painter's own clip holds."""
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, True)
        self._draw_image(painter, window, evaluation, state)

    def strip(self, evaluation: Evaluation, state: ViewState, *, across: bool) -> QImage:
        """One line of the picture: along x where the cut is, or across it in the middle."""
        image = self._image(evaluation, state)
        if evaluation.layout.instances:  # of which body it is taken would be by chance: the mean of all faces
            mean = image.scaled(1, 1, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation)
            colour = mean.pixelColor(0, 0)
            share = max(float(evaluation.inside.mean()), 1e-3) if not state.false_colour else 1.0
            grown = [min(round(value / share), 255) for value in (colour.red(), colour.green(), colour.blue())]
            mean = QImage(1, 1, QImage.Format.Format_RGB32)
            mean.setPixelColor(0, 0, QColor(*grown))
            return mean
        if across:
            column = image.copy(image.width() // 2, 0, 1, image.height())
            return column.transformed(QTransform().rotate(90.0))
        row = min(int((1.0 - state.cut_share) * image.height()), image.height() - 1)
        return image.copy(0, row, image.width(), 1)

    def prepare(self, evaluation: Evaluation, state: ViewState) -> None:
        """Make a picture as soon as its light is there, so that the next painting has the less to do."""
        self._image(evaluation, state)

    def outline(self, evaluation: Evaluation, window: Window) -> QPainterPath:
        """Outline of the faces that were lit: unrolled, or of several where each stands; nothing where they fill the map."""
        if id(evaluation) not in self._outlines:
            path_mm = QPainterPath()
            if isinstance(evaluation.light, CavityFaceLight):
                path_mm = face_path(evaluation.light.built.cavity)
            elif isinstance(evaluation.light, GroupFaceLight):
                path_mm = faces_path(evaluation.light.built)
            make_room(self._outlines)
            self._outlines[id(evaluation)] = (evaluation, path_mm)
        return to_pixels(window).map(self._outlines[id(evaluation)][1])

    def _paint_face(self, painter: QPainter, window: Window, evaluation: Evaluation, state: ViewState) -> None:
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, True)
        outline = self.outline(evaluation, window)
        if not outline.isEmpty():
            painter.setClipPath(outline, Qt.ClipOperation.ReplaceClip)
        self._draw_image(painter, window, evaluation, state)

    def _draw_image(self, painter: QPainter, window: Window, evaluation: Evaluation, state: ViewState) -> None:
        image = self._image(evaluation, state)
        left, low = float(evaluation.x_mm[0]), float(evaluation.y_mm[0])
        step_x, step_y = (float(axis[1] - axis[0]) for axis in (evaluation.x_mm, evaluation.y_mm))
        x0, x1 = window.x(left - step_x / 2), window.x(float(evaluation.x_mm[-1]) + step_x / 2)
        y0, y1 = window.y(float(evaluation.y_mm[-1]) + step_y / 2), window.y(low - step_y / 2)
        painter.drawImage(QRectF(x0, y0, x1 - x0, y1 - y0), image, QRectF(image.rect()))

    def _image(self, evaluation: Evaluation, state: ViewState) -> QImage:
        """The lit face; an outline that cuts it off cuts through pixels, so it is carried on a little beside it."""
        key = (id(evaluation), _look(state))
        if key not in self._images:
            picture = face_picture(
                evaluation,
                room_lx=state.room_lx,
                exposure_stops=state.exposure_stops,
                false=state.false_colour,
            )
            make_room(self._images)
            outlined = isinstance(evaluation.light, CavityFaceLight | GroupFaceLight)
            self._images[key] = (evaluation, to_qimage(carried_on(picture) if outlined else picture))
        return self._images[key][1]


def face_alone(evaluation: Evaluation, most: QSize) -> QImage:
    """The lit face by itself on nothing, as large as fits into a size in pixels."""
    steps = [float(axis[1] - axis[0]) for axis in (evaluation.x_mm, evaluation.y_mm)]
    left, low = float(evaluation.x_mm[0]) - steps[0] / 2, float(evaluation.y_mm[0]) - steps[1] / 2
    wide, high = len(evaluation.x_mm) * steps[0], len(evaluation.y_mm) * steps[1]
    scale = min(most.width() / wide, most.height() / high)
    rect = Rect(0.0, 0.0, max(scale * wide, 1.0), max(scale * high, 1.0))
    image = QImage(math.ceil(rect.width), math.ceil(rect.height), QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
    LitFaces().paint(painter, to_qrect(rect), Window(rect, scale, left, low), evaluation, ViewState(), None)
    painter.end()
    return image


def following(lit: Layout, now: Layout) -> QTransform | None:
    """How faces over the plan are stretched that were lit before a drag changed it; None where the drag did no such thing.

    A drag that only makes the whole larger or smaller keeps its light, in proportion, until it is computed again. One that
    moves cavities apart or about does not: their light stays where it was.
    """
    (x0, y0, wide, high), (x1, y1, new_wide, new_high) = lit.sketch.plan_mm, now.sketch.plan_mm
    if lit.sketch.plan_mm == now.sketch.plan_mm or min(wide, high) <= 0 or len(lit.instances) != len(now.instances):
        return None
    across, up = new_wide / wide, new_high / high
    for before, after in zip(lit.instances, now.instances, strict=True):
        x, y = x1 + across * (before.x_mm - x0), y1 + up * (before.y_mm - y0)
        if abs(x - after.x_mm) > _MOVED_SHARE * new_wide or abs(y - after.y_mm) > _MOVED_SHARE * new_high:
            return None
    return QTransform(across, 0.0, 0.0, up, x1 - across * x0, y1 - up * y0)


def _look(state: ViewState) -> tuple[float, float, bool]:
    return state.exposure_stops, state.room_lx, state.false_colour
