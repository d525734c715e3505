"""Open, save, export, recover: the window's dealings with files."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication, QFileDialog, QMessageBox, QWidget

from gauze.core.design import LooseEmitters
from gauze.core.design.pixel_display import PixelDisplay
from gauze.core.errors import GauzeError
from gauze.core.evaluate import Evaluation, Finding
from gauze.core.formats.design_file import EXTENSION, decode_design
from gauze.core.formats.ies import encode_ies
from gauze.core.formats.map_file import encode_map
from gauze.core.formats.picture import encode_png, face_picture
from gauze.core.formats.report import report_json, report_text
from gauze.core.optics.appearance import Picture
from gauze.demo import Demo, demo_design_bytes, demo_sign_bytes
from gauze.session.autosave import Recovered, discard
from gauze.session.build_edits import with_picture
from gauze.session.document import Document
from gauze.session.edits import with_name
from gauze.session.emitters import TABLE_EXTENSION
from gauze.session.storage import write_file
from gauze.ui.canvas.paint_plan import to_qimage
from gauze.ui.text import tr
from gauze.ui.view_state import ViewState
from gauze.ui.workbench import TableRequest, Workbench

_MOST_LINES = 12  # of a message shown at once


class Files:
    """What the file menu does."""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        self._bench = bench
        self._parent = parent
        bench.table_read.connect(self._take_table)
        bench.table_refused.connect(
            lambda name, why: self.explain(tr("“{name}” was not imported").format(name=name), why)
        )

    def start_new(self, demo: Demo) -> None:
        """Start a new design of a kind from usual sizes, those of the demo, unsaved and unnamed."""
        if self.may_leave():
            design = with_name(
                self._document(demo.read()).design, tr("New {family}").format(family=demo.family.lower())
            )
            self._bench.replace_document(Document(design, self._bench.catalogue))

    def open_demo_of(self, demo: Demo) -> None:
        """Open a design of the demo scene; it has no file, so that saving asks for one."""
        if self.may_leave():
            self._bench.replace_document(self._document(demo.read()))

    def open_recent(self, path: Path) -> None:
        """Open a file, once unsaved work is seen to."""
        if self.may_leave():
            self.open_path(path)

    def open_demo(self) -> None:
        """Open the demo design; it has no file, so that saving asks for one."""
        if self.may_leave():
            self._bench.replace_document(self._demo_document())

    def open_demo_sign(self) -> None:
        """Open the demo of loose emitters."""
        if self.may_leave():
            self._bench.replace_document(self._document(demo_sign_bytes()))

    def _demo_document(self) -> Document:
        return self._document(demo_design_bytes())

    def _document(self, data: bytes) -> Document:
        return Document(decode_design(data, self._bench.catalogue), self._bench.catalogue)

    def open(self) -> None:
        """Ask for a file and open it."""
        if self.may_leave():
            name, _ = QFileDialog.getOpenFileName(self._parent, tr("Open a design"), self._folder(), self._filter())
            if name:
                self.open_path(Path(name))

    def import_emitters(self) -> None:
        """Ask for a table of emitters and put them into the open design, or into a new one of a panel's size."""
        name, _ = QFileDialog.getOpenFileName(
            self._parent,
            tr("Import emitters"),
            self._folder(),
            tr("Tables of emitters (*{ext})").format(ext=TABLE_EXTENSION),
        )
        if name:
            self._bench.read_table(Path(name))

    def _take_table(self, request: TableRequest, document: Document) -> None:
        """Put emitters that were read in place: an edit of the design that they were read for, or a new document."""
        if request.design == self._bench.design and isinstance(request.design.build, LooseEmitters):
            self._bench.document.apply(document.design, "Import emitters", layout=document.layout)
        elif self.may_leave():
            document.mark_unsaved()
            self._bench.replace_document(document)

    def choose_picture(self) -> None:
        """Ask for a picture and let the display show it, as many pixels as it has."""
        build = self._bench.design.build
        if not isinstance(build, PixelDisplay):
            return
        name, _ = QFileDialog.getOpenFileName(
            self._parent, tr("Choose a picture"), self._folder(), tr("Pictures (*.png *.jpg *.jpeg *.bmp *.gif)")
        )
        image = QImage(name) if name else QImage()
        if name and image.isNull():
            self.explain(
                tr("“{name}” was not read").format(name=Path(name).name), tr("It is no picture, or it is damaged.")
            )
        elif name:
            lines = picture_lines(image, build.columns, build.rows)
            self._bench.edit("Picture", lambda design, _: with_picture(design, lines))

    def open_path(self, path: Path) -> bool:
        """Open a file; one that cannot be opened is explained and what is open stays."""
        try:
            document = Document.open(path, self._bench.catalogue)
        except GauzeError as error:
            self.explain(tr("“{name}” was not opened").format(name=path.name), str(error))
            return False
        self._bench.replace_document(document)
        self._bench.remember_file(path)
        return True

    def save(self) -> bool:
        """Save where it was saved before, or ask."""
        path = self._bench.document.path
        return self._save_to(path) if path is not None else self.save_as()

    def save_as(self) -> bool:
        """Ask where, and save."""
        suggested = Path(self._folder()) / (_file_name(self._bench.design.name) + EXTENSION)
        name, _ = QFileDialog.getSaveFileName(self._parent, tr("Save the design"), str(suggested), self._filter())
        if not name:
            return False
        path = Path(name)
        return self._save_to(path if path.suffix else path.with_suffix(EXTENSION))

    def _save_to(self, path: Path) -> bool:
        try:
            self._bench.document.save(path)
        except GauzeError as error:
            self.explain(tr("The design was not saved"), str(error))
            return False
        self._bench.remember_file(path)
        return True

    def may_leave(self) -> bool:
        """Ask what becomes of unsaved work; False means to stay."""
        if not self._bench.document.modified:
            return True
        box = QMessageBox(self._parent)
        box.setIcon(QMessageBox.Icon.Question)
        box.setText(tr("“{name}” has changes that are not saved.").format(name=self._bench.design.name))
        box.setStandardButtons(
            QMessageBox.StandardButton.Save | QMessageBox.StandardButton.Discard | QMessageBox.StandardButton.Cancel
        )
        box.setDefaultButton(QMessageBox.StandardButton.Save)
        answer = box.exec()
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    def offer_recovery(self, found: list[Recovered]) -> None:
        """Offer the newest unsaved work of an application that ended badly; declined work is discarded."""
        for recovered in found[:1]:
            where = str(recovered.path) if recovered.path else tr("never saved")
            answer = QMessageBox.question(
                self._parent,
                tr("Unsaved work found"),
                tr("Gauze ended without saving “{name}” ({where}). Take it up again?").format(
                    name=recovered.design.name, where=where
                ),
            )
            if answer == QMessageBox.StandardButton.Yes:
                document = Document(recovered.design, self._bench.catalogue, recovered.path)
                document.mark_unsaved()
                self._bench.replace_document(document)
            discard(recovered)

    def export_picture(self, evaluation: Evaluation, state: ViewState) -> None:
        """Write the lit face as it is looked at."""
        self._export(
            tr("Export the lit face"),
            ".png",
            tr("PNG picture (*.png)"),
            lambda: encode_png(_picture(evaluation, state)),
        )

    def export_map(self, evaluation: Evaluation) -> None:
        """Write the light as arrays."""
        self._export(tr("Export the light"), ".npz", tr("NumPy arrays (*.npz)"), lambda: encode_map(evaluation))

    def export_ies(self, evaluation: Evaluation) -> None:
        """Write the light distribution for lighting programs."""
        self._export(
            tr("Export the light distribution"), ".ies", tr("IES LM-63 (*.ies)"), lambda: encode_ies(evaluation)
        )

    def export_findings(self, evaluation: Evaluation, findings: tuple[Finding, ...]) -> None:
        """Write the findings with their working: JSON where the name says so, else text."""
        path = self._ask(tr("Export the findings"), ".txt", tr("Text (*.txt);;JSON (*.json)"))
        if path is not None:
            as_json = path.suffix == ".json"
            data = (
                report_json(evaluation.design, findings)
                if as_json
                else report_text(evaluation.design, findings).encode()
            )
            self._write(path, data)

    def copy_findings(self, evaluation: Evaluation, findings: tuple[Finding, ...]) -> None:
        """Put the findings with their working on the clipboard, as text."""
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(report_text(evaluation.design, findings))

    def copy_picture(self, evaluation: Evaluation, state: ViewState) -> None:
        """Put the lit face on the clipboard as it is looked at."""
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setImage(to_qimage(_picture(evaluation, state)))

    def _export(self, title: str, suffix: str, kinds: str, write: Callable[[], bytes]) -> None:
        path = self._ask(title, suffix, kinds)
        if path is not None:
            self._bench.run_export(lambda: write_file(path, write()))

    def _ask(self, title: str, suffix: str, kinds: str) -> Path | None:
        suggested = Path(self._folder()) / (_file_name(self._bench.design.name) + suffix)
        name, _ = QFileDialog.getSaveFileName(self._parent, title, str(suggested), kinds)
        if not name:
            return None
        path = Path(name)
        return path if path.suffix else path.with_suffix(suffix)

    def _write(self, path: Path, data: bytes) -> None:
        try:
            write_file(path, data)
        except GauzeError as error:
            self.explain(tr("Nothing was exported"), str(error))

    def explain(self, what: str, why: str) -> None:
        """Say what went wrong."""
        box = QMessageBox(self._parent)
        box.setIcon(QMessageBox.Icon.Warning)
        box.setText(what)
        lines = why.split("\n")
        box.setInformativeText("\n".join(lines[:_MOST_LINES]))
        if len(lines) > _MOST_LINES:
            box.setInformativeText(
                "\n".join([*lines[:_MOST_LINES], tr("… and {n} more").format(n=len(lines) - _MOST_LINES)])
            )
            box.setDetailedText(why)
        box.exec()

    def _folder(self) -> str:
        path = self._bench.document.path
        return str(path.parent if path is not None else Path.home())

    def _filter(self) -> str:
        return tr("Gauze designs (*{extension})").format(extension=EXTENSION)


def _picture(evaluation: Evaluation, state: ViewState) -> Picture:
    return face_picture(
        evaluation, room_lx=state.room_lx, exposure_stops=state.exposure_stops, false=state.false_colour
    )


def picture_lines(image: QImage, columns: int, rows: int) -> tuple[str, ...]:
    """Return a picture as lines of hexadecimal pixels, as large as fits a display of so many."""
    fitted = image.scaled(columns, rows, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
    return tuple(
        "".join(fitted.pixelColor(x, y).name()[1:] for x in range(fitted.width())) for y in range(fitted.height())
    )


def _file_name(name: str) -> str:
    kept = "".join(letter if letter.isalnum() or letter in " -_" else "" for letter in name).strip()
    return kept.replace(" ", "-").lower() or "design"
