"""The drawing of loose emitters in a cavity: plan with the emitters, lit face unrolled, side cut."""

from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QWidget
from scipy.ndimage import distance_transform_edt

from gauze.core.design import Design
from gauze.core.evaluate import LooseEvaluation
from gauze.core.evaluate.profile import Profile, profile_along_u
from gauze.core.formats.picture import face_picture
from gauze.core.layout import LooseLayout
from gauze.core.layout.model import FloatArray
from gauze.core.optics.appearance import Picture
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.core.units.length import format_distance
from gauze.ui.canvas.cavity_geometry import Sheet, Window, face_range_mm, lay_sheet
from gauze.ui.canvas.inline_editor import Bubble
from gauze.ui.canvas.paint_cavity import face_path, paint_cut, paint_plan
from gauze.ui.canvas.paint_cavity_profile import paint_cut_line, paint_profile
from gauze.ui.canvas.paint_dimensions import paint_scale
from gauze.ui.canvas.paint_plan import to_qimage, to_qrect
from gauze.ui.text import tr
from gauze.ui.theme import Theme
from gauze.ui.view_state import ViewState


@dataclass(frozen=True)
class CavityScene:
    """A design laid out, and its light as far as it is known."""

    design: Design
    layout: LooseLayout
    evaluation: LooseEvaluation | None


