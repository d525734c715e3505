"""The window of photographs: corners to be dragged, and what is measured beside what is predicted."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import msgspec
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSplitter,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from gauze.core.design.bench import BenchPhoto
from gauze.core.errors import GauzeError
from gauze.core.layout.model import FloatArray
from gauze.core.printable import printable_path
from gauze.core.proving.photo_shown import PhotoShown
from gauze.core.units import LengthUnit, format_length, format_number
from gauze.session.bench_edits import shown_bench, with_changed_photo, with_photo, without_photo
from gauze.session.pictures import find_picture, picture_name, picture_text
from gauze.session.solver import PhotoRequest
from gauze.session.storage import read_file
from gauze.ui.dimming import dim
from gauze.ui.panels.fields import ChoiceBox
from gauze.ui.proving.photo_view import CornersView, SeamView
from gauze.ui.proving.photo_words import warning_words
from gauze.ui.tables import plain_table
from gauze.ui.text import spoken, told, tr
from gauze.ui.theme import Theme
from gauze.ui.workbench import Workbench

_MOST_BYTES = 400_000_000
_WHAT = 0
_KINDS = "(*.jpg *.jpeg *.png *.tif *.tiff *.dng *.cr2 *.nef *.arw *.raf *.orf *.rw2)"


class PhotoWindow(QDialog):
    """Photographs of the open design's face, one at a time; ``measured`` tells that one is."""

    measured = pyqtSignal()

    def __init__(self, bench: Workbench, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Photographs of the face"))
        self._bench = bench
        self._asked: PhotoRequest | None = None
        self.shown: PhotoShown | None = None
        self.photo = ChoiceBox()
        self.photo.setAccessibleName(tr("Photograph"))
        self.photo.activated.connect(lambda _index: self._measure())
        self.add, self.remove = QPushButton(tr("Add …")), QPushButton(tr("Remove"))
        self.add.clicked.connect(self._add)
        self.remove.clicked.connect(self._remove)
        self.vignetting = ChoiceBox()
        self.vignetting.setAccessibleName(tr("Vignetting"))
        for key, words in (
            ("none", tr("leave the vignetting")),
            ("exif", tr("by the focal length")),
            ("flat", tr("by a picture of an even field …")),
        ):
            self.vignetting.addItem(words, key)
        self.vignetting.activated.connect(self._take_vignetting)
        self.find_corners = QPushButton(tr("Find the corners"))
        self.find_corners.setToolTip(tr("Forget the corners that were dragged, and look for them again"))
        self.find_corners.clicked.connect(lambda: self._change(corners_px=None))
        for button in (self.add, self.remove, self.find_corners):
            button.setAutoDefault(False)
        self.corners = CornersView(theme)
        self.corners.moved.connect(self._take_corners)
        self.seam = SeamView()
        self.table = plain_table(
            tr("Measured beside predicted"), (tr("Figure"), tr("Photographed"), tr("Predicted")), _WHAT
        )
        self.table.setEditTriggers(self.table.EditTrigger.NoEditTriggers)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.words.setTextFormat(Qt.TextFormat.PlainText)
        self._lay_out()
        self.resize(1180, 720)
        bench.design_changed.connect(self._design_changed)
        bench.document_replaced.connect(self._forget)
        bench.lit.connect(lambda _result: self._measure())
        bench.solving.photo_measured.connect(self._take)
        bench.solving.photo_refused.connect(self._refuse)

    def _lay_out(self) -> None:
        left, right = QWidget(), QWidget()
        one = QVBoxLayout(left)
        one.setContentsMargins(0, 0, 8, 0)
        row = QHBoxLayout()
        row.addWidget(self.photo, 1)
        row.addWidget(self.add)
        row.addWidget(self.remove)
        one.addLayout(row)
        one.addWidget(self.corners, 1)
        below = QHBoxLayout()
        below.addWidget(self.find_corners)
        below.addWidget(self.vignetting, 1)
        one.addLayout(below)
        hint = QLabel(
            tr(
                "Drag the corners onto those of the lit face: 1 is its upper left. Keys 1 to 4 choose one, arrows move it."
            )
        )
        hint.setObjectName("dim")
        hint.setWordWrap(True)
        one.addWidget(hint)
        other = QVBoxLayout(right)
        other.setContentsMargins(8, 0, 0, 0)
        other.addWidget(self.seam, 1)
        other.addWidget(self.table, 1)
        other.addWidget(self.words)
        halves = QSplitter(Qt.Orientation.Horizontal)
        halves.addWidget(left)
        halves.addWidget(right)
        halves.setSizes([640, 520])
        halves.setChildrenCollapsible(False)
        QVBoxLayout(self).addWidget(halves, 1)

    def showEvent(self, event: Any) -> None:  # noqa: N802 - Qt's name
        """Show what the open design has."""
        super().showEvent(event)
        self._fill()
        self._measure()

    def set_look(self, theme: Theme) -> None:
        """Draw in another theme, or lengths in another unit."""
        self.corners.set_theme(theme)
        if self.shown is not None:
            self._show(self.shown)

    # -- which photograph -------------------------------------------------------------------------------------------

    def _photos(self) -> tuple[BenchPhoto, ...]:
        return shown_bench(self._bench.design).photos

    def current(self) -> BenchPhoto | None:
        """The photograph that is looked at."""
        key = self.photo.currentData()
        return next((one for one in self._photos() if one.key == key), None)

    def _fill(self) -> None:
        photos, key = self._photos(), self.photo.currentData()
        self.photo.clear()
        for one in photos:
            self.photo.addItem(f"{picture_name(one.path)}, {one.date}", one.key)
        index = self.photo.findData(key)
        self.photo.setCurrentIndex(index if index >= 0 else len(photos) - 1)
        now = self.current()
        for widget in (self.remove, self.find_corners, self.vignetting, self.photo):
            widget.setEnabled(now is not None)
        if now is None:
            self._clear(tr("Add a photograph of the lit face, taken straight from the front in the dark."))
        else:
            self.vignetting.setCurrentIndex(self.vignetting.findData(now.vignetting))

    def _add(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, tr("Add a photograph"), str(self._bench.folder), tr("Pictures {kinds}").format(kinds=_KINDS)
        )
        if name:
            self.add_path(Path(name))

    def add_path(self, path: Path) -> None:
        """Add a photograph by its path, and look at it."""
        if self._bench.edit("Photograph", lambda design, _: with_photo(design, picture_text(path))):
            self._fill()
            self.photo.setCurrentIndex(self.photo.count() - 1)
            self._measure()

    def _remove(self) -> None:
        now = self.current()
        if now is not None:
            self._bench.edit("Remove a photograph", lambda design, _: without_photo(design, now.key))
            self._fill()
            self._measure()

    def _change(self, **changes: Any) -> None:
        now = self.current()
        if now is not None:
            self._bench.edit("Photograph", lambda design, _: with_changed_photo(design, now.key, **changes))
            self._measure()

    def _take_corners(self, corners: FloatArray) -> None:
        self._change(corners_px=tuple(round(float(one), 2) for one in corners.ravel()))

    def _take_vignetting(self, index: int) -> None:
        chosen = self.vignetting.itemData(index)
        now = self.current()
        if chosen != "flat":
            self._change(vignetting=chosen, flat="")
            return
        name, _ = QFileDialog.getOpenFileName(
            self, tr("Picture of an even field"), str(self._bench.folder), tr("Pictures {kinds}").format(kinds=_KINDS)
        )
        if name:
            self._change(vignetting="flat", flat=picture_text(Path(name)))
        elif now is not None:
            self.vignetting.setCurrentIndex(self.vignetting.findData(now.vignetting))

    # -- measuring --------------------------------------------------------------------------------------------------

    def _measure(self) -> None:
        """Have the photograph measured that is looked at, once the design is at rest."""
        now = self.current()
        if now is None or not self.isVisible() or self._bench.exact is None:
            return
        try:
            data = self._bytes(now.path)
            flat = self._bytes(now.flat) if now.vignetting == "flat" else b""
        except GauzeError as error:
            self._clear(told(error))
            return
        design = msgspec.structs.replace(self._bench.design, making=None, kept=(), bench=None)
        self._asked = PhotoRequest(design, now, data, flat)
        dim(self.table, dimmed=True)
        self._bench.solving.measure_photo(self._asked)

    def _bytes(self, text: str) -> bytes:
        path = find_picture(text, self._bench.document.path)
        if path is None:
            raise GauzeError(
                "“{name}” is gone: put it beside the design, or remove it here and add it again.",
                name=printable_path(Path(text)),
            )
        return read_file(path, _MOST_BYTES)

    def _take(self, request: PhotoRequest, shown: PhotoShown) -> None:
        if request is self._asked or (self._asked is not None and request.photo == self._asked.photo):
            self.shown = shown
            self._show(shown)
            self.measured.emit()

    def _refuse(self, request: PhotoRequest, why: str) -> None:
        if self._asked is not None and request.photo == self._asked.photo:
            self._clear(why)

    def _clear(self, why: str) -> None:
        self.shown = None
        self.corners.show_photo(None)
        self.seam.show_photo(None)
        self.table.setRowCount(0)
        self.words.setText(why)

    def _show(self, shown: PhotoShown) -> None:
        self.corners.show_photo(shown)
        self.seam.show_photo(shown)
        rows = figure_rows(shown, self._bench.unit)
        self.table.setRowCount(len(rows))
        for index, row in enumerate(rows):
            for column, text in enumerate(row):
                self.table.setItem(index, column, QTableWidgetItem(text))
        self.table.resizeRowsToContents()
        dim(self.table, dimmed=False)
        problem = shown.measured.problem
        lines = [told(problem)] if problem is not None else []
        lines += [warning_words(code) for code in shown.measured.warnings]
        if shown.exposed:
            lines.append(tr("Exposed {how}.").format(how=spoken(shown.exposed, self._bench.unit)))
        lines.append(tr("Relative only: a photograph alone gives no cd/m²."))
        self.words.setText("\n".join(lines))

    def _design_changed(self) -> None:
        if self.isVisible():
            self._fill()
            dim(self.table, dimmed=True)

    def _forget(self) -> None:
        self._asked = None
        self._clear("")
        if self.isVisible():
            self._fill()


def figure_rows(shown: PhotoShown, unit: LengthUnit) -> list[tuple[str, str, str]]:
    """Rows of the table: what, photographed, predicted."""
    seen, expected = shown.measured.figures, shown.predicted_by
    if seen is None or expected is None:
        return []

    def share(value: float) -> str:
        return f"{value:.1%}".replace("%", " %")

    rows = [
        (tr("Nine places, least over most"), f"{seen.nine_min_over_max:.2f}", f"{expected.nine_min_over_max:.2f}"),
        (tr("Least over mean"), f"{seen.min_over_mean:.2f}", f"{expected.min_over_mean:.2f}"),
    ]
    for one, other in zip(seen.ripple, expected.ripple, strict=True):
        words = tr("Ripple at {pitch}, across") if one.direction == "x" else tr("Ripple at {pitch}, upwards")
        name = words.format(pitch=format_length(round(one.pitch_mm, 1), unit))
        rows.append((name, share(one.amplitude), share(other.amplitude)))
    if seen.colour_spread_uv is not None:
        uv = [format_number(value or 0.0, 2) for value in (seen.colour_spread_uv, expected.colour_spread_uv)]
        rows.append((tr("Colours, Δu′v′ from the mean"), uv[0], uv[1]))
    rows.append((tr("Clipped"), share(shown.measured.clipped_share or 0.0), ""))
    known = _near(expected.dark_places)
    for place in seen.dark_places:
        where = f"{format_length(round(place.x_mm), unit)}, {format_length(round(place.y_mm), unit)}"
        rows.append((tr("Dark at {where}").format(where=where), share(place.share), known(place.x_mm, place.y_mm)))
    return rows


def _near(places: Any) -> Callable[[float, float], str]:
    """Says by how much a place is predicted to be dark as well."""

    def told_of(x: float, y: float) -> str:
        near = [one.share for one in places if abs(one.x_mm - x) < 40.0 and abs(one.y_mm - y) < 40.0]
        return f"{min(near):.1%}".replace("%", " %") if near else "–"

    return told_of
