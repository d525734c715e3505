"""What becomes of unsaved work that was found: opened and kept on, saved beside, deleted when the builder says so, or left."""

from collections.abc import Sequence

from PyQt6.QtWidgets import QMessageBox, QWidget

from gauze.core.errors import GauzeError
from gauze.core.formats.design_file import EXTENSION, encode_design
from gauze.core.printable import printable
from gauze.session.autosave import Recovered, find_recoverable
from gauze.session.document import Document
from gauze.session.storage import write_file
from gauze.ui.main_window.asking import ask_where, file_name
from gauze.ui.main_window.files import Files
from gauze.ui.message import plain_box
from gauze.ui.panels.recovery import RecoveryDialog
from gauze.ui.text import told, tr
from gauze.ui.workbench import Workbench


class Recovery:
    """Stands between the dialog, the workbench and the kept files."""

    def __init__(self, bench: Workbench, files: Files, parent: QWidget) -> None:
        self._bench, self._files, self._parent = bench, files, parent
        self.dialog: RecoveryDialog | None = None

    def look(self) -> None:
        """Look for unsaved work, and say so where there is none."""
        if self.dialog is not None:
            self.dialog.raise_()
            return
        found = find_recoverable(self._bench.keeping.folder, self._bench.catalogue)
        if found:
            self.offer(found)
            return
        box = plain_box(self._parent, QMessageBox.Icon.Information, tr("There is no unsaved work to recover."))
        box.open()

    def offer(self, found: Sequence[Recovered]) -> None:
        """Offer what was found; whatever is not decided on is put back where it was."""
        dialog = RecoveryDialog(found, self._parent)
        dialog.open_wanted.connect(self._open)
        dialog.copy_wanted.connect(self._save_copy)
        dialog.delete_wanted.connect(self._delete)
        dialog.finished.connect(self._closed)
        self.dialog = dialog
        dialog.open()

    def end(self) -> None:
        """Close the dialog with the window; everything in it stays."""
        if self.dialog is not None:
            self.dialog.reject()

    def _open(self, one: Recovered) -> None:
        if not self._files.may_leave():
            return
        try:
            document = Document(one.design, self._bench.catalogue, one.path, one.stamp)
        except GauzeError as error:
            self._files.explain(tr("The work was not opened"), told(error))
            return
        document.mark_unsaved()
        dialog = self.dialog
        assert dialog is not None
        self._bench.replace_document(document, one)
        dialog.remove(one)
        dialog.accept()  # the rest is put back, and offered again

    def _save_copy(self, one: Recovered) -> None:
        folder = self._bench.folder if one.path is None else one.path.parent
        suggested = folder / (file_name(f"{one.design.name} recovered") + EXTENSION)
        path = ask_where(self._parent, tr("Save a copy"), suggested, self._files.filter, (EXTENSION,))
        if path is None:
            return
        try:
            write_file(path, encode_design(one.design))
        except GauzeError as error:
            self._files.explain(tr("The copy was not saved"), told(error))
            return
        self._done_with(one)

    def _delete(self, one: Recovered) -> None:
        box = plain_box(
            self._parent,
            QMessageBox.Icon.Warning,
            tr("Delete the unsaved work on “{name}”?").format(name=printable(one.design.name)),
            tr("It cannot be brought back."),
        )
        delete = box.addButton(tr("Delete"), QMessageBox.ButtonRole.DestructiveRole)
        box.setDefaultButton(box.addButton(QMessageBox.StandardButton.Cancel))
        box.exec()
        if box.clickedButton() is delete:
            self._done_with(one)

    def _done_with(self, one: Recovered) -> None:
        one.discard()
        if self.dialog is not None:
            self.dialog.remove(one)

    def _closed(self) -> None:
        dialog, self.dialog = self.dialog, None
        if dialog is not None:
            for one in dialog.left:
                one.put_back()
            dialog.deleteLater()