class CavityView(QWidget):
    """Shows loose emitters; sizes are typed at the place Lay."""

    hovered = pyqtSignal(str)

    def __init__(self, theme: Theme, unit: LengthUnit) -> None:
        super().__init__()
        self._theme, self._unit = theme, unit
        self._state = ViewState()
        self._scene: CavityScene | None = None
        self._picture: tuple[LooseEvaluation, object, QImage] | None = None
        self._cut_share = 0.5
        self._profile: tuple[LooseEvaluation, float, Profile | None] | None = None
        self._path: tuple[LooseLayout, Window, QPainterPath] | None = None
        self._drawn: tuple[LooseLayout, object, QPixmap] | None = None
        self._bubble = Bubble(self)
        self._bubble.set_theme(theme)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(520, 330)
        self.setAccessibleName(tr("Drawing: plan, lit face and side cut"))

    def show_scene(self, scene: CavityScene) -> None:
        """Show a design, or its light."""
        self._scene = scene
        self._bubble.hide()
        self.setAccessibleDescription(self._words(scene))
        self.update()

    def set_look(self, theme: Theme, unit: LengthUnit) -> None:
        """Take another theme or unit."""
        self._theme, self._unit = theme, unit
        self._bubble.set_theme(theme)
        self.update()

    def set_state(self, state: ViewState) -> None:
        """Look at the face in another way."""
        self._state = state
        self.update()

    def refuse(self, message: str) -> None:
        """Say why a value will not do."""
        self._bubble.say(message, self.width() / 2, 40, 40)

    def sheet(self) -> Sheet | None:
        """Where the drawings stand now; None before there is a design."""
        scene = self._scene
        if scene is None:
            return None
        return lay_sheet(self.width(), self.height(), scene.layout, _face_mm(scene))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802 - Qt's name
        """Paint the three drawings."""
        del event  # the whole is cheap enough
        painter = QPainter(self)
        painter.fillRect(self.rect(), self._theme.colour("paper"))
        scene, sheet = self._scene, self.sheet()
        if scene is not None and sheet is not None:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
            self._title(painter, sheet.plan, tr("plan, {size}").format(size=self._size(scene.layout.cavity.plan)))
            painter.drawPixmap(0, 0, self._body(scene, sheet))
            self._paint_face(painter, sheet.face, scene)
            self._title(painter, sheet.cut, tr("side cut, {size}").format(size=self._size(scene.layout.cavity.section)))
        painter.end()

    def _paint_face(self, painter: QPainter, window: Window, scene: CavityScene) -> None:
        rect = to_qrect(window.rect)
        evaluation = scene.evaluation
        if evaluation is None:
            painter.setPen(QPen(self._theme.colour("line"), 1.0))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(rect)
            self._title(painter, window, tr("lit face: being computed …"))
            return
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, True)
        image = self._image(evaluation)
        outline = self._outline(scene, window)
        painter.save()
        if not outline.isEmpty():
            painter.setClipPath(outline)
        painter.drawImage(rect, image, QRectF(image.rect()))
        painter.restore()
        if not outline.isEmpty():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(self._theme.colour("line"), 1.0))
            painter.drawPath(outline)
        even = evaluation.evenness
        words = tr("lit face{unrolled}, {least} to {most} cd/m²").format(
            unrolled="" if evaluation.opening_mm[2] == 0 else tr(", unrolled"),
            least=format_number(even.min_cd_m2),
            most=format_number(even.max_cd_m2),
        )
        self._title(painter, window, words)
        self._paint_profile(painter, window, evaluation)
        if self._state.false_colour:
            bar = QRectF(self.width() - 236, self.height() - 34, 220, 9)
            paint_scale(painter, bar, self._theme, even.min_cd_m2, even.max_cd_m2)

    def _paint_profile(self, painter: QPainter, face: Window, evaluation: LooseEvaluation) -> None:
        """Paint the luminance along the cut, below the face or beside the side cut."""
        sheet = self.sheet()
        v_mm = self._cut_share * face.rect.height / face.scale + face.low_mm
        if self._profile is None or self._profile[0] is not evaluation or self._profile[1] != v_mm:
            self._profile = (evaluation, v_mm, profile_along_u(evaluation, v_mm))
        profile = self._profile[2]
        if sheet is None or profile is None:
            return
        paint_cut_line(painter, face, v_mm, self._theme)
        purpose = evaluation.design.purpose
        distance = format_distance(purpose.viewing_distance_mm, self._unit)
        seen_from = (
            tr("by the camera") if purpose.viewer == "camera" else tr("from {distance}").format(distance=distance)
        )
        paint_profile(painter, to_qrect(sheet.profile), face, profile, self._theme, seen_from)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Take the cut through the face where it is clicked."""
        assert event is not None
        sheet = self.sheet()
        if sheet is None or event.button() != Qt.MouseButton.LeftButton:
            super().mousePressEvent(event)
        elif sheet.face.place_mm(event.position().x(), event.position().y()) is not None:
            face = sheet.face.rect
            self._cut_share = (face.bottom - event.position().y()) / face.height
            self.update()

    def _body(self, scene: CavityScene, sheet: Sheet) -> QPixmap:
        """Plan and side cut, painted anew only when they change: there may be very many emitters."""
        ratio = self.devicePixelRatioF()
        key = (sheet.plan, sheet.cut, self._theme.name, self.width(), self.height(), ratio)
        if self._drawn is None or self._drawn[0] is not scene.layout or self._drawn[1] != key:
            pixmap = QPixmap(max(int(self.width() * ratio), 1), max(int(self.height() * ratio), 1))
            pixmap.setDevicePixelRatio(ratio)
            pixmap.fill(Qt.GlobalColor.transparent)
            painter = QPainter(pixmap)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
            paint_plan(painter, sheet.plan, scene.layout, self._theme)
            paint_cut(painter, sheet.cut, scene.layout, self._theme)
            painter.end()
            self._drawn = (scene.layout, key, pixmap)
        return self._drawn[2]

    def _outline(self, scene: CavityScene, window: Window) -> QPainterPath:
        if self._path is None or self._path[0] is not scene.layout or self._path[1] != window:
            self._path = (scene.layout, window, face_path(window, scene.layout))
        return self._path[2]

    def _image(self, evaluation: LooseEvaluation) -> QImage:
        """The lit face, carried on beside it, where the outline cuts it off."""
        state = self._state
        key = (state.exposure_stops, state.room_lx, state.false_colour)
        if self._picture is None or self._picture[0] is not evaluation or self._picture[1] != key:
            picture = face_picture(
                evaluation,
                room_lx=state.room_lx,
                exposure_stops=state.exposure_stops,
                false=state.false_colour,
            )
            self._picture = (evaluation, key, to_qimage(_filled(picture)))
        return self._picture[2]

    def _title(self, painter: QPainter, window: Window, words: str) -> None:
        painter.setPen(self._theme.colour("ink_dim"))
        painter.drawText(QPointF(window.rect.x, window.rect.y - 8), words)

    def _size(self, outline: FloatArray) -> str:
        across, up = (float(value) for value in np.ptp(outline, axis=0))
        return f"{format_length(across, self._unit)} × {format_length(up, self._unit)}"

    def _words(self, scene: CavityScene) -> str:
        return tr("{count} emitters in a {shape}, plan {size}").format(
            count=scene.layout.emitter_count,
            shape=scene.layout.cavity.shape.replace("_", " "),
            size=self._size(scene.layout.cavity.plan),
        )

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802 - Qt's name
        """Tell what is under the pointer."""
        assert event is not None
        self.hovered.emit(self._under(event.position()))

    def _under(self, point: QPointF) -> str:
        scene, sheet = self._scene, self.sheet()
        if scene is None or sheet is None:
            return ""
        found = sheet.face.place_mm(point.x(), point.y())
        if found is not None and scene.evaluation is not None:
            u, v = (format_length(value, self._unit) for value in found)
            luminance = format_number(scene.evaluation.luminance_at(*found))
            return tr("face at {u}, {v}: {luminance} cd/m²").format(u=u, v=v, luminance=luminance)
        found = sheet.plan.place_mm(point.x(), point.y())
        if found is None:
            return ""
        places = scene.layout.places_mm
        nearest = int(((places[:, :2] - found) ** 2).sum(axis=1).argmin())
        x, y, z = (format_length(float(value), self._unit) for value in places[nearest])
        flux = format_number(float(scene.layout.flux_lm[nearest]))
        return tr("emitter {number}: {flux} lm at {x}, {y}, {z} over the back").format(
            number=nearest + 1, flux=flux, x=x, y=y, z=z
        )


def _filled(picture: Picture) -> Picture:
    """Give the pixels beside the face the colour of the nearest on it: no seam where the outline cuts through a pixel."""
    if picture.shape[2] == 3:
        return picture
    row, column = distance_transform_edt(picture[..., 3] == 0, return_distances=False, return_indices=True)
    return np.ascontiguousarray(picture[row, column, :3])


def _face_mm(scene: CavityScene) -> tuple[float, float, float, float]:
    if scene.evaluation is None:
        plan = scene.layout.cavity.plan
        low, size = plan.min(axis=0), np.ptp(plan, axis=0)
        return float(low[0]), float(low[1]), float(size[0]), float(size[1])
    return face_range_mm(scene.evaluation.x_mm, scene.evaluation.y_mm)
