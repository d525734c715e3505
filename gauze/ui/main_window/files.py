"""Open, save, import: the window's dealings with files, so that nothing is lost, or overwritten without asking."""

from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

import msgspec
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from gauze.core.design.pixel_display import PixelDisplay
from gauze.core.errors import ChangedOnDiskError, GauzeError
from gauze.core.formats.design_file import EXTENSION, decode_design
from gauze.core.printable import printable, printable_path
from gauze.demo import Demo, demo_design_bytes, demo_sign_bytes
from gauze.session.build_edits import with_picture
from gauze.session.document import Document
from gauze.session.edits import with_name
from gauze.session.emitters import TABLE_EXTENSION, takes_emitters
from gauze.session.storage import read_file
from gauze.session.versions import with_version_of
from gauze.ui.main_window.asking import ask_where, file_name
from gauze.ui.message import plain_box
from gauze.ui.solving import TableRequest
from gauze.ui.text import told, tr
from gauze.ui.workbench import Workbench

_MOST_LINES = 12  # of a message shown at once
_MOST_PICTURE_BYTES = 100_000_000


class Files:
    """What the file menu does."""

    def __init__(self, bench: Workbench, parent: QWidget) -> None:
        self._bench = bench
        self._parent = parent
        self._asking = False
        self.compare_wanted: Callable[[], None] = lambda: None  # opens the versions
        bench.solving.table_read.connect(self._take_table)
        bench.solving.table_refused.connect(
            lambda name, why: self.explain(tr("“{name}” was not imported").format(name=name), why)
        )

    def start_new(self, demo: Demo) -> None:
        """Start a new design of a kind from usual sizes, those of the demo, unsaved, unnamed and not measured yet."""
        if self.may_leave():
            usual = msgspec.structs.replace(self._document(demo.read()).design, bench=None)
            design = with_name(usual, tr("New {family}").format(family=demo.family.lower()))
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
            name, _ = QFileDialog.getOpenFileName(
                self._parent, tr("Open a design"), str(self._bench.folder), self.filter
            )
            if name:
                self.open_path(Path(name))

    def import_emitters(self) -> None:
        """Ask for a table of emitters and put them into the open design, or into a new one of a panel's size."""
        name, _ = QFileDialog.getOpenFileName(
            self._parent,
            tr("Import emitters"),
            str(self._bench.folder),
            tr("Tables of emitters (*{ext})").format(ext=TABLE_EXTENSION),
        )
        if name:
            self._bench.solving.read_table(TableRequest(Path(name), self._bench.design))

    def _take_table(self, request: TableRequest, document: Document) -> None:
        """Put emitters that were read in place: an edit of the design that they were read for, or a new document."""
        if request.design == self._bench.design and takes_emitters(request.design):
            self._bench.document.apply(document.design, "Import emitters", layout=document.layout)
        elif self.may_leave():
            document.mark_unsaved()
            self._bench.replace_document(document)

    def choose_picture(self) -> None:
        """Ask for a picture and let the display show it, as many pixels as it has."""
        build = self._bench.design.build_if(PixelDisplay)
        if build is None:
            return
        name, _ = QFileDialog.getOpenFileName(
            self._parent,
            tr("Choose a picture"),
            str(self._bench.folder),
            tr("Pictures (*.png *.jpg *.jpeg *.bmp *.gif)"),
        )
        if not name:
            return
        not_read = tr("“{name}” was not read").format(name=printable_path(Path(name).name))
        try:
            image = QImage.fromData(read_file(Path(name), _MOST_PICTURE_BYTES))
        except GauzeError as error:
            self.explain(not_read, told(error))
            return
        if image.isNull():
            self.explain(not_read, tr("It is not a picture, it is damaged, or it is too large. Choose another."))
        else:
            lines = picture_lines(image, build.columns, build.rows)
            self._bench.edit("Picture", lambda design, _: with_picture(design, lines))

    def open_path(self, path: Path) -> bool:
        """Open a file; one that cannot be opened is explained and what is open stays."""
        try:
            document = Document.open(path, self._bench.catalogue)
        except GauzeError as error:
            self.explain(tr("“{name}” was not opened").format(name=printable_path(path.name)), told(error))
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
        suggested = self._bench.folder / (file_name(self._bench.design.name) + EXTENSION)
        path = ask_where(self._parent, tr("Save the design"), suggested, self.filter, (EXTENSION,))
        return path is not None and self._save_to(path)

    def _save_to(self, path: Path, *, over_changes: bool = False) -> bool:
        try:
            self._bench.document.save(path, over_changes=over_changes)
        except ChangedOnDiskError:
            return self._save_over_changes(path)
        except GauzeError as error:
            self.explain(tr("The design was not saved"), told(error))
            return False
        self._bench.remember_file(path)
        return True

    def _save_over_changes(self, path: Path) -> bool:
        """Ask what is to become of a file that another program has written to."""
        box = plain_box(
            self._parent,
            QMessageBox.Icon.Warning,
            tr("“{name}” was changed elsewhere since it was opened here.").format(name=printable_path(path.name)),
            tr("Another program or another window has written to it. Saving over it would lose that."),
        )
        beside = box.addButton(tr("Save as another file …"), QMessageBox.ButtonRole.AcceptRole)
        compare = box.addButton(tr("Compare first"), QMessageBox.ButtonRole.ActionRole)
        over = box.addButton(tr("Overwrite"), QMessageBox.ButtonRole.DestructiveRole)
        box.addButton(QMessageBox.StandardButton.Cancel)
        box.setDefaultButton(beside)
        box.exec()
        if box.clickedButton() is beside:
            return self.save_as()
        if box.clickedButton() is over:
            return self._save_to(path, over_changes=True)
        if box.clickedButton() is compare:
            self._compare_with(path)
        return False

    def _compare_with(self, path: Path) -> None:
        """Take what the file holds now in as a kept version, so that both stand at the seam and neither is lost."""
        try:
            other = Document.open(path, self._bench.catalogue).design
        except GauzeError as error:
            self.explain(tr("“{name}” cannot be compared").format(name=printable_path(path.name)), told(error))
            return
        name = tr("On disk, {time}").format(time=datetime.now(UTC).astimezone().strftime("%H:%M:%S"))
        if self._bench.edit("Compare with the file", lambda design, _: with_version_of(design, other, name)):
            self.compare_wanted()

    def look_for_changes(self) -> None:
        """Notice a file that was changed elsewhere while the window was in the background; asked once for each change."""
        document = self._bench.document
        if self._asking or not document.changed_on_disk_anew():
            return
        self._asking = True
        try:
            self._tell_of_change(document)
        finally:
            self._asking = False

    def _tell_of_change(self, document: Document) -> None:
        path = document.path
        assert path is not None
        box = plain_box(
            self._parent,
            QMessageBox.Icon.Information,
            tr("“{name}” was changed elsewhere.").format(name=printable_path(path.name)),
            tr("You have changes here that are not saved.")
            if document.modified
            else tr("Reload it, or keep what is open here?"),
        )
        again = None
        if not document.modified:
            again = box.addButton(tr("Reload"), QMessageBox.ButtonRole.AcceptRole)
        compare = box.addButton(tr("Compare"), QMessageBox.ButtonRole.ActionRole)
        box.setEscapeButton(box.addButton(tr("Keep mine"), QMessageBox.ButtonRole.RejectRole))
        box.exec()
        if again is not None and box.clickedButton() is again:
            self.open_path(path)
        elif box.clickedButton() is compare:
            self._compare_with(path)

    def may_leave(self) -> bool:
        """Ask what becomes of unsaved work; False means to stay."""
        if not self._bench.document.modified:
            return True
        name = printable(self._bench.design.name)
        box = plain_box(
            self._parent, QMessageBox.Icon.Question, tr("“{name}” has changes that are not saved.").format(name=name)
        )
        box.setStandardButtons(
            QMessageBox.StandardButton.Save | QMessageBox.StandardButton.Discard | QMessageBox.StandardButton.Cancel
        )
        box.setDefaultButton(QMessageBox.StandardButton.Save)
        answer = box.exec()
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    def explain(self, what: str, why: str) -> None:
        """Say what went wrong."""
        lines = why.split("\n")
        shown = lines[:_MOST_LINES]
        if len(lines) > _MOST_LINES:
            shown.append(tr("… and {n} more").format(n=len(lines) - _MOST_LINES))
        box = plain_box(self._parent, QMessageBox.Icon.Warning, what, "\n".join(shown))
        if len(lines) > _MOST_LINES:
            box.setDetailedText(why)
        box.exec()

    @property
    def filter(self) -> str:
        """The kind of file that a design is, for a dialog."""
        return tr("Gauze designs (*{extension})").format(extension=EXTENSION)


def picture_lines(image: QImage, columns: int, rows: int) -> tuple[str, ...]:
    """Return a picture as lines of hexadecimal pixels, as large as fits a display of that many pixels."""
    fitted = image.scaled(columns, rows, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
    return tuple(
        "".join(fitted.pixelColor(x, y).name()[1:] for x in range(fitted.width())) for y in range(fitted.height())
    )
